"""The command line for diaries: import one by the rules and words of the page, export the record."""

import json
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import click

from chirotend.formats.cells import UnreadableFile
from chirotend.services.account import accounts
from chirotend.services.context import Context, FieldError
from chirotend.services.record import exports
from chirotend.services.record.bring import save
from chirotend.services.record.bring.answers import Answers
from chirotend.services.record.bring.compare import Plan, compared
from chirotend.services.record.bring.read import Read, understood
from chirotend.services.server import database
from chirotend.services.server.database import CannotOpen
from chirotend.web.app import real_clock

SHOWN = 40
data_option = click.option("--data", type=click.Path(path_type=Path), default=None, help="Data folder.")
player_option = click.option("--player", default=None, help="Sign-in name; needed where there are several accounts.")


@contextmanager
def _context(data: Path | None, player: str | None) -> Iterator[Context]:
    """The context of a player; committed when all went well."""
    try:
        opened = database.open_database(data or database.data_folder(), real_clock())
    except CannotOpen as error:
        raise click.ClickException(str(error)) from error
    with opened.open_db() as db:
        context = accounts.context_named(db, player, real_clock())
        if context is None:
            why = f"There is no account “{player}”." if player else "There is no account, or more than one."
            raise click.ClickException(f"{why} Say --player NAME.")
        accounts.hold(context)
        yield context
        db.commit()


@contextmanager
def _nobody() -> Iterator[Context]:
    """A context in a throw-away folder: a dry run needs no account."""
    with tempfile.TemporaryDirectory(prefix="chirotend-dry-") as folder:
        opened = database.open_database(Path(folder), real_clock())
        with opened.open_db() as db:
            passwords = accounts.Passwords(cheap=True)
            accounts.add_account(db, passwords, "nobody", "nobody at all", "Nobody", "UTC", [], real_clock())
            context = accounts.context_named(db, None, real_clock())
            if context is None:
                raise click.ClickException("No throw-away folder could be made.")
            yield context
        opened.engine.dispose()


@click.command("import")
@click.argument("files", type=click.Path(path_type=Path, exists=True, dir_okay=False), nargs=-1, required=True)
@player_option
@data_option
@click.option("--dry-run", is_flag=True, help="Read and tell; nothing is saved, and no account is needed.")
@click.option("--json", "as_json", is_flag=True, help="Tell it as one line of JSON.")
def bring(files: tuple[Path, ...], player: str | None, data: Path | None, dry_run: bool, as_json: bool) -> None:
    """Bring diaries: spreadsheets, CSV, JSON. What is unclear takes the likeliest reading and is said."""
    with _nobody() if dry_run and not player else _context(data, player) as context:
        try:
            found = understood(context, [(path.name, path.read_bytes()) for path in files], Answers())
            plan = compared(context, found, Answers())
            if not dry_run:
                names = [path.name for path in files]
                save.bring(context, f"command-{context.now:%Y%m%d%H%M%S}", names, plan, found, lambda rows: None)
        except (UnreadableFile, FieldError) as error:
            raise click.ClickException(str(error)) from error
    report = _report(found, plan)
    if as_json:
        click.echo(json.dumps(report, ensure_ascii=False))
        return
    for line in _lines(report, dry_run):
        click.echo(line)


def _report(found: Read, plan: Plan) -> dict[str, Any]:
    """What an import came to: counts, the questions with the reading that was taken, rows left out."""
    questions = [
        {"file": t.diary.sheet.file, "asked": q.asked, "taken": next(o.name for o in q.options if o.value == q.chosen)}
        for t in found.tables
        for q in t.diary.questions
    ]
    if plan.alike:
        asked = f"{plan.alike} sessions look like what is there"
        questions.append({"file": "", "asked": asked, "taken": "the same ones"})
    return {
        "sessions": len(plan.sessions),
        "checks": len(plan.checks),
        "days": len({s.day for s in plan.sessions}),
        "minutes": round(sum(s.minutes for s in plan.sessions)),
        "questions": questions,
        "left_out": [{"line": b.line, "column": b.column, "value": b.value, "why": b.expected} for b in plan.bad],
    }


def _lines(report: dict[str, Any], dry_run: bool) -> Iterator[str]:
    verb = "would be saved" if dry_run else "are saved"
    counts = (("sessions", "sessions on"), ("days", "days,"), ("minutes", "minutes,"), ("checks", "checks"))
    yield " ".join(f"{report[name]} {said}" for name, said in counts) + f" {verb}."
    for question in report["questions"]:
        yield f"Not clear: {question['asked']}. Taken as: {question['taken']}."
    for row in report["left_out"][:SHOWN]:
        where = f"line {row['line']}, {row['column'] or 'the row'}, “{row['value'][:60]}”"
        yield f"Left out: {where}: expected {row['why']}."
    if len(report["left_out"]) > SHOWN:
        yield f"… and {len(report['left_out']) - SHOWN} more rows left out."


@click.command("export")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@player_option
@data_option
def take(file: Path, player: str | None, data: Path | None) -> None:
    """Write the record to FILE: everything as JSON, or the log as CSV where it ends in .zip."""
    with _context(data, player) as context:
        written = exports.csv_zip(context) if file.suffix == ".zip" else exports.everything(context).encode()
    try:
        file.write_bytes(written)
    except OSError as error:
        raise click.ClickException(f"{file} cannot be written: {error.strerror}.") from error
    click.echo(f"{file}: {len(written):,} bytes", file=sys.stderr)
