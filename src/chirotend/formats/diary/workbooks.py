"""Reading a spreadsheet in a process of its own, that can be stopped: a small file may ask for any amount of memory.

`python -m chirotend.formats.diary.workbooks` reads a file from its input and answers on its output, as JSON.
"""

import io
from collections.abc import Callable
from datetime import date, datetime, time, timedelta
from typing import Any

from python_calamine import CalamineError, load_workbook

from chirotend.formats import apart
from chirotend.formats.cells import UnreadableFile

SECONDS = 30
#: a year that only old files have, which keep a length as a day of it
LENGTHS_UNTIL = 1901


def sheets_of(data: bytes, file: str) -> list[tuple[str, list[list[str]]]]:
    """Return the name of each sheet that holds anything, and its rows as text; `UnreadableFile` when it is none."""
    try:
        answer = apart.asked(__name__, data, SECONDS)
    except apart.TooSlow as error:
        raise UnreadableFile(
            f"{file} takes longer to read than this server gives one file. Bring less of it."
        ) from error
    except apart.TooMuch as error:
        raise UnreadableFile(
            f"{file} asks for more memory than this server gives one file. Bring less of it."
        ) from error
    if "refused" in answer:
        raise UnreadableFile(f"{file} cannot be read as a spreadsheet: {answer['refused']}.")
    return [(name, rows) for name, rows in answer["sheets"] if rows]


def spelled(value: Any) -> str:
    """Return what a cell holds in the one spelling that cannot be taken for another."""
    spelling = _SPELLINGS.get(type(value))
    return spelling(value) if spelling else str(value)


def _moment(value: datetime) -> str:
    """A day alone where no time is meant; a day of 1899 or 1900 is how old files keep a length."""
    if value.year < LENGTHS_UNTIL:
        return _length(value - datetime(1899, 12, 31))
    return value.date().isoformat() if value.time() == time(0) else value.isoformat(timespec="seconds")


def _length(value: timedelta) -> str:
    seconds = round(value.total_seconds())
    return f"{seconds // 3600}:{seconds // 60 % 60:02}:{seconds % 60:02}"


_SPELLINGS: dict[type, Callable[[Any], str]] = {
    str: str.strip,
    float: lambda v: str(int(v)) if v.is_integer() and abs(v) < 1e15 else repr(round(v, 9)),
    int: str,
    bool: lambda v: "yes" if v else "no",
    date: date.isoformat,
    datetime: _moment,
    time: lambda v: v.isoformat(timespec="seconds"),
    timedelta: _length,
    type(None): lambda v: "",
}


def main() -> None:
    data = apart.request()
    try:
        book = load_workbook(io.BytesIO(data))
        found = [(name, book.get_sheet_by_name(name).to_python(skip_empty_area=False)) for name in book.sheet_names]
        answer: dict[str, Any] = {
            "sheets": [(name, [[spelled(v) for v in row] for row in rows]) for name, rows in found]
        }
    except (CalamineError, ValueError, OSError) as error:
        answer = {"refused": str(error)}
    apart.answer(answer)


if __name__ == "__main__":
    main()
