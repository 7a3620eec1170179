"""Write the empty diary that Record offers, as a spreadsheet and as CSV: `python tools/diary_template.py`.

Two example days, which are left out when it is brought; what every column may hold stands on a sheet of its own.
"""

import csv
from pathlib import Path

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from chirotend.core.body.zones import zones
from chirotend.core.record.words import BlockKind, Kind, Sleep, Timing

OUT = Path(__file__).parents[1] / "src/chirotend/web/static/files"
EXAMPLE = "Example: delete this row"


def said(words: type) -> str:
    """The words of a list, as a player may write them."""
    return ", ".join(f"{word} ({word.said})" if word != word.said else str(word) for word in words)  # type: ignore[attr-defined]


FELT = (
    "Place, side, kind, strength 0-10; several with ; between. none = asked, nothing there. Empty = not asked. "
    f"Kinds: {said(Kind)}."
)
#: each column with its two examples and its meaning
COLUMNS = [
    (
        "Day",
        "2026-10-12",
        "2026-10-13",
        "The day it began on, as you write days. A time after midnight is still that day.",
    ),
    ("Began at", "10:30", "", "Such as 10:30, 10.30 or 9:30 AM. May stay empty."),
    ("Ended at", "", "", "May stay empty: it is worked out from the minutes."),
    ("Minutes", "45", "1h30", "How long you played, without rests: 90, 1h30, 1:30 or 1,5 h."),
    ("Instrument", "bassoon", "contrabassoon", "Its name, or your own word for it."),
    ("Kind", "technique", "rehearsal", f"{said(BlockKind)}; off = a day off."),
    ("Effort 0-10", "4", "6", "Of the whole session: 0 nothing, 10 all you have. Empty = not said."),
    ("Went well", "low notes spoke", "", "In your words."),
    ("Was hard", "", "long slurs", "In your words."),
    ("Question", "", "another reed?", "In your words."),
    (
        "Complaints",
        "none",
        "left thumb tight 3; neck tight 2",
        FELT,
    ),
    ("When felt", "", "after", f"{said(Timing)}. Empty = while playing."),
    ("Sleep", "sound", "short", f"The night before: {said(Sleep)}."),
    ("Note", EXAMPLE, EXAMPLE, "Anything else of the day."),
]


def main() -> None:
    OUT.mkdir(exist_ok=True)
    rows = [list(row) for row in zip(*(column[:3] for column in COLUMNS), strict=True)]
    with (OUT / "diary.csv").open("w", encoding="utf-8-sig", newline="") as file:
        csv.writer(file).writerows(rows)
    book = Workbook()
    diary = book.active
    assert isinstance(diary, Worksheet)
    diary.title = "Diary"
    for row in rows:
        diary.append(row)
    meaning = book.create_sheet("What may stand here")
    meaning.append(["Column", "Meaning"])
    for name, _, _, text in COLUMNS:
        meaning.append([name, text])
    places = book.create_sheet("Places")
    places.append(["Place", "Region"])
    for zone in zones().values():
        places.append([zone.name, zone.region])
    for sheet in book.worksheets:
        for cell in sheet[1]:
            cell.font = Font(bold=True)
        for letter in "ABCDEFGHIJKLMN":
            sheet.column_dimensions[letter].width = 18
    meaning.column_dimensions["B"].width = 110
    book.save(OUT / "diary.xlsx")


if __name__ == "__main__":
    main()
