"""The job of an import: read and shown, answered, confirmed, saved."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from chirotend.services.context import Context, FieldError
from chirotend.services.record.bring import answers, save
from chirotend.services.record.bring.answers import Answers
from chirotend.services.record.bring.compare import Plan, compared
from chirotend.services.record.bring.read import Read, understood
from chirotend.services.record.bring.shown import shown
from chirotend.services.record.bring.to_mend import rows_to_mend
from chirotend.services.record.bring.uploads import job_of, uploaded
from chirotend.store.models import JobRow

#: files up to here are read again at once when she answers; larger ones in the background
AT_ONCE_BYTES = 400_000
Step = Callable[[int], None]


def answers_of(row: JobRow) -> Answers:
    """Return what she answered so far."""
    return Answers.model_validate(row.result.get("answers", {}))


def prepared(
    context: Context, files: Sequence[tuple[str, bytes]], said: Answers, step: Step = lambda rows: None
) -> tuple[Read, dict[str, Any]]:
    """Read files and return what they hold, and what the page shows of it."""
    found = understood(context, files, said, step)
    return found, shown(context, found, compared(context, found, said))


def saved(context: Context, row: JobRow, found: Read, step: Step) -> dict[str, Any]:
    """Save what was read, compared with the record as it stands now; returns counts of what was written."""
    plan: Plan = compared(context, found, answers_of(row))
    told = {"known": plan.known, "changed": sum(change.taken for change in plan.changes)}
    told |= {"sessions": len(plan.sessions), "checks": len(plan.checks), "days": len(plan.notes)}
    told |= {"joined": len(plan.joined), "bad_count": plan.bad_rows}
    save.bring(context, row.uid, row.result.get("names", []), plan, found, step)
    answers.keep_words(context, answers_of(row).words)
    return told


@dataclass(frozen=True)
class ReadAgain:
    """What she answered and had answered before, and what the page shows of the files then; None = not read yet."""

    said: Answers
    before: Answers
    shown: dict[str, Any] | None


def read_again(context: Context, uid: str, typed: Mapping[str, Sequence[str]], uploads: Path) -> ReadAgain | None:
    """Take her answers and read the files again, when they are small; nothing is changed yet.

    None when nothing was answered that did not stand there already.
    """
    row = _ready(context, uid)
    before = answers_of(row)
    said = answers.answered(before, {name: values[-1] for name, values in typed.items()}, row.result)
    if said == before:
        return None
    files = uploaded(uploads / uid)
    small = sum(len(data) for _, data in files) <= AT_ONCE_BYTES
    return ReadAgain(said, before, prepared(context, files, said)[1] if small else None)


def keep(context: Context, uid: str, read: ReadAgain | None) -> None:
    """Keep her answers with what they show; larger files are read in the background."""
    row = _ready(context, uid)
    if read is None:
        return
    if answers_of(row) != read.before:
        raise FieldError("job", "You answered this in another window too. Look at the page again.")
    row.result = {**row.result, "answers": read.said.model_dump(mode="json"), **(read.shown or {})}
    if read.shown is None:
        row.state = "waiting"


def confirm(context: Context, uid: str, typed: Mapping[str, Sequence[str]]) -> None:
    """Queue the saving of what was shown. Rows that cannot be read must be left out expressly, by their number."""
    row = _ready(context, uid)
    bad = row.result.get("bad_count", 0)
    if bad and "".join(typed.get("leave_bad_out", ())) != str(bad):
        raise FieldError("leave_bad_out", "Some rows cannot be read. Mend them, or leave them out expressly.")
    row.state = "saving"


def _ready(context: Context, uid: str) -> JobRow:
    row = job_of(context, uid)
    if row.state != "ready":
        raise FieldError("job", "This import is not waiting for an answer.")
    return row


def rows_left(context: Context, uid: str, uploads: Path) -> str:
    """Return the rows that cannot be read as CSV text, with why beside them, to be mended and brought again."""
    row = _ready(context, uid)
    return rows_to_mend(understood(context, uploaded(uploads / uid), answers_of(row)))
