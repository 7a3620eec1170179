"""What the pages of all probes share: their addresses, a form with what was typed, a file that is brought and read."""

from pathlib import Path
from typing import IO, Any

from flask import Blueprint, current_app, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.technique import reading, registry
from chirotend.web import fields
from chirotend.web.background import run_jobs
from chirotend.web.guard import rules_all_of
from chirotend.web.transaction import context, unlocked_context

bp = Blueprint("technique", __name__, url_prefix="/technique")
#: with a sign of rows 1 or 2 open only what ends something, or takes it out, still runs
rules_all_of(
    bp, frozenset(f"technique.{name}" for name in ("stop_pressure", "cancel_job", "delete", "file", "job", "look_at"))
)


def files_folder() -> Path:
    """Return the folder of pictures, sounds and traces."""
    folder: Path = current_app.extensions["database"].blobs
    return folder


def probe_page(template: str, **shown: Any) -> str:
    """Return a page with a form: what was typed stands in it again, her instruments are offered."""
    return render_template(f"technique/{template}.html", typed=request.form, own=context().player.instruments, **shown)


def brought_file(field: str) -> tuple[IO[bytes] | None, str]:
    """Return the file that came in `field` with its name; None without one."""
    found = request.files.get(field)
    return (found.stream, found.filename or "") if found and (found.filename or found.content_length) else (None, "")


def bring_to_read(kind: str, endpoint: str) -> ResponseReturnValue:
    """Read what was brought, before the record is held or in the background; a script is told where to go."""
    field = registry.READERS[kind].field
    found = reading.bring(unlocked_context(), files_folder(), kind, request.form, *brought_file(field))
    uid, job = reading.keep(context(), found)
    where = url_for(endpoint, uid=uid)
    if job:
        run_jobs()
        where = url_for(".job", uid=job)
    return ({"where": where}, 200) if fields.is_part() else redirect(where)
