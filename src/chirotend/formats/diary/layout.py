"""Where the table stands on the sheet: a title above it, its first line, totals below, empty columns beside."""

from collections.abc import Sequence
from dataclasses import dataclass

from chirotend.formats.diary.heads import head_of
from chirotend.formats.spelled import day_of, plain
from chirotend.library.loader import diary_words

Row = tuple[int, tuple[str, ...]]
LOOKED_AT = 25
#: what a cell of an example in our own empty diary begins with
EXAMPLE = "Example: delete"


@dataclass(frozen=True)
class Laid:
    """A table found on a sheet: the names of its columns ("" = none), its rows by line, and what was recognised."""

    header: tuple[str, ...]
    rows: tuple[Row, ...]
    remarks: tuple[str, ...]


def laid_out(rows: Sequence[Row]) -> Laid:
    """Return the table in the rows of a sheet; every row gets as many cells as the header."""
    if not rows:
        return Laid((), (), ())
    at = _header_at(rows)
    remarks = []
    if at:
        title = " · ".join(cell for _, cells in rows[:at] for cell in cells if cell)
        remarks.append(f"Above the table stands “{title[:80]}”; it is left out.")
    body = rows[at + 1 :] if at is not None else rows
    names: tuple[str, ...] = rows[at][1] if at is not None else ()
    width = max((_width(cells) for _, cells in body), default=0)
    width = max(width, _width(names))
    if at is None:
        remarks.append("The table has no line of names.")
    header = (names + ("",) * width)[:width]
    blank = ("",) * width
    kept = [(line, (cells + blank)[:width]) for line, cells in body if any(cells)]
    totals = _totals(kept)
    if totals:
        told = ", ".join(str(kept[n][0]) for n in totals[:6])
        remarks.append(f"A line of totals is left out (line {told}).")
    again = [n for n, (_, cells) in enumerate(kept) if cells == header]
    examples = [n for n, (_, cells) in enumerate(kept) if any(cell.startswith(EXAMPLE) for cell in cells)]
    if examples:
        remarks.append("The example rows are left out.")
    left_out = {*totals, *again, *examples}
    return Laid(header, tuple(row for n, row in enumerate(kept) if n not in left_out), tuple(remarks))


def _width(cells: Sequence[str]) -> int:
    return max((n + 1 for n, cell in enumerate(cells) if cell), default=0)


def _header_at(rows: Sequence[Row]) -> int | None:
    """The line of names: most of its words are known, else the line above the first day; None when there is none."""
    best, at = 0, None
    for n, (_, cells) in enumerate(rows[:LOOKED_AT]):
        named = [cell for cell in cells if cell]
        if any(_is_day(cell) for cell in named):
            break
        known = sum(head_of(cell) is not None for cell in named)
        if known > best and len(named) > 1:
            best, at = known, n
    if best >= 2:
        return at
    first = next((n for n, (_, c) in enumerate(rows[:LOOKED_AT]) if any(_is_day(cell) for cell in c[:4])), None)
    above = [n for n in range(first or 0) if sum(map(bool, rows[n][1])) > 1]
    return above[-1] if above else (at if first != 0 else None)


def _is_day(cell: str) -> bool:
    found = day_of(cell)
    return found is not None and not (found.year is None and "/" in cell and found.first > 31)


def _totals(rows: Sequence[Row]) -> list[int]:
    """The rows that begin with a word for a total."""
    words = diary_words("total")
    found = []
    for n, (_, cells) in enumerate(rows):
        first = next(cell for cell in cells if cell)
        if not any(c.isdigit() for c in first) and plain(first) in words:
            found.append(n)
    return found
