"""A Today: the call and its reasons, the morning check, today's part, the week."""

from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.body.redflags import flags_for
from chirotend.core.judge.what_if import WhatIf
from chirotend.core.plan.cycles import rhythm_variants
from chirotend.core.plan.suits import STATES
from chirotend.core.record.words import HANDS, SLEEP
from chirotend.library.loader import other_uses
from chirotend.services.body import checks, known
from chirotend.services.call import overrules
from chirotend.services.context import FieldError
from chirotend.services.kit import things
from chirotend.services.kit.profile import ANSWERS, profile, say
from chirotend.services.plan import engagements, plan_page
from chirotend.services.plan.programmes import shown as programmes
from chirotend.services.play import running_session
from chirotend.services.record import corrections, log, uses
from chirotend.services.review import week as review
from chirotend.services.score import score_page
from chirotend.services.today import first_days, suited, today_page, warmups
from chirotend.services.today.happened import states_of
from chirotend.services.today.today_page import todays_page
from chirotend.services.today.what_if import asked_what_if
from chirotend.services.trial import shown as trials
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.guard import offers_playing
from chirotend.web.transaction import commit, context

bp = Blueprint("today", __name__)
URGENT = ("emergency", "same_day")
CYCLE_USUAL = {"cycle": "i m a m", "octaves": "3", "notes": "", "group": "3"}


def _page(problem: FieldError | None = None, code: int = 200, what_if: WhatIf | None = None) -> ResponseReturnValue:
    d = context()
    shown = todays_page(d)
    stand, waiting = running_session.running_session(d), engagements.waiting(d)
    return render_template(
        "today/index.html",
        today=shown,
        issued=shown.issued,
        stand=stand,
        flags=flags_for(states_of(d)),
        sleep=SLEEP,
        hands=HANDS,
        problem=problem,
        what_if=what_if,
        undo=corrections.offered(d),
        week=score_page.last_week(d, shown.record),
        part=score_page.todays_part(d, shown.sessions),
        first=first_days.first_days(d, shown),
        uses=other_uses().values(),
        waiting=waiting,
        beside_call=today_page.beside_call(d, shown, stand),
        ahead=plan_page.ahead_lines(d),
        suits=suited.lines(d),
        programmes=programmes.todays_lines(d) if shown.issued.effective != "tacet" else (),
        due=[t for t in things.kit(d) if t.due],
        known=known.shown(d),
        trial=trials.todays_line(d),
        week_over=review.due(d),
        ask_states=not profile(d).states_asked,
    ), code


def _warm_up(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    template = "today/_warmup.html" if fields.is_part() else "today/warmup.html"
    return render_template(
        template,
        page=warmups.warmup_page(context()),
        me=profile(context()),
        problem=problem,
        questions=STATES if warmups.asks_first(context()) else {},
        answers=ANSWERS,
        said={},
        typed={},
    ), code


@bp.get("/warm-up")
@offers_playing
def warm_up() -> ResponseReturnValue:
    return _warm_up()


@bp.get("/what-if")
@offers_playing
@refusing(_page)
def what_if() -> ResponseReturnValue:
    if not request.args:
        return redirect(url_for(".index"))
    typed = (request.args.get(name, "") for name in ("if_minutes", "if_effort"))
    return _page(what_if=asked_what_if(context(), *typed))


@bp.post("/warm-up")
@offers_playing
@refusing(_warm_up)
def change_warm_up() -> ResponseReturnValue:
    form = request.form
    old, new = form.get("swap", ""), form.get("for", "")
    warmups.change(
        context(),
        fields.number("warm_minutes"),
        form.get("instrument"),
        form.getlist("tags") if "asked" in form else None,
        form.get("skip", ""),
        (old, new) if old and new else None,
        form.get("grip"),
        form.get("posture"),
    )
    return _changed_warm_up()


def _changed_warm_up() -> ResponseReturnValue:
    commit()
    return _warm_up() if fields.is_part() else redirect(url_for(".warm_up"))


@bp.post("/warm-up/keep")
@offers_playing
def keep_warm_up_step() -> ResponseReturnValue:
    warmups.keep_step(context(), request.form.get("step", ""))
    return _changed_warm_up()


@bp.post("/warm-up/afresh")
@offers_playing
def warm_up_afresh() -> ResponseReturnValue:
    warmups.compose_afresh(context())
    return redirect(url_for(".warm_up"))


@bp.post("/warm-up/school")
@offers_playing
@refusing(_warm_up)
def warm_up_school() -> ResponseReturnValue:
    say(context(), **{n: request.form[n] for n in ("school", "manner", "long_sticks") if n in request.form})
    return redirect(url_for(".warm_up"))


def _cycle_values() -> dict[str, str]:
    return {n: request.args.get(n, usual) for n, usual in CYCLE_USUAL.items()}


def _cycles(problem: FieldError | None = None, code: int = 200, **found: Any) -> ResponseReturnValue:
    shown = {"values": _cycle_values(), "found": None, "variants": rhythm_variants(), **found}
    return render_template("today/cycles.html", problem=problem, **shown), code


@bp.get("/warm-up/cycles")
@offers_playing
@refusing(_cycles)
def cycles() -> ResponseReturnValue:
    return _cycles(found=warmups.counted_out(_cycle_values()))


@bp.post("/warm-up/start")
@offers_playing
@refusing(_warm_up)
def start_warm_up() -> ResponseReturnValue:
    running_session.start_warmup(context(), request.form.get("uid") or None)
    return redirect(url_for("play.index"))


@bp.post("/use")
@refusing(_page)
def write_use() -> ResponseReturnValue:
    uses.write_use(context(), request.form.get("use", ""), fields.number("use_minutes"))
    return redirect(url_for(".index"))


@bp.get("/")
def index() -> ResponseReturnValue:
    return _page()


@bp.post("/morning/as-usual")
def as_usual() -> ResponseReturnValue:
    checks.as_usual(context())
    return redirect(url_for(".index"))


@bp.post("/morning/same")
@refusing(_page)
def same() -> ResponseReturnValue:
    checks.same_as_yesterday(context())
    return redirect(url_for(".index"))


@bp.post("/morning")
@refusing(_page)
def morning() -> ResponseReturnValue:
    """The opened morning check; an urgent answer goes to the urgent page."""
    tier = checks.morning(
        context(), request.form.get("sleep"), request.form.get("hands"), request.form.getlist("red_flags")
    )
    if tier in URGENT:
        return redirect(url_for("help.urgent"))
    return redirect(url_for("body.index", timing="waking") if request.form.get("then") == "body" else url_for(".index"))


@bp.post("/urgent/mistake")
def ticked_by_mistake() -> ResponseReturnValue:
    checks.rub_out_flags(context())
    return redirect(url_for(".index"))


@bp.post("/call")
@refusing(_page)
def overrule() -> ResponseReturnValue:
    overrules.overrule(context(), request.form.get("to", ""), request.form.get("reason", ""))
    return redirect(url_for(".index"))


@bp.post("/call/back")
def back() -> ResponseReturnValue:
    overrules.take_back(context())
    return redirect(url_for(".index"))


@bp.post("/day-off")
@refusing(_page)
def day_off() -> ResponseReturnValue:
    d = context()
    log.write_day(d, d.today, request.form.get("off") == "yes")
    return redirect(url_for(".index"))


@bp.post("/undo/<int(max=2147483647):number>")
def undo(number: int) -> ResponseReturnValue:
    corrections.undo(context(), number)
    return redirect(fields.local_path(request.form.get("back", "")) or url_for(".index"))
