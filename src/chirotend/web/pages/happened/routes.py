"""Something happened: what it was, at most three questions, and what follows of it at once."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.body.zones import regions, zones
from chirotend.drawing import bodymap
from chirotend.library.loader import doors, programmes
from chirotend.services.desk import NotThere, Refused
from chirotend.services.kit import own_library
from chirotend.services.record import corrections
from chirotend.services.today import tell_happened
from chirotend.web.refusals import refusing
from chirotend.web.transaction import desk

bp = Blueprint("happened", __name__, url_prefix="/happened")


def _page(problem: Refused | None = None, code: int = 200, kind: str = "") -> ResponseReturnValue:
    d = desk()
    if kind and kind not in doors():
        raise NotThere(kind)
    door = doors().get(kind)
    return render_template(
        "happened/index.html",
        doors=doors().values(),
        door=door,
        programme=programmes()[door.programme].name if door and door.programme else "",
        maps=bodymap.maps() if door and door.place else (),
        untouched=frozenset(),
        regions=regions(),
        zones=zones().values(),
        instruments=[(key, i.name) for key, i in own_library.instruments(d).items()],
        lasting=tell_happened.shown(d),
        typed=request.form,
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.get("/")
@bp.get("/<kind>")
def index(kind: str = "") -> ResponseReturnValue:
    return _page(kind=kind)


@bp.post("/<kind>")
@refusing(_page, of_address=True)
def write(kind: str) -> ResponseReturnValue:
    tell_happened.write(desk(), kind, request.form)
    return redirect(url_for(".index"))


def _ended(problem: Refused | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    return _page(problem, code)


@bp.post("/<uid>/over")
@refusing(_ended, of_address=True)
def end(uid: str) -> ResponseReturnValue:
    tell_happened.end(desk(), uid, request.form.get("how", ""))
    return redirect(url_for("today.index"))


@bp.post("/<uid>/told")
@refusing(_ended, of_address=True)
def told(uid: str) -> ResponseReturnValue:
    tell_happened.change_allowed(desk(), uid, request.form)
    return redirect(url_for("today.index"))
