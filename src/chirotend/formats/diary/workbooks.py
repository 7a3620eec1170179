"""Reading a spreadsheet in a process of its own: a small file may ask for any amount of memory."""

import io
from collections.abc import Callable
from datetime import date, datetime, time, timedelta
from typing import Any

from python_calamine import CalamineError, load_workbook

from chirotend.formats import sandbox
from chirotend.formats.cells import UnreadableFile

#: CPU time that a spreadsheet may take
SECONDS = 30
#: a year that only old files have, which keep a length as a day of it
LENGTHS_UNTIL = 1901


def sheets_of(data: bytes, file: str) -> list[tuple[str, list[list[str]]]]:
    """Return the name of each sheet that holds anything, and its rows as text; `UnreadableFile` when it is none."""
    found = sandbox.read_file(__name__, file, {"file": file}, data, SECONDS)
    return [(name, rows) for name, rows in found["sheets"] if rows]


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


def answered(request: dict[str, Any], data: bytes, _step: Callable[[float], None]) -> dict[str, Any]:
    """Return what `sheets_of` asks for, as JSON holds it."""
    try:
        book = load_workbook(io.BytesIO(data))
        found = [(name, book.get_sheet_by_name(name).to_python(skip_empty_area=False)) for name in book.sheet_names]
        return {"sheets": [(name, [[spelled(v) for v in row] for row in rows]) for name, rows in found]}
    except (CalamineError, ValueError, OSError) as error:
        raise UnreadableFile(f"{request['file']} cannot be read as a spreadsheet: {error}.") from error
    except BaseException as error:
        if type(error).__name__ != "PanicException":  # how the reader gives up on some damaged files
            raise
        raise UnreadableFile(f"{request['file']} is a damaged spreadsheet. Save it again.") from error
