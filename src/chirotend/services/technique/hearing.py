"""Hearing a recording: where its notes begin, how loud each is, how loud all of it is. In bounded memory, by blocks."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np

from chirotend.core.errors import Degenerate, MethodError
from chirotend.core.measure.loudness import STEP_S, as_db, played
from chirotend.core.measure.onsets import Onset, OnsetFinder, clearness
from chirotend.formats import midi, sandbox, sound
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.probe_data import ONSETS_MAX

#: what a file is called that is too much to read
NAME = "This recording"
#: the loudness of a note: from its beginning on, and no further than the next one
NOTE_S = (0.02, 0.14)
#: the loudness of a stroke: all of it; what is so much softer than the loudest is none (ours, common practice)
STROKE_S, STROKE_WITHIN_DB = (0.0, 0.1), 25.0
#: steps of the kept envelope; longer recordings are kept in longer steps
ENVELOPE_S, ENVELOPE_STEPS = 0.1, 3000


@dataclass(frozen=True)
class Heard:
    """What was heard: onsets (s), a level for each and an envelope in `step_s` (dB of full scale), and the length."""

    onsets: list[float]
    levels: list[float]
    envelope: list[float]
    step_s: float
    seconds: float
    midi: bool
    breaks_off: bool
    #: how many sounds were two or more notes at once; known of MIDI alone
    chords: int = 0
    #: how clearly its notes begin (`core.measure.onsets.clearness`); None = nothing was recorded, it is MIDI
    clear: float | None = None


def hear_sandboxed(path: Path, media: str, seconds: int, step: Callable[[float], None] | None = None) -> Heard:
    """Return what `hear` finds, in a process of its own that takes at most `seconds` of CPU time."""
    found = sandbox.read_file(__name__, NAME, {"path": str(path), "media": media}, seconds=seconds, step=step)
    return Heard(**found["heard"])


def struck_sandboxed(path: Path, media: str) -> list[float]:
    """Return what `struck` finds, in a process of its own."""
    found = sandbox.read_file(__name__, NAME, {"path": str(path), "media": media, "strokes": True})
    return list(found["levels"])


def answered(request: dict[str, Any], _data: bytes, step: Callable[[float], None]) -> dict[str, Any]:
    """Return what `hear_sandboxed` or `struck_sandboxed` asks for, as JSON holds it."""
    path, media = Path(request["path"]), request["media"]
    if request.get("strokes"):
        return {"levels": struck(path, media)}
    return {"heard": asdict(hear(path, media, step))}


def hear(path: Path, media: str, step: Callable[[float], None] = lambda share: None) -> Heard:
    """Return what is heard in a recording; `step(share)` is told how far it is (0-1) and may raise to stop.

    `UnreadableFile` says what is wrong with it: broken, silent, too many notes.
    """
    if media == "audio/midi":
        notes = midi.notes(path)
        onsets, levels = list(notes.onsets), list(notes.levels)
        _check_few(onsets)
        return Heard(onsets, levels, [], 1.0, notes.seconds, True, False, notes.chords)
    rms, found = _onsets(path, media, 95, step)
    onsets = [round(o.at_s, 4) for o in found]
    envelope, step_s = _kept(rms)
    return Heard(
        onsets,
        _levels(rms, onsets, *NOTE_S),
        envelope,
        step_s,
        len(rms) * STEP_S,
        False,
        sound.breaks_off(path, media),
        clear=round(clearness(found), 2),
    )


def struck(path: Path, media: str) -> list[float]:
    """Return how loud each stroke of a recording is, from its beginning on (dB of full scale), in their order.

    What is much softer than the loudest is no stroke. `UnreadableFile` as `hear`.
    """
    rms, found = _onsets(path, media, 100, lambda share: None)
    onsets = [o.at_s for o in found]
    levels = _levels(rms, onsets, *STROKE_S)
    return [level for level in levels if level > max(levels) - STROKE_WITHIN_DB]


def _onsets(path: Path, media: str, loud: float, step: Callable[[float], None]) -> tuple[np.ndarray, tuple[Onset, ...]]:
    """The loudness of a recording in steps of 10 ms, and where its notes begin; `loud` = the percentile of it that is
    its level: strokes are short, most of what lies between them is none."""
    what = sound.described(path, media)
    rms = _envelope(path, media, what, lambda share: step(share / 3))
    try:
        played(rms)
        finder = OnsetFinder(what.rate_hz, float(np.percentile(rms, loud)))
    except MethodError as error:
        quiet = isinstance(error, Degenerate)
        raise UnreadableFile(
            "Nothing is heard in this recording: it is silent." if quiet else "This recording holds no sound."
        ) from error
    done = 0
    for block in sound.blocks(path, media, what.rate_hz):
        finder.feed(block)
        done += len(block)
        step(1 / 3 + 2 / 3 * min(1.0, done / (len(rms) * STEP_S * what.rate_hz)))
    onsets = finder.onsets()
    if not onsets:
        raise UnreadableFile("No note or stroke is heard to begin in this recording. Record again, nearer to it.")
    _check_few(onsets)
    return rms, onsets


def _check_few(onsets: Sequence[object]) -> None:
    if len(onsets) > ONSETS_MAX:
        raise UnreadableFile(f"More than {ONSETS_MAX} notes: cut the recording into parts.")


def _envelope(path: Path, media: str, what: sound.Sound, step: Callable[[float], None]) -> np.ndarray:
    """The loudness of a recording in steps of 10 ms, as RMS."""
    size = what.rate_hz * STEP_S
    edge, left, found, done = 0.0, np.zeros(0, np.float32), [], 0
    for block in sound.blocks(path, media, what.rate_hz):
        samples = np.concatenate((left, block))
        count = int((len(samples) - edge) / size)
        edges = np.round(edge + np.arange(count + 1) * size).astype(int)
        if count:
            power = np.add.reduceat(samples[: edges[-1]].astype(np.float64) ** 2, edges[:-1])
            found.append(np.sqrt(power / np.diff(edges)))
        edge = edge + count * size
        start = int(edge)
        left, edge = samples[start:], edge - start
        done += len(block)
        step(min(1.0, done / max(1.0, what.seconds * what.rate_hz)))
    return np.concatenate(found) if found else np.zeros(0)


def _levels(rms: np.ndarray, onsets: list[float], from_s: float, to_s: float) -> list[float]:
    """How loud each note is: the mean power from so long after its beginning to so long after, or the next one, dB."""
    power = np.concatenate(([0.0], np.cumsum(rms**2)))
    ends = [*onsets[1:], float("inf")]
    found = []
    for at, end in zip(onsets, ends, strict=True):
        first = min(len(rms) - 1, int((at + from_s) / STEP_S))
        last = max(first + 1, min(len(rms), int(min(end, at + to_s) / STEP_S)))
        found.append(round(float(as_db(np.sqrt((power[last] - power[first]) / (last - first)))), 1))
    return found


def _kept(rms: np.ndarray) -> tuple[list[float], float]:
    wide = max(round(ENVELOPE_S / STEP_S), -(-len(rms) // ENVELOPE_STEPS))
    count = max(1, len(rms) // wide)
    means = np.sqrt((rms[: count * wide].reshape(count, -1) ** 2).mean(axis=1)) if len(rms) >= wide else rms[:1]
    return [round(float(v), 1) for v in as_db(means)], wide * STEP_S
