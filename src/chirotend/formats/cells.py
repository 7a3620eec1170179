"""Cells of a table: reading with a clear complaint for each, and text that no spreadsheet will run.

A cell that begins with = + - @ tab or a line end is run by spreadsheets. Text cells get an apostrophe in front when
they are written, and lose it when they are read; text that already begins with an apostrophe and such a sign gets a
second one, so that everything comes back unchanged.
"""

import csv
import io
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from itertools import islice
from typing import Any
from zoneinfo import ZoneInfo

from chirotend.core.days import FIRST_DAY, LAST_DAY, day_named, instant_of, is_sensible
from chirotend.core.errors import MethodError
from chirotend.core.record.shape import TEXT_MAX, columns, names_of
from chirotend.formats.spelled import clock_of, length_of
from chirotend.formats.spelled.lengths import LOOKS_LIKE_HOURS

RUNNABLE = "=+-@\t\r\n"
CELL_MAX = 20_000
STRAY_QUOTE = "quotes in pairs; only this row is left out"


@dataclass(frozen=True)
class BadCell:
    """A cell (or a whole row, with column "") that cannot be taken, and what is expected instead."""

    file: str
    line: int
    column: str
    value: str
    expected: str

    def __str__(self) -> str:
        shown = self.value if len(self.value) <= 40 else self.value[:40] + "…"
        where = f"{self.file}, line {self.line}" + (f", {self.column}" if self.column else "")
        return f"{where}: “{shown}” — {self.expected}"


class UnreadableFile(ValueError):
    """The file as a whole cannot be read."""


def safe_text(text: str) -> str:
    """Return `text` so that no program for tables runs it: a quote before what begins like a formula."""
    risky = (text[:1] in RUNNABLE and text != "") or (
        text[:1] == "'" and text[1:2] != "" and text[1:2] in RUNNABLE + "'"
    )
    return "'" + text if risky else text


def plain_text(cell: str) -> str:
    return cell[1:] if cell[:1] == "'" and cell[1:2] != "" and cell[1:2] in RUNNABLE + "'" else cell


def decoded(data: bytes, file: str) -> str:
    """Return the text of a file, which must be UTF-8 without NUL bytes."""
    if b"\x00" in data:
        raise UnreadableFile(f"{file} is not a text file. Save the table as CSV (UTF-8) and choose that file.")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise UnreadableFile(f"{file} is not UTF-8 text (byte {error.start}). Save it again as CSV, UTF-8.") from error


def table(
    data: bytes, file: str, known: tuple[str, ...]
) -> tuple[list[str], Iterator[tuple[int, list[str] | BadCell]]]:
    """Return the header and the rows (line number, cells) of a comma- or semicolon-separated file.

    A row with a wrong number of cells, or one that cannot be read at all, comes as a `BadCell`.
    """
    lines = list(io.StringIO(decoded(data, file), newline=""))
    head = lines[0] if lines else ""
    delimiter = ";" if head.count(";") > head.count(",") else ","
    reader = csv.reader(lines, delimiter=delimiter, strict=True)
    try:
        header = [name.strip().lower() for name in next(reader, [])]
    except csv.Error as error:
        raise UnreadableFile(f"{file}: the first line cannot be read ({error}).") from error
    unknown = [name for name in header if name not in known]
    if not header or unknown:
        what = f"does not know the column “{unknown[0][:40]}”" if unknown else "is empty"
        raise UnreadableFile(f"{file} {what}. Its first line names columns among: {', '.join(known)}.")
    return header, _rows(lines, reader.line_num, delimiter, header, file)


def _rows(
    lines: Sequence[str], begun: int, delimiter: str, header: list[str], file: str
) -> Iterator[tuple[int, list[str] | BadCell]]:
    """Yield the rows from line `begun` on; one with a wrong number of cells, or too long a one, as a `BadCell`."""
    for line, cells in quoted_rows(lines, begun, delimiter, len(header), file):
        if isinstance(cells, BadCell):
            yield line, cells
        elif len(cells) == len(header):
            yield line, too_long(file, line, header, cells) or cells
        elif len(cells) > len(header):
            yield line, BadCell(file, line, "", cells[-1], f"{len(header)} cells; put text with a comma in quotes")
        else:
            broken = f"{len(header)} cells, found {len(cells)}: the line breaks off here"
            yield line, BadCell(file, line, header[len(cells)], cells[-1], broken)


def quoted_rows(
    lines: Sequence[str], begun: int, delimiter: str, width: int, file: str
) -> Iterator[tuple[int, list[str] | BadCell]]:
    """Yield (line number, cells) from line `begun` on, empty rows left out. A quote that is never closed, or swallows
    rows (then the cells are not `width`), costs its own row alone."""
    reader = csv.reader(islice(lines, begun, None), delimiter=delimiter, strict=True)
    while True:
        first = begun + reader.line_num
        line, why = first + 1, ""
        try:
            cells = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            cells, why = [], str(error) if "larger" in str(error) else STRAY_QUOTE
        if begun + reader.line_num > line and len(cells) != width:
            why = why or STRAY_QUOTE
        if why:
            begun = line
            reader = csv.reader(islice(lines, begun, None), delimiter=delimiter, strict=True)
            yield line, BadCell(file, line, "", lines[first].strip(), why)
        elif any(cell.strip() for cell in cells):
            yield line, cells


