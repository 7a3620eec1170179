"""The pre-concert card: one tap from every page; works without a network once it was open."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.body.redflags import red_flags, redflag_tier
from chirotend.services.body import checks
from chirotend.services.context import FieldError
from chirotend.services.plan import plan_page
from chirotend.services.today import concert_card
from chirotend.services.today.stop import stopped, to_hand_over
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.guard import instead
from chirotend.web.transaction import context

bp = Blueprint("concert_card", __name__, url_prefix="/curtain")
#: asked before anything else; the first lead to the urgent page, the last mean: hand over, and book
ASKED = ("sudden_weakness", "sudden_one_sided_numbness", "chest_pain", "face_droop", "speech_trouble", "worst_headache")
HAND_OVER = ("constant_numbness", "dropping_things", "curling_only_when_playing")


@bp.get("/")
def index(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    if (stop := stopped(d)) is not None:
        return instead(stop) if stop.urgent else _ended("hand-over")
    flags = red_flags()
    next_up = next((a for a in plan_page.ahead_lines(d, 0) if a.kind in ("performance", "rehearsal")), None)
    instrument = request.args.get("instrument") or (next_up.instrument if next_up else "")
    return render_template(
        "concert_card/index.html",
        cards=concert_card.cards(d, instrument),
        instrument=instrument,
        own=d.player.instruments,
        asked=[flags[c] for c in ASKED],
        hand_over=[flags[c] for c in HAND_OVER],
        strengths=concert_card.STRENGTHS,
        still_there=concert_card.STILL_THERE,
        sides=concert_card.SIDES,
        next_up=next_up,
        number=d.player.emergency_number,
        problem=problem,
    ), code


@bp.post("/")
@refusing(index, in_script=True)
def write() -> ResponseReturnValue:
    over = concert_card.write(context(), _typed())
    ending = "hand-over" if over else "play"
    return {"ending": ending} if fields.is_part() else redirect(url_for(".ended", ending=ending))


@bp.post("/sign")
@refusing(index, in_script=True)
def sign() -> ResponseReturnValue:
    """A "yes" of the first list: written in, then the urgent page or the hand-over."""
    code = request.form.get("code", "")
    concert_card.sign_answered(context(), code, fields.instant("at_utc"))
    urgent = redflag_tier([code]) in checks.URGENT_TIERS
    if fields.is_part():
        return {"ending": "urgent" if urgent else "hand-over"}
    return redirect(url_for("help.urgent") if urgent else url_for(".ended", ending="hand-over"))


@bp.get("/written/<any(play, 'hand-over'):ending>")
def ended(ending: str) -> ResponseReturnValue:
    stop = stopped(context())
    if stop is not None and stop.urgent:
        return instead(stop)
    return _ended("hand-over" if stop is not None else ending)


def _ended(ending: str) -> ResponseReturnValue:
    d = context()
    return render_template("concert_card/ended.html", ending=ending, stop=stopped(d), ahead=to_hand_over(d)[:3])


def _typed() -> concert_card.Typed:
    form = request.form
    return concert_card.Typed(
        form.get("problem", ""),
        form.get("place", ""),
        form.get("side", ""),
        form.get("strength", ""),
        form.get("still", ""),
        form.getlist("done"),
        form.get("handed_over") == "yes",
        fields.instant("at_utc"),
    )
