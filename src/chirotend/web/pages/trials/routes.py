"""E Score, trials: one change, days without and with it, and what they say."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.record.words import TRIAL_CHANGES
from chirotend.core.trial.order import DAYS_MAX, DAYS_MIN, LEAST
from chirotend.services.context import FieldError
from chirotend.services.kit import holds, own_library, things
from chirotend.services.record import corrections
from chirotend.services.trial import measures, shown, trials
from chirotend.web.field_errors import refusing
from chirotend.web.guard import offers_playing
from chirotend.web.transaction import context

bp = Blueprint("trials", __name__, url_prefix="/score/trials")


def _list(problem: FieldError | None = None, code: int = 200, looked: str = "") -> ResponseReturnValue:
    d = context()
    hers = d.player.instruments
    return render_template(
        "trials/index.html",
        page=shown.listed_page(d),
        typed=request.values,
        problem=problem,
        looked=looked,
        changes=[(each, each) for each in TRIAL_CHANGES],
        measures=[(c.key, c.name) for c in measures.choices(d)],
        orders=list(shown.ORDER_WORDS.items()),
        things=[(t.row.uid, t.row.name) for t in things.kit(d)],
        instruments=[(key, i.name) for key, i in own_library.instruments(d).items() if key in hers],
        holds=[(g.id, g.name) for key in hers[:1] for g in holds.fitting(d, key)],
        limits=(DAYS_MIN, DAYS_MAX, LEAST),
        undo=corrections.offered(d),
    ), code


@bp.get("/")
@offers_playing
@refusing(_list)
def index() -> ResponseReturnValue:
    """Her trials; with what was typed, what such a trial could show."""
    looked = shown.preview_words(trials.preview(context(), request.args)) if "what" in request.args else ""
    return _list(looked=looked)


@bp.post("/begin")
@offers_playing
@refusing(_list)
def begin() -> ResponseReturnValue:
    return redirect(url_for(".one", uid=trials.begin(context(), request.form)))


def _one(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    d = context()
    page = shown.trials_page(d, uid)
    return render_template("trials/one.html", page=page, problem=problem, undo=corrections.offered(d)), code


@bp.get("/<uid>")
@offers_playing
def one(uid: str) -> ResponseReturnValue:
    return _one(uid=uid)


@bp.post("/<uid>/longer")
@offers_playing
@refusing(_one, of_address=True)
def longer(uid: str) -> ResponseReturnValue:
    trials.lengthen(context(), uid)
    return redirect(url_for(".one", uid=uid))


@bp.post("/<uid>/decide")
@refusing(_one, of_address=True)
def decide(uid: str) -> ResponseReturnValue:
    """Keep the change, or go back to how it was."""
    trials.decide(context(), uid, request.form.get("outcome", ""))
    return redirect(url_for(".one", uid=uid))


@bp.post("/<uid>/delete")
def delete(uid: str) -> ResponseReturnValue:
    trials.drop(context(), uid)
    return redirect(url_for(".index"))
