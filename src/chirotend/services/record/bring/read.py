"""What the files of an upload hold: our own tables, a whole record, or a diary kept her own way."""

import gc
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from chirotend.core.days import zone_named
from chirotend.core.record import Record, Session
from chirotend.formats import csv_log, json_record
from chirotend.formats.cells import BadCell, UnreadableFile
from chirotend.formats.diary import reading, sheets
from chirotend.formats.diary.guess import guessed
from chirotend.formats.diary.match import Column, Match, shape_of
from chirotend.formats.diary.odd import Odd, oddities
from chirotend.formats.diary.played import moment_of
from chirotend.formats.diary.reading import Diary
from chirotend.formats.diary.sheets import Sheet
from chirotend.formats.diary.text import readings
from chirotend.formats.diary.words import Words
from chirotend.services.context import Context, FieldError
from chirotend.services.record import exports
from chirotend.services.record.bring.answers import Answers, her_words, remembered
from chirotend.services.record.kept import faults
from chirotend.store.personal_tables import tables_in_record

Step = Callable[[int], None]


@dataclass(frozen=True)
class Table:
    """One table of a diary, as it was read with her answers."""

    file_number: int
    diary: Diary
    match: Match
    shape: str
    odd: list[Odd]


@dataclass(frozen=True)
class Read:
    """What the files of an upload hold, before it is compared with the record."""

    record: Record
    bad: tuple[BadCell, ...] = ()
    #: the file and line each session came from, by its id
    lines: dict[str, tuple[str, int]] = field(default_factory=dict)
    tables: tuple[Table, ...] = ()
    words: Words = field(default_factory=lambda: Words({}))
    remarks: tuple[str, ...] = ()
    #: how each encoding reads the line with accents, by file, where it is not certain
    encodings: dict[int, dict[str, str]] = field(default_factory=dict)
    settings: dict[str, Any] | None = None
    kept: dict[str, list[dict[str, Any]]] | None = None

    @property
    def days(self) -> list[date]:
        """Every day of which something was read, as often as it was."""
        record = self.record
        return [*(s.day for s in record.sessions), *(c.day for c in record.checks), *(n.day for n in record.notes)]


def understood(
    context: Context, files: Sequence[tuple[str, bytes]], answers: Answers, step: Step = lambda rows: None
) -> Read:
    """Read files by name and content; `UnreadableFile` when one is nothing that can be read.

    `step(rows)` may raise to stop.
    """
    with _uncollected():
        return _understood(context, files, answers, step)


@contextmanager
def _uncollected() -> Iterator[None]:
    """Look for no garbage meanwhile: all that is made here stays, and looking takes half the time."""
    gc.disable()
    try:
        yield
    finally:
        gc.enable()


def _understood(context: Context, files: Sequence[tuple[str, bytes]], answers: Answers, step: Step) -> Read:
    if len(files) == 1 and files[0][1].lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"{":
        return _everything(context, *files[0])
    files = [inner for name, data in files for inner in sheets.unpacked(data, name)]
    own = {n: kind for n, (_, data) in enumerate(files) if (kind := csv_log.own_kind(data))}
    draft = csv_log.Draft()
    for n in sorted(own, key=lambda n: list(csv_log.FILES).index(own[n])):
        name, data = files[n]
        csv_log.read_table(draft, own[n], data, name, context.zone, context.today, step)
    found = Read(draft.record, tuple(draft.bad), draft.lines)
    others = [(n, *file) for n, file in enumerate(files) if n not in own]
    return _diaries(context, found, others, answers, step) if others else found


def _everything(context: Context, name: str, data: bytes) -> Read:
    settings, record, kept = json_record.read_record(data, name, tables_in_record())
    try:
        exports.check_settings(context, settings)
    except FieldError as error:
        raise UnreadableFile(f"{name}, player: {error.sentence}") from error
    bad = next(faults(context, kept), None)
    if bad is not None:
        raise UnreadableFile(f"{name}, {bad}. Nothing of it was taken.")
    return Read(record, settings=settings, kept=kept)


def _diaries(
    context: Context, found: Read, files: Sequence[tuple[int, str, bytes]], answers: Answers, step: Step
) -> Read:
    """Read tables kept her own way, and join them to what is found already."""
    words = Words({**her_words(context), **answers.words})
    tables: list[Table] = []
    remarks: list[str] = []
    encodings: dict[int, dict[str, str]] = {}
    for number, name, data in files:
        said = answers.encodings.get(number, "")
        brought = sheets.sheets(data, name, said)
        for sheet in brought:
            if (sheet.text is not None and not sheet.text.certain) or said:
                encodings[number] = readings(data)
            table = _table(context, sheet, number, answers.tables.get(len(tables)), words, step)
            if table is None and sheet.rows:
                remarks.append(f"“{sheet.name or name}” is left out: no column of it holds days.")
            elif table is not None:
                tables.append(table)
    if not tables and not found.record.sessions and not found.bad and not found.record.logged_days:
        raise UnreadableFile(f"{files[0][1]} holds no diary: no column of it holds days.")
    return replace(_joined(found, tables), words=words, remarks=tuple(remarks), encodings=encodings)


def _table(context: Context, sheet: Sheet, number: int, said: Match | None, words: Words, step: Step) -> Table | None:
    """Read a sheet; None when it is no diary."""
    shape = shape_of(sheet.header)
    match = remembered(context, shape) if said is None else said
    columns = [match.columns.get(n, column) for n, column in enumerate(guessed(sheet))]
    if not any(c.meaning == "day" for c in columns) and not _dated(sheet, columns):
        return None
    clock = zone_named(match.zone) if match.zone else context.zone
    diary = reading.read_sheet(sheet, columns, match, words, clock, context.today, step)
    return Table(number, diary, match, shape, oddities(diary, context.now))


def _dated(sheet: Sheet, columns: Sequence[Column]) -> bool:
    """True when the starts say their days themselves."""
    at = next((n for n, c in enumerate(columns) if c.meaning == "start"), None)
    return at is not None and any(moment_of(cells[at]) for _, cells in sheet.rows[:50])


def _joined(found: Read, tables: Sequence[Table]) -> Read:
    """Put the tables together into one record: rows alike in two files are one, notes of a day are joined."""
    draft = csv_log.Draft(
        list(found.record.sessions),
        {(c.day, c.timing): c for c in found.record.checks},
        {n.day: n for n in found.record.notes},
        list(found.bad),
        dict(found.lines),
    )
    sessions: dict[str, Session] = {s.uid: s for s in draft.sessions}
    for table in tables:
        for taken in table.diary.sessions:
            sessions.setdefault(taken.session.uid, taken.session)
            draft.lines.setdefault(taken.session.uid, (table.diary.sheet.file, taken.line))
        for check in table.diary.checks:
            old = draft.checks.get((check.day, check.timing))
            draft.checks[check.day, check.timing] = check if old is None else csv_log.with_entries(old, check.entries)
        for note in table.diary.notes.values():
            there = draft.notes.get(note.day)
            draft.notes[note.day] = note if there is None else csv_log.both_notes(there, note)
        draft.bad.extend(table.diary.bad)
    draft.sessions = list(sessions.values())
    return Read(draft.record, tuple(draft.bad), draft.lines, tuple(tables))
