"""The kinds of measurement: what each may hold, pinned by hand; what is unknown or out of range is refused."""

import math

import pytest

from chirotend.core.errors import NotANumber, OutOfRange
from chirotend.core.record.measures import measure_of, measures
from chirotend.library.loader import self_checks

#: method: version, unit, lowest, highest, whose, which way is better (ours; common practice, no source)
MEASURES = {
    "hand.span": (1, "mm", 80, 320, "hand", ""),
    "hand.length": (1, "mm", 80, 320, "hand", ""),
    "hand.gap.*": (1, "mm", 5, 320, "hand", ""),
    "selfcheck.*": (1, "", 0, 1, "player", ""),
    "tempo.top_clean": (1, "bpm", 20, 400, "instrument", "up"),
    "pressure.wasted.*": (1, "%", 0, 100, "hand", "down"),
    "pressure.least.*": (1, "N", 0, 500, "hand", "down"),
    "angle.*": (1, "degrees", -180, 180, "hand", "down"),
    "even.spread": (1, "%", 0, 300, "instrument", "down"),
    "even.pairs": (1, "nPVI", 0, 200, "instrument", "down"),
    "even.worst": (1, "ms", 0, 1000, "instrument", "down"),
    "even.notes": (1, "a minute", 1, 3000, "instrument", ""),
    "sound.above_p": (1, "%", 0, 100, "instrument", "down"),
    "sound.longest": (1, "s", 0, 86400, "instrument", "down"),
    "sound.my_p": (1, "dB FS", -120, 0, "instrument", ""),
    "muscle.static.*": (1, "%MVC", 0, 200, "hand", "down"),
    "muscle.middle.*": (1, "%MVC", 0, 200, "hand", "down"),
    "muscle.peak.*": (1, "%MVC", 0, 300, "hand", "down"),
    "trace.longest.*": (1, "s", 0, 86400, "hand", "down"),
    "stroke.middle": (1, "N", 0, 5000, "hand", "down"),
    "aware.*": (1, "", 0, 1, "player", ""),
    "aware_minutes.*": (1, "min", 0, 240, "player", "up"),
    "joint.range": (1, "degrees", 0, 180, "hand", "up"),
    "wrist.past": (1, "%", 0, 100, "hand", "down"),
    "able.mean": (1, "of 10", 0, 10, "player", "up"),
}


def test_the_registry_holds_what_it_should():
    assert {m.method: (m.version, m.unit, m.low, m.high, m.of, m.better) for m in measures()} == MEASURES
    assert all(measure_of(f"selfcheck.{key}").method == "selfcheck.*" for key in self_checks())
    assert measure_of("hand.gap.1-4.most").method == "hand.gap.*"


@pytest.mark.parametrize("method", ["", "hand", "hand.gap.", "hand.span.left", "selfcheck.", "tempo.top_clean.2"])
def test_nothing_is_measured_by_an_unknown_method(method):
    with pytest.raises(OutOfRange):
        measure_of(method)


@pytest.mark.parametrize(
    ("method", "value", "error"),
    [
        ("hand.span", 79.9, OutOfRange),
        ("hand.gap.0-1.ease", 320.1, OutOfRange),
        ("tempo.top_clean", 19, OutOfRange),
        ("tempo.top_clean", math.nan, NotANumber),
    ],
)
def test_a_value_out_of_range_is_none(method, value, error):
    with pytest.raises(error):
        measure_of(method).check(value)
