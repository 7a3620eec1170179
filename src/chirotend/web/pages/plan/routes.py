"""B Plan: the week, its aims, the planner, moving by keys or hand, a date asked for, calendars in and out."""

from datetime import UTC, date, datetime, time, timedelta
from typing import Any, cast

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.plan.week import ENGAGEMENT_KINDS
from chirotend.core.plan.week_problem import monday
from chirotend.formats import ical
from chirotend.formats.ical import WholeDays
from chirotend.formats.spelled import clock_of
from chirotend.services.context import FieldError
from chirotend.services.kit.profile import ANSWERS, WEEKDAYS, profile, say
from chirotend.services.plan import asked_date, calendars, engagements, own_blocks, plan_page, scheduling, week_aims
from chirotend.services.record import corrections
from chirotend.services.technique import least_pressure
from chirotend.services.today.stop import stopped
from chirotend.services.units import typed_time
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.guard import offers_later
from chirotend.web.transaction import commit, context, unlocked_context

bp = Blueprint("plan", __name__, url_prefix="/plan")


def _week() -> date:
    return fields.day("week") or context().today


def _page(problem: FieldError | None = None, code: int = 200, **more: Any) -> ResponseReturnValue:
    d = context()
    question = more.pop("question", None)
    chosen = str(more.pop("chosen", more.pop("uid", request.values.get("block", ""))))
    shown = plan_page.planned_week_page(d, _week(), chosen, question)
    return render_template(
        "plan/_week.html" if fields.is_part() else "plan/index.html",
        page=shown,
        tacet=stopped(d) is not None,
        question=question,
        problem=problem,
        undo=corrections.offered(d),
        calendars=calendars.brought(d),
        kinds=ENGAGEMENT_KINDS,
        me=profile(d),
        answers=ANSWERS,
        weekdays=WEEKDAYS,
        pressed=least_pressure.answered(d),
        grips=week_aims.holds_for(d, postures=False),
        postures=week_aims.holds_for(d, postures=True),
        form=request.form,
        one_week=timedelta(weeks=1),
        **more,
    ), code


def _back(**more: str) -> ResponseReturnValue:
    """After a change: the week part for htmx, the page for everyone else."""
    commit()
    if fields.is_part():
        return _page(chosen=more.get("block", ""))
    return redirect(url_for(".index", week=_week().isoformat(), **cast("dict[str, Any]", more)))


@bp.get("/")
@offers_later
@refusing(_page)
def index() -> ResponseReturnValue:
    line = request.args.get("line", "").strip()
    question = asked_date.ask(context(), line) if line else None
    if question is not None and "week" not in request.args:
        return redirect(url_for(".index", week=monday(question.engagement.day).isoformat(), line=line))
    return _page(question=question)


@bp.post("/lay")
@offers_later
@refusing(_page)
def schedule() -> ResponseReturnValue:
    scheduling.schedule(context(), _week())
    return _back()


@bp.post("/block/<uid>/move")
@offers_later
@refusing(_page, of_address=True)
def move(uid: str) -> ResponseReturnValue:
    minutes, days, longer = (fields.number(name) or 0 for name in ("minutes", "days", "longer"))
    own_blocks.move(context(), uid, minutes, int(days), longer)
    return _back(block=uid)


@bp.post("/block/<uid>/rub-out")
def rub_out(uid: str) -> ResponseReturnValue:
    own_blocks.rub_out(context(), uid)
    return _back()


@bp.post("/aim")
@offers_later
@refusing(_page)
def aim() -> ResponseReturnValue:
    form = request.form
    typed = week_aims.TypedAim(
        form.get("aim_title", ""),
        fields.number("aim_minutes"),
        fields.number("aim_effort"),
        form.get("aim_instrument", ""),
        form.get("new_hard") == "yes",
        form.get("aim_manner") or profile(context()).manner or "soft",
        form.get("done") == "yes",
        form.get("aim_grip", ""),
        form.get("aim_posture", ""),
    )
    week_aims.write_aim(context(), _week(), typed, form.get("uid") or None)
    return _back()


@bp.post("/aim/<uid>/rub-out")
def drop_aim(uid: str) -> ResponseReturnValue:
    week_aims.drop_aim(context(), uid)
    return _back()


def _not_taken(problem: FieldError, code: int) -> ResponseReturnValue:
    """The page again; what was asked stands beside it while only the reason is missing."""
    question = asked_date.ask(context(), request.form.get("line", "")) if problem.field == "reason" else None
    return _page(problem, code, question=question)


@bp.post("/take")
@offers_later
@refusing(_not_taken)
def take() -> ResponseReturnValue:
    form = request.form
    taken = asked_date.take(context(), form.get("line", ""), form.get("as_it_stands") == "yes", form.get("reason", ""))
    return redirect(url_for(".index", week=monday(taken.day).isoformat(), block=taken.uid))


