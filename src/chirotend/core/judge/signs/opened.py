"""A sign opened: the days of its place against her usual, what went before, where it goes, when it is felt."""

from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.body.zones import STAFF_REGIONS
from chirotend.core.judge.baseline import above_baseline, median
from chirotend.core.judge.before import Before, went_before
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.signs.course import DAYS, Course, course, strengths_of
from chirotend.core.judge.signs.passing import passed
from chirotend.core.judge.signs.raised import WEIGHTY, heights_of
from chirotend.core.record import Place

NEW_FOR_DAYS = 14


@dataclass(frozen=True)
class Opened:
    """What is behind the course of a place: soreness that passed, what went before, when and where else it is felt."""

    course: Course
    passed: tuple[int, ...]
    before: dict[str, Before]
    timings: dict[str, tuple[int, int]]
    spread: tuple[Place, ...]
    #: of each day how far the place stood out, and her threshold (ln odds); None = not worked out
    heights: tuple[tuple[float, float] | None, ...]


def opened(evidence: Evidence, place: Place) -> Opened:
    """Return the last twelve weeks of a place (region, side): what is behind a sign there, or stands without one."""
    found = course(evidence, place)
    since = found.risen_since or evidence.today - timedelta(days=13)
    before = _precursor_days(evidence, found.first).items()
    return Opened(
        found,
        passed([None if s is None else round(s) for s in found.strengths]),
        {name: went_before(there, found.strengths) for name, there in before},
        _timings(evidence, place, found.first, since),
        tuple(p for p in _adjacent_regions(place) if _above_baseline(evidence, p, found.first, since)),
        heights_of(evidence.above_known, place, found.first, DAYS),
    )


def _precursor_days(evidence: Evidence, first: date) -> dict[str, list[bool]]:
    """Days on which each possible precursor occurred (True), by precursor."""
    days = [first + timedelta(days=n) for n in range(DAYS)]
    record = evidence.record
    short = {n.day for n in record.notes if n.sleep in ("short", "broken")}
    cold = {n.day for n in record.notes if n.hands == "cold"}
    performed = {s.day for s in record.sessions for b in s.blocks if b.kind == "performance"}
    begun: dict[str, date] = {}
    for session in sorted(record.sessions, key=lambda s: s.day):
        for block in session.blocks:
            begun.setdefault(block.instrument, session.day)
    oldest = min((s.day for s in record.sessions), default=first)
    new = {i: day for i, day in begun.items() if i and day > oldest + timedelta(days=NEW_FOR_DAYS)}
    return {
        "heavy": [above_baseline(evidence.load, day) is not None for day in days],
        "sleep": [day in short for day in days],
        "cold": [day in cold for day in days],
        "performance": [day in performed for day in days],
        "new_instrument": [any(b <= day <= b + timedelta(days=NEW_FOR_DAYS) for b in new.values()) for day in days],
    }


def _timings(evidence: Evidence, place: Place, first: date, since: date) -> dict[str, tuple[int, int]]:
    """Marks of each timing before `since` and from it on."""
    counts = {timing: [0, 0] for timing in WEIGHTY}
    for mark in evidence.marks:
        if mark.day >= first and mark.place == place:
            counts[mark.timing][mark.day >= since] += 1
    return {timing: (before, after) for timing, (before, after) in counts.items()}


def _adjacent_regions(place: Place) -> list[Place]:
    """Adjacent regions on the same side, and the mirror region."""
    region, side = place
    near: list[Place] = []
    if region in STAFF_REGIONS:
        at = STAFF_REGIONS.index(region)
        near += [(STAFF_REGIONS[n], side) for n in (at - 1, at + 1) if 0 <= n < len(STAFF_REGIONS)]
    if side in ("left", "right"):
        near.append((region, "right" if side == "left" else "left"))
    return near


def _above_baseline(evidence: Evidence, place: Place, first: date, since: date) -> bool:
    """Marked above its own usual on three asked days from `since` on."""
    strengths = strengths_of(evidence, place, first)
    observed = [s for s in strengths if s is not None]
    late = [s for s in strengths[max(0, (since - first).days) :] if s is not None]
    return bool(observed) and sum(s > median(observed) for s in late) >= 3
