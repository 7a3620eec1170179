"""The text of a table: what it was written in, and what stands between its cells."""

import csv
import io
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import islice

from chirotend.formats.cells import BadCell, UnreadableFile, quoted_rows

#: what text files of diaries are written in, as they are called on screen
ENCODINGS = {"utf-8": "UTF-8", "utf-16": "UTF-16", "cp1252": "Windows (Western)", "mac_roman": "older Macs (Western)"}
DELIMITERS = ",;\t|"
LOOKED_AT = 40
#: letters of the five languages that are not in ASCII, and signs that text of theirs holds
USUAL = set("äöüÄÖÜßéèêëàâáíìîïóòôúùûçñÉÈÀÇÑœæ’‘“”„–—…·½¼¾°€×→✓")


@dataclass(frozen=True)
class Decoded:
    """Text, what it was taken to be written in, whether that was certain, and a line of it with such letters."""

    text: str
    encoding: str
    certain: bool

    @property
    def example(self) -> str:
        """A line with a letter that tells one encoding from another; "" when there is none."""
        found = next((line for line in self.text.splitlines() if not line.isascii()), "")
        return found.strip()[:120]


def decoded(data: bytes, file: str, encoding: str = "") -> Decoded:
    """Return the text of a file written in `encoding`, or in the likeliest; `UnreadableFile` when it is no text."""
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        encoding = "utf-16"
    elif not encoding and b"\x00" in data[:LOOKED_AT]:
        encoding = _without_mark(data[:LOOKED_AT])
    if encoding:
        try:
            text = data.decode("utf-8-sig" if encoding == "utf-8" else encoding)
        except (UnicodeDecodeError, LookupError) as error:
            raise UnreadableFile(f"{file} cannot be read as {ENCODINGS.get(encoding, encoding)} text.") from error
        return _text(text, "utf-16" if encoding.startswith("utf-16") else encoding, True, file)
    try:
        return _text(data.decode("utf-8-sig"), "utf-8", True, file)
    except UnicodeDecodeError:
        readings = {name: data.decode(name, errors="replace") for name in ("cp1252", "mac_roman")}
        likeliest = max(readings, key=lambda name: _likeness(readings[name]))
        return _text(readings[likeliest], likeliest, False, file)


def _without_mark(begun: bytes) -> str:
    """UTF-16 whose mark is missing: every other byte of Western text is NUL. "" when it is nothing of the kind."""
    for name, zeros in (("utf-16-le", begun[1::2]), ("utf-16-be", begun[::2])):
        if zeros.count(0) > len(zeros) * 0.6:
            return name
    return ""


def _text(text: str, encoding: str, certain: bool, file: str) -> Decoded:
    if "\x00" in text:
        raise UnreadableFile(
            f"{file} is neither a table nor text. Save the diary as CSV, XLSX or ODS, and choose that."
        )
    return Decoded(text, encoding, certain)


def _likeness(text: str) -> int:
    return sum(1 if c in USUAL else -1 for c in text if not c.isascii())


def readings(data: bytes) -> dict[str, str]:
    """Return the line with accents as each encoding reads it, by encoding; only those that can read the whole."""
    found = {}
    for name in ENCODINGS:
        try:
            example = Decoded(data.decode("utf-8-sig" if name == "utf-8" else name), name, False).example
        except UnicodeDecodeError:
            continue
        if example and name != "utf-16":
            found[name] = example
    return found


def delimited(text: str, file: str) -> Iterator[tuple[int, list[str] | BadCell]]:
    """Yield (line number, cells) of a table in text, empty rows left out; `sep=` in the first line is obeyed."""
    lines = list(io.StringIO(text.replace("\r\n", "\n").replace("\r", "\n"), newline=""))
    said = lines[0].strip().lower() if lines else ""
    begun = 1 if said.startswith("sep=") else 0
    delimiter = said[4:5] or "\t" if begun else _likeliest(lines)
    width = Counter(len(cells) for cells in _first(lines[begun:], delimiter)).most_common(1)
    yield from quoted_rows(lines, begun, delimiter, width[0][0] if width else 1, file)


def _first(lines: list[str], delimiter: str) -> list[list[str]]:
    try:
        return [cells for cells in islice(csv.reader(lines, delimiter=delimiter), LOOKED_AT) if cells]
    except csv.Error:
        return []


def _likeliest(lines: list[str]) -> str:
    """The sign that parts the most rows into the same number of cells, two or more."""

    def fits(delimiter: str) -> tuple[int, int]:
        widths = Counter(len(cells) for cells in _first(lines, delimiter) if len(cells) > 1)
        width, rows = widths.most_common(1)[0] if widths else (1, 0)
        return rows, width

    return max(DELIMITERS, key=fits)
