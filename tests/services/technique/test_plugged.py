"""Sensors on a local socket: read for so many seconds, pulled out, talking nonsense; the stand-ins."""

import itertools
import socket
import threading

import pytest

from chirotend.core.measure.readings import line_of
from chirotend.devices.listener import answers
from chirotend.devices.muscle import press, readings
from chirotend.devices.plug import Plug
from chirotend.devices.stand_ins import SHOWN
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.probe_data import Trace
from chirotend.services.context import Context, FieldError
from chirotend.services.record import measured
from chirotend.services.technique import least_pressure, plugged, probes, reading, traces
from chirotend.store import jobs
from chirotend.store.models import JobRow

FORM = {"device": "pad", "seconds": "4", "instrument": "bassoon"}


def begun(context: Context, folder) -> str:
    job = plugged.begin(context, folder, FORM)
    return str(context.store.repository(JobRow).get(job).result["probe"])


def test_a_pad_is_read_for_its_seconds(context: Context, folder):
    assert plugged.names(folder) == ()
    levels = [1.0, 6.0, 1.0, 6.0]
    plug = Plug(plugged.folder_of(folder), "pad", lambda: readings("pad", "N", press(levels, 2)), paced=False)
    plug.in_background()
    assert plugged.names(folder) == ("pad",)
    uid = begun(context, folder)
    shares: list[float] = []
    reading.run_job(context, folder, jobs.DEVICE, uid, shares.append)
    data = probes.probe(context, uid, Trace).data
    assert data.rate_hz == pytest.approx(1000, rel=0.01) and data.seconds == pytest.approx(4, abs=0.01)
    assert (data.channels[0].kind, data.channels[0].unit) == ("force", "N")
    traces.describe(context, uid, traces.worked_out(context, folder, uid, {"maximum-0": "10", "rest-0": "0"}))
    assert traces.trace_page(context, folder, uid).rows[0].summary.p90 == pytest.approx(60, abs=4)
    plug.pull()
    assert plugged.names(folder) == ()
    with pytest.raises(UnreadableFile, match="pulled out"):
        plugged.read_device(context, folder, uid, lambda share: None)


def test_nonsense_and_silence_are_said(context: Context, folder):
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
    uid = begun(context, folder)
    for words in ("cannot be read", "fewer than 3 readings"):
        with pytest.raises(UnreadableFile, match=words):
            plugged.read_device(context, folder, uid, lambda share: None)
    server.close()


@pytest.mark.parametrize(("typed", "field"), [({"device": "luck"}, "device"), ({"seconds": "0"}, "seconds")])
def test_only_what_is_plugged_in_is_read(context: Context, folder, typed, field):
    plug = Plug(plugged.folder_of(folder), "pad", lambda: iter(()))
    with pytest.raises(FieldError) as refused:
        plugged.begin(context, folder, {**FORM, **typed})
    assert refused.value.field == field
    plug.pull()


def test_a_pad_tells_each_try_of_a_search_in_newtons(context: Context, folder):
    """Her usual press is 6 N and the note speaks from 70 % of it on: by hand 4.2 N; the pad shows grams."""
    where, task = plugged.folder_of(folder), {"task": "key", "part": "left thumb", "instrument": "bassoon"}
    asked = [100.0]
    grams = Plug(where, "pad", lambda: readings("pad", "g", press([6 * asked[0] / 100 / 9.80665e-3], 1)), paced=False)
    grams.in_background()
    with pytest.raises(FieldError) as refused:
        least_pressure.begin(context, {**task, "pad": "luck"}, plugged.names(folder))
    assert refused.value.field == "pad"
    uid = least_pressure.begin(context, {**task, "pad": "pad"}, plugged.names(folder))
    assert "half a second" in least_pressure.least_pressure_page(context, uid).pad
    for number, each in enumerate(answers(70, 2.0, 3)):
        asked[0] = each.level
        least_pressure.answer(context, uid, number, each.spoke, plugged.pressed(context, folder, uid))
        if number == 0:
            assert least_pressure.least_pressure_page(context, uid).pad == "6.0 N just now."
    assert measured.kept(context, "pressure.least.key")[0].value == pytest.approx(4.2, abs=0.4)
    grams.pull()
    uid = least_pressure.begin(context, {**task, "pad": "pad"}, ["pad"])
    least_pressure.answer(context, uid, 0, True, plugged.pressed(context, folder, uid))
    assert "did not answer" in least_pressure.least_pressure_page(context, uid).pad


@pytest.mark.parametrize("name", SHOWN)
def test_each_stand_in_speaks_the_protocol(name):
    lines = [line_of(r) for r in itertools.islice(SHOWN[name](), 5)]
    assert len(lines) == 5 and lines[0].startswith("0.000 ")
