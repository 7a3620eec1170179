"""The registry of probes leaves none out."""

from chirotend.formats.probe_data import DATA_OF_KIND
from chirotend.services.technique.registry import PROBES


def test_every_kind_of_probe_that_can_be_kept_is_registered_once():
    assert sorted(probe.data.kind for probe in PROBES) == sorted(DATA_OF_KIND)
