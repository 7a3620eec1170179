"""Evenness: a figure, its recording, and what was heard."""

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.formats.probe_data import Evenness
from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import evenness
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, bring_to_read, probe_page
from chirotend.web.transaction import context


@bp.get("/evenness", endpoint="evenness")
def evenness_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return probe_page(
        "evenness",
        choice=evenness.choice(context(), request.values.get("instrument", "")),
        problem=problem,
    ), code


@bp.post("/evenness")
@refusing(evenness_form, in_script=True)
def bring_sound() -> ResponseReturnValue:
    return bring_to_read(Evenness.kind, ".evenness_result")


@bp.get("/evenness/<uid>")
def evenness_result(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    first = request.args.get("round", "")
    shown = evenness.evenness_page(
        context(), uid, int(first) if first.isascii() and first.isdigit() and len(first) < 6 else None
    )
    undo, least = corrections.offered(context()), evenness.OFF_MS
    return render_template("technique/heard.html", page=shown, problem=problem, undo=undo, named_from_ms=least), code


@bp.post("/evenness/<uid>/first")
@refusing(evenness_result, of_address=True)
def say_first(uid: str) -> ResponseReturnValue:
    evenness.say_first(context(), uid, request.form)
    return redirect(url_for(".evenness_result", uid=uid))


@bp.post("/evenness/<uid>/my-p")
@refusing(evenness_result, of_address=True)
def set_my_p(uid: str) -> ResponseReturnValue:
    evenness.set_my_p(context(), uid)
    return redirect(url_for(".evenness_result", uid=uid))
