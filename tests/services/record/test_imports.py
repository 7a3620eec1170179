"""Bringing a log and taking it away: shown first, then all or nothing; what goes out comes back byte for byte."""

import json
from collections.abc import Sequence
from datetime import date, timedelta

import pytest

from chirotend.core.record import DayNote
from chirotend.demo.scenario import bring_diary
from chirotend.services.body import checks
from chirotend.services.call import overrules
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.play import running_session
from chirotend.services.record import corrections, exports, log
from chirotend.services.record.bring import answers, jobs, save, uploads
from chirotend.services.server.worker import Worker
from chirotend.services.today.week import week_of
from chirotend.store import jobs as jobs_of
from chirotend.store.models import JobRow, KitRow

SESSIONS = b"day,start,minutes,effort\n2026-11-10,10:00,60,4\n2026-11-11,10:00,45,5\n"
SYMPTOMS = b"day,timing,zone,side,kind,intensity\n2026-11-11,waking,thumb_base_joint,left,tension,3\n"


@pytest.fixture
def worker(app, clock) -> Worker:
    return app.extensions["worker"]


def _begin(context: Context, worker: Worker, files: Sequence[tuple[str, bytes]]) -> str:
    uid, names = uploads.put(files, worker.uploads)
    uploads.begin(context, uid, names)
    return uid


def read(context: Context, worker: Worker, *files: tuple[str, bytes]) -> JobRow:
    """Upload and read; returns the job at its question, or at its end if it cannot be read."""
    uid = _begin(context, worker, files)
    context.db.commit()
    assert worker.run_one()
    context.db.expire_all()
    return uploads.job_of(context, uid)


def confirm(context: Context, worker: Worker, job: JobRow, leave_bad_out: bool = False, **typed: str) -> JobRow:
    """Answer what was shown as the page would, confirm and save; returns the job at its end."""
    said = {name.replace("__", "."): [value] for name, value in typed.items()}
    jobs.keep(context, job.uid, jobs.read_again(context, job.uid, said, worker.uploads))
    context.db.commit()
    worker.run_one()  # a large file is read again in the background
    context.db.expire_all()
    left_out = {"leave_bad_out": [str(job.result["bad_count"])]} if leave_bad_out else {}
    assert jobs.read_again(context, job.uid, left_out, worker.uploads) is None
    jobs.confirm(context, job.uid, left_out)
    context.db.commit()
    assert worker.run_one()
    context.db.expire_all()
    return uploads.job_of(context, job.uid)


def bring(context: Context, worker: Worker, *files: tuple[str, bytes], leave_bad_out: bool = False) -> JobRow:
    """Upload, read, confirm and save; returns the job at its end (or as it failed)."""
    job = read(context, worker, *files)
    return confirm(context, worker, job, leave_bad_out) if job.state == "ready" else job


def test_nothing_is_saved_before_it_is_confirmed_and_duplicates_are_recognised(context, worker):
    job = read(context, worker, ("sessions.csv", SESSIONS), ("symptoms.csv", SYMPTOMS))
    assert (job.state, job.result["sessions"], job.result["symptoms"]) == ("ready", 2, 1)
    assert context.store.first_day() is None
    confirm(context, worker, job)
    assert context.store.counts()["session"] == 2 and not (worker.uploads / job.uid).exists()
    again = bring(context, worker, ("sessions.csv", SESSIONS), ("symptoms.csv", SYMPTOMS))
    assert again.result["sessions"] == 0 and again.result["known"] == {"sessions": 2, "checks": 1, "days": 0}
    assert context.store.counts()["session"] == 2


def test_bad_rows_must_be_left_out_expressly(context, worker):
    bad = SESSIONS + b"2026-11-12,10:00,1620,4\n2026-11-09,10:00,30,11\n"
    job = read(context, worker, ("sessions.csv", bad))
    assert job.result["bad_count"] == 2
    with pytest.raises(FieldError, match="leave them out"):
        jobs.confirm(context, job.uid, {})
    assert confirm(context, worker, job, leave_bad_out=True).state == "done"
    assert context.store.counts()["session"] == 2


