"""A Today: the call and its reasons, the morning check, today's part, the week."""

from flask import Blueprint, redirect, render_template, request, url_for

from chirotend.core.body.redflags import red_flags
from chirotend.core.plan.cycles import rhythm_variants
from chirotend.core.words import HANDS, SLEEP
from chirotend.library.loader import other_uses
from chirotend.services import (
    checks,
    corrections,
    engagements,
    exports,
    kit,
    log,
    plan_page,
    playing,
    score,
    today,
    uses,
    warmups,
)
from chirotend.services.desk import Refused
from chirotend.services.profile import profile, say
from chirotend.web import fields
from chirotend.web.guard import offers_playing
from chirotend.web.transaction import desk

bp = Blueprint("today", __name__)
URGENT = ("emergency", "same_day")
CYCLE_USUAL = {"cycle": "i m a m", "octaves": "3", "notes": "", "group": "3"}


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
        uses=other_uses().values(),
        waiting=engagements.waiting(d),
        ahead=plan_page.ahead_lines(d),
        tonight=plan_page.tonight_over(d, shown.said.dose.minutes) if not shown.said.overrule else "",
        due=[t for t in kit.kit(d) if t.due],
        ask_states=not profile(d).states_asked,
    ), code


def _warm_up(problem: Refused | None = None, code: int = 200):  # type: ignore[no-untyped-def]
    template = "today/_warmup.html" if fields.is_part() else "today/warmup.html"
    return render_template(template, page=warmups.page(desk()), me=profile(desk()), problem=problem), code


@bp.get("/warm-up")
@offers_playing
def warm_up():  # type: ignore[no-untyped-def]
    return _warm_up()


@bp.post("/warm-up")
@offers_playing
def change_warm_up():  # type: ignore[no-untyped-def]
    form = request.form
    old, new = form.get("swap", ""), form.get("for", "")
    try:
        warmups.change(
            desk(),
            fields.number("warm_minutes"),
            form.get("instrument"),
            form.getlist("tags") if "asked" in form else None,
            form.get("skip", ""),
            (old, new) if old and new else None,
        )
    except Refused as error:
        return _warm_up(error, 422)
    return _warm_up() if fields.is_part() else redirect(url_for(".warm_up"))


@bp.post("/warm-up/keep")
@offers_playing
def keep_warm_up_step():  # type: ignore[no-untyped-def]
    warmups.keep_step(desk(), request.form.get("step", ""))
    return _warm_up() if fields.is_part() else redirect(url_for(".warm_up"))


@bp.post("/warm-up/afresh")
@offers_playing
def warm_up_afresh():  # type: ignore[no-untyped-def]
    warmups.compose_afresh(desk())
    return redirect(url_for(".warm_up"))


@bp.post("/warm-up/school")
@offers_playing
def warm_up_school():  # type: ignore[no-untyped-def]
    try:
        say(desk(), **{n: request.form.get(n, "") for n in ("school", "manner", "long_sticks")})
    except Refused as error:
        return _warm_up(error, 422)
    return redirect(url_for(".warm_up"))


@bp.get("/warm-up/cycles")
@offers_playing
def cycles():  # type: ignore[no-untyped-def]
    values = {n: request.args.get(n, usual) for n, usual in CYCLE_USUAL.items()}
    try:
        found, problem = warmups.counted_out(values), None
    except Refused as error:
        found, problem = None, error
    shown = {"values": values, "found": found, "problem": problem, "variants": rhythm_variants()}
    return render_template("today/cycles.html", **shown), 422 if problem else 200


@bp.post("/warm-up/start")
@offers_playing
def start_warm_up():  # type: ignore[no-untyped-def]
    try:
        playing.start_warmup(desk(), request.form.get("uid") or None)
    except Refused as error:
        return _warm_up(error, 422)
    return redirect(url_for("play.index"))


@bp.post("/use")
def write_use():  # type: ignore[no-untyped-def]
    try:
        uses.write_use(desk(), request.form.get("use", ""), fields.number("use_minutes"))
    except Refused as error:
        return _page(error, 422)
    return redirect(url_for(".index"))


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


@bp.post("/urgent/mistake")
def ticked_by_mistake():  # type: ignore[no-untyped-def]
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


@bp.post("/undo/<int(max=2147483647):number>")
def undo(number: int):  # type: ignore[no-untyped-def]
    corrections.undo(desk(), number)
    today.issue(desk())
    return redirect(fields.local_path(request.form.get("back", "")) or url_for(".index"))
