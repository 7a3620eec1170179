"""The tables that a file holds, whatever kind of file it is: told from its content, never from its name.

Every cell comes as text. What a spreadsheet holds as a day, a time or a length comes in the one spelling that cannot be
taken for another: 2026-10-12, 10:30:00.
"""

import io
import json
import zipfile
import zlib
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from datetime import date, datetime, time, timedelta
from typing import Any

from python_calamine import CalamineError, load_workbook

from chirotend.formats.cells import BadCell, UnreadableFile, too_long
from chirotend.formats.diary.layout import Row, laid_out
from chirotend.formats.diary.text import Decoded, decoded, delimited

ZIP, OLD_OFFICE = b"PK\x03\x04", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
UNPACKED_MAX, MEMBERS_MAX, FILES_MAX, COLUMNS_MAX, ROWS_MAX = 256 * 2**20, 5000, 50, 120, 200_000
TABLES = (".csv", ".tsv", ".txt")


@dataclass(frozen=True)
class Sheet:
    """One table: its first line, its rows by line number, what was recognised, and rows that cannot be read.

    No cell begins or ends with a space.

    `text` is how a text file was decoded; None for a spreadsheet.
    """

    file: str
    name: str
    header: tuple[str, ...]
    rows: tuple[Row, ...]
    remarks: tuple[str, ...] = ()
    bad: tuple[BadCell, ...] = ()
    text: Decoded | None = field(default=None, compare=False)

    def label(self, n: int) -> str:
        """Return the name of a column; its number where it has none."""
        return self.header[n] or f"column {n + 1}"


def sheets(data: bytes, file: str, encoding: str = "") -> list[Sheet]:
    """Return the tables of a file; `encoding` is what she says it was written in ("" = found out).

    `UnreadableFile` when it is no table, or larger than can be.
    """
    if data.startswith((ZIP, OLD_OFFICE)):
        return _workbook(data, file)
    if data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"[":
        return [_objects(data, file)]
    text = decoded(data, file, encoding)
    return [replace(_sheet(file, "", delimited(text.text, file)), text=text)]


def _sheet(file: str, name: str, found: Iterable[tuple[int, list[str] | BadCell]]) -> Sheet:
    rows: list[Row] = []
    bad: list[BadCell] = []
    for line, cells in found:
        if isinstance(cells, BadCell):
            bad.append(cells)
        elif (long := too_long(file, line, (), cells)) is not None:
            bad.append(long)
        else:
            rows.append((line, tuple([cell.strip() for cell in cells])))
        if len(rows) > ROWS_MAX:
            raise UnreadableFile(f"{file} holds more than {ROWS_MAX:,} rows. Bring it in parts.")
    laid = laid_out(rows)
    if len(laid.header) > COLUMNS_MAX:
        raise UnreadableFile(f"{file} has {len(laid.header)} columns; at most {COLUMNS_MAX} can be read.")
    return Sheet(file, name, laid.header, laid.rows, laid.remarks, tuple(bad))


def unpacked(data: bytes, file: str) -> list[tuple[str, bytes]]:
    """Return the tables packed in a zip by name; any other file, a spreadsheet too, comes back as it is."""
    if not data.startswith(ZIP):
        return [(file, data)]
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            members = archive.infolist()
            if sum(m.file_size for m in members) > UNPACKED_MAX or len(members) > MEMBERS_MAX:
                raise UnreadableFile(f"{file} is too large once it is unpacked. Bring it in parts.")
            if {"mimetype", "[Content_Types].xml"} & {m.filename for m in members}:
                return [(file, data)]
            tables = [m for m in members if m.filename.lower().endswith(TABLES)][:FILES_MAX]
            if not tables:
                raise UnreadableFile(f"{file} holds no table (CSV or TSV).")
            return [(m.filename.rsplit("/", 1)[-1], archive.read(m)) for m in tables]
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError, zlib.error) as error:
        raise UnreadableFile(f"{file} is damaged or locked, and cannot be unpacked.") from error


def _workbook(data: bytes, file: str) -> list[Sheet]:
    try:
        book = load_workbook(io.BytesIO(data))
        found = [(name, book.get_sheet_by_name(name).to_python(skip_empty_area=False)) for name in book.sheet_names]
    except (CalamineError, ValueError, OSError) as error:
        raise UnreadableFile(f"{file} cannot be read as a spreadsheet: {error}.") from error
    except BaseException as error:
        if type(error).__name__ != "PanicException":  # how the reader says that it gave up
            raise
        raise UnreadableFile(f"{file} cannot be read as a spreadsheet.") from error
    return _joined([_sheet(file, name, _spelled(rows, file)) for name, rows in found if rows])


def _joined(found: list[Sheet]) -> list[Sheet]:
    """Put sheets with the same first line together, such as one a month: their lines are counted through."""
    kept: dict[tuple[str, ...], list[Sheet]] = {}
    for sheet in found:
        kept.setdefault(sheet.header, []).append(sheet)
    return [alike[0] if len(alike) == 1 else _as_one(alike) for alike in kept.values()]


def _as_one(found: list[Sheet]) -> Sheet:
    rows: list[Row] = []
    bad: list[BadCell] = []
    counted = 0
    for sheet in found:
        rows += [(counted + line, cells) for line, cells in sheet.rows]
        bad += [replace(b, line=counted + b.line) for b in sheet.bad]
        counted += max((line for line, _ in sheet.rows), default=0)
    names = ", ".join(sheet.name for sheet in found)
    told = f"{len(found)} sheets are read as one, their lines counted through: {names[:120]}."
    remarks = dict.fromkeys(remark for sheet in found for remark in sheet.remarks)
    return Sheet(found[0].file, names[:60], found[0].header, tuple(rows), (told, *remarks), tuple(bad))


def _spelled(rows: list[list[Any]], file: str) -> Iterator[tuple[int, list[str] | BadCell]]:
    for line, row in enumerate(rows, start=1):
        cells = [_text(value) for value in row]
        if any(cells):
            yield line, cells


def _text(value: Any) -> str:
    spelled = _SPELLINGS.get(type(value))
    return spelled(value) if spelled else str(value)


def _moment(value: datetime) -> str:
    """A day alone where no time is meant; a day of 1899 or 1900 is how old files keep a length."""
    if value.year < 1901:
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


def _objects(data: bytes, file: str) -> Sheet:
    """A JSON list of flat objects: the keys are the columns."""
    try:
        found = json.loads(decoded(data, file).text)
    except (json.JSONDecodeError, RecursionError) as error:
        raise UnreadableFile(f"{file} breaks off or is not JSON.") from error
    if not all(isinstance(each, dict) for each in found):
        raise UnreadableFile(f"{file} is a list, but not one of objects with a name for each value.")
    header = tuple(dict.fromkeys(str(key).strip() for each in found for key in each))
    if not header or len(header) > COLUMNS_MAX or len(found) > ROWS_MAX:
        raise UnreadableFile(f"{file} holds no rows, more than {ROWS_MAX:,}, or over {COLUMNS_MAX} columns.")
    rows, bad = [], []
    for number, each in enumerate(found, start=1):
        own = {str(key).strip(): value for key, value in each.items()}
        nested = next((key for key, value in own.items() if isinstance(value, dict | list)), None)
        if nested is None:
            rows.append((number, tuple(_text(own.get(key)).strip() for key in header)))
        else:
            bad.append(BadCell(file, number, nested, str(own[nested]), "one value, not a list of them"))
    return Sheet(file, "", header, tuple(rows), (), tuple(bad))