def test_a_check_written_before_gains_only_what_is_new(context, worker):
    checks.write_marks(
        context, checks.TypedMarks(["thumb_base_joint.left"], "tension", 5, ["waking"]), date(2026, 11, 11)
    )
    more = SYMPTOMS + b"2026-11-11,waking,neck_back,left,stiffness,2\n"
    assert bring(context, worker, ("symptoms.csv", more)).result["joined"] == 1
    entries = context.store.check(date(2026, 11, 11), "waking").entries
    assert [(e.zone, e.intensity) for e in entries] == [("thumb_base_joint", 5), ("neck_back", 2)]


def test_a_session_that_overlaps_a_written_one_and_a_day_note_that_differs_are_left_alone(context, worker):
    bring(context, worker, ("sessions.csv", SESSIONS))
    log.write_day(context, date(2026, 11, 8), True, "travel")
    files = ("sessions.csv", b"day,start,minutes\n2026-11-11,10:30,60\n"), ("days.csv", b"day,note\n2026-11-08,other\n")
    job = read(context, worker, *files)
    assert job.result["bad_count"] == 1
    assert [(c["key"], c["taken"]) for c in job.result["changes"]] == [("day 2026-11-08", False)]
    confirm(context, worker, job, leave_bad_out=True)
    assert context.store.note(date(2026, 11, 8)) == DayNote(date(2026, 11, 8), True, note="travel")


@pytest.mark.parametrize(
    ("name", "data", "sentence"),
    [
        ("log.csv", b"\x01\x02\x03", "no column of it holds days"),
        ("sessions.csv", b"\x89PNG\r\n\x00\x00\x00\rIHDR", "neither a table nor text"),
        ("all.json", b'{"format": "chirotend-record", "version": 1, "sess', "breaks off"),
        ("all.json", b'{"format": "other"}', "not a record exported from here"),
        ("all.json", b'{"format": "chirotend-record", "version": 1, "sessions": [{"uid": "a"}]}', "sessions number 1"),
    ],
)
def test_what_cannot_be_read_is_said_and_nothing_is_saved(context, worker, name, data, sentence):
    job = bring(context, worker, (name, data))
    assert job.state == "failed" and sentence in job.result["error"]
    assert context.store.first_day() is None


def test_a_running_import_can_be_stopped_and_leaves_nothing(context, worker):
    rows = b"".join(b"2026-%02d-%02d,30,4\n" % (1 + n % 9, 1 + n % 28) for n in range(3000))
    uid = _begin(context, worker, [("sessions.csv", b"day,minutes,effort\n" + rows)])
    context.db.commit()
    worker.stop_job(uid)
    worker.run_one()
    context.db.expire_all()
    assert uploads.job_of(context, uid).state == "cancelled" and context.store.first_day() is None


def test_a_job_of_another_player_is_not_there(context, worker):
    with pytest.raises(NotThere):
        uploads.job_of(context, "0" * 32)
    with pytest.raises(FieldError, match="Choose a file"):
        _begin(context, worker, [("", b"")])
    with pytest.raises(FieldError, match="is empty"):
        _begin(context, worker, [("a.csv", b"")])


def test_export_import_export_is_byte_identical(context, worker):
    bring_diary(context, "bassoonist")
    todays_call(context)
    overrules.overrule(context, "open", "=SUM(the strap is mended)")
    session = context.store.sessions(context.today - timedelta(days=1), context.today)[0]
    corrections.put(context, log.replace(session, question="@conductor: softer?"))
    corrections.delete(context, "session", context.store.sessions()[0].uid)
    running_session.start(context, "bassoon", "warm-up")
    everything, tables = exports.everything(context), exports.csv_files(context)
    exports.delete_everything(context, worker.uploads)
    assert set(context.store.counts().values()) == {0}
    context.player.name = "Somebody else"
    context.db.commit()
    assert bring(context, worker, ("all.json", everything.encode())).state == "done"
    assert exports.everything(context) == everything and exports.csv_files(context) == tables
    assert context.player.name == "Ilse"


