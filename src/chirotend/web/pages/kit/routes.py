"""G Hands & kit: hands measured one by one, the kit and what is due, the room, the fitting bench, the library."""

from functools import partial

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.plan.suits import STATES
from chirotend.core.record.words import KIT_KINDS
from chirotend.library.loader import families
from chirotend.library.schema import EXERCISE_STAGES, MOTIONS
from chirotend.services.context import FieldError
from chirotend.services.kit import equipment_bench, hands, own_library, things
from chirotend.services.kit.profile import ANSWERS, ROOM, profile, say
from chirotend.services.record import corrections
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.transaction import context

bp = Blueprint("kit", __name__, url_prefix="/kit")
LIBRARY_TITLES = {"instrument": "Instruments", "grip": "Grips and holds", "exercise": "Exercises"}


def _page(tab: str, problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    typed = request.values
    try:
        shown = equipment_bench.equipment_bench(d, tab, typed)
    except FieldError as error:
        if fields.is_part():
            return render_template("kit/_equipment_bench_refused.html", problem=error), 422
        problem, code = error, 422
        shown = equipment_bench.equipment_bench(
            d, tab, {k: typed[k] for k in ("choice", "other", "system") if k in typed}
        )
    if fields.is_part():
        return render_template("kit/_equipment_bench.html", bench=shown)
    return render_template(
        "kit/index.html",
        bench=shown,
        tabs=equipment_bench.TABS,
        nothing_of_own=equipment_bench.own_tab(context()) is None,
        tab=tab,
        measured=hands.measured(d),
        pairs=hands.PAIR_WORDS,
        findings=hands.findings(profile(d)),
        things=things.kit(d),
        me=profile(d),
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.get("/")
@bp.get("/bench/<tab>")
def index(tab: str = "") -> ResponseReturnValue:
    return _page(tab or equipment_bench.own_tab(context()) or "carry")


@bp.post("/bench/carry/keep")
@refusing(partial(_page, "carry"))
def keep() -> ResponseReturnValue:
    equipment_bench.save_as_baseline(context(), request.form)
    return redirect(url_for(".index", tab="carry", choice=request.form.get("choice", "")))


@bp.get("/hands")
def measure(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    values = {s: hands.known_values(d, s) for s in hands.SIDES}
    return render_template(
        "kit/hands.html",
        values=values,
        typed=request.form,
        pairs=hands.PAIR_WORDS,
        tests={kind: hands.self_test_picture(kind) for kind in ("little", "ring")},
        spans={s: hands.span_words(h) for s, h in hands.measured(d).hands.items()},
        me=profile(d),
        answers=ANSWERS,
        problem=problem,
    ), code


@bp.post("/hands")
@refusing(measure)
def write_hands() -> ResponseReturnValue:
    d = context()
    for side in hands.SIDES:
        start = f"{side}."
        typed = {k.removeprefix(start): v for k, v in request.form.items() if k.startswith(start)}
        hands.measure(d, side, typed)
    names = ("dominant", "mirrored", "cold_hands", "little_left", "little_right", "weak_hand")
    say(d, **{n: request.form.get(n, "") for n in names}, injuries=request.form.get("injuries", "").strip())
    return redirect(url_for(".index"))


@bp.get("/left-out")
def left_out(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    me = profile(context())
    return render_template(
        "kit/left_out.html",
        questions=STATES,
        answers=ANSWERS,
        said={name: getattr(me, name) for name in STATES},
        typed=request.form,
        problem=problem,
    ), code


@bp.post("/left-out")
@refusing(left_out)
def write_left_out() -> ResponseReturnValue:
    asked = {} if "later" in request.form else {name: request.form.get(name, "") for name in STATES}
    say(context(), **asked, states_asked="yes")
    then = request.values.get("then") == "warm-up"
    return redirect(url_for("today.warm_up" if then else "today.index"))


@bp.get("/room")
def room(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return render_template("kit/room.html", me=profile(context()), room=ROOM, answers=ANSWERS, problem=problem), code


@bp.post("/room")
@refusing(room)
def write_room() -> ResponseReturnValue:
    say(context(), **{name: request.form.get(name, "") for name in ROOM})
    return redirect(url_for(".index"))


@bp.get("/thing")
@bp.get("/thing/<uid>")
def thing(problem: FieldError | None = None, code: int = 200, uid: str | None = None) -> ResponseReturnValue:
    d = context()
    old = things.thing(d, uid) if uid else None
    return render_template(
        "kit/thing.html",
        old=old,
        typed=request.form,
        kinds=KIT_KINDS,
        instruments=own_library.instruments(d),
        own=d.player.instruments,
        problem=problem,
    ), code


@bp.post("/thing")
@bp.post("/thing/<uid>")
@refusing(thing, of_address=True)
def write_thing(uid: str | None = None) -> ResponseReturnValue:
    things.write(context(), uid, request.form)
    return redirect(url_for(".index"))


@bp.post("/thing/<uid>/delete")
def delete_thing(uid: str) -> ResponseReturnValue:
    corrections.delete(context(), "kit", uid)
    return redirect(url_for(".index"))


@bp.get("/library/<kind>")
def library(kind: str) -> ResponseReturnValue:
    d = context()
    items = own_library.everything(d, kind)
    family = request.args.get("family", "")
    if family:
        items = {k: i for k, i in items.items() if family in own_library.families_of(i)}
    return render_template(
        "kit/library.html",
        kind=kind,
        titles=LIBRARY_TITLES,
        items=items,
        own={k for k in items if own_library.is_own(d, kind, k)},
        families=families(),
        family=family,
        undo=corrections.offered(d),
    )


@bp.get("/library/<kind>/new")
def add(problem: FieldError | None = None, code: int = 200, kind: str = "") -> ResponseReturnValue:
    own_library.everything(context(), kind)
    return render_template(
        "kit/add.html",
        kind=kind,
        titles=LIBRARY_TITLES,
        families=families(),
        stages=EXERCISE_STAGES,
        motions=[m for m in MOTIONS if m != "none"],
        zones=own_library.zone_names(),
        typed=request.form,
        problem=problem,
    ), code


@bp.post("/library/<kind>/new")
@refusing(add, of_address=True)
def write_own(kind: str) -> ResponseReturnValue:
    own_library.add(context(), kind, own_library.document_of(kind, request.form))
    return redirect(url_for(".library", kind=kind))


@bp.post("/library/<kind>/<uid>/delete")
def remove(kind: str, uid: str) -> ResponseReturnValue:
    own_library.remove(context(), kind, uid)
    return redirect(url_for(".library", kind=kind))
