"""What a written part asks of the hands, bar by bar. A forecast from notes, never from how it feels.

Times in seconds, pitches as MIDI numbers (60 = middle c), shares 0-1. The weights are ours, common practice, no source.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import groupby

from chirotend.core.errors import TooFew
from chirotend.core.fit.moves import Beyond

#: a silence of so many seconds lets the hands go
LET_GO_S = 0.25
#: a note held so long is a hold
HELD_S = 3.0
#: at this pace, run and hold a share is full
FULL_NOTES_S, FULL_RUN_S, FULL_HELD_S = 8.0, 60.0, 8.0
WEIGHTS = {"pace": 0.35, "run": 0.2, "held": 0.15, "wide": 0.15, "repeated": 0.05, "loud": 0.1}
#: less of a bar is no rest
REST_SHARE = 0.02
BPM_MIN, BPM_MAX = 20.0, 400.0


@dataclass(frozen=True)
class WrittenNote:
    """A note: onset and length in quarters (0 = a grace note), its pitch as it sounds (None = unpitched), whether it is
    to be loud, and its staff (of keys, each hand has one)."""

    onset: float
    length: float
    pitch: int | None
    loud: bool = False
    staff: int = 1


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


def bar_asks(notes: Sequence[WrittenNote], bars: Sequence[WrittenBar], beyond: Beyond) -> tuple[BarAsk, ...]:
    """Return what each bar asks; `beyond` says which moves and chords are wide for this hand (`core.fit.moves`).

    `TooFew` without bars; grace notes count as struck, and never as held.
    """
    if not bars:
        raise TooFew("bars", "no bar")
    starts = _starts(bars)
    timed = [
        _Timed(n, _at(bars, starts, n.onset), _at(bars, starts, n.onset + n.length), repeated, wide)
        for n, repeated, wide in sorted(_moved(notes, beyond), key=lambda m: m[0].onset)
    ]
    runs = _runs([(t.begins, t.ends) for t in timed])
    found, first = [], 0
    for n, bar in enumerate(bars):
        begins, seconds = starts[n], (bar.end - bar.start) * 60 / bar.bpm
        ends = begins + seconds
        while first < len(timed) and timed[first].note.onset < bar.start - 1e-9:
            first += 1
        here = []
        for each in timed[first:]:
            if each.note.onset >= bar.end - 1e-9:
                break
            here.append(each)
        found.append(_asked(bar.number, begins, ends, here, runs))
    return tuple(found)


def _moved(notes: Sequence[WrittenNote], beyond: Beyond) -> list[tuple[WrittenNote, bool, bool]]:
    """Each note, whether it was struck just before, and whether it is a wide move or the wide part of a chord.

    A move is wide when none of the notes before is within reach; a chord, where a note is beyond its lowest.
    """
    found = []
    for staff in sorted({n.staff for n in notes}):
        line = sorted((n for n in notes if n.staff == staff), key=lambda n: (n.onset, n.length > 0))
        before: tuple[int, ...] = ()
        # a grace note stands alone before what it is written to
        for _, group in groupby(enumerate(line), key=lambda n: (n[1].onset, n[1].length > 0 or -1 - n[0])):
            chord = sorted((n for _, n in group), key=lambda n: n.pitch or 0)
            pitches = tuple(n.pitch for n in chord if n.pitch is not None)
            for n in chord:
                again = n.pitch is not None and n.pitch in before
                if n.pitch is None or again:
                    wide = False
                elif n.pitch == pitches[0]:
                    wide = bool(before) and all(beyond(p, n.pitch, False) for p in before)
                else:
                    wide = beyond(pitches[0], n.pitch, True)
                found.append((n, again, wide))
            before = pitches or before
    return found


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


@dataclass(frozen=True)
class _Timed:
    """A note with its seconds, and whether it is repeated or wide."""

    note: WrittenNote
    begins: float
    ends: float
    repeated: bool
    wide: bool


def _asked(
    number: int, begins: float, ends: float, here: Sequence[_Timed], runs: Sequence[tuple[float, float]]
) -> BarAsk:
    seconds = max(1e-6, ends - begins)
    repeated, wide = sum(t.repeated for t in here), sum(t.wide for t in here)
    onsets = len({round(t.begins, 4) for t in here})
    sounding = sum(min(ends, b) - max(begins, a) for a, b in runs if a < ends and b > begins)
    run = max((b - a for a, b in runs if a < ends and b > begins), default=0.0)
    held = max((t.ends - t.begins for t in here), default=0.0)
    loud = sum(t.note.loud for t in here) / len(here) if here else 0.0
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


@dataclass(frozen=True)
class LetGo:
    """A bar in which a let-go could be; `rests`: the part rests there, else it is the lightest of its stretch."""

    number: int
    rests: bool


def let_gos(asks: Sequence[BarAsk], after_s: float = 30.0) -> tuple[LetGo, ...]:
    """Return the bars in which a let-go could be: of each `after_s` seconds the one with the most rest, or where
    nothing rests the one that asks least; of equals the last. A stretch begun at the end has none."""
    found, since, stretch = [], 0.0, []
    for ask in asks:
        since += ask.seconds
        stretch.append(ask)
        if since >= after_s:
            best = max(stretch, key=lambda a: (a.rest if a.rest > REST_SHARE else 0.0, -a.weight, a.start_s))
            found.append(LetGo(best.number, best.rest > REST_SHARE))
            since, stretch = 0.0, []
    return tuple(found)


def through(asks: Sequence[BarAsk], played: Sequence[int]) -> tuple[BarAsk, ...]:
    """Return the bars in the order they are played, repeats and endings with them; `played`: places from 0, none =
    straight through."""
    return tuple(asks[n] for n in played) if played else tuple(asks)


def holding(
    asks: Sequence[BarAsk], load: float, let_go: Collection[int] = (), let_go_s: float = 0.0
) -> tuple[tuple[float, float], ...]:
    """Return the bars as (load 0-1, seconds) of holding and letting go in turn, for `industrial.holding`.

    The hand lets go where the part rests, and at least `let_go_s` seconds in the bars numbered `let_go`.
    """
    found = []
    for ask in asks:
        free = ask.seconds * ask.rest
        if ask.number in let_go:
            free = min(ask.seconds, max(free, let_go_s))
        found += [(load, ask.seconds - free), (0.0, free)]
    return tuple(step for step in found if step[1] > 0)
