"""Strokes: a set of peaks beside the others."""

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import strokes
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, brought_file, files_folder, probe_page
from chirotend.web.transaction import context, unlocked_context


@bp.get("/strokes", endpoint="strokes")
def strokes_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return probe_page(
        "strokes",
        page=strokes.strokes_page(context()),
        units=tuple(strokes.UNITS),
        problem=problem,
        undo=corrections.offered(context()),
    ), code


@bp.post("/strokes")
@refusing(strokes_form)
def bring_strokes() -> ResponseReturnValue:
    heard, _ = brought_file("sound")
    found = strokes.read_strokes(unlocked_context(), files_folder(), request.form, *brought_file("trace"), heard)
    strokes.keep(context(), *found)
    return redirect(url_for(".strokes"))
