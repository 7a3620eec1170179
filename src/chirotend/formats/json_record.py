"""Everything of one player in one JSON file. Written twice from the same record it is the same, byte for byte."""

import json
from collections.abc import Iterable
from typing import Any

from chirotend.core.errors import MethodError
from chirotend.core.record import Record
from chirotend.formats import documents
from chirotend.formats.cells import UnreadableFile, decoded

NUMBER_DIGITS = 18
#: the rows of each table that is kept as it is, by its name
Tables = dict[str, list[dict[str, Any]]]
FORMAT, VERSION = "chirotend-record", 7
#: version 1 had only the first four tables, 2 no known complaints and answers to signs, 3 no probes, 4 no habits,
#: 5 no programmes, trials, reports and parts, 6 nothing that happened and no open matters
READS = (1, 2, 3, 4, 5, 6, 7)


def write_record(player: dict[str, Any], record: Record, kept: Tables) -> str:
    """Return the file's text: the player's settings, the documents, and the tables kept as they are."""
    everything = {
        "format": FORMAT,
        "version": VERSION,
        "player": player,
        "sessions": [documents.session_document(s) for s in record.sessions],
        "checks": [documents.check_document(c) for c in record.checks],
        "days": [documents.note_document(n) for n in record.notes],
        **kept,
    }
    return json.dumps(everything, ensure_ascii=False, indent=1, sort_keys=True) + "\n"


def read_record(data: bytes, file: str, tables: Iterable[str]) -> tuple[dict[str, Any], Record, Tables]:
    """Return (player, record, the named tables) of a file; `UnreadableFile` says what is wrong and where."""
    try:
        everything = json.loads(decoded(data, file), parse_constant=_no_number, parse_int=_short_number)
    except json.JSONDecodeError as error:
        raise UnreadableFile(f"{file} breaks off or is not JSON: line {error.lineno}, {error.msg}.") from error
    except RecursionError as error:
        raise UnreadableFile(f"{file} is nested too deep to be a record.") from error
    if not isinstance(everything, dict) or everything.get("format") != FORMAT:
        raise UnreadableFile(f"{file} is not a record exported from here (its “format” is not {FORMAT}).")
    if everything.get("version") not in READS:
        raise UnreadableFile(
            f"{file} is of version {everything.get('version')!r}; this server reads up to version {VERSION}."
        )
    record = Record(
        tuple(_each(everything, "sessions", documents.session_from, file)),
        tuple(_each(everything, "checks", documents.check_from, file)),
        tuple(_each(everything, "days", documents.note_from, file)),
    )
    kept = {name: _list(everything, name, file) for name in tables}
    player = everything.get("player", {})
    if not isinstance(player, dict):
        raise UnreadableFile(f"{file}: “player” is not an object.")
    return player, record, kept


def _list(everything: dict[str, Any], name: str, file: str) -> list[Any]:
    found = everything.get(name, [])
    if not isinstance(found, list):
        raise UnreadableFile(f"{file}: “{name}” is not a list.")
    return found


def _no_number(name: str) -> float:
    raise UnreadableFile(f"{name} is no number a record holds.")


def _short_number(digits: str) -> int:
    if len(digits) > NUMBER_DIGITS:
        raise UnreadableFile(f"A number of {len(digits)} digits is none that a record holds.")
    return int(digits)


def _each(everything: dict[str, Any], name: str, made: Any, file: str) -> list[Any]:
    found = []
    for number, document in enumerate(_list(everything, name, file), start=1):
        try:
            found.append(made(document))
        except (MethodError, documents.BadDocument, KeyError, ValueError, TypeError, OverflowError) as error:
            raise UnreadableFile(f"{file}, {name} number {number}: {error}") from error
    return found
