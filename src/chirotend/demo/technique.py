"""What the demo player has measured: searches, pictures, recordings, a trace, looks, her holds. All by stand-ins."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from io import BytesIO
from itertools import pairwise
from pathlib import Path

import numpy as np

from chirotend.core.late import late
from chirotend.core.record import Block, Session
from chirotend.devices import camera, microphone, muscle
from chirotend.devices.listener import answers
from chirotend.formats.probe_data import Evenness, Trace
from chirotend.services.context import Context
from chirotend.services.kit import holds
from chirotend.services.technique import (
    activities,
    awareness,
    evenness,
    grip_book,
    least_pressure,
    posture,
    ranges,
    reading,
    strokes,
    traces,
    wrists,
)

soundfile = late("soundfile")

REED = "reed of the week"
#: day, least press that speaks (% of her usual), slope of her ear
SEARCHES = (
    (date(2026, 9, 4), 62.0, 2.5),
    (date(2026, 9, 18), 64.0, 2.5),
    (date(2026, 10, 2), 66.0, 2.0),
    (date(2026, 10, 14), 70.0, 2.0),
    (date(2026, 10, 24), 70.0, 2.0),
)
#: day, how far the left wrist is bent back over a minute (degrees)
CLIPS = ((date(2026, 10, 19), 36.0), (date(2026, 11, 9), 27.0))
#: day, wrist bent back, head forward (degrees): the hand rest was moved out on 26 October
PICTURES = (
    (date(2026, 9, 21), 41.0, 30.0),
    (date(2026, 9, 28), 40.0, 29.0),
    (date(2026, 10, 5), 42.0, 31.0),
    (date(2026, 10, 12), 39.0, 29.0),
    (date(2026, 10, 19), 41.0, 28.0),
    (date(2026, 10, 27), 38.0, 29.0),
    (date(2026, 11, 1), 36.0, 28.0),
    (date(2026, 11, 6), 35.0, 28.0),
    (date(2026, 11, 10), 34.0, 28.0),
)
#: day, how much too soon the left ring finger comes, unevenness of the whole (s)
RECORDINGS = (
    (date(2026, 9, 11), 0.044, 0.011),
    (date(2026, 9, 25), 0.038, 0.010),
    (date(2026, 10, 9), 0.034, 0.009),
    (date(2026, 10, 23), 0.029, 0.008),
    (date(2026, 11, 8), 0.026, 0.007),
)
ROUNDS, LEFT_RING, BEAT_S = 24, 3, 0.192
#: day, let-gos a minute of the left forearm in the pit
TRACES = ((date(2026, 5, 20), 2), (date(2026, 8, 14), 3), (date(2026, 10, 21), 5))
#: looks at the jaw in the rests, from four weeks back: t = touching, a = apart, ? = not sure
JAWS = "tttttat ttttta? tttta?a ttatta?"
FAULTS = (
    (date(2026, 9, 6), "no yes unsure no"),
    (date(2026, 9, 20), "no no unsure yes"),
    (date(2026, 10, 4), "no yes no yes"),
    (date(2026, 10, 18), "unsure no unsure yes"),
    (date(2026, 11, 1), "no yes unsure yes"),
    (date(2026, 11, 11), "no yes unsure yes"),
)
LOOKED_AT = ("right_wrist_leans", "left_carries", "right_thumb_stands", "little_flies")
#: how a block on the bassoon is shared out over her holds, and how far back that is written
SHARES = (("rest_on", 0.78), ("rest_off", 0.14), ("fingers_only", 0.08))
HOLDS_FOR = timedelta(days=42)
#: day, left and right wrist bent back as far as it goes (degrees), read from the telephone's level
RANGES = (
    (date(2026, 9, 6), "66", "68"),
    (date(2026, 9, 20), "64", "68"),
    (date(2026, 10, 4), "60", "67"),
    (date(2026, 10, 18), "55", "69"),
    (date(2026, 11, 1), "57", "68"),
)
#: day, how well she can do what is hard for her (0-10)
HARD = ("hold the bassoon for an act", "open a jar", "turn a stiff key")
RATINGS = ((date(2026, 10, 18), "4 5 3"), (date(2026, 11, 1), "5 6 5"), (date(2026, 11, 11), "6 7 6"))


def measure(context: Context, blobs: Path) -> None:
    """Write what she has measured until this morning."""
    for day, threshold, slope in SEARCHES:
        _search(_on(context, day, time(10, 36)), threshold, slope)
    for day, back, head in PICTURES:
        _picture(_on(context, day, time(9, 50)), blobs, back, head)
    for day, early, jitter in RECORDINGS:
        _recording(_on(context, day, time(17, 20)), blobs, early, jitter)
    for day, let_gos in TRACES:
        _trace(_on(context, day, time(22, 40)), blobs, let_gos)
    _strokes(_on(context, date(2026, 10, 3), time(11)), blobs)
    _looks(context)
    for day, said in FAULTS:
        answered = dict(zip(LOOKED_AT, said.split(), strict=True))
        grip_book.answer(_on(context, day, time(9, 40)), "bassoon", answered)
    for day, left, right in RANGES:
        for hand, deg in (("left", left), ("right", right)):
            typed = {"movement": "wrist_back", "hand": hand, "deg": deg, "by": "level"}
            ranges.keep(_on(context, day, time(9, 20)), typed)
    for day, back in CLIPS:
        wrists.keep(_on(context, day, time(10, 5)), _clip(day, back))
    for day, said in RATINGS:
        typed = {f"rating{n}": r for n, r in enumerate(said.split(), start=1)}
        typed |= {f"name{n}": name for n, name in enumerate(HARD, start=1)}
        activities.answer(_on(context, day, time(9, 15)), typed)
    _hold(context)
    turns = {"hold-1": "rest_on", "minutes-1": "15", "hold-2": "rest_off", "minutes-2": "2"}
    holds.alternate(context, "bassoon", turns | {"hold-3": "standing", "minutes-3": "2"})


def _on(context: Context, day: date, at: time) -> Context:
    return replace(context, now=datetime.combine(day, at, context.zone).astimezone(UTC))


def _search(context: Context, threshold: float, slope: float) -> None:
    typed = {"task": "key", "part": "left thumb", "what": "low F, whisper key", "instrument": "bassoon", "kit": REED}
    uid = least_pressure.begin(context, typed)
    for number, each in enumerate(answers(threshold, slope, seed=context.today.toordinal())):
        least_pressure.answer(context, uid, number, each.spoke)


def _clip(day: date, back: float) -> dict[str, str]:
    """A minute of both wrists, as its page sends it: the left wanders about `back`, the right is hidden at times."""
    random, left, right = np.random.default_rng(day.toordinal()), 0.0, 0.0
    rows = []
    for n in range(120):
        left, right = 0.8 * left + random.normal(0, 4), 0.8 * right + random.normal(0, 3)
        hidden = 70 <= n < 84
        rows.append(f"{n / 2} {back + left:.1f} {'-' if hidden else f'{12 + right:.1f}'}")
    return {"view": "thumb_sides", "instrument": "bassoon", "kit": "hand rest", "frames": "\n".join(rows)}


def _picture(context: Context, blobs: Path, back: float, head: float) -> None:
    pose = camera.Pose(trunk=6.0, head=head, arm=14.0, elbow=88.0, wrist_back=back, turned=4.0)
    typed = {"template": "side", "hand": "right", "facing": "right", "instrument": "bassoon", "kit": "seat strap"}
    uid = posture.begin(context, blobs, typed, posture.read_picture(camera.picture(pose)))
    points: dict[str, str] = {}
    for name, (x, y) in camera.shares_of(pose).items():
        points |= {f"{name}.x": f"{100 * x:.2f}", f"{name}.y": f"{100 * y:.2f}"}
    posture.set_points(context, uid, points)


def _recording(context: Context, blobs: Path, early: float, jitter: float) -> None:
    onsets = microphone.figure(ROUNDS, 6, BEAT_S, {LEFT_RING: early}, jitter, seed=context.today.toordinal())
    sound = microphone.played("blown", onsets, seed=context.today.toordinal())
    out = BytesIO()
    soundfile.write(out, sound, microphone.RATE_HZ, format="FLAC")
    out.seek(0)
    typed = {"figure": "rising_six", "instrument": "bassoon", "kit": "this telephone, one metre"}
    uid, _ = reading.keep(context, reading.bring(context, blobs, Evenness.kind, typed, out, "recorded here"))
    if context.today == RECORDINGS[0][0]:
        evenness.set_my_p(context, uid)


def _trace(context: Context, blobs: Path, let_gos: int) -> None:
    """A minute in the pit, with so many rests of half a second in it."""
    seconds, edges = 60.0, np.linspace(0, 60.0, let_gos + 1)
    bursts = [(a, b - 0.6) for a, b in pairwise(edges.tolist())]
    samples = muscle.muscle(bursts, seconds, strength=0.1, seed=context.today.toordinal())
    table = "\n".join(f"{n / muscle.RATE_HZ:.3f},{value:.4f}" for n, value in enumerate(samples))
    file = BytesIO(f"time (s),left forearm (mV)\n{table}\n".encode())
    typed = {"instrument": "bassoon", "hand": "left", "what": "one minute of Act III"}
    uid, _ = reading.keep(context, reading.bring(context, blobs, Trace.kind, typed, file, "band.csv"))
    said = {"kind-0": "emg", "side-0": "left", "maximum-0": "0.6", "rest-0": "0.001"}
    traces.describe(context, uid, traces.worked_out(context, blobs, uid, said))


def _strokes(context: Context, blobs: Path) -> None:
    said = {"hand": "right", "instrument": "contrabassoon", "unit": "N"}
    sets = (("low B", 6.6, 2.7), ("low C", 5.6, 2.4), ("low D", 6.0, 2.3))
    made = [(key, way, force) for key, slap, press in sets for way, force in (("choked", slap), ("free", press))]
    for minute, (key, way, force) in enumerate(made):
        peaks = " ".join(f"{force * k:.1f}" for k in (0.9, 1.0, 1.1, 0.95, 1.05))
        then = replace(context, now=context.now + timedelta(minutes=minute))
        typed = {**said, "stick": key, "way": way, "peaks": peaks}
        strokes.keep(then, *strokes.read_strokes(then, blobs, typed, None, ""))


def _looks(context: Context) -> None:
    words = {"t": "touching", "a": "apart", "?": "not sure"}
    for back, said in enumerate(reversed(JAWS.replace(" ", ""))):
        day = context.today - timedelta(days=back)
        awareness.answer(_on(context, day, time(8, 30)), "jaw_rests", {"answer": words[said], "instrument": "bassoon"})


def _hold(context: Context) -> None:
    """Say of her last weeks how it was held."""
    for session in context.store.sessions(context.today - HOLDS_FOR, context.today):
        blocks = tuple(part for block in session.blocks for part in _held(session, block))
        if blocks != session.blocks:
            context.store.put_session(replace(session, blocks=blocks))


def _held(session: Session, block: Block) -> Iterator[Block]:
    if block.instrument != "bassoon" or block.kind == "other" or block.minutes < 20:
        yield block
        return
    turn = session.day.toordinal() % len(SHARES)
    others = [(grip, share) for n, (grip, share) in enumerate(SHARES) if n and n != turn]  # not every hold every day
    parts = [(grip, round(block.minutes * share, 1)) for grip, share in others]
    yield _so_held(block, SHARES[0][0], round(block.minutes - sum(m for _, m in parts), 2))
    for grip, minutes in parts:
        yield _so_held(block, grip, minutes)


def _so_held(block: Block, grip: str, minutes: float) -> Block:
    return replace(block, minutes=minutes, grip=grip, posture="harness" if grip == "fingers_only" else "seat_strap")
