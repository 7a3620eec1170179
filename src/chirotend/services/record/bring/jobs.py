"""The job of an import: read and shown, answered, confirmed, saved."""

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any

from chirotend.services.desk import Desk, Refused
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
    desk: Desk, files: Sequence[tuple[str, bytes]], said: Answers, step: Step = lambda rows: None
) -> tuple[Read, dict[str, Any]]:
    """Read files and return what they hold, and what the page shows of it."""
    found = understood(desk, files, said, step)
    return found, shown(desk, found, compared(desk, found, said))


def saved(desk: Desk, row: JobRow, found: Read, step: Step) -> dict[str, Any]:
    """Save what was read, compared with the record as it stands now; returns counts of what was written."""
    plan: Plan = compared(desk, found, answers_of(row))
    told = {"known": plan.known, "changed": sum(change.taken for change in plan.changes)}
    told |= {"sessions": len(plan.sessions), "checks": len(plan.checks), "days": len(plan.notes)}
    told |= {"joined": len(plan.joined), "bad_count": plan.bad_rows}
    save.bring(desk, row.uid, row.result.get("names", []), plan, found, step)
    answers.keep_words(desk, answers_of(row).words)
    return told


def answer(desk: Desk, uid: str, typed: Mapping[str, Sequence[str]], uploads: Path) -> bool:
    """Take her answers and read the files again: small ones at once, others in the background.

    Returns False when nothing was answered that did not stand there already.
    """
    row = _ready(desk, uid)
    said = answers.answered(answers_of(row), {name: values[-1] for name, values in typed.items()}, row.result)
    if said == answers_of(row):
        return False
    row.result = {**row.result, "answers": said.model_dump(mode="json")}
    files = uploaded(uploads / uid)
    if sum(len(data) for _, data in files) <= AT_ONCE_BYTES:
        _, told = prepared(desk, files, said)
        row.result = {**row.result, **told}
    else:
        row.state = "waiting"
    return True


def confirm(desk: Desk, uid: str, typed: Mapping[str, Sequence[str]], uploads: Path) -> bool:
    """Queue the saving of what was shown. Rows that cannot be read must be left out expressly, by their number.

    Returns False when an answer came with it whose effect was not shown yet: it is shown first.
    """
    if answer(desk, uid, typed, uploads):
        return False
    row = _ready(desk, uid)
    bad = row.result.get("bad_count", 0)
    if bad and "".join(typed.get("leave_bad_out", ())) != str(bad):
        raise Refused("leave_bad_out", "Some rows cannot be read. Mend them, or leave them out expressly.")
    row.state = "saving"
    return True


def _ready(desk: Desk, uid: str) -> JobRow:
    row = job_of(desk, uid)
    if row.state != "ready":
        raise Refused("job", "This import is not waiting for an answer.")
    return row


def rows_left(desk: Desk, uid: str, uploads: Path) -> str:
    """Return the rows that cannot be read as CSV text, with why beside them, to be mended and brought again."""
    row = _ready(desk, uid)
    return rows_to_mend(understood(desk, uploaded(uploads / uid), answers_of(row)))
