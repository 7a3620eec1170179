"""D Body: touch where, say what kind, how strong and when; the history of a place."""

from datetime import date

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.body.zones import zone, zones
from chirotend.core.judge.known import LEVEL_MAX
from chirotend.core.judge.watched_series import DIARY
from chirotend.core.record.words import FLAGS, LASTING, OTHER_USES, SYMPTOM_KINDS, TIMINGS
from chirotend.drawing import bodymap
from chirotend.services.body import checks, getting_worse, known, resembles, self_checks, signs, watched_series
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import demands
from chirotend.services.record import corrections
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.transaction import context

bp = Blueprint("body", __name__, url_prefix="/body")
VIEWS = ("palm", "back")


def _day() -> date:
    """The practice day that is marked: today, or an earlier one named in the address or the form."""
    return min(fields.day("day") or context().today, context().today)


def _page(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    day = _day()
    marked = checks.marked_on(d, day)
    side = request.values.get("view", "palm")
    timing = request.values.get("timing", "")
    chosen = frozenset(request.form.getlist("places"))
    asked = demands.zones_of_first(d)
    maps = bodymap.maps([(m.entry.zone, m.entry.side, m.entry.kind, m.entry.intensity) for m in marked])
    return render_template(
        "body/index.html",
        maps=maps,
        asked=asked,
        part=bodymap.part_of(checks.hurting(d) or asked),
        day=day,
        backdated=day != d.today,
        view=side if side in VIEWS else "palm",
        timing=timing,
        marked=marked,
        never_marked=not marked and not checks.ever_marked(d),
        chosen=chosen,
        kinds=SYMPTOM_KINDS,
        timings=TIMINGS,
        lasting=LASTING,
        flags=FLAGS,
        uses=OTHER_USES,
        resembles=resembles.resembling_page(d),
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.get("/")
def index() -> ResponseReturnValue:
    return _page()


@bp.post("/")
@refusing(_page)
def write() -> ResponseReturnValue:
    form = request.form
    strength = fields.number("intensity")
    if strength is None:
        raise FieldError("intensity", "Say how strong it is, from 0 to 10.")
    checks.write_marks(
        context(),
        checks.TypedMarks(
            form.getlist("places"),
            form.get("kind", ""),
            strength,
            form.getlist("timings"),
            form.get("lasting") or None,
            form.getlist("flags"),
            form.get("other_uses") or None,
            form.get("eased") or None,
        ),
        _day(),
    )
    return redirect(url_for(".index", view=form.get("view", "palm"), day=form.get("day") or None))


@bp.post("/nothing")
@refusing(_page)
def nothing() -> ResponseReturnValue:
    checks.nothing(context(), request.form.get("timing", ""), _day())
    return redirect(url_for("today.index"))


@bp.post("/rub-out")
def rub_out() -> ResponseReturnValue:
    form = request.form
    checks.rub_out(
        context(),
        fields.written_day(form.get("day", "")),
        form.get("timing", ""),
        form.get("zone", ""),
        form.get("side", ""),
        form.get("kind", ""),
    )
    return redirect(url_for(".index"))


@bp.get("/history/<zone_id>/<side>")
def history(zone_id: str, side: str) -> ResponseReturnValue:
    if zone_id not in zones():
        raise NotThere(zone_id)
    return render_template(
        "body/history.html", place=zone(zone_id), side=side, marks=checks.history(context(), zone_id, side)
    )


@bp.get("/place/<region>/<side>")
def place(problem: FieldError | None = None, code: int = 200, *, region: str, side: str) -> ResponseReturnValue:
    d = context()
    page = signs.place_page(d, region, side)
    shown = render_template(
        "body/place.html", page=page, problem=problem, typed=request.form, undo=corrections.offered(d)
    )
    return shown, code


@bp.get("/getting-worse", endpoint="getting_worse")
def getting_worse_page() -> ResponseReturnValue:
    """Every marked place through twelve weeks."""
    return render_template("body/getting_worse.html", page=getting_worse.getting_worse_page(context()))


@bp.get("/beside", endpoint="beside")
def beside_page() -> ResponseReturnValue:
    """A series beside the places, opened."""
    shown = watched_series.watched_series_page(context(), request.args.get("series", DIARY[0]))
    return render_template("body/beside.html", page=shown)


@bp.post("/place/<region>/<side>")
@refusing(place, of_address=True)
def answer_sign(region: str, side: str) -> ResponseReturnValue:
    signs.answer(context(), region, side, request.form.get("answer", ""), request.form.get("note", ""))
    return redirect(url_for(".place", region=region, side=side))


@bp.post("/place/<region>/<side>/plan")
@refusing(place, of_address=True)
def take_plan(region: str, side: str) -> ResponseReturnValue:
    signs.take_plan(context(), region, side)
    return redirect(url_for(".place", region=region, side=side))


@bp.post("/sign/<uid>/ended")
def end_cause(uid: str) -> ResponseReturnValue:
    signs.end_cause(context(), uid)
    return redirect(url_for("today.index"))


@bp.get("/known", endpoint="known")
def known_page(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    d = context()
    return render_template(
        "body/known.html",
        shown=known.shown(d),
        choices=known.choices(d),
        level_max=LEVEL_MAX,
        typed=request.form,
        reviewed=uid,
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.post("/known")
@refusing(known_page)
def write_known() -> ResponseReturnValue:
    known.write(context(), request.form)
    return redirect(url_for(".known"))


@bp.post("/known/<uid>")
@refusing(known_page, of_address=True)
def review_known(uid: str) -> ResponseReturnValue:
    known.review(context(), uid, request.form)
    return redirect(url_for(".known"))


@bp.post("/known/<uid>/end")
def end_known(uid: str) -> ResponseReturnValue:
    known.end(context(), uid)
    return redirect(url_for(".known"))


@bp.get("/self-checks", endpoint="self_checks")
def self_checks_page(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return render_template("body/self_checks.html", checks=self_checks.shown(context()), problem=problem), code


@bp.post("/self-checks")
@refusing(self_checks_page)
def write_self_check() -> ResponseReturnValue:
    check = self_checks.answer(context(), request.form.get("check", ""), request.form.get("said", ""))
    if request.form.get("said") == "differs":
        return redirect(url_for(".index", timing="daily", flag=check.flag or None))
    return redirect(url_for(".self_checks"))
