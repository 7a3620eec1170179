"""The tables that a file holds, whatever kind of file it is: told from its content, never from its name.

Every cell comes as text. What a spreadsheet holds as a day, a time or a length comes in the one spelling that cannot be
taken for another: 2026-10-12, 10:30:00.
"""

import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace

from chirotend.formats import zips
from chirotend.formats.cells import BadCell, UnreadableFile, too_long
from chirotend.formats.diary.layout import Row, laid_out
from chirotend.formats.diary.text import Decoded, decoded, delimited
from chirotend.formats.diary.workbooks import sheets_of, spelled

OLD_OFFICE = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
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
    if data.startswith((zips.ZIP, OLD_OFFICE)):
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
    layout = laid_out(rows)
    if len(layout.header) > COLUMNS_MAX:
        raise UnreadableFile(f"{file} has {len(layout.header)} columns; at most {COLUMNS_MAX} can be read.")
    return Sheet(file, name, layout.header, layout.rows, layout.remarks, tuple(bad))


def unpacked(data: bytes, file: str) -> list[tuple[str, bytes]]:
    """Return the tables packed in a zip by name; any other file, a spreadsheet too, comes back as it is."""
    if not data.startswith(zips.ZIP):
        return [(file, data)]
    with zips.opened(data, f"{file} is damaged or locked, and cannot be unpacked.") as archive:
        members = archive.infolist()
        if sum(m.file_size for m in members) > UNPACKED_MAX or len(members) > MEMBERS_MAX:
            raise UnreadableFile(f"{file} is too large once it is unpacked. Bring it in parts.")
        if {"mimetype", "[Content_Types].xml"} & {m.filename for m in members}:
            return [(file, data)]
        tables = [m for m in members if m.filename.lower().endswith(TABLES)][:FILES_MAX]
        if not tables:
            raise UnreadableFile(f"{file} holds no table (CSV or TSV).")
        return [(m.filename.rsplit("/", 1)[-1], archive.read(m)) for m in tables]


def _workbook(data: bytes, file: str) -> list[Sheet]:
    found = sheets_of(data, file)
    several = len(found) > 1
    read = (_sheet(f"{file}, {name}" if several else file, name, _numbered(rows)) for name, rows in found)
    return _joined(file, list(read))


def _numbered(rows: list[list[str]]) -> Iterator[tuple[int, list[str] | BadCell]]:
    return ((line, cells) for line, cells in enumerate(rows, start=1) if any(cells))


def _joined(file: str, found: list[Sheet]) -> list[Sheet]:
    """Put sheets with the same first line together, such as one a month: their lines are counted through."""
    kept: dict[tuple[str, ...], list[Sheet]] = {}
    for sheet in found:
        kept.setdefault(sheet.header, []).append(sheet)
    return [alike[0] if len(alike) == 1 else _as_one(file, alike) for alike in kept.values()]


def _as_one(file: str, found: list[Sheet]) -> Sheet:
    rows: list[Row] = []
    bad: list[BadCell] = []
    counted = 0
    for sheet in found:
        rows += [(counted + line, cells) for line, cells in sheet.rows]
        bad += [replace(b, file=file, line=counted + b.line) for b in sheet.bad]
        counted += max((line for line, _ in sheet.rows), default=0)
    names = ", ".join(sheet.name for sheet in found)
    told = f"{len(found)} sheets are read as one, their lines counted through: {names[:120]}."
    remarks = dict.fromkeys(remark for sheet in found for remark in sheet.remarks)
    return Sheet(file, names[:60], found[0].header, tuple(rows), (told, *remarks), tuple(bad))


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
            rows.append((number, tuple(spelled(own.get(key)).strip() for key in header)))
        else:
            bad.append(BadCell(file, number, nested, str(own[nested]), "one value, not a list of them"))
    return Sheet(file, "", header, tuple(rows), (), tuple(bad))
