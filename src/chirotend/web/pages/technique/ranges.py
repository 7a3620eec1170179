"""The range of joints: the form, and readings over time."""

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import ranges
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, probe_page
from chirotend.web.transaction import context


@bp.get("/ranges", endpoint="ranges")
def ranges_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return probe_page(
        "ranges",
        page=ranges.ranges_page(context(), request.values.get("movement", "")),
        by=tuple(ranges.BY_WORDS.items()),
        problem=problem,
        undo=corrections.offered(context()),
    ), code


@bp.post("/ranges")
@refusing(ranges_form)
def keep_range() -> ResponseReturnValue:
    return redirect(url_for(".ranges", movement=ranges.keep(context(), request.form)))
