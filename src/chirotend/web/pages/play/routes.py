"""C Play: start, bars and rests, marks with one touch, stop, and the wrap-up."""

from pathlib import Path

from flask import Blueprint, current_app, redirect, render_template, request, send_file, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.plan.rests import presets
from chirotend.core.plan.week_problem import monday
from chirotend.core.record.words import BLOCK_KINDS
from chirotend.core.session.events import CARRIED
from chirotend.library.loader import families
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile
from chirotend.services.plan import week_aims
from chirotend.services.play import bars, running_session, takes, wrapup
from chirotend.services.play.made_marks import ALL_PLACES, NOTES, PLACES, Answered, made_marks
from chirotend.services.play.stand import stand_now
from chirotend.services.record import log
from chirotend.services.score import score_page
from chirotend.services.today.stop import stopped
from chirotend.web import fields
from chirotend.web.field_errors import refusing
from chirotend.web.guard import instead, offers_playing
from chirotend.web.transaction import commit, context, unlocked_context

bp = Blueprint("play", __name__, url_prefix="/play")
EVENTS_AT_ONCE = 500


def _page(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    stand = stand_now(d)
    if stand.stop and not stand.uid:
        return instead(stand.stop)
    if stand.forgotten:
        template = "play/forgotten.html"
    elif stand.state.phase == "stopped":
        template = "play/wrapup.html"
    elif stand.state.live and stand.stop:
        template = "play/_stopped.html" if fields.is_part() else "play/stand.html"
    elif stand.state.live:
        template = "play/_stand.html" if fields.is_part() else "play/stand.html"
    else:
        template = "play/start.html"
    return render_template(
        template,
        stand=stand,
        places=PLACES,
        kinds=BLOCK_KINDS,
        own=d.player.instruments,
        families=families().values(),
        instruments=own_library.instruments(d).values(),
        problem=problem,
        preset=presets()[profile(d).rest_preset or "fixed"],
        all_places=ALL_PLACES,
        made=made_marks(stand.state),
        notes=NOTES,
        aims=[a for a in week_aims.aims(d, monday(d.today)) if not a.done],
        scheduled=bars.todays_blocks(d) if not stand.uid else [],
        manner=profile(d).manner or "soft",
        tick=profile(d).tick == "yes",
        strips=score_page.stand_strips(stand),
    ), code


@bp.get("/")
def index() -> ResponseReturnValue:
    return _page()


@bp.post("/start")
@offers_playing
@refusing(_page)
def start() -> ResponseReturnValue:
    form = request.form
    running_session.start(context(), form.get("instrument", ""), form.get("block_kind", ""), form.get("uid") or None)
    return redirect(url_for(".index"))


@bp.post("/start/plan")
@offers_playing
@refusing(_page)
def start_plan() -> ResponseReturnValue:
    running_session.start_plan(context(), request.form.get("uid") or None)
    return redirect(url_for(".index"))


@bp.post("/events")
def events() -> ResponseReturnValue:
    """Take events as the page made them (JSON list), or one from a plain form.

    A script is told by name which are stored; what it keeps itself it may drop then, and not before.
    """
    if not request.is_json:
        return _one_event()
    sent = request.get_json()
    if not isinstance(sent, list) or len(sent) > EVENTS_AT_ONCE:
        return {"problem": f"A list of at most {EVENTS_AT_ONCE} events."}, 422
    taken = running_session.append(context(), sent)
    commit(call_changes=False)  # what is played counts once it is written in
    return {
        "stored": taken.stored,
        "refused": [{"uid": uid, "problem": sentence} for uid, sentence in taken.refused],
        "part": _part(),
    }


@refusing(_page)
def _one_event() -> ResponseReturnValue:
    taken = running_session.append(context(), [_event_of_form()])
    if taken.refused:
        raise FieldError("events", taken.refused[0][1])
    return redirect(url_for(".index"))


def _part() -> str:
    """The stand as it is now; "" when it gave way to another page."""
    answer = _page()
    return str(answer[0]) if isinstance(answer, tuple) else ""


def _event_of_form() -> dict[str, object]:
    form = request.form
    payload = {k: form[k] for k in CARRIED if form.get(k)}
    return {
        "uid": form.get("uid", ""),
        "session": form.get("session", ""),
        "kind": form.get("kind", ""),
        "device": "page",
        "seq": 0,
        "payload": payload,
    }


@bp.post("/forgotten")
@refusing(_page)
def forgotten() -> ResponseReturnValue:
    running_session.close_forgotten(context(), fields.number("minutes"))
    return redirect(url_for(".index"))


@bp.post("/discard")
def discard() -> ResponseReturnValue:
    running_session.discard(context())
    return redirect(url_for("today.index"))


def _answers() -> wrapup.WrapUp:
    form = request.form
    settled = [
        Answered(key, tuple(form.getlist(f"side-{key}")), strength)
        for key in form.getlist("mark")
        if (strength := fields.number(f"strength-{key}")) is not None
    ]
    holds = {name: form.get(name, "") for name in ("grip", "posture")}
    return wrapup.WrapUp(
        fields.number("effort"),
        form.get("anything", ""),
        settled,
        log.typed_texts(form),
        form.getlist("aims_done"),
        **holds,
    )


@bp.post("/write")
@refusing(_page)
def write() -> ResponseReturnValue:
    try:
        wrapup.write_in(context(), _answers())
    except NotThere:
        return redirect(url_for("today.index"))  # touched twice: the first touch wrote it in
    anything = request.form["anything"]
    return redirect(
        url_for("today.index") if anything == wrapup.NOTHING else url_for("body.index", timing="after", kind=anything)
    )


def _blobs() -> Path:
    return current_app.extensions["database"].blobs


def _takes(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return render_template(
        "play/takes.html",
        page=takes.takes_page(context()),
        own=context().player.instruments,
        problem=problem,
        stop=stopped(context()),
    ), code


@bp.get("/takes")
def all_takes() -> ResponseReturnValue:
    return _takes()


@bp.post("/takes")
@offers_playing
@refusing(_takes, in_script=True)
def record_take() -> ResponseReturnValue:
    sound = request.files.get("sound")
    data, media = (sound.read(), sound.mimetype) if sound else (b"", "")
    put = takes.put(unlocked_context(), _blobs(), data, media, fields.number("seconds"))
    takes.forget_unkept(context())
    takes.record(context(), put, request.form.get("title", ""), request.form.get("instrument", ""))
    return ("", 204) if fields.is_part() else redirect(url_for(".all_takes"))


@bp.get("/takes/<uid>/sound")
def sound(uid: str) -> ResponseReturnValue:
    path, media = takes.sound_of(context(), _blobs(), uid)
    return send_file(path, mimetype=media, conditional=True)


@bp.post("/takes/<uid>/keep")
def keep_take(uid: str) -> ResponseReturnValue:
    takes.keep(context(), uid)
    return redirect(url_for(".all_takes"))


@bp.post("/takes/<uid>/discard")
def discard_take(uid: str) -> ResponseReturnValue:
    name = takes.discard(context(), uid)
    commit()
    takes.drop_files(context(), _blobs(), [name])
    return redirect(url_for(".all_takes"))
