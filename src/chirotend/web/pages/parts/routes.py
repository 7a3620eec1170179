"""B Plan, parts: what a part will ask of the hands before the first rehearsal."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.load.part import FULL_HELD_S, FULL_NOTES_S, FULL_RUN_S, WEIGHTS
from chirotend.services.context import FieldError
from chirotend.services.kit import own_library
from chirotend.services.plan import part_holding, parts
from chirotend.services.record import corrections
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.guard import offers_later
from chirotend.web.transaction import context

bp = Blueprint("parts", __name__, url_prefix="/plan/parts")


def _list(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    return render_template(
        "parts/index.html",
        parts=parts.all_parts(d),
        instruments=[(key, i.name) for key, i in own_library.instruments(d).items()],
        typed=request.form,
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.get("/")
@offers_later
def index() -> ResponseReturnValue:
    return _list()


@bp.post("/")
@offers_later
@refusing(_list)
def bring() -> ResponseReturnValue:
    file = request.files.get("file")
    name, data = (file.filename or "", file.read()) if file else ("", b"")
    found = parts.read_part(name, data)
    return redirect(url_for(".one", uid=parts.keep(context(), found, request.form)))


def _one(
    problem: FieldError | None = None, code: int = 200, *, uid: str, page: parts.PartPage | None = None
) -> ResponseReturnValue:
    return render_template(
        "parts/one.html",
        page=page or parts.part_page(context(), uid),
        weights=[(name, round(100 * share)) for name, share in WEIGHTS.items()],
        full={"pace": FULL_NOTES_S, "run": FULL_RUN_S, "held": FULL_HELD_S},
        typed={**part_holding.example(), **request.values},
        method=part_holding.method(),
        joints=[(joint, joint) for joint in part_holding.asked()["joint"].words],
        examples={i.field: i.example for i in part_holding.method().inputs},
        problem=problem,
        undo=corrections.offered(context()),
    ), code


@bp.get("/<uid>")
@offers_later
@refusing(_one, of_address=True)
def one(uid: str) -> ResponseReturnValue:
    return _one(uid=uid, page=parts.part_page(context(), uid, {**part_holding.example(), **request.args}))


@bp.post("/<uid>/pace")
@offers_later
@refusing(_one, of_address=True)
def pace(uid: str) -> ResponseReturnValue:
    """Read it at another tempo."""
    parts.set_pace(context(), uid, request.form.get("pace", ""))
    return redirect(url_for(".one", uid=uid))


@bp.post("/<uid>/lay")
@offers_later
def schedule(uid: str) -> ResponseReturnValue:
    """Make aims of its heaviest passages for a week; the plan shows them."""
    week = parts.schedule(context(), uid, fields.day("week") or context().today)
    return redirect(url_for("plan.index", week=week.isoformat()))


@bp.post("/<uid>/delete")
def delete(uid: str) -> ResponseReturnValue:
    parts.drop(context(), uid)
    return redirect(url_for(".index"))
