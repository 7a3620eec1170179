"""The grip book of an instrument: its holds, their turns and faults."""

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.library.loader import retraining_schools
from chirotend.services.context import FieldError
from chirotend.services.kit import holds
from chirotend.services.kit.profile import profile, say
from chirotend.services.record import corrections
from chirotend.services.technique import grip_book
from chirotend.services.trial import trials
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, probe_page
from chirotend.web.transaction import context


@bp.get("/grips", endpoint="grips")
def grips_form(problem: FieldError | None = None, code: int = 200, instrument: str = "") -> ResponseReturnValue:
    d = context()
    book = grip_book.grip_book_page(d, instrument or request.values.get("instrument", ""))
    return probe_page(
        "grips",
        book=book,
        tried=trials.of_hold(d, book.instrument),
        retraining=retraining_schools().values(),
        chosen=profile(d).retraining,
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.post("/grips/<instrument>/alternate")
@refusing(grips_form, of_address=True)
def alternate(instrument: str) -> ResponseReturnValue:
    holds.alternate(context(), instrument, request.form)
    return redirect(url_for(".grips", instrument=instrument))


@bp.post("/grips/<instrument>/retraining")
@refusing(grips_form, of_address=True)
def choose_retraining(instrument: str) -> ResponseReturnValue:
    say(context(), retraining=request.form.get("retraining", ""))
    return redirect(url_for(".grips", instrument=instrument))


@bp.post("/grips/<instrument>/faults")
@refusing(grips_form, of_address=True)
def answer_faults(instrument: str) -> ResponseReturnValue:
    grip_book.answer(context(), instrument, request.form)
    return redirect(url_for(".grips", instrument=instrument))
