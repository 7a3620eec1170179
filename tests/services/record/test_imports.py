"""Bringing a log and taking it away: shown first, then all or nothing; what goes out comes back byte for byte."""

from datetime import date, timedelta

import pytest

from chirotend.core.record import DayNote
from chirotend.demo.scenario import bring_diary
from chirotend.services.body import checks
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.play import sitting
from chirotend.services.record import corrections, exports, imports, log
from chirotend.services.server.worker import Worker
from chirotend.services.today import days_call
from chirotend.store.models import JobRow

SESSIONS = b"day,start,minutes,effort\n2026-11-10,10:00,60,4\n2026-11-11,10:00,45,5\n"
SYMPTOMS = b"day,timing,zone,side,kind,intensity\n2026-11-11,waking,thumb_base_joint,left,tension,3\n"


@pytest.fixture
def worker(app, clock) -> Worker:
    return app.extensions["worker"]


def bring(desk: Desk, worker: Worker, *files: tuple[str, bytes], leave_bad_out: bool = False) -> JobRow:
    """Upload, read, confirm and save; returns the job at its end (or at its question, if it cannot be confirmed)."""
    uid = imports.begin(desk, files, worker.uploads)
    desk.db.commit()
    assert worker.run_one()
    desk.db.expire_all()
    row = imports.job_of(desk, uid)
    if row.state == "ready":
        imports.confirm(desk, uid, leave_bad_out)
        desk.db.commit()
        assert worker.run_one()
        desk.db.expire_all()
        row = imports.job_of(desk, uid)
    return row


def test_nothing_is_saved_before_it_is_confirmed_and_duplicates_are_recognised(desk, worker):
    uid = imports.begin(desk, [("sessions.csv", SESSIONS), ("symptoms.csv", SYMPTOMS)], worker.uploads)
    desk.db.commit()
    worker.run_one()
    desk.db.expire_all()
    job = imports.job_of(desk, uid)
    assert (job.state, job.result["sessions"], job.result["symptoms"]) == ("ready", 2, 1)
    assert desk.store.first_day() is None
    imports.confirm(desk, uid, False)
    desk.db.commit()
    worker.run_one()
    assert desk.store.counts()["session"] == 2 and not (worker.uploads / uid).exists()
    again = bring(desk, worker, ("sessions.csv", SESSIONS), ("symptoms.csv", SYMPTOMS))
    assert again.result["sessions"] == 0 and again.result["known"] == {"sessions": 2, "checks": 1, "days": 0}
    assert desk.store.counts()["session"] == 2


def test_bad_rows_must_be_left_out_expressly(desk, worker):
    bad = SESSIONS + b"2026-11-12,10:00,1620,4\n2026-11-09,10:00,30,11\n"
    uid = imports.begin(desk, [("sessions.csv", bad)], worker.uploads)
    desk.db.commit()
    worker.run_one()
    desk.db.expire_all()
    assert imports.job_of(desk, uid).result["bad_count"] == 2
    with pytest.raises(Refused, match="left out"):
        imports.confirm(desk, uid, False)
    assert bring(desk, worker, ("sessions.csv", bad), leave_bad_out=True).state == "done"
    assert desk.store.counts()["session"] == 2


def test_a_check_written_before_gains_only_what_is_new(desk, worker):
    checks.write_marks(desk, checks.TypedMarks(["thumb_base_joint.left"], "tension", 5, ["waking"]), date(2026, 11, 11))
    more = SYMPTOMS + b"2026-11-11,waking,neck_back,left,stiffness,2\n"
    assert bring(desk, worker, ("symptoms.csv", more)).result["joined"] == 1
    entries = desk.store.check(date(2026, 11, 11), "waking").entries
    assert [(e.zone, e.intensity) for e in entries] == [("thumb_base_joint", 5), ("neck_back", 2)]


def test_a_session_that_overlaps_a_written_one_and_a_day_note_that_differs_are_left_alone(desk, worker):
    bring(desk, worker, ("sessions.csv", SESSIONS))
    log.write_day(desk, date(2026, 11, 8), True, "travel")
    files = ("sessions.csv", b"day,start,minutes\n2026-11-11,10:30,60\n"), ("days.csv", b"day,note\n2026-11-08,other\n")
    job = bring(desk, worker, *files, leave_bad_out=True)
    assert job.result["bad_count"] == 1 and job.result["differing_days"] == ["2026-11-08"]
    assert desk.store.note(date(2026, 11, 8)) == DayNote(date(2026, 11, 8), True, note="travel")


@pytest.mark.parametrize(
    ("name", "data", "sentence"),
    [
        ("log.csv", b"\x00\x01\x02", "none of sessions.csv"),
        ("sessions.csv", b"\x00day", "not a text file"),
        ("all.json", b'{"format": "chirotend-record", "version": 1, "sess', "breaks off"),
        ("all.json", b'{"format": "other"}', "not a record exported from here"),
        ("all.json", b'{"format": "chirotend-record", "version": 1, "sessions": [{"uid": "a"}]}', "sessions number 1"),
    ],
)
def test_what_cannot_be_read_is_said_and_nothing_is_saved(desk, worker, name, data, sentence):
    job = bring(desk, worker, (name, data))
    assert job.state == "failed" and sentence in job.result["error"]
    assert desk.store.first_day() is None