def test_an_interrupted_job_begins_again(context, worker):
    uid = _begin(context, worker, [("sessions.csv", SESSIONS)])
    uploads.job_of(context, uid).state = "running"
    context.db.commit()
    assert not worker.run_one()
    worker.recover()
    worker.run_one()
    context.db.expire_all()
    assert uploads.job_of(context, uid).state == "ready"


def test_a_cancelled_saving_stays_cancelled_through_a_restart(context, worker):
    uid = _begin(context, worker, [("sessions.csv", SESSIONS)])
    context.db.commit()
    worker.run_one()
    context.db.expire_all()
    jobs.confirm(context, uid, {})
    uploads.cancel(context, uid, worker.uploads)
    context.db.commit()
    fresh = Worker(worker.open_db, worker.clock, worker.uploads, worker.blobs)
    fresh.recover()
    fresh.run_one()
    context.db.expire_all()
    assert uploads.job_of(context, uid).state == "cancelled" and context.store.first_day() is None


def test_a_job_whose_files_are_gone_says_why_and_the_next_one_runs(context, worker):
    lost = _begin(context, worker, [("sessions.csv", SESSIONS)])
    (worker.uploads / lost / "0").unlink()
    good = _begin(context, worker, [("sessions.csv", SESSIONS)])
    context.db.commit()
    assert worker.run_one() and worker.run_one()
    context.db.expire_all()
    assert uploads.job_of(context, lost).state == "failed"
    assert "could not be read again" in uploads.job_of(context, lost).result["error"]
    assert uploads.job_of(context, good).state == "ready"


LATE, EARLY = "2026-11-10T03:30", "2026-11-10T04:30"


@pytest.mark.parametrize(("there", "brought"), [(EARLY, LATE), (LATE, EARLY)])
def test_a_session_that_runs_into_the_next_practice_day_is_seen_to_overlap(context, worker, there, brought):
    """A practice day ends at four: half past three and half past four lie on two days, an hour apart."""
    header = b"start,minutes,effort\n"
    bring(context, worker, ("sessions.csv", header + f"{there},90,4\n".encode()))
    job = read(context, worker, ("sessions.csv", header + f"{brought},90,4\n".encode()))
    assert "falls into a session written before" in job.result["bad"][0] and context.store.counts()["session"] == 1


HEADER = b"start,minutes,instrument,effort,went_well\n"


def test_what_a_known_session_says_now_is_shown_and_applied(context, worker):
    bring(context, worker, ("sessions.csv", HEADER + b"2026-10-01T10:30,60,bassoon,4,\n"))
    same = read(context, worker, ("sessions.csv", HEADER + b"2026-10-01T10:30,60,bassoon,,\n"))
    assert same.result["changes"] == []  # what is left empty says nothing else
    job = read(context, worker, ("sessions.csv", HEADER + b"2026-10-01T10:30,60,bassoon,9,even\n"))
    assert [c["said"] for c in job.result["changes"]] == [["effort 4 → 9", "“” → “even”"]]
    assert confirm(context, worker, job).result["changed"] == 1
    assert [(s.effort, s.went_well) for s in context.store.sessions()] == [(9, "even")]


def test_a_change_without_its_tick_and_one_of_what_she_mended_herself_stay_out(context, worker):
    rows = b"2026-10-01T10:30,60,bassoon,4,\n2026-10-02T10:30,60,bassoon,4,\n"
    bring(context, worker, ("sessions.csv", HEADER + rows))
    second = context.store.sessions()[1]
    corrections.put(context, log.replace(second, effort=6.0))
    job = read(context, worker, ("sessions.csv", HEADER + rows.replace(b",4,", b",9,")))
    assert [c["taken"] for c in job.result["changes"]] == [True, False]
    confirm(context, worker, job, **{f"change__{job.result['changes'][0]['key']}": "no"})
    assert [s.effort for s in context.store.sessions()] == [4, 6]


