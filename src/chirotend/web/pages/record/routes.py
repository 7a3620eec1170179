"""H Record: write in a past session or day, mend or delete it, bring a log, take everything away."""

from collections.abc import Sequence
from pathlib import Path

from flask import Blueprint, current_app, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf import FlaskForm
from wtforms import SelectField, StringField, TextAreaField
from wtforms.validators import InputRequired, Optional

from chirotend.core.memos import forget_diaries
from chirotend.core.record import Block, DayNote, Session
from chirotend.core.record.session import SESSION_TEXTS
from chirotend.core.record.words import BLOCK_KINDS
from chirotend.drawing import bodymap
from chirotend.services.context import FieldError
from chirotend.services.kit import own_library
from chirotend.services.play import takes
from chirotend.services.record import add_session, corrections, entries, exports, lists, log, months
from chirotend.services.record.bring import answers, jobs, menus, preview, save, uploads
from chirotend.web import fields
from chirotend.web.answers import download
from chirotend.web.background import run_jobs
from chirotend.web.field_errors import refusing, sentences_at
from chirotend.web.transaction import commit, context, let_go, unlocked_context
from chirotend.web.typed import ClockField, DayField, NumberField, choices, fits

#: words of a list that stand on its page at first
MOST_LISTED = 100
bp = Blueprint("record", __name__, url_prefix="/record")


class SessionForm(FlaskForm):
    """A past session."""

    day = DayField("Day", [InputRequired("Choose a day that exists, written YYYY-MM-DD.")])
    start = ClockField("Began at", [Optional()])
    minutes = NumberField("Minutes played", [InputRequired("Type the minutes played, without rests, 1 to 1440.")])
    effort = NumberField("Effort, 0–10", [Optional()])
    instrument = StringField("Instrument", [fits(Block, "instrument")])
    kind = SelectField("Kind", choices=choices((k, k) for k in BLOCK_KINDS), default="repertoire")

    def typed(self) -> log.TypedSession:
        return log.TypedSession(
            self.day.data,
            float(self.minutes.data),
            self.start.data,
            None if self.effort.data is None else float(self.effort.data),
            (self.instrument.data or "").strip(),
            self.kind.data,
            {name: self[name].data or "" for name in SESSION_TEXTS},
        )


for name, label in SESSION_TEXTS.items():
    setattr(SessionForm, name, TextAreaField(label, [fits(Session, name)]))


class DayForm(FlaskForm):
    """A past day."""

    day = DayField("Day", [InputRequired("Choose a day that exists, written YYYY-MM-DD.")])
    off = SelectField("Played?", choices=choices({"yes": "no: a day off", "no": "yes, or not sure"}))
    note = TextAreaField("Note", [fits(DayNote, "note")])


def _form(form: FlaskForm, uid: str, code: int = 200) -> ResponseReturnValue:
    return render_template("record/session.html", form=form, uid=uid, own=context().player.instruments), code


