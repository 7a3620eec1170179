"""A Today: the call and its reasons, the morning check, today's part, the week."""

from flask import Blueprint, redirect, render_template, request, url_for

from chirotend.core.body.redflags import red_flags
from chirotend.core.words import HANDS, SLEEP
from chirotend.services import checks, corrections, exports, log, playing, score, today
from chirotend.services.desk import Refused
from chirotend.web import fields
from chirotend.web.transaction import desk

bp = Blueprint("today", __name__)
URGENT = ("emergency", "same_day")


def _page(problem: Refused | None = None, code: int = 200):  # type: ignore[no-untyped-def]
    d = desk()
    shown = today.todays_page(d)
    stand = playing.sitting(d)
    return render_template(
        "today/index.html",
        today=shown,
        said=shown.said,
        stand=stand,
        flags=red_flags().values(),
        sleep=SLEEP,
        hands=HANDS,
        problem=problem,
        undo=corrections.offered(d),
        week=score.last_week(d, shown.record),
        part=score.todays_part(d, shown.sessions),
        empty=exports.first_day(d) is None,
    ), code


@bp.get("/")
def index():  # type: ignore[no-untyped-def]
    return _page()


@bp.post("/morning/as-usual")
def as_usual():  # type: ignore[no-untyped-def]
    checks.as_usual(desk())
    return redirect(url_for(".index"))


@bp.post("/morning")
def morning():  # type: ignore[no-untyped-def]
    """The opened morning check; an urgent answer goes to the urgent page."""
    try:
        tier = checks.morning(
            desk(), request.form.get("sleep"), request.form.get("hands"), request.form.getlist("red_flags")
        )
    except Refused as error:
        return _page(error, 422)
    if tier in URGENT:
        return redirect(url_for("help.urgent"))
    return redirect(url_for("body.index", timing="waking") if request.form.get("then") == "body" else url_for(".index"))


@bp.post("/urgent/slip")
def slip():  # type: ignore[no-untyped-def]
    checks.rub_out_flags(desk())
    return redirect(url_for(".index"))


@bp.post("/call")
def overrule():  # type: ignore[no-untyped-def]
    try:
        today.overrule(desk(), request.form.get("to", ""), request.form.get("reason", ""))
    except Refused as error:
        return _page(error, 422)
    return redirect(url_for(".index"))


@bp.post("/call/back")
def back():  # type: ignore[no-untyped-def]
    today.take_back_overrule(desk())
    return redirect(url_for(".index"))


@bp.post("/seen")
def seen():  # type: ignore[no-untyped-def]
    try:
        today.clear_by_clinician(desk(), fields.number("start_dose_min"))
    except Refused as error:
        return _page(error, 422)
    return redirect(url_for(".index"))


@bp.post("/day-off")
def day_off():  # type: ignore[no-untyped-def]
    d = desk()
    try:
        log.write_day(d, d.today, request.form.get("off") == "yes")
    except Refused as error:
        return _page(error, 422)
    return redirect(url_for(".index"))


@bp.post("/undo/<int:number>")
def undo(number: int):  # type: ignore[no-untyped-def]
    corrections.undo(desk(), number)
    today.issue(desk())
    target = request.form.get("back", "")
    return redirect(target if target.startswith("/") and not target.startswith("//") else url_for(".index"))