def test_two_previews_confirmed_in_turn_count_what_they_wrote(context, worker):
    first, second = (read(context, worker, ("sessions.csv", SESSIONS)) for _ in range(2))
    assert confirm(context, worker, first).result["sessions"] == 2
    told = confirm(context, worker, second).result
    assert (told["sessions"], told["known"]["sessions"], context.store.counts()["session"]) == (0, 2, 2)


DIARY = b"Date,Minutes,Effort,left thumb\n12.10.2026,60,7,2\n13.10.2026,45,5,3\n13.10.2026,45,5,3\n14.10.2026,30,3,0\n"


def sessions(context: Context) -> list[tuple[int, float, float | None]]:
    return [(s.day.day, s.minutes, s.effort) for s in context.store.sessions()]


def test_the_same_diary_longer_sorted_otherwise_and_mended_brings_only_what_is_new(context, worker):
    bring(context, worker, ("d.csv", DIARY))
    assert sessions(context) == [(12, 60, 7), (13, 45, 5), (14, 30, 3)]
    head, *rows = DIARY.splitlines(keepends=True)
    again = head + b"15.10.2026,20,2,0\n" + b"".join(reversed(rows)).replace(b"14.10.2026,30,3", b"14.10.2026,35,3")
    job = read(context, worker, ("d.csv", again))
    assert (job.result["sessions"], job.result["known"]["sessions"]) == (1, 2)
    assert [c["said"] for c in job.result["changes"]] == [["30 → 35 minutes"]]
    confirm(context, worker, job)
    assert sessions(context) == [(12, 60, 7), (13, 45, 5), (14, 35, 3), (15, 20, 2)]


def test_rows_that_look_like_what_is_there_are_a_question(context, worker):
    log.write_session(context, log.TypedSession(date(2026, 10, 12), 60.0, None, None, "", "repertoire"), None)
    job = read(context, worker, ("d.csv", DIARY))
    assert (job.result["alike"], job.result["sessions"]) == (1, 2)
    assert confirm(context, worker, job, alike="new").result["sessions"] == 3
    assert len(sessions(context)) == 4


def test_doubles_in_one_file_are_a_question(context, worker):
    job = read(context, worker, ("d.csv", DIARY))
    assert [q["code"] for q in job.result["tables"]["0"]["questions"]] == ["strength_of", "unsaid_kind", "doubles"]
    assert confirm(context, worker, job, doubles__0="both").result["sessions"] == 4


def test_an_import_is_taken_back_and_what_was_changed_since_stays(context, worker, clock):
    bring(context, worker, ("d.csv", DIARY))
    before = exports.csv_files(context)
    more = DIARY.replace(b"60,7,2", b"60,8,6") + b"16.10.2026,70,5,1\n17.10.2026,80,5,1\n"
    job = bring(context, worker, ("d.csv", more))
    assert len(sessions(context)) == 5 and sessions(context)[0] == (12, 60, 8)
    assert save.take_back(context, job.uid) == 0
    assert exports.csv_files(context) == before
    again = bring(context, worker, ("d.csv", more))
    mended = context.store.sessions()[-1]
    corrections.put(context, log.replace(mended, question="which reed?"))
    assert save.take_back(context, again.uid) == 1
    assert [s.day.day for s in context.store.sessions()] == [12, 13, 14, 17]
    with pytest.raises(NotThere):
        save.take_back(context, again.uid)


def test_taking_back_ends_after_thirty_days(context, worker, clock):
    job = bring(context, worker, ("d.csv", DIARY))
    clock.on(days=31)
    worker.tidy()
    later = Context(context.db, context.player, clock())
    assert save.brought(later) == []
    with pytest.raises(NotThere):
        save.take_back(later, job.uid)


