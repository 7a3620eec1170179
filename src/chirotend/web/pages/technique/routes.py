"""F Technique: the bench, and a page a probe."""

from pathlib import Path
from typing import IO, Any

from flask import Blueprint, current_app, redirect, render_template, request, send_file, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.measure.traces import KINDS as TRACE_KINDS
from chirotend.library.loader import retraining_schools
from chirotend.services.context import FieldError
from chirotend.services.kit import holds
from chirotend.services.kit.profile import profile, say
from chirotend.services.record import corrections
from chirotend.services.technique import (
    awareness,
    bench,
    evenness,
    grip_book,
    least_pressure,
    plugged,
    posture,
    probes,
    reading,
    strokes,
    suggested,
    traces,
)
from chirotend.services.trial import trials
from chirotend.web import fields
from chirotend.web.background import run_jobs
from chirotend.web.field_errors import refusing
from chirotend.web.guard import rules_all_of
from chirotend.web.transaction import commit, context, only_shows, unlocked_context

bp = Blueprint("technique", __name__, url_prefix="/technique")
#: with a sign of rows 1 or 2 open only what ends something, or takes it out, still runs
rules_all_of(
    bp, frozenset(f"technique.{name}" for name in ("stop_pressure", "cancel_job", "delete", "file", "job", "look_at"))
)


def _blobs() -> Path:
    return current_app.extensions["database"].blobs


def _page(template: str, **shown: Any) -> str:
    """A page with a form: what was typed stands in it again, her instruments are offered."""
    return render_template(f"technique/{template}.html", typed=request.form, own=context().player.instruments, **shown)


def _brought(field: str) -> tuple[IO[bytes] | None, str]:
    """The file that came in `field` with its name; None without one."""
    found = request.files.get(field)
    return (found.stream, found.filename or "") if found and (found.filename or found.content_length) else (None, "")


@bp.get("/")
def index() -> ResponseReturnValue:
    undo = corrections.offered(context())
    taken_out = undo if undo and undo.action == "delete" else None
    return render_template("technique/index.html", bench=bench.bench_page(context()), undo=taken_out)


@bp.post("/not-today")
def not_today() -> ResponseReturnValue:
    bench.put_off(context())
    return redirect(url_for(".index"))


