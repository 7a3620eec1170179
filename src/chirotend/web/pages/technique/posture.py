"""Posture: a picture, its points, and the angles between them."""

from typing import Any

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import (
    posture,
    suggested,
)
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, files_folder, probe_page
from chirotend.web.transaction import context, only_shows


@bp.get("/posture", endpoint="posture")
def posture_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return probe_page(
        "posture",
        choice=posture.choice(context(), request.values.get("instrument", "")),
        problem=problem,
    ), code


@bp.post("/posture")
@refusing(posture_form, in_script=True)
def bring_picture() -> ResponseReturnValue:
    found = request.files.get("picture")
    made = posture.read_picture(found.read() if found else b"")
    uid = posture.begin(context(), files_folder(), request.form, made)
    where = url_for(".posture_result", uid=uid)
    return ({"where": where}, 200) if fields.is_part() else redirect(where)


@bp.get("/posture/<uid>")
def posture_result(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    return _with_picture(
        posture.posture_page(context(), uid, ghost=request.values.get("ghost", "")), problem=problem
    ), code


def _with_picture(shown: posture.PosturePage, **said: Any) -> str:
    undo = corrections.offered(context())
    return render_template(
        "technique/posed.html", page=shown, undo=undo, eye=suggested.plugged_in(files_folder()), **said
    )


@bp.post("/posture/<uid>/suggest")
@refusing(posture_result, of_address=True)
def suggest_points(uid: str) -> ResponseReturnValue:
    """The picture with points as a model sees them; nothing is kept before she keeps it."""
    only_shows()
    found = suggested.suggest(context(), files_folder(), uid)
    shown = posture.posture_page(context(), uid, {**request.form, **found.typed}, request.form.get("ghost", ""))
    return _with_picture(shown, said=found.said)


@bp.post("/posture/<uid>/look")
def look_at(uid: str) -> ResponseReturnValue:
    """The angles of the points as they are on the screen; nothing is kept."""
    only_shows()
    try:
        shown = posture.posture_page(context(), uid, request.form, request.form.get("ghost", ""))
    except FieldError as error:
        return {"problem": error.sentence}, 422
    return render_template("technique/_angles.html", page=shown)


@bp.post("/posture/<uid>")
@refusing(posture_result, of_address=True)
def set_points(uid: str) -> ResponseReturnValue:
    posture.set_points(context(), uid, request.form)
    return redirect(url_for(".posture_result", uid=posture.next_frame(context(), uid)))