def test_what_was_said_of_a_diary_holds_for_the_next_one_of_its_shape(context, worker):
    head = b"Wann;Spiel;Bauch\n"
    job = read(context, worker, ("d.csv", head + b"12.10.2026;60 min;xyz\n"))
    confirm(context, worker, job, **{"column__0__2__meaning": "symptom"})
    job = read(context, worker, ("d.csv", head + b"13.10.2026;60 min;xyz\n"))
    assert [c["meaning"] for c in job.result["tables"]["0"]["columns"]] == ["day", "minutes", "symptom"]
    confirm(context, worker, job, **{"word__zone xyz": "jaw_joint", "unsaid_side__0": "left"})
    assert [e.zone for c in context.store.record().checks for e in c.entries] == ["jaw_joint"]
    job = read(context, worker, ("d.csv", head + b"14.10.2026;60 min;xyz\n"))
    assert (job.result["words"]["zone xyz"], job.result["symptoms"]) == ("jaw_joint", 1)


def test_a_row_is_mended_or_left_out_on_the_page_and_as_a_file(context, worker):
    job = read(context, worker, ("d.csv", DIARY + b"31.11.2026,60,4,1\n18.10.2026,700,4,1\n"))
    assert job.result["bad_count"] == 1 and job.result["tables"]["0"]["odd_count"] == 1
    rows = jobs.rows_left(context, job.uid, worker.uploads)
    assert rows.splitlines()[1].startswith('31.11.2026,60,4,1,"Date: a day that exists')
    assert read(context, worker, ("m.csv", rows.replace("31.11", "30.10").encode())).result["sessions"] == 1
    done = confirm(context, worker, job, **{"mend__0__6__0": "30.10.2026", "odd__0__7": "out"})
    assert (done.state, done.result["sessions"]) == ("done", 4)


def test_a_diary_waits_for_no_sensor_that_is_read(context, worker):
    jobs_of.queue(context.db, context.player.id, jobs_of.DEVICE, {"probe": "x"}, context.now - timedelta(minutes=9))
    uid = _begin(context, worker, [("sessions.csv", SESSIONS)])
    context.db.commit()
    assert jobs_of.next_waiting(context.db).kind == jobs_of.DEVICE
    assert worker.run_one(jobs_of.OF_FILES)
    context.db.expire_all()
    assert uploads.job_of(context, uid).state == "ready"
    assert not worker.run_one(jobs_of.OF_FILES) and worker.run_one(jobs_of.OF_DEVICES)


def test_an_answer_that_was_never_offered_is_refused(context, worker):
    job = read(context, worker, ("d.csv", DIARY))
    for name, value in (
        ("column.0.1.meaning", "nonsense"),
        ("column.0.9.meaning", "note"),
        ("column.5.1.meaning", "note"),
        ("order.0", "year"),
        ("effort_of.0", "7"),
        ("word.zone thumb", "tail"),
        ("encoding.0", "ebcdic"),
        ("zone.0", "Europe/Nowhere"),
    ):
        with pytest.raises(FieldError, match="none of those offered"):
            jobs.read_again(context, job.uid, {name: [value]}, worker.uploads)


@pytest.fixture
def elsewhere(context, worker) -> str:
    """The text of a whole record, with a kit, made here and deleted since."""
    bring_diary(context, "bassoonist")
    corrections.put_row(context, "kit", KIT | {"uid": "strap", "name": "Seat strap"})
    text = exports.everything(context)
    exports.delete_everything(context, worker.uploads)
    context.db.commit()
    return text


KIT = {
    "kind": "strap",
    "instrument": "bassoon",
    "note": "",
    **dict.fromkeys(("mass_g", "length_mm", "balance_mm", "setting_mm", "service_on", "service_months", "back_on")),
}


def test_a_whole_record_is_added_to_one_that_is_not_empty_and_taken_back(context, worker, elsewhere):
    corrections.put_row(context, "kit", KIT | {"uid": "strap", "name": "Neck strap"})
    bring(context, worker, ("d.csv", DIARY))
    before = exports.everything(context)
    job = read(context, worker, ("all.json", elsewhere.encode()))
    told = job.result
    assert told["whole"] == "add" and told["added"].get("kit") is None and told["sessions"] > 300
    confirm(context, worker, job)
    assert [row.name for row in context.store.repository(KitRow).all()] == ["Neck strap"]
    assert save.take_back(context, job.uid) == 0
    assert exports.everything(context) == before


