"""What a written part asks of the hands, bar by bar. A forecast from notes, never from how it feels.

Times in seconds, pitches as MIDI numbers (60 = middle c), shares 0-1. The weights are ours, common practice, no source.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from chirotend.core.errors import TooFew, check_range

#: a silence of so many seconds lets the hands go
LET_GO_S = 0.25
#: a note held so long is a hold
HELD_S = 3.0
#: at this pace, run and hold a share is full
FULL_NOTES_S, FULL_RUN_S, FULL_HELD_S = 8.0, 60.0, 8.0
WEIGHTS = {"pace": 0.35, "run": 0.2, "held": 0.15, "wide": 0.15, "repeated": 0.05, "loud": 0.1}
BPM_MIN, BPM_MAX = 20.0, 400.0


@dataclass(frozen=True)
class WrittenNote:
    """A note as written: onset and length in quarters, its pitch (None = unpitched), whether it is to be loud."""

    onset: float
    length: float
    pitch: int | None
    loud: bool = False


@dataclass(frozen=True)
class WrittenBar:
    """A bar: its number as printed, where it begins and ends in quarters, its tempo in quarters a minute."""

    number: int
    start: float
    end: float
    bpm: float


@dataclass(frozen=True)
class BarAsk:
    """What a bar asks: its length (s), notes a minute, the run without a let-go it lies in (s), its longest note (s),
    repeated notes, wide moves, the share played loud, the share of rest, and the weight 0-1 with its largest parts."""

    number: int
    start_s: float
    seconds: float
    notes_min: float
    run_s: float
    held_s: float
    repeated: int
    wide: int
    loud: float
    rest: float
    weight: float
    asks: tuple[str, ...]


def bar_asks(notes: Sequence[WrittenNote], bars: Sequence[WrittenBar], wide_semitones: float) -> tuple[BarAsk, ...]:
    """Return what each bar asks. A move or chord wider than `wide_semitones` (1-60) is wide for this hand.

    `TooFew` without bars; notes of no length (grace notes) count as struck, and never as held.
    """
    if not bars:
        raise TooFew("bars", "no bar")
    reach = check_range("wide_semitones", wide_semitones, 1, 60)
    starts = _starts(bars)
    ordered = sorted(notes, key=lambda n: (n.onset, n.pitch or 0))
    timed = [(n, _at(bars, starts, n.onset), _at(bars, starts, n.onset + n.length)) for n in ordered]
    runs = _runs([(a, b) for _, a, b in timed])
    found, first = [], 0
    for n, bar in enumerate(bars):
        begins, seconds = starts[n], (bar.end - bar.start) * 60 / bar.bpm
        ends = begins + seconds
        while first < len(timed) and timed[first][0].onset < bar.start - 1e-9:
            first += 1
        here = []
        for each in timed[first:]:
            if each[0].onset >= bar.end - 1e-9:
                break
            here.append(each)
        before = timed[first - 1][0] if first else None
        found.append(_asked(bar.number, begins, ends, here, before, timed, runs, reach))
    return tuple(found)


def _starts(bars: Sequence[WrittenBar]) -> list[float]:
    starts = [0.0]
    for bar in bars:
        starts.append(starts[-1] + (bar.end - bar.start) * 60 / bar.bpm)
    return starts


def _at(bars: Sequence[WrittenBar], starts: Sequence[float], quarters: float) -> float:
    """The second at which a place in quarters comes."""
    low, high = 0, len(bars) - 1
    while low < high:
        middle = (low + high + 1) // 2
        if bars[middle].start <= quarters + 1e-9:
            low = middle
        else:
            high = middle - 1
    return starts[low] + (quarters - bars[low].start) * 60 / bars[low].bpm


def _runs(spans: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Stretches without a let-go: from the first to the last sounding second of each."""
    found: list[tuple[float, float]] = []
    for begins, ends in spans:
        if found and begins - found[-1][1] < LET_GO_S:
            found[-1] = found[-1][0], max(found[-1][1], ends)
        else:
            found.append((begins, ends))
    return found


Timed = tuple[WrittenNote, float, float]


def _asked(
    number: int,
    begins: float,
    ends: float,
    here: Sequence[Timed],
    before: WrittenNote | None,
    timed: Sequence[Timed],
    runs: Sequence[tuple[float, float]],
    reach: float,
) -> BarAsk:
    seconds = max(1e-6, ends - begins)
    chain = [before, *(n for n, _, _ in here)] if before is not None else [n for n, _, _ in here]
    pairs = [(a, b) for a, b in pairwise(chain) if a.pitch is not None and b.pitch is not None]
    repeated = sum(a.pitch == b.pitch for a, b in pairs)
    wide = sum(abs(b.pitch - a.pitch) > reach for a, b in pairs if a.pitch is not None and b.pitch is not None)
    onsets = len({round(a, 4) for _, a, _ in here})
    sounding = sum(min(ends, b) - max(begins, a) for a, b in runs if a < ends and b > begins)
    run = max((b - a for a, b in runs if a < ends and b > begins), default=0.0)
    held = max((b - a for _, a, b in here), default=0.0)
    loud = sum(n.loud for n, _, _ in here) / len(here) if here else 0.0
    shares = {
        "pace": min(1.0, onsets / seconds / FULL_NOTES_S),
        "run": min(1.0, run / FULL_RUN_S) if here else 0.0,
        "held": min(1.0, held / FULL_HELD_S) if held >= HELD_S else 0.0,
        "wide": min(1.0, 2 * wide / max(1, len(here))),
        "repeated": min(1.0, repeated / max(1, len(here))),
        "loud": loud,
    }
    parts = {name: WEIGHTS[name] * share for name, share in shares.items()}
    largest = sorted((name for name, part in parts.items() if part > 0.02), key=lambda name: -parts[name])
    rest = max(0.0, 1 - sounding / seconds)
    return BarAsk(
        number,
        begins,
        seconds,
        60 * onsets / seconds,
        run,
        held,
        repeated,
        wide,
        loud,
        rest,
        sum(parts.values()),
        tuple(largest[:3]),
    )


def heaviest(asks: Sequence[BarAsk], most: int = 10) -> tuple[BarAsk, ...]:
    """Return the bars that ask most, in the order of the part; bars without notes are never among them."""
    sounding = [a for a in asks if a.notes_min > 0]
    return tuple(sorted(sorted(sounding, key=lambda a: -a.weight)[:most], key=lambda a: a.start_s))


def passages(bars: Sequence[BarAsk], near: int = 2) -> tuple[tuple[int, int], ...]:
    """Return the bars as passages to practise: numbers from and to, bars no more than `near` apart together."""
    found: list[tuple[int, int]] = []
    for bar in bars:
        if found and bar.number - found[-1][1] <= near:
            found[-1] = found[-1][0], bar.number
        else:
            found.append((bar.number, bar.number))
    return tuple(found)


def let_gos(asks: Sequence[BarAsk], after_s: float = 30.0) -> tuple[int, ...]:
    """Return the bars in which a let-go could be: of each `after_s` seconds the one with the most rest."""
    found, since, best = [], 0.0, None
    for ask in asks:
        since += ask.seconds
        if best is None or ask.rest > best.rest:
            best = ask
        if since >= after_s:
            if best.rest > 0.02:
                found.append(best.number)
            since, best = 0.0, None
    return tuple(found)
