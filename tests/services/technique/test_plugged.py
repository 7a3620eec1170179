"""Sensors on a local socket: read for so many seconds, pulled out, talking nonsense; the stand-ins."""

import itertools
import socket
import threading

import pytest

from chirotend.core.measure.readings import line_of
from chirotend.devices.muscle import press, readings
from chirotend.devices.plug import Plug
from chirotend.devices.stand_ins import SHOWN
from chirotend.formats.cells import UnreadableFile
from chirotend.services.desk import Desk, Refused
from chirotend.services.technique import plugged, probes, reading, traces
from chirotend.store.models import JobRow

FORM = {"device": "pad", "seconds": "4", "instrument": "bassoon"}


def begun(desk: Desk, folder) -> str:
    job = plugged.begin(desk, folder, FORM)
    return str(desk.store.shelf(JobRow).get(job).result["probe"])


def test_a_pad_is_read_for_its_seconds(desk: Desk, folder):
    assert plugged.names(folder) == ()
    levels = [1.0, 6.0, 1.0, 6.0]
    plug = Plug(plugged.folder_of(folder), "pad", lambda: readings("pad", "N", press(levels, 2)), paced=False)
    plug.in_background()
    assert plugged.names(folder) == ("pad",)
    uid = begun(desk, folder)
    shares: list[float] = []
    reading.read(desk, folder, plugged.KIND, uid, shares.append)
    data = probes.probe(desk, uid, traces.KIND).data
    assert data.rate_hz == pytest.approx(1000, rel=0.01) and data.seconds == pytest.approx(4, abs=0.01)
    assert (data.channels[0].kind, data.channels[0].unit) == ("force", "N")
    traces.describe(desk, folder, uid, {"maximum-0": "10"})
    assert traces.page(desk, folder, uid).rows[0].summary.p90 == pytest.approx(50, abs=4)
    plug.pull()
    assert plugged.names(folder) == ()
    with pytest.raises(UnreadableFile, match="pulled out"):
        plugged.read(desk, folder, uid, lambda share: None)


def test_nonsense_and_silence_are_said(desk: Desk, folder):
    where = plugged.folder_of(folder)
    where.mkdir()
    server = socket.socket(socket.AF_UNIX)
    server.bind(str(where / "pad.sock"))
    server.listen(1)

    def talk() -> None:
        for said in (b"GET / HTTP/1.1\n", b""):
            listener, _ = server.accept()
            listener.sendall(said)
            listener.close()

    threading.Thread(target=talk, daemon=True).start()
    uid = begun(desk, folder)
    for words in ("cannot be read", "fewer than 3 readings"):
        with pytest.raises(UnreadableFile, match=words):
            plugged.read(desk, folder, uid, lambda share: None)
    server.close()


@pytest.mark.parametrize(("typed", "field"), [({"device": "luck"}, "device"), ({"seconds": "0"}, "seconds")])
def test_only_what_is_plugged_in_is_read(desk: Desk, folder, typed, field):
    plug = Plug(plugged.folder_of(folder), "pad", lambda: iter(()))
    with pytest.raises(Refused) as refused:
        plugged.begin(desk, folder, {**FORM, **typed})
    assert refused.value.field == field
    plug.pull()


@pytest.mark.parametrize("name", SHOWN)
def test_each_stand_in_speaks_the_protocol(name):
    lines = [line_of(r) for r in itertools.islice(SHOWN[name](), 5)]
    assert len(lines) == 5 and lines[0].startswith("0.000 ")
