"""Scales: which end a number is out of, what "3–4" is, whether a length is minutes or hours."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from chirotend.formats.diary.questions import Option, Question
from chirotend.formats.spelled import SpelledNumber, length_of, number_of
from chirotend.formats.spelled.lengths import LOOKS_LIKE_HOURS

ENDS = {3: "0 to 3", 5: "0 to 5", 6: "0 to 6", 10: "0 to 10", 20: "6 to 20", 100: "0 to 100"}
LONGEST_HOURS = 10
_SAID_END = re.compile(r"(?:\b[016]\s*(?:-|–|to|bis|à)\s*|/\s*|out of\s*|von\s*|sur\s*)(\d{1,3})\b")


@dataclass(frozen=True)
class Scale:
    """Numbers out of `out_of` become numbers out of 10; `pairs` says what becomes of "3–4": middle or out."""

    out_of: int
    pairs: str = "middle"

    @property
    def said(self) -> str:
        """Its two ends in words."""
        return ENDS[self.out_of]

    def ten(self, found: SpelledNumber) -> float | None:
        """Return the number out of 10, to a tenth; None where it is out of range, or two numbers are left out."""
        if found.high is not None and self.pairs == "out":
            return None
        if found.out_of is not None:
            share = found.middle / found.out_of
        elif self.out_of == 20:
            share = (found.middle - 6) / 14
        else:
            share = found.middle / self.out_of
        return round(share * 10, 1) if -1e-9 <= share <= 1 + 1e-9 else None


def said_end(name: str) -> int | None:
    """Return the end of a scale that a column's name says ("0-5", "/10"), or None."""
    found = _SAID_END.search(name)
    end = int(found[1]) if found else None
    return end if end in ENDS else None


def highest(cells: Sequence[str]) -> float:
    """Return the highest number of `cells` whose scale is not written beside it; 0 when there is none."""
    numbers = (n for cell in cells if (n := number_of(cell)) is not None and n.out_of is None)
    return max((n.high or n.low for n in numbers), default=0.0)


def likely_end(cells: Sequence[str], ends: Sequence[int], exact: bool) -> tuple[int, bool]:
    """Return the likeliest top of the scale of `cells` (5, 10, 100), and True if the player should confirm it.

    `exact`: a highest number that is the end of a scale makes that scale likely. So it is with efforts, which come
    near the end of their scale in a few weeks; complaints out of 10 may never pass 5.
    """
    most = highest(cells)
    possible = [end for end in ends if most <= end]
    if not most or not possible:
        return (ends[-1] if most else 10), False
    likely = most if exact and most in possible else 10 if 10 in possible else possible[0]
    return int(likely), min(possible) < 10 or likely != 10


def end_question(
    code: str, asked: str, cells: Sequence[str], ends: Sequence[int], chosen: int, answered: bool
) -> Question:
    """Ask what a number is out of; each answer shows what becomes of the highest."""
    top = max((cell for cell in set(cells) if number_of(cell)), key=lambda c: number_of(c).middle)  # type: ignore[union-attr]
    found = number_of(top)
    options = tuple(
        Option(str(end), ENDS[end], f"{top} is {ten:g} of 10")
        for end in ends
        if found and (ten := Scale(end).ten(found)) is not None
    )
    return Question(code, asked, options, str(chosen), answered)


def likely_unit(cells: Sequence[str], in_hours: bool) -> tuple[str, bool]:
    """Return how lengths without a unit are meant (minutes, hours, looks), and whether that can be doubted.

    `in_hours`: what the column's name says.
    """
    numbers = [n.number for cell in cells if (n := length_of(cell)) is not None and not n.said and n.number > 0]
    small = [n for n in numbers if n <= LOOKS_LIKE_HOURS]
    if not small:
        return "minutes", in_hours and bool(numbers)
    if len(small) == len(numbers):
        return "hours", not in_hours
    return "looks", True


def unit_question(name: str, cells: Sequence[str], chosen: str, answered: bool) -> Question:
    """Ask whether lengths are minutes or hours; each answer shows how many rows would look odd."""
    numbers = [(cell, n) for cell in cells if (n := length_of(cell)) is not None and not n.said]
    small = [cell for cell, n in numbers if n.number <= LOOKS_LIKE_HOURS]
    large = [cell for cell, n in numbers if n.number > LOOKS_LIKE_HOURS]
    shown = (small or large)[0], (large or small)[0]
    too_long = sum(n.number > LONGEST_HOURS for _, n in numbers)
    options = [
        Option("hours", "all hours", f"{shown[1]} h; {too_long} rows over {LONGEST_HOURS} hours"),
        Option("minutes", "all minutes", f"{shown[0]} min; {len(small)} rows of {LOOKS_LIKE_HOURS} minutes at most"),
    ]
    if small and large:
        options.insert(0, Option("looks", "as it looks", f"{shown[0]} h, {shown[1]} min"))
    return Question("lengths", f"“{name}” holds {' and '.join(dict.fromkeys(shown))}", tuple(options), chosen, answered)
