"""Open matters: visits and errands with a date and three answers, limits that someone gave, what is settled."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.drawing.matter_line import matter_line
from chirotend.services.body import known
from chirotend.services.call import clearances
from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.today import matters, missing, seen, tell_happened, told_limit
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.transaction import context

bp = Blueprint("matters", __name__, url_prefix="/matters")


def _page(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    d = context()
    told = request.values.get("told", "").strip()
    found, limits, missed = matters.open_matters(d), seen.open_limits(d), missing.missing_answers(d)
    return render_template(
        "matters/index.html",
        lead=missing.lead_sentence(len(found), len(limits), len(missed)),
        matters=found,
        missing=missed,
        settled=matters.settled_matters(d),
        limits=limits,
        happened=[s for s in tell_happened.lasting(d) if s not in limits],
        line=matter_line(d.today, matters.dates(found), [(s.row.allowed_from, s.row.allowed_until) for s in limits]),
        told=told_limit.read_limit(d, told[: told_limit.WORDS_MAX]) if told else None,
        known=known.shown(d),
        held=clearances.waits_for_clinician(d),
        problem=problem,
        at=uid,
        undo=corrections.offered(d),
    ), code


def _back() -> ResponseReturnValue:
    return redirect(fields.local_path(request.form.get("back", "")) or url_for(".index"))


@bp.get("/")
def index() -> ResponseReturnValue:
    return _page()


@bp.post("/")
@refusing(_page)
def add() -> ResponseReturnValue:
    matters.add_errand(context(), request.form)
    return _back()


@bp.post("/<uid>/booked")
@refusing(_page, of_address=True)
def booked(uid: str) -> ResponseReturnValue:
    matters.book(context(), uid, request.form.get("booked_for", ""))
    return _back()


@bp.post("/<uid>/seen")
@refusing(_page, of_address=True)
def was_seen(uid: str) -> ResponseReturnValue:
    seen.was_seen(context(), uid, request.form)
    return _back()


@bp.post("/<uid>/not-now")
@refusing(_page, of_address=True)
def not_now(uid: str) -> ResponseReturnValue:
    matters.not_now(context(), uid, request.form.get("why", ""))
    return _back()


@bp.post("/<uid>/done")
def done(uid: str) -> ResponseReturnValue:
    matters.done(context(), uid)
    return _back()


@bp.post("/told")
@refusing(_page)
def told() -> ResponseReturnValue:
    """Keep a limit that was read back and confirmed."""
    told_limit.keep_confirmed(context(), request.form)
    return _back()