def _typed() -> engagements.Typed:
    form = request.form
    day = fields.day("day")
    if day is None:
        raise FieldError("day", "Choose a day that exists, written YYYY-MM-DD.")
    return engagements.Typed(
        day,
        typed_time("start", form.get("start", ""), "Type when it begins, such as 19:00."),
        typed_time("end", form.get("end", ""), "Type when it ends, such as 19:00."),
        form.get("title", ""),
        form.get("kind", ""),
        form.get("instrument", ""),
        fields.number("minutes"),
        fields.number("effort"),
    )


@bp.get("/engagement")
@bp.get("/engagement/<uid>")
def engagement(problem: FieldError | None = None, code: int = 200, uid: str | None = None) -> ResponseReturnValue:
    d = context()
    old = engagements.row_of(d, uid) if uid else None
    values = dict(request.form) if problem else _as_typed(old)
    return render_template(
        "plan/engagement.html",
        old=old,
        values=values,
        kinds=ENGAGEMENT_KINDS,
        problem=problem,
        own=d.player.instruments,
    ), code


@bp.post("/engagement")
@bp.post("/engagement/<uid>")
@refusing(engagement, of_address=True)
def write_engagement(uid: str | None = None) -> ResponseReturnValue:
    made = engagements.write(context(), _typed(), uid)
    return redirect(url_for(".index", week=monday(made.day).isoformat(), block=made.uid))


def _as_typed(old: Any) -> dict[str, Any]:
    if old is None:
        return {n: request.args.get(n, "") for n in ("title", "kind")} | {
            "day": request.args.get("day", context().today.isoformat())
        }
    zone = context().zone
    start, end = old.start_utc.astimezone(zone), old.end_utc.astimezone(zone)
    return {
        "day": start.date().isoformat(),
        "start": f"{start:%H:%M}",
        "end": f"{end:%H:%M}",
        "title": old.title,
        "kind": old.kind,
        "instrument": old.instrument,
        "minutes": f"{old.minutes:g}",
        "effort": f"{old.effort:g}",
    }


@bp.post("/engagement/<uid>/delete")
def delete_engagement(uid: str) -> ResponseReturnValue:
    engagements.drop(context(), uid)
    return _back()


@bp.post("/engagement/<uid>/as-planned")
@refusing(_page)
def as_planned(uid: str) -> ResponseReturnValue:
    engagements.as_planned(context(), uid, fields.number("effort"))
    return redirect(url_for("today.index"))


@bp.post("/calendar")
@refusing(_page)
def bring_calendar() -> ResponseReturnValue:
    file = request.files.get("calendar")
    name, data = (file.filename or "", file.read()) if file else ("", b"")
    found = calendars.read_calendar(unlocked_context(), name, data)
    brought = calendars.bring(context(), name, found)
    commit()
    return _page(brought=brought)


@bp.post("/calendar/days")
@refusing(_page)
def bring_days() -> ResponseReturnValue:
    first, last = (fields.written_day(request.form.get(name, "")) for name in ("first", "last"))
    start, end = (clock_of(request.form.get(name, "")) for name in ("start", "end"))
    if start is None or end is None:
        raise FieldError("calendar", "Type both hours, such as 10:00 and 13:00.")
    entry = WholeDays(request.form.get("source", "")[:300], first, last, request.form.get("title", "")[:200])
    calendars.bring_days(context(), entry, start, end)
    return _back()


@bp.post("/calendar/<import_uid>/take-back")
def take_back_calendar(import_uid: str) -> ResponseReturnValue:
    calendars.take_back(context(), import_uid)
    return _back()


@bp.get("/plan.ics")
def export_calendar() -> ResponseReturnValue:
    d = context()
    first, last = d.today - timedelta(days=7), d.today + timedelta(days=60)
    items = [ical.Written(e.uid, e.start_utc, e.end_utc, e.title, e.kind) for e in engagements.between(d, first, last)]
    if not stopped(d):
        items += [
            ical.Written(b.uid, b.start_utc, b.end_utc, b.title or "own practice", "practice")
            for b in own_blocks.blocks_between(d, first, last)
        ]
    text = ical.write_ical(sorted(items, key=lambda i: (i.start_utc, i.uid)), datetime.combine(d.today, time(0), UTC))
    return Response(
        text, mimetype="text/calendar", headers={"Content-Disposition": 'attachment; filename="practice-plan.ics"'}
    )


@bp.post("/habits")
@refusing(_page)
def habits() -> ResponseReturnValue:
    form = request.form
    hours = {name: _hour(name) for name in ("from_hour", "to_hour")}
    words = {n: form.get(n, "") for n in ("rest_weekday", "rest_school", "rest_preset", "manner", "tick")}
    say(context(), **words, **hours)
    return _back()


def _hour(name: str) -> float:
    at = typed_time("to_hour", request.form.get(name, ""), "Type hours such as 09:00 and 20:30.")
    return at.hour + at.minute / 60
