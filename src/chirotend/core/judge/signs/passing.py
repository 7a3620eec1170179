"""Passing soreness of a place: stretches above her usual that came and went by themselves."""

from collections.abc import Sequence

from chirotend.core.judge.baseline import median

#: asked days at her usual, one after the other, that end a stretch
CLEAR_DAYS = 2


def passed(strengths: Sequence[int | None]) -> tuple[int, ...]:
    """Return the lengths in days of the stretches above her usual that ended within `strengths` (None = not asked).

    Her usual is the median of the days asked. A stretch runs from its first to its last day above it; it ended when two
    asked days in a row were not.
    """
    asked = [s for s in strengths if s is not None]
    if not asked:
        return ()
    usual = median([float(s) for s in asked])
    found, first, last, clear = [], -1, -1, 0
    for day, strength in enumerate(strengths):
        if strength is None:
            continue
        if strength > usual:
            first, last, clear = (day if first < 0 else first), day, 0
        elif first >= 0:
            clear += 1
            if clear >= CLEAR_DAYS:
                found.append(last - first + 1)
                first, clear = -1, 0
    return tuple(found)
