"""The likeliest meaning of each column: by its name, and by what its cells hold."""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import asdict

from chirotend.formats.diary.heads import Head, head_of
from chirotend.formats.diary.match import SHARED, Column
from chirotend.formats.diary.sheets import Sheet
from chirotend.formats.spelled import clocks_of, day_of, length_of, number_of, plain
from chirotend.library.loader import diary_words

LOOKED_AT = 200
MOST = 0.6
#: before this hour a "time" is rather a length: few practise at two in the morning
EARLY_HOUR = 5


def guessed(sheet: Sheet) -> list[Column]:
    """Return a column's likeliest meaning for each of the sheet's; no word is lost: the unknown adds to the note."""
    samples = [_sample(sheet, n) for n in range(len(sheet.header))]
    heads = [_by_name(name, cells) for name, cells in zip(sheet.header, samples, strict=True)]
    taken = Counter(head.meaning for head in heads if head)
    found: list[Column] = []
    for head, cells in zip(heads, samples, strict=True):
        if head is None:
            head = Head(_by_cells(cells, taken))
            taken[head.meaning] += 1
        if head.meaning not in SHARED and any(c.meaning == head.meaning for c in found):
            head = Head("add_note")
        found.append(Column(**asdict(head)))
    return found


def _sample(sheet: Sheet, n: int) -> list[str]:
    return [cells[n] for _, cells in sheet.rows[:LOOKED_AT] if cells[n]]


def _share(cells: Sequence[str], fits: Callable[[str], object]) -> float:
    return sum(bool(fits(cell)) for cell in cells) / len(cells) if cells else 0.0


def _is_number(cell: str) -> bool:
    return number_of(cell) is not None


def _is_day(cell: str) -> bool:
    return day_of(cell) is not None


def _is_clock(cell: str) -> bool:
    found = clocks_of(cell)
    return found is not None and not cell.isdigit() and (found[0].hour >= EARLY_HOUR or found[1] is not None)


def _is_said_length(cell: str) -> bool:
    found = length_of(cell)
    return found is not None and found.said


def _is_rather_a_length(cell: str) -> bool:
    """True for "90" and "1:30" where a time of day could stand: few write an hour alone, or begin at half past one."""
    return length_of(cell) is not None and not _is_clock(cell)


def _by_name(name: str, cells: Sequence[str]) -> Head | None:
    """What the name says, unless the cells plainly say otherwise."""
    head = head_of(name)
    if head is None or not cells:
        return head
    if head.meaning in ("minutes", "hours") and _share(cells, _is_clock) >= MOST:
        return Head("start")
    if head.meaning == "start" and _share(cells, _is_rather_a_length) >= MOST:
        return Head("minutes")
    if head.meaning == "day" and _share(cells, _is_day) < MOST and _share(cells, _is_clock) >= MOST:
        return Head("start")
    if head.meaning == "was_hard" and _share(cells, _is_number) >= MOST:
        return Head("effort")
    if head.meaning == "kind" and _share(cells, lambda c: plain(c) in diary_words("symptom")) >= MOST:
        return Head("symptom_kind")
    if head.meaning == "symptom" and _share(cells, _is_number) >= MOST:
        return Head("intensity")
    if head.meaning == "side" and _share(cells, lambda c: plain(c) in diary_words("side")) < MOST:
        return Head("place", "hand_back_thumb") if _share(cells, _is_number) >= MOST else Head("add_note")
    if head.meaning == "note" and _share(cells, _is_number) >= MOST:
        return Head("add_note")
    return head


def _by_cells(cells: Sequence[str], taken: Counter[str]) -> str:
    """The meaning that most cells fit and no other column has; else the note."""
    tests: tuple[tuple[str, Callable[[str], object]], ...] = (
        ("day", _is_day),
        ("start", _is_clock),
        ("minutes", _is_said_length),
        ("instrument", lambda c: plain(c) in diary_words("instrument")),
        ("kind", lambda c: plain(c) in diary_words("kind")),
        ("side", lambda c: plain(c) in diary_words("side")),
    )
    for meaning, fits in tests:
        alike = meaning == "minutes" and taken["hours"]
        if not taken[meaning] and not alike and _share(cells, fits) >= MOST:
            return meaning
    return "add_note"
