"""Looks at oneself: the next one, and what was answered."""

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import awareness
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, probe_page
from chirotend.web.transaction import context


@bp.get("/awareness", endpoint="awareness")
def awareness_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    found = awareness.shown(d)
    return probe_page(
        "awareness",
        now=awareness.next_look(found),
        shown=found,
        after=awareness.after(request.args.get("after", "")),
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.post("/awareness/<key>")
@refusing(awareness_form)
def answer_look(key: str) -> ResponseReturnValue:
    awareness.answer(context(), key, request.form)
    return redirect(url_for(".awareness", after=key))
