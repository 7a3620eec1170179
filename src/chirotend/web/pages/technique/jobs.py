"""A file or a sensor that is read in the background."""

from flask import current_app, redirect, render_template, url_for
from flask.typing import ResponseReturnValue

from chirotend.formats.probe_data import Evenness
from chirotend.services.technique import reading
from chirotend.web import fields
from chirotend.web.pages.technique.blueprint import bp
from chirotend.web.transaction import context


@bp.get("/job/<uid>")
def job(uid: str) -> ResponseReturnValue:
    row = reading.job_of(context(), uid)
    done, total = current_app.extensions["worker"].progress.get(uid, (0, 100))
    where = url_for(".evenness_result" if row.kind == Evenness.kind else ".trace_result", uid=str(row.result["probe"]))
    if row.state == "done":
        return ("", 200, {"HX-Redirect": where}) if fields.is_part() else redirect(where)
    template = "technique/_job.html" if fields.is_part() else "technique/job.html"
    return render_template(template, job=row, done=done, total=total)


@bp.post("/job/<uid>/cancel")
def cancel_job(uid: str) -> ResponseReturnValue:
    reading.cancel(context(), uid)
    current_app.extensions["worker"].stop_job(uid)
    return redirect(url_for(".index"))
