"""Without a network: the morning check and a mark, answered on the device and sent when the link is back."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.body.zones import regions, zones
from chirotend.core.record.words import HANDS, LASTING, SIDES, SLEEP, SYMPTOM_KINDS, TIMINGS
from chirotend.services.body import offline
from chirotend.services.body.checks import TypedMarks
from chirotend.services.context import FieldError
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.transaction import context

bp = Blueprint("offline", __name__, url_prefix="/away")


@bp.get("/")
def index(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return render_template(
        "offline/index.html",
        regions=regions(),
        zones=zones().values(),
        kinds=SYMPTOM_KINDS,
        sides=SIDES,
        timings=TIMINGS,
        lasting=LASTING,
        sleep=SLEEP,
        hands=HANDS,
        problem=problem,
    ), code


@bp.post("/morning")
@refusing(index, in_script=True)
def morning() -> ResponseReturnValue:
    form = request.form
    offline.morning(context(), form.get("sleep"), form.get("hands"), fields.instant("at_utc"), form.get("uid", ""))
    return _saved()


@bp.post("/mark")
@refusing(index, in_script=True)
def mark() -> ResponseReturnValue:
    form, strength = request.form, fields.number("intensity")
    if strength is None:
        raise FieldError("intensity", "Say how strong it is, from 0 to 10.")
    place = f"{form['zone']}.{form.get('side') or 'none'}" if form.get("zone") else ""
    typed = TypedMarks(
        [place] if place else [],
        form.get("kind", ""),
        strength,
        form.getlist("timings"),
        form.get("lasting") or None,
    )
    offline.marks(context(), typed, fields.instant("at_utc"), form.get("uid", ""))
    return _saved()


def _saved() -> ResponseReturnValue:
    return {"ending": "saved"} if fields.is_part() else redirect(url_for("today.index"))