@bp.get("/pressure")
def pressure(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    asked = request.values
    return _page(
        "pressure",
        pads=plugged.names(_blobs()),
        choice=least_pressure.choice(context(), asked.get("instrument", ""), asked.get("task", "")),
        problem=problem,
    ), code


@bp.post("/pressure")
@refusing(pressure)
def begin_pressure() -> ResponseReturnValue:
    return redirect(url_for(".search", uid=least_pressure.begin(context(), request.form, plugged.names(_blobs()))))


@bp.get("/pressure/<uid>")
def search(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    shown = least_pressure.least_pressure_page(context(), uid)
    template = "technique/pressed.html" if shown.probe.done else "technique/search.html"
    if fields.is_part() and not shown.probe.done:
        template = "technique/_search.html"
    return render_template(template, page=shown, problem=problem), code


@bp.post("/pressure/<uid>/answer")
@refusing(search, of_address=True)
def answer_pressure(uid: str) -> ResponseReturnValue:
    form = request.form
    number = fields.number("number")
    newton = plugged.pressed(unlocked_context(), _blobs(), uid) or form.get("newton", "")
    least_pressure.answer(context(), uid, -1 if number is None else int(number), form.get("spoke") == "yes", newton)
    return _after_answer(uid)


@bp.post("/pressure/<uid>/back")
def back_pressure(uid: str) -> ResponseReturnValue:
    least_pressure.back(context(), uid)
    return _after_answer(uid)


def _after_answer(uid: str) -> ResponseReturnValue:
    """The search as it stands; a script is sent on when it is over."""
    commit()
    where = url_for(".search", uid=uid)
    if not fields.is_part():
        return redirect(where)
    if probes.probe(context(), uid, least_pressure.KIND).done:
        return "", 200, {"HX-Redirect": where}
    return search(uid=uid)


@bp.post("/pressure/<uid>/stop")
def stop_pressure(uid: str) -> ResponseReturnValue:
    return redirect(url_for(".search", uid=uid) if least_pressure.stop(context(), uid) else url_for(".index"))


@bp.get("/evenness")
def even(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return _page(
        "evenness",
        choice=evenness.choice(context(), request.values.get("instrument", "")),
        problem=problem,
    ), code


@bp.post("/evenness")
@refusing(even, in_script=True)
def bring_sound() -> ResponseReturnValue:
    return _bring(evenness.KIND, ".heard")


def _bring(kind: str, endpoint: str) -> ResponseReturnValue:
    """Read what was brought, before the record is held or in the background; a script is told where to go."""
    found = reading.bring(unlocked_context(), _blobs(), kind, request.form, *_brought(reading.KINDS[kind].field))
    uid, job = reading.keep(context(), found)
    where = url_for(endpoint, uid=uid)
    if job:
        run_jobs()
        where = url_for(".job", uid=job)
    return ({"where": where}, 200) if fields.is_part() else redirect(where)


@bp.get("/job/<uid>")
def job(uid: str) -> ResponseReturnValue:
    row = reading.job_of(context(), uid)
    done, total = current_app.extensions["worker"].progress.get(uid, (0, 100))
    where = url_for(".heard" if row.kind == evenness.KIND else ".traced", uid=str(row.result["probe"]))
    if row.state == "done":
        return ("", 200, {"HX-Redirect": where}) if fields.is_part() else redirect(where)
    template = "technique/_job.html" if fields.is_part() else "technique/job.html"
    return render_template(template, job=row, done=done, total=total)


@bp.post("/job/<uid>/cancel")
def cancel_job(uid: str) -> ResponseReturnValue:
    reading.cancel(context(), uid)
    current_app.extensions["worker"].stop_job(uid)
    return redirect(url_for(".index"))


@bp.get("/evenness/<uid>")
def heard(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    first = request.args.get("round", "")
    shown = evenness.evenness_page(
        context(), uid, int(first) if first.isascii() and first.isdigit() and len(first) < 6 else None
    )
    undo, least = corrections.offered(context()), evenness.OFF_MS
    return render_template("technique/heard.html", page=shown, problem=problem, undo=undo, named_from_ms=least), code


@bp.post("/evenness/<uid>/my-p")
@refusing(heard, of_address=True)
def set_my_p(uid: str) -> ResponseReturnValue:
    evenness.set_my_p(context(), uid)
    return redirect(url_for(".heard", uid=uid))


@bp.get("/posture")
def pictures(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return _page(
        "posture",
        choice=posture.choice(context(), request.values.get("instrument", "")),
        problem=problem,
    ), code


@bp.post("/posture")
@refusing(pictures, in_script=True)
def bring_picture() -> ResponseReturnValue:
    found = request.files.get("picture")
    made = posture.read(found.read() if found else b"")
    uid = posture.begin(context(), _blobs(), request.form, made)
    where = url_for(".posed", uid=uid)
    return ({"where": where}, 200) if fields.is_part() else redirect(where)


@bp.get("/posture/<uid>")
def posed(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    return _posed(posture.posture_page(context(), uid, ghost=request.values.get("ghost", "")), problem=problem), code


def _posed(shown: posture.PosturePage, **said: Any) -> str:
    undo = corrections.offered(context())
    return render_template("technique/posed.html", page=shown, undo=undo, eye=suggested.plugged_in(_blobs()), **said)


@bp.post("/posture/<uid>/suggest")
@refusing(posed, of_address=True)
def suggest_points(uid: str) -> ResponseReturnValue:
    """The picture with points as a model sees them; nothing is kept before she keeps it."""
    only_shows()
    found = suggested.suggest(context(), _blobs(), uid)
    shown = posture.posture_page(context(), uid, {**request.form, **found.typed}, request.form.get("ghost", ""))
    return _posed(shown, said=found.said)


@bp.post("/posture/<uid>/look")
def look_at(uid: str) -> ResponseReturnValue:
    """The angles of the points as they are on the screen; nothing is kept."""
    only_shows()
    try:
        shown = posture.posture_page(context(), uid, request.form, request.form.get("ghost", ""))
    except FieldError as error:
        return {"problem": error.sentence}, 422
    return render_template("technique/_angles.html", page=shown)


@bp.post("/posture/<uid>")
@refusing(posed, of_address=True)
def set_points(uid: str) -> ResponseReturnValue:
    posture.set_points(context(), uid, request.form)
    return redirect(url_for(".posed", uid=posture.next_frame(context(), uid)))


@bp.get("/trace")
def trace(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return _page(
        "trace",
        devices=plugged.names(_blobs()),
        usual_s=plugged.USUAL_S,
        done=list(reversed(probes.of_kind(context(), traces.KIND)))[:12],
        problem=problem,
    ), code


@bp.post("/trace")
@refusing(trace)
def bring_trace() -> ResponseReturnValue:
    return _bring(traces.KIND, ".traced")


@bp.post("/trace/device")
@refusing(trace)
def read_device() -> ResponseReturnValue:
    uid = plugged.begin(context(), _blobs(), request.form)
    run_jobs()
    return redirect(url_for(".job", uid=uid))


@bp.get("/trace/<uid>")
def traced(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    start, end = (_second(request.args.get(name, "")) for name in ("from", "to"))
    return _page(
        "traced",
        page=traces.trace_page(context(), _blobs(), uid, start, end),
        kinds=[(k, traces.NAMES[k]) for k in TRACE_KINDS],
        units=traces.UNITS,
        problem=problem,
        undo=corrections.offered(context()),
    ), code


def _second(text: str) -> float | None:
    try:
        value = float(text)
    except ValueError:
        return None
    return value if 0 <= value <= 86_400 else None


@bp.post("/trace/<uid>/channels")
@refusing(traced, of_address=True)
def describe_trace(uid: str) -> ResponseReturnValue:
    found = traces.worked_out(unlocked_context(), _blobs(), uid, request.form)
    traces.describe(context(), uid, found)
    return redirect(url_for(".traced", uid=uid))


@bp.post("/trace/<uid>/mark")
@refusing(traced, of_address=True)
def mark_trace(uid: str) -> ResponseReturnValue:
    traces.mark(context(), uid, request.form)
    return redirect(url_for(".traced", uid=uid))


@bp.post("/trace/<uid>/sound")
@refusing(traced, of_address=True)
def hear_beside(uid: str) -> ResponseReturnValue:
    traces.hear_beside(context(), uid, request.form)
    return redirect(url_for(".traced", uid=uid))


@bp.get("/strokes")
def all_strokes(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return _page(
        "strokes",
        page=strokes.strokes_page(context()),
        units=tuple(strokes.UNITS),
        problem=problem,
        undo=corrections.offered(context()),
    ), code


@bp.post("/strokes")
@refusing(all_strokes)
def bring_strokes() -> ResponseReturnValue:
    heard, _ = _brought("sound")
    found = strokes.read(unlocked_context(), _blobs(), request.form, *_brought("trace"), heard)
    strokes.keep(context(), *found)
    return redirect(url_for(".all_strokes"))


@bp.get("/awareness")
def looks(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    found = awareness.shown(d)
    return _page(
        "awareness",
        now=awareness.next_look(found),
        shown=found,
        after=awareness.after(request.args.get("after", "")),
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.post("/awareness/<key>")
@refusing(looks)
def answer_look(key: str) -> ResponseReturnValue:
    awareness.answer(context(), key, request.form)
    return redirect(url_for(".looks", after=key))


@bp.get("/grips")
def grips(problem: FieldError | None = None, code: int = 200, instrument: str = "") -> ResponseReturnValue:
    d = context()
    book = grip_book.grip_book_page(d, instrument or request.values.get("instrument", ""))
    return _page(
        "grips",
        book=book,
        tried=trials.of_hold(d, book.instrument),
        retraining=retraining_schools().values(),
        chosen=profile(d).retraining,
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.post("/grips/<instrument>/alternate")
@refusing(grips, of_address=True)
def alternate(instrument: str) -> ResponseReturnValue:
    holds.alternate(context(), instrument, request.form)
    return redirect(url_for(".grips", instrument=instrument))


@bp.post("/grips/<instrument>/retraining")
@refusing(grips, of_address=True)
def choose_retraining(instrument: str) -> ResponseReturnValue:
    say(context(), retraining=request.form.get("retraining", ""))
    return redirect(url_for(".grips", instrument=instrument))


@bp.post("/grips/<instrument>/faults")
@refusing(grips, of_address=True)
def answer_faults(instrument: str) -> ResponseReturnValue:
    grip_book.answer(context(), instrument, request.form)
    return redirect(url_for(".grips", instrument=instrument))


@bp.get("/file/<uid>")
def file(uid: str) -> ResponseReturnValue:
    path, media = probes.file_of(context(), _blobs(), uid)
    return send_file(path, mimetype=media, conditional=True)


@bp.post("/probe/<uid>/delete")
def delete(uid: str) -> ResponseReturnValue:
    probes.delete(context(), uid)
    return redirect(url_for(".index"))
