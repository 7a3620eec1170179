"""The curtain card: one tap from every page; works without a network once it was open."""

from flask import Blueprint, redirect, render_template, request, url_for

from chirotend.core.body.redflags import red_flags
from chirotend.services import curtain, plan_page
from chirotend.services.desk import Refused
from chirotend.web import fields
from chirotend.web.transaction import desk

bp = Blueprint("curtain", __name__, url_prefix="/curtain")
#: asked before anything else; the first lead to the urgent page, the last mean: hand over, and book
ASKED = ("sudden_weakness", "sudden_one_sided_numbness", "chest_pain", "face_droop", "speech_trouble")
HAND_OVER = ("constant_numbness", "dropping_things")


@bp.get("/")
def index(problem: Refused | None = None, code: int = 200):  # type: ignore[no-untyped-def]
    d = desk()
    flags = red_flags()
    next_up = next((a for a in plan_page.ahead_lines(d, 0) if a.kind in ("performance", "rehearsal")), None)
    instrument = request.args.get("instrument") or (next_up.instrument if next_up else "")
    return render_template(
        "curtain/index.html",
        cards=curtain.cards(d, instrument),
        instrument=instrument,
        own=d.player.instruments,
        asked=[flags[c] for c in ASKED if c in flags],
        hand_over=[flags[c] for c in HAND_OVER],
        strengths=curtain.STRENGTHS,
        next_up=next_up,
        number=d.player.emergency_number,
        problem=problem,
    ), code


@bp.post("/")
def write():  # type: ignore[no-untyped-def]
    form = request.form
    typed = curtain.Typed(
        form.get("problem", ""),
        form.get("side", ""),
        form.get("strength", ""),
        form.getlist("done"),
        form.get("handed_over") == "yes",
    )
    try:
        curtain.write(desk(), typed)
    except Refused as error:
        return index(error, 422)
    return ("", 204) if fields.is_part() else redirect(url_for("today.index"))
