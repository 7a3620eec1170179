"""What she can do: the form with what was said before."""

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import activities
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, probe_page
from chirotend.web.transaction import context


@bp.get("/activities", endpoint="activities")
def activities_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return probe_page(
        "activities",
        page=activities.activities_page(context()),
        problem=problem,
        undo=corrections.offered(context()),
    ), code


@bp.post("/activities")
@refusing(activities_form)
def answer_activities() -> ResponseReturnValue:
    activities.answer(context(), request.form)
    return redirect(url_for(".activities"))
