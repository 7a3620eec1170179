"""G Hands & kit: hands measured one by one, the kit and what is due, the room, the fitting bench, the library."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.plan.suits import STATES
from chirotend.core.record.words import KIT_KINDS
from chirotend.library.loader import families
from chirotend.library.schema import EXERCISE_STAGES
from chirotend.services.desk import Refused
from chirotend.services.kit import bench, hands, own_library, things
from chirotend.services.kit.profile import ANSWERS, ROOM, profile, say
from chirotend.services.record import corrections
from chirotend.web import fields
from chirotend.web.transaction import desk

bp = Blueprint("kit", __name__, url_prefix="/kit")
LIBRARY_TITLES = {"instrument": "Instruments", "grip": "Grips and holds", "exercise": "Exercises"}


def _page(tab: str, problem: Refused | None = None, code: int = 200) -> ResponseReturnValue:
    d = desk()
    typed = request.values
    try:
        shown = bench.bench(d, tab, typed)
    except Refused as error:
        if fields.is_part():
            return render_template("kit/_bench_refused.html", problem=error), 422
        problem, code = error, 422
        shown = bench.bench(d, tab, {k: typed[k] for k in ("choice", "other", "system") if k in typed})
    if fields.is_part():
        return render_template("kit/_bench.html", bench=shown)
    return render_template(
        "kit/index.html",
        bench=shown,
        tabs=bench.TABS,
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
def index(tab: str = "carry") -> ResponseReturnValue:
    return _page(tab)


@bp.post("/bench/carry/keep")
def keep() -> ResponseReturnValue:
    try:
        bench.keep_as_it_hangs(desk(), request.form)
    except Refused as error:
        return _page("carry", error, 422)
    return redirect(url_for(".index", tab="carry", choice=request.form.get("choice", "")))


@bp.route("/hands", methods=["GET", "POST"])
def measure() -> ResponseReturnValue:
    d = desk()
    problem = None
    if request.method == "POST":
        try:
            for side in hands.SIDES:
                start = f"{side}."
                typed = {k.removeprefix(start): v for k, v in request.form.items() if k.startswith(start)}
                hands.measure(d, side, typed)
            names = ("dominant", "mirrored", "cold_hands", "little_left", "little_right", "weak_hand")
            say(d, **{n: request.form.get(n, "") for n in names}, injuries=request.form.get("injuries", "").strip())
            return redirect(url_for(".index"))
        except Refused as error:
            problem = error
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
    ), 422 if problem else 200


@bp.route("/left-out", methods=["GET", "POST"])
def left_out() -> ResponseReturnValue:
    problem = None
    if request.method == "POST":
        asked = {} if "later" in request.form else {name: request.form.get(name, "") for name in STATES}
        try:
            say(desk(), **asked, states_asked="yes")
            return redirect(url_for("today.index"))
        except Refused as error:
            problem = error
    me = profile(desk())
    return render_template(
        "kit/left_out.html",
        questions=STATES,
        answers=ANSWERS,
        said={name: getattr(me, name) for name in STATES},
        typed=request.form,
        problem=problem,
    ), 422 if problem else 200


@bp.route("/room", methods=["GET", "POST"])
def room() -> ResponseReturnValue:
    problem = None
    if request.method == "POST":
        try:
            say(desk(), **{name: request.form.get(name, "") for name in ROOM})
            return redirect(url_for(".index"))
        except Refused as error:
            problem = error
    return render_template(
        "kit/room.html", me=profile(desk()), room=ROOM, answers=ANSWERS, problem=problem
    ), 422 if problem else 200


@bp.route("/thing", methods=["GET", "POST"])
@bp.route("/thing/<uid>", methods=["GET", "POST"])
def thing(uid: str | None = None) -> ResponseReturnValue:
    d = desk()
    old = things.thing(d, uid) if uid else None
    problem = None
    if request.method == "POST":
        try:
            things.write(d, uid, request.form)
            return redirect(url_for(".index"))
        except Refused as error:
            problem = error
    return render_template(
        "kit/thing.html",
        old=old,
        typed=request.form,
        kinds=KIT_KINDS,
        instruments=own_library.instruments(d),
        own=d.player.instruments,
        problem=problem,
    ), 422 if problem else 200


@bp.post("/thing/<uid>/delete")
def delete_thing(uid: str) -> ResponseReturnValue:
    corrections.delete(desk(), "kit", uid)
    return redirect(url_for(".index"))


@bp.get("/library/<kind>")
def library(kind: str) -> ResponseReturnValue:
    d = desk()
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


@bp.route("/library/<kind>/new", methods=["GET", "POST"])
def add(kind: str) -> ResponseReturnValue:
    own_library.everything(desk(), kind)
    problem = None
    if request.method == "POST":
        try:
            own_library.add(desk(), kind, own_library.document_of(kind, request.form))
            return redirect(url_for(".library", kind=kind))
        except Refused as error:
            problem = error
    return render_template(
        "kit/add.html",
        kind=kind,
        titles=LIBRARY_TITLES,
        families=families(),
        stages=EXERCISE_STAGES,
        zones=own_library.zone_names(),
        typed=request.form,
        problem=problem,
    ), 422 if problem else 200


@bp.post("/library/<kind>/<uid>/delete")
def remove(kind: str, uid: str) -> ResponseReturnValue:
    own_library.remove(desk(), kind, uid)
    return redirect(url_for(".library", kind=kind))
