"""Least pressure: what is looked for, the search, and what came out."""

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.formats.probe_data import Pressure
from chirotend.services.context import FieldError
from chirotend.services.technique import (
    least_pressure,
    plugged,
    probes,
)
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, files_folder, probe_page
from chirotend.web.transaction import commit, context, unlocked_context


@bp.get("/pressure", endpoint="pressure")
def pressure_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    asked = request.values
    return probe_page(
        "pressure",
        pads=plugged.names(files_folder()),
        choice=least_pressure.choice(context(), asked.get("instrument", ""), asked.get("task", "")),
        problem=problem,
    ), code


@bp.post("/pressure")
@refusing(pressure_form)
def begin_pressure() -> ResponseReturnValue:
    return redirect(
        url_for(".pressure_search", uid=least_pressure.begin(context(), request.form, plugged.names(files_folder())))
    )


@bp.get("/pressure/<uid>")
def pressure_search(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    shown = least_pressure.least_pressure_page(context(), uid)
    template = "technique/pressed.html" if shown.probe.done else "technique/search.html"
    if fields.is_part() and not shown.probe.done:
        template = "technique/_search.html"
    return render_template(template, page=shown, problem=problem), code


@bp.post("/pressure/<uid>/answer")
@refusing(pressure_search, of_address=True)
def answer_pressure(uid: str) -> ResponseReturnValue:
    form = request.form
    number = fields.number("number")
    newton = plugged.pressed(unlocked_context(), files_folder(), uid) or form.get("newton", "")
    least_pressure.answer(context(), uid, -1 if number is None else int(number), form.get("spoke") == "yes", newton)
    return _after_answer(uid)


@bp.post("/pressure/<uid>/back")
def back_pressure(uid: str) -> ResponseReturnValue:
    least_pressure.back(context(), uid)
    return _after_answer(uid)


def _after_answer(uid: str) -> ResponseReturnValue:
    """The search as it stands; a script is sent on when it is over."""
    commit()
    where = url_for(".pressure_search", uid=uid)
    if not fields.is_part():
        return redirect(where)
    if probes.probe(context(), uid, Pressure).done:
        return "", 200, {"HX-Redirect": where}
    return pressure_search(uid=uid)


@bp.post("/pressure/<uid>/stop")
def stop_pressure(uid: str) -> ResponseReturnValue:
    return redirect(url_for(".pressure_search", uid=uid) if least_pressure.stop(context(), uid) else url_for(".index"))