def _home(
    problem: FieldError | None = None, code: int = 200, asked: entries.Wanted | None = None
) -> ResponseReturnValue:
    d = context()
    return render_template(
        "record/index.html",
        pending=uploads.pending(d),
        brought=save.brought(d),
        stay=request.args.get("stay", 0, int),
        her_words=len(answers.her_words(d)),
        found=entries.entries(d, asked) if asked else None,
        months=() if asked else months.months(d),
        wanted=asked or entries.wanted(d, {}),
        kinds=entries.kinds(),
        counts=exports.counts(d),
        first=exports.first_day(d),
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.get("/")
@refusing(_home)
def index() -> ResponseReturnValue:
    return _home(asked=entries.wanted(context(), request.args) if request.args.keys() & entries.WANTED else None)


@bp.get("/session/new")
def new_session(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    own = d.player.instruments
    return render_template(
        "record/add_session.html",
        own=own,
        instruments=[(key, i.name) for key, i in own_library.instruments(d).items()],
        quick=add_session.QUICK_MIN,
        kinds=BLOCK_KINDS,
        held=add_session.held_last(d, request.form.get("instrument") or next(iter(own), "")),
        typed=request.form,
        more_open=any(map(request.form.get, SESSION_TEXTS))
        or (problem is not None and problem.field in ("kind", *SESSION_TEXTS)),
        problem=problem,
    ), code


@bp.post("/session/new")
@refusing(new_session)
def write_new_session() -> ResponseReturnValue:
    day, after = add_session.add(context(), request.form)
    if after == add_session.SHOW:
        return redirect(url_for("body.index", timing="after", day=day.isoformat()))
    return redirect(url_for("today.index") if day == context().today else url_for("record.index"))


@bp.route("/session/<uid>", methods=["GET", "POST"])
def edit_session(uid: str) -> ResponseReturnValue:
    old = log.session_of(context(), uid)
    if request.method == "POST":
        return _save_session(SessionForm(), uid)
    start = old.start_utc.astimezone(context().zone).time().replace(second=0, microsecond=0) if old.start_utc else None
    form = SessionForm(
        data={
            "day": old.day,
            "start": start,
            "minutes": round(old.minutes),
            "effort": old.effort,
            "instrument": old.blocks[0].instrument,
            "kind": old.blocks[0].kind,
            **old.texts(),
        }
    )
    return _form(form, uid)


def _save_session(form: SessionForm, uid: str) -> ResponseReturnValue:
    if form.validate():
        with sentences_at(form):
            session = log.write_session(context(), form.typed(), uid)
            return redirect(url_for("score.detail", day=session.day.isoformat()))
    let_go()
    return _form(form, uid, 422)


@bp.post("/session/<uid>/delete")
def delete_session(uid: str) -> ResponseReturnValue:
    corrections.delete(context(), "session", uid)
    return redirect(url_for(".index"))


@bp.post("/check/<day>/<timing>/delete")
def delete_check(day: str, timing: str) -> ResponseReturnValue:
    key = f"{fields.written_day(day).isoformat()} {timing}"
    corrections.delete(context(), "check", key)
    return redirect(url_for("score.detail", day=day))


@bp.route("/day", methods=["GET", "POST"])
def edit_day() -> ResponseReturnValue:
    form = DayForm()
    if request.method == "GET":
        there = log.day_of(context(), fields.day("day") or context().today)
        form.day.data, form.off.data, form.note.data = there.day, "yes" if there.off else "no", there.note
        return render_template("record/day.html", form=form)
    if form.validate():
        with sentences_at(form):
            log.write_day(context(), form.day.data, form.off.data == "yes", form.note.data or "")
            return redirect(url_for("score.detail", day=form.day.data.isoformat()))
    return render_template("record/day.html", form=form), 422


def _uploads() -> Path:
    found: Path = current_app.extensions["database"].uploads
    return found


@bp.post("/import")
@refusing(_home)
def begin_import() -> ResponseReturnValue:
    files = [(f.filename or "", f.read()) for f in request.files.getlist("files")]
    uid, names = uploads.put(files, _uploads())
    uploads.begin(context(), uid, names)
    run_jobs()
    return redirect(url_for(".import_job", uid=uid))


def _job(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    row = uploads.job_of(context(), uid)
    done, total = current_app.extensions["worker"].progress.get(uid, (0, 0))
    template = "record/_job.html" if request.headers.get("HX-Request") else "record/job.html"
    return render_template(
        template,
        job=row,
        done=done,
        total=total,
        problem=problem,
        again="again" in request.args,
        choices=menus.menus(),
        fortnight=preview.fortnight(context(), row.result),
        maps=bodymap.maps(),
        untouched=frozenset(),
    ), code


@bp.get("/import/<uid>")
def import_job(uid: str) -> ResponseReturnValue:
    """The job as it stands; 422 while something in the files cannot be taken."""
    row = uploads.job_of(context(), uid)
    wrong = row.state == "failed" or (row.state == "ready" and row.result["bad_count"])
    return _job(code=422 if wrong else 200, uid=uid)


@bp.post("/import/<uid>/answer")
@refusing(_job, of_address=True)
def answer_import(uid: str) -> ResponseReturnValue:
    read = jobs.read_again(unlocked_context(), uid, request.form.to_dict(flat=False), _uploads())
    jobs.keep(context(), uid, read)
    run_jobs()
    return _job(uid=uid) if request.headers.get("HX-Request") else redirect(url_for(".import_job", uid=uid))


@bp.post("/import/<uid>/confirm")
@refusing(_job, of_address=True)
def confirm_import(uid: str) -> ResponseReturnValue:
    typed = request.form.to_dict(flat=False)
    read = jobs.read_again(unlocked_context(), uid, typed, _uploads())
    if read is None:
        jobs.confirm(context(), uid, typed)
    else:
        jobs.keep(context(), uid, read)
    run_jobs()
    return redirect(url_for(".import_job", uid=uid, again=1 if read else None))


@bp.post("/import/<uid>/cancel")
def cancel_import(uid: str) -> ResponseReturnValue:
    uploads.cancel(context(), uid, _uploads())
    current_app.extensions["worker"].stop_job(uid)
    return redirect(url_for(".import_job", uid=uid))


@bp.get("/import/<uid>/rows.csv")
def import_rows(uid: str) -> ResponseReturnValue:
    return download(jobs.rows_left(context(), uid, _uploads()).encode(), "text/csv; charset=utf-8", "rows-to-mend.csv")


@bp.post("/import/<uid>/take-back")
def take_back_import(uid: str) -> ResponseReturnValue:
    stay = save.take_back(context(), uid)
    return redirect(url_for(".index", stay=stay or None))


def _words(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    found = sorted([*key.split(" ", 1), to] for key, to in answers.her_words(context()).items())
    return render_template("record/words.html", words=found, choices=menus.menus(), problem=problem), code


@bp.route("/words", methods=["GET", "POST"])
@refusing(_words)
def diary_words() -> ResponseReturnValue:
    if request.method == "POST":
        answers.change_word(context(), request.form.get("word", ""), request.form.get("to", ""))
        return redirect(url_for(".diary_words"))
    return _words()


def _lists(
    problem: FieldError | None = None, code: int = 200, found: Sequence[lists.Written] = (), most: int = MOST_LISTED
) -> ResponseReturnValue:
    asked = {"kind": request.args.get("kind", ""), "search": request.args.get("search", "").strip()}
    return render_template("record/lists.html", found=found, most=most, problem=problem, **asked), code


@bp.get("/lists")
@refusing(_lists)
def kept_lists() -> ResponseReturnValue:
    found = lists.written(context(), request.args.get("kind", ""), request.args.get("search", "").strip())
    return _lists(found=found, most=len(found) if request.args.get("all") else MOST_LISTED)


@bp.get("/export.csv.zip")
def export_csv() -> ResponseReturnValue:
    return download(exports.csv_zip(context()), "application/zip", "practice-log.zip")


@bp.get("/export.json")
def export_json() -> ResponseReturnValue:
    return download(exports.everything(context()).encode(), "application/json", "practice-record.json")


@bp.route("/delete", methods=["GET", "POST"])
def delete_everything() -> ResponseReturnValue:
    if request.method == "POST":
        if request.form.get("sure", "").strip().lower() != "delete":
            error = FieldError("sure", "Type the word delete to go on. There is no undo for this.")
            let_go()
            return render_template("record/delete.html", counts=exports.counts(context()), problem=error), 422
        database = current_app.extensions["database"]
        files = exports.delete_everything(context(), database.uploads)
        commit()
        forget_diaries()
        takes.drop_files(context(), database.blobs, files)
        commit()
        database.empty_the_log()
        return redirect(url_for(".index"))
    return render_template("record/delete.html", counts=exports.counts(context()), problem=None)
