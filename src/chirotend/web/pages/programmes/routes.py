"""B Plan, programmes: where each stands, the dates it clashes with, those that can be begun."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.context import FieldError
from chirotend.services.kit import own_library
from chirotend.services.plan.programmes import begin, shown
from chirotend.services.record import corrections
from chirotend.web.field_errors import refusing
from chirotend.web.guard import offers_playing
from chirotend.web.transaction import context

bp = Blueprint("programmes", __name__, url_prefix="/plan/programmes")


def _page(problem: FieldError | None = None, code: int = 200, key: str = "", uid: str = "") -> ResponseReturnValue:
    d = context()
    return render_template(
        "plan/programmes.html",
        page=shown.programmes_page(d),
        problem=problem,
        opened=key or request.args.get("begin", ""),
        asked=uid,
        typed=request.form,
        instruments=[(key, i.name) for key, i in own_library.instruments(d).items()],
        undo=corrections.offered(d),
    ), code


def _back() -> ResponseReturnValue:
    return redirect(url_for(".index"))


@bp.get("/")
@offers_playing
def index() -> ResponseReturnValue:
    return _page()


@bp.post("/begin/<key>")
@offers_playing
@refusing(_page, of_address=True)
def start(key: str) -> ResponseReturnValue:
    begin.begin(context(), key, request.form)
    return _back()


@bp.post("/<uid>/dose")
@offers_playing
@refusing(_page, of_address=True)
def dose(uid: str) -> ResponseReturnValue:
    """Go on at the minutes that whoever was asked named."""
    begin.give(context(), uid, request.form)
    return _back()


@bp.post("/<uid>/end")
def end(uid: str) -> ResponseReturnValue:
    begin.end(context(), uid, request.form.get("note", ""))
    return _back()


@bp.post("/date/<uid>")
@offers_playing
@refusing(_page, of_address=True)
def settle(uid: str) -> ResponseReturnValue:
    """Hand over, lighten or take with a reason a date that a programme does not allow as it stands."""
    shown.settle(context(), uid, request.form.get("how", ""), request.form.get("reason", ""))
    return _back()