def test_a_running_import_can_be_stopped_and_leaves_nothing(desk, worker):
    rows = b"".join(b"2026-%02d-%02d,30,4\n" % (1 + n % 9, 1 + n % 28) for n in range(3000))
    uid = imports.begin(desk, [("sessions.csv", b"day,minutes,effort\n" + rows)], worker.uploads)
    desk.db.commit()
    worker.stop_job(uid)
    worker.run_one()
    desk.db.expire_all()
    assert imports.job_of(desk, uid).state == "cancelled" and desk.store.first_day() is None


def test_a_job_of_another_player_is_not_there(desk, worker):
    with pytest.raises(NotThere):
        imports.job_of(desk, "0" * 32)
    with pytest.raises(Refused, match="Choose a file"):
        imports.begin(desk, [("", b"")], worker.uploads)
    with pytest.raises(Refused, match="is empty"):
        imports.begin(desk, [("a.csv", b"")], worker.uploads)


def test_export_import_export_is_byte_identical(desk, worker):
    bring_diary(desk, "bassoonist")
    days_call.issue(desk)
    days_call.overrule(desk, "open", "=SUM(the strap is mended)")
    session = desk.store.sessions(desk.today - timedelta(days=1), desk.today)[0]
    corrections.put(desk, log.replace(session, question="@conductor: softer?"))
    corrections.delete(desk, "session", desk.store.sessions()[0].uid)
    sitting.start(desk, "bassoon", "warm-up")
    everything, tables = exports.everything(desk), exports.csv_files(desk)
    exports.delete_everything(desk, worker.uploads)
    assert set(desk.store.counts().values()) == {0}
    desk.player.name = "Somebody else"
    desk.db.commit()
    assert bring(desk, worker, ("all.json", everything.encode())).state == "done"
    assert exports.everything(desk) == everything and exports.csv_files(desk) == tables
    assert desk.player.name == "Ilse"


def test_an_interrupted_job_begins_again(desk, worker):
    uid = imports.begin(desk, [("sessions.csv", SESSIONS)], worker.uploads)
    imports.job_of(desk, uid).state = "running"
    desk.db.commit()
    assert not worker.run_one()
    worker.recover()
    worker.run_one()
    desk.db.expire_all()
    assert imports.job_of(desk, uid).state == "ready"


def test_a_cancelled_saving_stays_cancelled_through_a_restart(desk, worker):
    uid = imports.begin(desk, [("sessions.csv", SESSIONS)], worker.uploads)
    desk.db.commit()
    worker.run_one()
    desk.db.expire_all()
    imports.confirm(desk, uid, False)
    imports.cancel(desk, uid, worker.uploads)
    desk.db.commit()
    fresh = Worker(worker.open_db, worker.clock, worker.uploads, worker.blobs)
    fresh.recover()
    fresh.run_one()
    desk.db.expire_all()
    assert imports.job_of(desk, uid).state == "cancelled" and desk.store.first_day() is None


def test_a_job_whose_files_are_gone_says_why_and_the_next_one_runs(desk, worker):
    lost = imports.begin(desk, [("sessions.csv", SESSIONS)], worker.uploads)
    (worker.uploads / lost / "0").unlink()
    good = imports.begin(desk, [("sessions.csv", SESSIONS)], worker.uploads)
    desk.db.commit()
    assert worker.run_one() and worker.run_one()
    desk.db.expire_all()
    assert imports.job_of(desk, lost).state == "failed"
    assert "could not be read again" in imports.job_of(desk, lost).result["error"]
    assert imports.job_of(desk, good).state == "ready"


LATE, EARLY = "2026-11-10T03:30", "2026-11-10T04:30"


@pytest.mark.parametrize(("there", "brought"), [(EARLY, LATE), (LATE, EARLY)])
def test_a_session_that_runs_into_the_next_practice_day_is_seen_to_overlap(desk, worker, there, brought):
    """A practice day ends at four: half past three and half past four lie on two days, an hour apart."""
    header = b"start,minutes,effort\n"
    bring(desk, worker, ("sessions.csv", header + f"{there},90,4\n".encode()))
    job = bring(desk, worker, ("sessions.csv", header + f"{brought},90,4\n".encode()), leave_bad_out=True)
    assert "overlap a session written before" in job.result["bad"][0] and desk.store.counts()["session"] == 1


def test_a_known_session_of_which_the_file_says_something_else_is_told_and_stays(desk, worker):
    header = b"start,minutes,instrument,effort,went_well\n"
    bring(desk, worker, ("sessions.csv", header + b"2026-10-01T10:30,60,bassoon,4,\n"))
    same = bring(desk, worker, ("sessions.csv", header + b"2026-10-01T10:30,60,bassoon,,\n"))
    assert same.result["differing_sessions"] == []  # what is left empty says nothing else
    job = bring(desk, worker, ("sessions.csv", header + b"2026-10-01T10:30,60,bassoon,9,even\n"))
    assert job.result["differing_sessions"] == ["2026-10-01: effort 4 → 9", "2026-10-01: “” → “even”"]
    assert [s.effort for s in desk.store.sessions()] == [4]
