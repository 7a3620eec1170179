"""Something happened: what it was, at most three questions, and what follows of it at once."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.body.zones import regions, zones
from chirotend.drawing import bodymap
from chirotend.library.loader import doors, programmes
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import own_library
from chirotend.services.record import corrections
from chirotend.services.today import tell_happened
from chirotend.web.field_errors import refusing
from chirotend.web.transaction import context

bp = Blueprint("happened", __name__, url_prefix="/happened")


def _page(problem: FieldError | None = None, code: int = 200, door: str = "") -> ResponseReturnValue:
    d = context()
    if door and door not in doors():
        raise NotThere(door)
    chosen = doors().get(door)
    place = f"{request.form.get('zone', '')}.{request.form.get('side') or 'none'}"
    return render_template(
        "happened/index.html",
        doors=doors().values(),
        door=chosen,
        follows=tell_happened.follows(chosen) if chosen else (),
        programme=programmes()[chosen.programme].name if chosen and chosen.programme else "",
        maps=bodymap.maps() if chosen and chosen.place else (),
        chosen=frozenset({place}),
        untouched=frozenset(),
        part=bodymap.part_holding(place),
        regions=regions(),
        zones=zones().values(),
        instruments=[(key, i.name) for key, i in own_library.instruments(d).items()],
        own=d.player.instruments,
        lasting=tell_happened.lasting(d),
        typed=request.form,
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.get("/")
@bp.get("/<door>")
def index(door: str = "") -> ResponseReturnValue:
    return _page(door=door)


@bp.post("/<door>")
@refusing(_page, of_address=True)
def write(door: str) -> ResponseReturnValue:
    tell_happened.write(context(), door, request.form)
    return redirect(url_for(".index"))


def _ended(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    return _page(problem, code)


@bp.post("/<uid>/over")
@refusing(_ended, of_address=True)
def end(uid: str) -> ResponseReturnValue:
    tell_happened.end(context(), uid, request.form.get("how", ""))
    return redirect(url_for("today.index"))


@bp.post("/<uid>/told")
@refusing(_ended, of_address=True)
def told(uid: str) -> ResponseReturnValue:
    tell_happened.change_allowed(context(), uid, request.form)
    return redirect(url_for("today.index"))
