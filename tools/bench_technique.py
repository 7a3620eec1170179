"""Speed of what is measured on her, as ratios: `make bench`. It asserts nothing.

An hour of a trace beside pandas reading the same table, an hour of sound beside its own length, an angle while a point
moves, F's first page with five years of measures. Memory is the most this program held while it did each.
"""

import json
import statistics
import subprocess
import sys
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import pandas as pd
import soundfile
from flask.testing import FlaskClient

from chirotend.devices import camera, microphone
from chirotend.devices.listener import answers
from chirotend.formats.probe_data import Evenness, Posture
from chirotend.services.context import Context
from chirotend.services.technique import awareness, evenness, least_pressure, posture, probes, reading
from chirotend.services.technique.hearing import hear

HOUR_S, RATE_HZ, CHANNELS = 3600, 1000, 4
YEARS = 5


def trace_table(path: Path) -> None:
    """An hour of four channels of muscle at 1 kHz, some 137 MB."""
    rng = np.random.default_rng(1)
    table = pd.DataFrame({"time (s)": np.arange(HOUR_S * RATE_HZ) / RATE_HZ})
    for n in range(CHANNELS):
        table[f"arm {n} (mV)"] = np.round(rng.normal(size=len(table)) * 0.2, 4)
    table.to_csv(path, index=False)


def hour_of_sound(path: Path) -> None:
    minute = microphone.played("blown", microphone.figure(50, 6, 0.2, {}))[: 60 * microphone.RATE_HZ]
    with soundfile.SoundFile(path, "w", microphone.RATE_HZ, 1, "PCM_16") as out:
        for _ in range(60):
            out.write(minute)


#: each is run in a process of its own, which prints its seconds and the most memory it held, MB
ALONE = {
    "bare": "import pandas as pd; began = now(); pd.read_csv(path)",
    "read": (
        "from chirotend.formats import trace; from chirotend.core.measure.traces import overview; import pandas\n"
        "began = now(); found = trace.read_trace_file(path); drawn = [overview(c, 600) for c in found.samples]"
    ),
    "worked out": (
        "from chirotend.formats import trace; from chirotend.services.technique import traces; import pandas\n"
        "from chirotend.formats.probe_data import Channel; began = now(); found = trace.read_trace_file(path)\n"
        "[traces.summary_of(c.astype(float), found.rate_hz, Channel(name='a', kind='emg', unit='mV', maximum=1.0)) "
        "for c in found.samples]"
    ),
    "heard": "from chirotend.services.technique.hearing import hear; began = now(); hear(path, 'audio/wav')",
}
FRAME = """
import re, sys, time, json
from pathlib import Path
now, path = time.perf_counter, Path(sys.argv[1])
{work}
seconds = now() - began
# of this process alone: what getrusage says begins with what its parent held
held = re.search(r"VmHWM:\\s+(\\d+)", Path("/proc/self/status").read_text())
print(json.dumps([seconds, int(held[1]) / 1024]))
"""


def alone(name: str, path: Path, times: int = 3) -> tuple[float, float]:
    """Return the middle of the seconds and the most memory (MB) of a piece of work in processes of its own."""
    found = []
    for _ in range(times):
        code = FRAME.format(work=ALONE[name])
        said = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, check=True)
        found.append(json.loads(said.stdout.splitlines()[-1]))
    return statistics.median(s for s, _ in found), max(m for _, m in found)


def files() -> None:
    with TemporaryDirectory() as folder:
        table, sound = Path(folder) / "hour.csv", Path(folder) / "hour.wav"
        trace_table(table)
        bare, held = alone("bare", table)
        print(f"trace, 1 h, 1 kHz x {CHANNELS}: pandas reads it in {bare:.2f} s, {held:.0f} MB")
        for name in ("read", "worked out"):
            seconds, most = alone(name, table)
            print(f"  {name}: {seconds / bare:.1f} x pandas, {most:.0f} MB")
        hour_of_sound(sound)
        seconds, most = alone("heard", sound, 1)
        print(f"sound, 1 h, 44.1 kHz: {HOUR_S / seconds:.0f} x real time, {most:.0f} MB")


def five_years(context: Context, folder: Path) -> None:
    """A search a week, a picture and a recording a fortnight, a look a day, for five years."""
    sound = folder.parent / "figure.wav"
    soundfile.write(sound, microphone.played("plucked", microphone.figure(20, 6, 0.2, {3: 0.03})), microphone.RATE_HZ)
    heard = hear(sound, "audio/wav")
    picture = posture.read_picture(camera.picture(camera.Pose()))
    for back in range(365 * YEARS, 0, -1):
        then = replace(context, now=context.now - timedelta(days=back))
        awareness.answer(then, "jaw_rests", {"answer": "apart" if back % 3 else "touching", "instrument": "bassoon"})
        # a hand that a Muted day spares is not asked to press
        spared = probes.spared_today(then) if back % 7 == 0 else {}
        free = [hand for hand in ("left", "right") if hand not in spared]
        if back % 7 == 0 and free:
            uid = least_pressure.begin(then, {"task": "key", "part": f"{free[0]} thumb", "instrument": "bassoon"})
            for number, each in enumerate(answers(70, 2.0, back)):
                least_pressure.answer(then, uid, number, each.spoke)
        if back % 14 == 0:
            typed = {"template": "side", "hand": "right", "instrument": "bassoon"}
            uid = posture.begin(then, folder, typed, picture)
            points = {
                f"{name}.{axis}": f"{100 * share:.2f}"
                for name, point in camera.shares_of(camera.Pose()).items()
                for axis, share in zip("xy", point, strict=True)
            }
            posture.set_points(then, uid, points)
            with sound.open("rb") as stream:
                typed = {"figure": "rising_six", "instrument": "bassoon"}
                brought = evenness.bring(then, folder, typed, stream, "here")
            reading.keep(then, reading.ReadFile(Evenness.kind, brought, heard))


def served(
    times: Callable[[Callable[[], object], int], tuple[float, float]],
    context: Context,
    client: FlaskClient,
    folder: Path,
) -> None:
    """F's first page, and an angle while a point moves."""
    five_years(context, folder)
    context.db.commit()
    p50, p95 = times(lambda: client.get("/technique/"), 60)
    print(f"F, first page, {YEARS} years of measures: p50 {p50:.0f} ms, p95 {p95:.0f} ms")
    uid = probes.of_kind(context, Posture)[-1].uid
    p50, p95 = times(lambda: client.post(f"/technique/posture/{uid}/look", data={"ear.x": "50", "ear.y": "20"}), 60)
    print(f"an angle while a point moves: p50 {p50:.0f} ms, p95 {p95:.0f} ms")