def too_long(file: str, line: int, header: Sequence[str], cells: Sequence[str]) -> BadCell | None:
    """Return the complaint about a cell that is longer than any can be, or None."""
    at = next((n for n, cell in enumerate(cells) if len(cell) > CELL_MAX), None)
    if at is None:
        return None
    column = header[at] if at < len(header) else ""
    return BadCell(file, line, column, cells[at], f"at most {CELL_MAX} characters in a cell")


class Cells:
    """The cells of one row by column name. Each reader returns the value, or notes a `BadCell` and returns None."""

    def __init__(self, file: str, line: int, header: list[str], cells: list[str]) -> None:
        self.file, self.line = file, line
        self.raw = dict(zip(header, cells, strict=True))
        self.bad: list[BadCell] = []

    def refuse(self, column: str, expected: str) -> None:
        self.bad.append(BadCell(self.file, self.line, column, self.raw.get(column, ""), expected))

    def text(self, column: str) -> str:
        return plain_text(self.raw.get(column, ""))

    def day(self, column: str) -> date | None:
        value = self.raw.get(column, "").strip()
        if not value:
            return None
        try:
            return day_named(value)
        except MethodError:
            self.refuse(column, "a day that exists, written YYYY-MM-DD, such as 2026-11-12")
            return None

    def number(self, column: str, low: float, high: float, unit: str = "") -> float | None:
        value = self.raw.get(column, "").strip()
        if not value:
            return None
        try:
            number = float(value.replace(",", ".") if value.count(",") == 1 and "." not in value else value)
        except ValueError:
            number = math.nan
        if not (math.isfinite(number) and low <= number <= high):
            self.refuse(column, f"a number from {low:g} to {high:g} {unit}".rstrip())
            return None
        return number

    def minutes(self, column: str, low: float, high: float) -> float | None:
        """Minutes as people write them: 90, 1h30, 1:30, 1,5 h. "1,5" alone could be hours, and is refused."""
        value = self.raw.get(column, "").strip()
        length = length_of(value)
        if length is None or (length.said and not low <= length.number <= high):
            return self.number(column, low, high, "minutes")
        if not length.said and "," in value and length.number <= LOOKS_LIKE_HOURS:
            self.refuse(column, "minutes, such as 90, or hours with their unit, such as 1h30 or 1,5 h")
            return None
        return length.number if length.said else self.number(column, low, high, "minutes")

    def word(self, column: str, words: tuple[str, ...]) -> str | None:
        value = self.raw.get(column, "").strip().lower().replace(" ", "_")
        if not value:
            return None
        if value not in words:
            self.refuse(column, f"one of {', '.join(words)}")
            return None
        return value

    def words(self, column: str, words: tuple[str, ...]) -> tuple[str, ...]:
        found = self.raw.get(column, "").lower().split()
        for word in found:
            if word not in words:
                self.refuse(column, f"words among {', '.join(words)}, with spaces between")
                return ()
        return tuple(dict.fromkeys(found))

    def instant(self, column: str, day: date | None, zone: ZoneInfo) -> datetime | None:
        """An ISO 8601 instant with or without offset, or a time of practice day `day` such as 10:30, 10.30 or 9:30 AM.

        By the clock of `zone`; a time after midnight lies in the night after that day.
        """
        value = self.raw.get(column, "").strip()
        if not value:
            return None
        clock = clock_of(value)
        try:
            found = instant_of(day, clock, zone) if clock and day is not None else datetime.fromisoformat(value)
        except ValueError:
            self.refuse(column, "a time such as 10:30 or 2026-11-12T10:30")
            return None
        if not is_sensible(found):
            self.refuse(column, f"a time between {FIRST_DAY.year} and {LAST_DAY.year}")
            return None
        return found if found.tzinfo else found.replace(tzinfo=zone)

    def described(self, kind: type) -> dict[str, Any]:
        """Return what stands in the columns of `kind`'s described fields, by field; an empty cell is left out."""
        found = {}
        for column, shape in columns(kind).items():
            if not self.raw.get(column, "").strip() and not shape.longest:
                continue
            if shape.several:
                value: Any = self.words(column, shape.words)
            elif shape.words:
                value = self.word(column, shape.words)
            elif shape.longest:
                value = self.text(column)
                value = value.strip() if shape.longest < TEXT_MAX else value
                if len(value) > shape.longest:
                    self.refuse(column, f"at most {shape.longest} characters")
            elif column == "minutes":
                value = self.minutes(column, shape.low or 0.0, shape.high or 0.0)
            else:
                value = self.number(column, shape.low or 0.0, shape.high or 0.0, shape.unit)
            if value is not None:
                found[names_of(kind)[column]] = value
        return found