def test_a_whole_record_replaces_everything_and_what_was_there_comes_back(context, worker, elsewhere):
    corrections.put_row(context, "kit", KIT | {"uid": "chair", "kind": "chair", "name": "Pit chair"})
    bring(context, worker, ("d.csv", DIARY))
    before = exports.everything(context)
    job = read(context, worker, ("all.json", elsewhere.encode()))
    assert job.result["behind"] == {"changes": 1}
    done = confirm(context, worker, job, whole="replace")
    assert done.state == "done" and exports.everything(context) == elsewhere
    save.take_back(context, job.uid)
    assert exports.everything(context) == before


def wrong(text: str, table: str, **values: object) -> bytes:
    found = json.loads(text)
    found[table][0] |= values
    return json.dumps(found).encode()


@pytest.mark.parametrize(
    ("table", "values", "path"),
    [
        ("checks", {"red_flags": ["headache"]}, "checks number 1"),
        ("checks", {"entries": [{"zone": "tail", "side": "left", "kind": "pain", "intensity": 3}]}, "checks number 1"),
        ("kit", {"kind": "hat"}, "kit number 1: kind"),
        ("habits", {"document": {"zone thumb": "tail"}}, "habits number 1"),
    ],
)
def test_a_word_that_nothing_here_knows_refuses_the_file_with_its_path(context, worker, elsewhere, table, values, path):
    text = json.loads(elsewhere)
    text["habits"] = [{"key": "words", "document": {"zone thumb": "thumb_ball"}}]
    job = read(context, worker, ("all.json", wrong(json.dumps(text), table, **values)))
    assert job.state == "failed" and path in job.result["error"] and context.store.first_day() is None


def test_deleting_everything_takes_what_was_not_confirmed(context, worker):
    job = read(context, worker, ("d.csv", DIARY))
    assert (worker.uploads / job.uid).exists() and [row.uid for row in uploads.pending(context)] == [job.uid]
    exports.delete_everything(context, worker.uploads)
    assert not (worker.uploads / job.uid).exists() and uploads.pending(context) == []


def test_days_without_an_effort_are_written_but_have_no_load(context, worker):
    bring(context, worker, ("d.csv", b"Date;Min\n" + b"".join(b"%d.11.2026;30\n" % day for day in range(7, 13))))
    evidence = todays_call(context).evidence
    week = week_of(evidence)
    assert (week.logged, week.rated, week.running_load) == (6, 0, None)


def test_times_are_read_by_the_clock_she_says(context, worker):
    job = read(context, worker, ("😀" * 80 + ".csv", b"Date;Start;Min\n12.10.2026;10:00;30\n"))
    confirm(context, worker, job, zone__0="Asia/Tokyo")
    assert [s.start_utc.hour for s in context.store.sessions()] == [1]


def test_nothing_of_a_diary_stays_with_its_job_and_what_is_deleted_is_gone_from_what_it_keeps(context, worker):
    checks.write_marks(context, checks.TypedMarks(["neck_back.left"], "tension", 5, ["playing"]), date(2026, 10, 12))
    job = bring(context, worker, ("d.csv", DIARY))
    assert set(job.result) == {"names", "known", "changed", "sessions", "checks", "days", "joined", "bad_count"}
    (kept,) = save.brought(context)
    assert "neck_back" in json.dumps(kept.document)
    corrections.delete(context, "check", "2026-10-12 playing")
    assert "neck_back" not in json.dumps(kept.document)


def test_a_kept_word_is_changed_and_forgotten_but_never_made_nonsense(context):
    answers.keep_words(context, {"zone zwick": "thumb_ball", "kind hp": "rehearsal"})
    answers.change_word(context, "zone zwick", "palm_centre")
    for key, to in (("zone zwick", "rehearsal"), ("zone never", "thumb_ball")):
        with pytest.raises(FieldError, match="Choose one"):
            answers.change_word(context, key, to)
    answers.change_word(context, "kind hp", "")
    assert answers.her_words(context) == {"zone zwick": "palm_centre"}
