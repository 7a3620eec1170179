"""Every form of the application is sent once as a player would, is taken, and leaves what it says it leaves."""

import io
import re
from collections.abc import Iterator
from datetime import timedelta
from typing import Any

import pytest
from flask import Flask, request, template_rendered
from flask.testing import FlaskClient
from jinja2 import Template
from werkzeug.test import TestResponse

from chirotend.camera.worker import Worker
from chirotend.devices import camera, two_hands
from chirotend.devices.listener import answers
from chirotend.devices.muscle import press, readings
from chirotend.devices.plug import Plug
from chirotend.formats import calendar_reader, musicxml, picture, sandbox, trace
from chirotend.services.account import accounts
from chirotend.services.technique import hearing, plugged, reading, suggested
from chirotend.store.models import (
    AimRow,
    EngagementRow,
    HappeningRow,
    JobRow,
    KitRow,
    MatterRow,
    OwnItemRow,
    PartRow,
    PlannedRow,
    ProbeRow,
    ProfileRow,
    ProgrammeRow,
    ReportRow,
    TakeRow,
    TrialRow,
)
from tests.conftest import add_player, sign_in
from tests.parts import score, simple
from tests.reference.landmarks import landmarks_of
from tests.web.files import silence
from tests.web.steps import another_can_write, probes

CALENDAR = b"""BEGIN:VCALENDAR\r
VERSION:2.0\r
PRODID:-//invented//EN\r
BEGIN:VEVENT\r
UID:octet-1\r
DTSTAMP:20261101T000000Z\r
DTSTART:20261120T180000Z\r
DTEND:20261120T200000Z\r
SUMMARY:Octet rehearsal\r
END:VEVENT\r
END:VCALENDAR\r
"""


class Walk:
    """A player's client that notes which form each post reached, and takes no refusal."""

    def __init__(self, app: Flask, client: FlaskClient, rendered: set[str]) -> None:
        self.app, self.client, self.rendered = app, client, rendered
        self.sent: set[str] = set()

    def post(self, path: str, files: dict | None = None, **form: object) -> TestResponse:
        with self.app.test_request_context(path, method="POST") as context:
            self.sent.add(str(context.request.endpoint))
        answer = self.client.post(path, data={**form, **(files or {})})
        said = re.findall(r"class=\"complaint\"[^>]*>([^<]*)", answer.text)
        assert answer.status_code in (200, 204, 302), (path, answer.status_code, said)
        return answer

    def rows(self, model: type) -> list:
        with self.app.extensions["database"].open_db() as db:
            account = accounts.the_only_account(db)
            found = accounts.context_of(db, account, self.app.extensions["clock"]())
            return found.store.repository(model).all()

    def page(self, path: str = "/") -> str:
        return self.client.get(path, follow_redirects=True).text


@pytest.fixture
def walk(app: Flask, client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> Iterator[Walk]:
    """While a page is rendered, a file read or a device asked, anybody else can write."""
    waited: list[str] = []
    rendered: set[str] = set()

    def render(_app: Flask, template: Template, **_shown: object) -> None:
        rendered.add(f"{request.method} {request.endpoint}")
        if not another_can_write(app):
            waited.append(f"{request.endpoint} renders {template.name}")

    def watched(owner: Any, name: str) -> None:
        """Look whether anybody else can write when a file is read or a device is asked."""
        really = getattr(owner, name)

        def asked(*what: Any, **how: Any) -> Any:
            rendered.add(what[0] if owner is sandbox else name)
            if not another_can_write(app):
                waited.append(f"{request.endpoint} waits for {name} of {what[0]}")
            return really(*what, **how)

        monkeypatch.setattr(owner, name, asked)

    watched(sandbox, "read_file")
    watched(suggested, "landmarks")
    watched(plugged, "_readings")
    with template_rendered.connected_to(render, app):
        walk = Walk(app, client, rendered)
        yield walk
    assert waited == []


def sound() -> tuple[io.BytesIO, str, str]:
    return io.BytesIO(silence(8000)), "take.wav", "audio/wav"


def the_morning(walk: Walk, clock) -> None:
    walk.post("/morning/as-usual")
    assert "No call yet" in walk.page("/")
    walk.post("/morning", sleep="short", hands="cold")
    walk.post("/body/", places="thumb_base_joint.left", kind="pain", intensity="3", timings="playing")
    assert "Muted" in walk.page("/")
    walk.post("/call", to="open", reason="Only a bruise from the case.")
    assert "bruise" in walk.page("/")
    walk.post("/call/back")
    assert "bruise" not in walk.page("/")
    walk.post("/body/rub-out", day="2026-11-12", timing="playing", zone="thumb_base_joint", side="left", kind="pain")
    walk.post("/body/", places="thumb_ball.left", kind="tingling", intensity="2", timings="after", lasting="brief")
    known = {"level": "2", "seen_on": "2026-11-10", "review": "2026-12-20"}
    walk.post("/body/known", what="wrist & thumb|left|tingling", **known)
    assert "Known and stable" in walk.page("/")
    uid = re.search(r"/body/known/(\w+)/end", walk.page("/body/known"))[1]
    walk.post(f"/body/known/{uid}", **{**known, "review": "2026-12-24"})
    assert "24 Dec" in walk.page("/body/known")
    walk.post(f"/body/known/{uid}/end")
    for back in range(40, 0, -1):
        day = (clock().date() - timedelta(days=back)).isoformat()
        walk.post("/body/nothing", timing="waking", day=day)
        if back < 12:
            walk.post("/body/", places="neck_back.left", kind="tension", intensity="2", timings="after", day=day)
    walk.post("/body/place/neck & shoulder/left/plan")
    assert "is watched for two weeks" in walk.page("/body/place/neck & shoulder/left")
    walk.post("/body/place/neck & shoulder/left", answer="acted_on", note="Another chair.")
    assert "Another chair." in walk.page("/body/place/neck & shoulder/left")
    walk.post("/body/place/neck & shoulder/left", answer="known_cause", note="The cold hall.")
    cause = re.search(r'action="/body/sign/(\w+)/ended"', walk.page("/body/place/neck & shoulder/left"))[1]
    walk.post(f"/body/sign/{cause}/ended")
    yesterday = (clock().date() - timedelta(days=1)).isoformat()
    walk.post("/body/", places="jaw_joint.left", kind="tension", intensity="1", timings="waking", day=yesterday)
    walk.post("/morning/same")
    assert "left jaw joint, tightness 1" in walk.page("/")
    assert "Known and stable:" not in walk.page("/")
    walk.post("/body/rub-out", day="2026-11-12", timing="after", zone="thumb_ball", side="left", kind="tingling")
    walk.post("/body/nothing", timing="playing")
    walk.post("/body/self-checks", check="palm_flat", said="same")
    walk.post("/day-off", off="yes")
    assert "day off" in walk.page("/").lower()
    walk.post("/day-off", off="no")
    walk.post("/use", use="typing", use_minutes="30")
    number = re.search(r'action="/undo/(\d+)"', walk.page("/"))
    walk.post(f"/undo/{number[1]}", back="/")
    walk.post("/warm-up", minutes="20", asked="1")
    walk.post("/warm-up/keep", step=re.search(r'name="step" value="([^"]+)"', walk.page("/warm-up"))[1])
    walk.post("/warm-up/afresh")
    walk.post("/warm-up/school", school="open first", manner="soft", long_sticks="")
    walk.post("/curtain/", problem="cold", place="index_mid_palm", side="left", strength="a little", still="no")
    walk.post("/record/check/2026-11-12/waking/delete")


def hands_and_kit(walk: Walk) -> None:
    walk.post("/kit/hands", **{"left.span": "200", "right.span": "205"})
    walk.post("/kit/room", chair="")
    walk.post("/kit/left-out", later="1")
    walk.post("/kit/thing", kind="strap", name="Seat strap")
    uid = walk.rows(KitRow)[0].uid
    walk.post(f"/kit/thing/{uid}", kind="strap", name="Seat strap, leather")
    assert walk.rows(KitRow)[0].name == "Seat strap, leather"
    walk.post("/kit/bench/carry/keep", choice="bassoon_seat")
    walk.post(f"/kit/thing/{uid}/delete")
    walk.post("/kit/library/exercise/new", name="Lap tones", family="all", stage="technique drill")
    own = walk.rows(OwnItemRow)[0]
    walk.post(f"/kit/library/{own.kind}/{own.uid}/delete")
    assert walk.rows(OwnItemRow) == [] and walk.rows(ProfileRow)


def the_week(walk: Walk, clock) -> None:
    week = "2026-11-16"
    walk.post("/plan/habits", from_hour="09:00", to_hour="20:00", rest_preset="fixed")
    walk.post(f"/plan/aim?week={week}", aim_title="Thirds", aim_minutes="60", aim_effort="3", week=week)
    walk.post(f"/plan/lay?week={week}", week=week)
    block = walk.rows(PlannedRow)[0]
    walk.post(f"/plan/block/{block.uid}/move", minutes="30", week=week)
    walk.post(f"/plan/block/{block.uid}/rub-out", week=week)
    assert block.uid not in {row.uid for row in walk.rows(PlannedRow)}
    walk.post(f"/plan/aim/{walk.rows(AimRow)[0].uid}/rub-out", week=week)
    assert walk.rows(AimRow) == []
    walk.post("/plan/engagement", title="Octet", kind="rehearsal", day="2026-11-12", start="08:00", end="09:00")
    made = next(row for row in walk.rows(EngagementRow) if row.title == "Octet")
    again = {"kind": "rehearsal", "day": "2026-11-12", "start": "08:00", "end": "09:00"}
    walk.post(f"/plan/engagement/{made.uid}", title="Nonet", **again)
    walk.post(f"/plan/engagement/{made.uid}/as-planned", effort="4")
    assert any(row.session_uid and row.title == "Nonet" for row in walk.rows(EngagementRow))
    walk.post(f"/plan/engagement/{made.uid}/delete")
    walk.post("/plan/take", line="2026-11-21, 19.00, serenade, 2 h", as_it_stands="yes", reason="A friend plays.")
    walk.post("/plan/calendar", files={"calendar": (io.BytesIO(CALENDAR), "octet.ics")})
    brought = next(row.import_uid for row in walk.rows(EngagementRow) if row.import_uid)
    walk.post(f"/plan/calendar/{brought}/take-back")
    assert not any("Octet" in row.title for row in walk.rows(EngagementRow))
    days = {"source": "tour 20261120", "title": "Tour", "first": "2026-11-20", "last": "2026-11-21"}
    walk.post("/plan/calendar/days", start="10:00", end="13:00", **days)
    assert len([row for row in walk.rows(EngagementRow) if row.title == "Tour"]) == 2


def a_programme(walk: Walk) -> None:
    start = {"why": "layoff", "start_min": "10", "aim_min": "60"}
    walk.post("/plan/programmes/begin/return", **start)
    (row,) = walk.rows(ProgrammeRow)
    walk.post(f"/plan/programmes/{row.uid}/dose", dose="8")
    assert "Today 8 minutes" in walk.page("/plan/programmes/")
    night = {"title": "Night", "kind": "performance", "day": "2026-11-13", "start": "19:00", "end": "22:00"}
    walk.post("/plan/engagement", minutes="100", **night)
    uid = next(row.uid for row in walk.rows(EngagementRow) if row.title == "Night")
    walk.post(f"/plan/programmes/date/{uid}", how="lighten")
    walk.post(f"/plan/programmes/{row.uid}/end", note="Well again.")
    assert "Well again." in walk.page("/plan/programmes/")


def a_trial(walk: Walk) -> None:
    typed = {"what": "a chair", "change": "chair", "measure": "effort||||", "order": "pairs", "days": "12"}
    walk.post("/score/trials/begin", **typed)
    (row,) = walk.rows(TrialRow)
    walk.post(f"/score/trials/{row.uid}/longer")
    walk.post(f"/score/trials/{row.uid}/decide", outcome="back")
    assert "You went back to how it was." in walk.page(f"/score/trials/{row.uid}")
    walk.post(f"/score/trials/{row.uid}/delete")
    assert walk.rows(TrialRow) == []


def a_report(walk: Walk) -> None:
    walk.post("/record/reports/", audience="teacher", question_1="Is the thumb free now?")
    (row,) = walk.rows(ReportRow)
    code = re.search(r'share-code">([0-9 ]+)', walk.post(f"/record/reports/{row.uid}/show").text)[1]
    assert "Is the thumb free now?" in walk.post("/shown", code=code).text
    walk.post(f"/record/reports/{row.uid}/take-back")
    assert "Taken back." in walk.page(f"/record/reports/{row.uid}")
    walk.post(f"/record/reports/{row.uid}/delete")
    assert walk.rows(ReportRow) == []


def a_part(walk: Walk) -> None:
    walk.post("/plan/parts/", instrument="bassoon", files={"file": (io.BytesIO(score(simple())), "night.musicxml")})
    (row,) = walk.rows(PartRow)
    walk.post(f"/plan/parts/{row.uid}/pace", pace="80")
    assert walk.rows(PartRow)[0].pace == 0.8
    walk.post(f"/plan/parts/{row.uid}/lay")
    assert any("Night music" in aim.title for aim in walk.rows(AimRow))
    for aim in walk.rows(AimRow):
        walk.post(f"/plan/aim/{aim.uid}/rub-out")
    walk.post(f"/plan/parts/{row.uid}/delete")
    assert walk.rows(PartRow) == []


def at_the_stand(walk: Walk, clock) -> None:
    walk.post("/play/start", instrument="bassoon", block_kind="repertoire")
    session = re.search(r'data-session="([^"]+)"', walk.page("/play/"))[1]
    walk.post("/play/events", uid="m1", session=session, kind="mark", place="wrist")
    clock.on(hours=4)
    walk.post("/play/forgotten", minutes="45")
    walk.post("/play/write", effort="4", anything="nothing")
    assert "45 min" in walk.page("/score/2026-11-12")
    walk.post("/warm-up/start")
    walk.post("/play/discard")
    walk.post("/plan/aim?week=2026-11-09", aim_title="Low F", aim_minutes="40", aim_effort="3", week="2026-11-09")
    walk.post("/plan/lay?week=2026-11-09", week="2026-11-09")
    clock.now = min(row.start_utc for row in walk.rows(PlannedRow)) - timedelta(minutes=1)
    walk.post("/play/start/plan")
    walk.post("/play/discard")
    walk.post("/play/takes", files={"sound": sound()}, seconds="1", title="Bar 12")
    take = walk.rows(TakeRow)[0]
    walk.post(f"/play/takes/{take.uid}/keep")
    assert walk.rows(TakeRow)[0].kept
    walk.post(f"/play/takes/{take.uid}/discard")
    assert walk.rows(TakeRow) == []


def technique(walk: Walk) -> None:
    walk.post("/technique/not-today")
    assert "No measure today" in walk.page("/technique/")
    for path, files, form in probes():
        walk.post(path, files=files, **form)
    uids = {row.kind: row.uid for row in walk.rows(ProbeRow)}
    search = f"/technique/pressure/{uids['pressure']}"
    walk.post(f"{search}/answer", number="0", spoke="yes")
    walk.post(f"{search}/back")
    for number, each in enumerate(answers(70, 2.0, 3)):
        walk.post(f"{search}/answer", number=str(number), spoke="yes" if each.spoke else "no")
    assert "of your press was not needed" in walk.page(search)
    other = walk.post("/technique/pressure", task="key", part="left ring", instrument="bassoon").headers["Location"]
    walk.post(f"{other}/stop")
    walk.post(f"/technique/evenness/{uids['evenness']}/my-p")
    walk.post(f"/technique/evenness/{uids['evenness']}/first", first="1")
    points = {}
    for name, (x, y) in camera.shares_of(camera.Pose()).items():
        points |= {f"{name}.x": f"{100 * x:.2f}", f"{name}.y": f"{100 * y:.2f}"}
    walk.post(f"/technique/posture/{uids['posture']}/look", **points)
    devices = plugged.folder_of(walk.app.extensions["database"].blobs)
    eye = Worker(devices, lambda picture: landmarks_of(camera.Pose())).in_background()
    walk.post(f"/technique/posture/{uids['posture']}/suggest", **points)
    eye.stop()
    walk.post(f"/technique/posture/{uids['posture']}", **points)
    assert "30°" in walk.page(f"/technique/posture/{uids['posture']}")
    trace = f"/technique/trace/{uids['trace']}"
    walk.post(f"{trace}/channels", **{"maximum-0": "2"})
    walk.post(f"{trace}/mark", at_s="1", word="the hard bar")
    walk.post(f"{trace}/sound", take="", take_at_s="-0.5")
    assert "the hard bar" in walk.page(trace)
    walk.post("/technique/strokes", stick="thin", peaks="20 30 25", hand="left")
    walk.post("/technique/ranges", movement="wrist_back", hand="left", deg="61", by="level")
    assert "Left wrist bent back: 61°" in walk.page("/technique/ranges")
    eye = Worker(devices, two_hands.eye).in_background()
    sees = {"view": "backs", "width": str(two_hands.WIDTH), "height": str(two_hands.HEIGHT)}
    drawn = io.BytesIO()
    two_hands.drawn((12, -20)).save(drawn, "JPEG")
    frame = {"frame": (io.BytesIO(drawn.getvalue()), "frame.jpg")}
    seen = walk.post("/technique/wrists/frame", files=frame, **sees)
    eye.stop()
    assert {hand: round(deg / 2) for hand, deg in seen.get_json().items()} == {"left": 6, "right": -10}
    walk.post("/technique/wrists", view="backs", frames="\n".join(f"{n} 20 -20" for n in range(12)))
    assert "Left wrist: 100 %" in walk.page("/technique/wrists")
    walk.post("/technique/activities", name1="open a jar", rating1="4")
    assert "You can do 4.0 of 10" in walk.page("/technique/activities")
    walk.post("/technique/awareness/jaw_rests", answer="apart", instrument="bassoon")
    walk.post("/technique/grips/bassoon/faults", left_carries="no")
    turns = {"hold-1": "rest_on", "minutes-1": "15", "hold-2": "standing", "minutes-2": "2"}
    walk.post("/technique/grips/bassoon/alternate", **turns)
    assert "Standing" in walk.page("/technique/grips")
    walk.post(f"/technique/probe/{uids['posture']}/delete")
    assert uids["posture"] not in {row.uid for row in walk.rows(ProbeRow)}
    blobs = walk.app.extensions["database"].blobs
    plug = Plug(plugged.folder_of(blobs), "pad", lambda: readings("pad", "N", press([1, 5], 2)), paced=False)
    plug.in_background()
    on_the_pad = {"task": "key", "part": "left ring", "instrument": "bassoon", "pad": "pad"}
    pressed = walk.post("/technique/pressure", **on_the_pad).headers["Location"]
    walk.rendered.discard("_readings")
    walk.post(f"{pressed}/answer", number="0", spoke="yes")
    assert "_readings" in walk.rendered, "the pad is read at the answer"
    walk.post(f"{pressed}/stop")
    walk.post("/technique/trace/device", device="pad", seconds="3", instrument="bassoon")
    plug.pull()
    assert any(row.kind == "device" and row.state == "done" for row in walk.rows(JobRow))
    reading.AT_ONCE_BYTES, small = 1000, reading.AT_ONCE_BYTES
    try:
        walk.post("/technique/trace", files=probes()[3][1], instrument="bassoon")
        job = next(row.uid for row in walk.rows(JobRow) if row.kind == "trace")
        assert "Say what each channel is" in walk.page(f"/technique/job/{job}")
        walk.post(f"/technique/job/{job}/cancel")
    finally:
        reading.AT_ONCE_BYTES = small


def the_record(walk: Walk) -> None:
    walk.post("/record/session/new", day="2026-11-10", minutes="40", kind="lesson", effort="3", instrument="bassoon")
    uid = re.search(r"/record/session/([0-9a-f]{32})", walk.page("/score/2026-11-10"))[1]
    walk.post(f"/record/session/{uid}", day="2026-11-10", minutes="50", kind="lesson", effort="3")
    assert "50 min" in walk.page("/score/2026-11-10")
    walk.post(f"/record/session/{uid}/delete")
    walk.post("/record/day", day="2026-11-09", off="yes", note="Travelled.")
    assert "Travelled." in walk.page("/score/2026-11-09")
    for n in range(2):
        data = f"day,minutes,effort\n2026-10-0{n + 1},30,4\n".encode()
        walk.post("/record/import", files={"files": (io.BytesIO(data), "sessions.csv")})
        walk.app.extensions["worker"].run_one()
        job = next(row.uid for row in walk.rows(JobRow) if row.state == "ready")
        walk.post(f"/record/import/{job}/{'confirm' if n else 'cancel'}")
        walk.app.extensions["worker"].run_one()
    assert "30 min" in walk.page("/score/2026-10-02") and "30 min" not in walk.page("/score/2026-10-01")
    a_diary(walk)


def a_diary(walk: Walk) -> None:
    data = b"Datum;Min;Beschwerden\n03.10.2026;30;zwick 3\n"
    walk.post("/record/import", files={"files": (io.BytesIO(data), "diary.csv")})
    walk.app.extensions["worker"].run_one()
    job = next(row.uid for row in walk.rows(JobRow) if row.state == "ready")
    walk.post(f"/record/import/{job}/answer", **{"word.zone zwick": "thumb_ball"})
    walk.post(f"/record/import/{job}/confirm")
    walk.app.extensions["worker"].run_one()
    assert "thumb ball" in walk.page("/score/2026-10-03")
    walk.post("/record/words", word="zone zwick", to="palm_centre")
    assert '"palm_centre" selected' in walk.page("/record/words")
    walk.post(f"/record/import/{job}/take-back")
    assert "30 min" not in walk.page("/score/2026-10-03")


def urgent(walk: Walk) -> None:
    walk.post("/technique/grips/bassoon/retraining", retraining="beside")
    walk.post("/away/morning", sleep="short", hands="cold")
    walk.post("/away/mark", zone="thumb_ball", side="left", kind="tension", intensity="2", timings="waking")
    walk.post("/curtain/sign", code="dropping_things")
    assert "Hand it over" in walk.page("/plan/")
    uid = re.search(r'action="/matters/(\w+)/seen"', walk.page("/"))[1]
    walk.post(f"/matters/{uid}/booked", booked_for="2026-11-16")
    walk.post(f"/matters/{uid}/not-now", why="on tour")
    walk.post(f"/matters/{uid}/seen", start_dose_min="20", words="Start with twenty.")
    assert "Muted" in walk.page("/") and "Start with twenty." in walk.page("/matters/")
    walk.post("/morning", red_flags="chest_pain")
    walk.post("/urgent/mistake")
    walk.post("/record/delete", sure="delete")
    assert walk.rows(ProfileRow) == []


def what_happened(walk: Walk) -> None:
    walk.post("/happened/operation", day="2026-11-10", zone="thumb_ball", side="left", answer="not_yet")
    assert "First your doctor or therapist must tell you" in walk.page("/")
    uid = re.search(r'action="/happened/(\w+)/told"', walk.page("/happened/"))[1]
    walk.post(f"/happened/{uid}/told", allowed_min="10")
    assert "At most 10 min today" in walk.page("/")
    walk.post(f"/happened/{uid}/over")
    walk.post("/matters/", title="Seat strap", due="2026-11-28", advised_by="Henrike")
    errand = re.search(r'action="/matters/(\w+)/done"', walk.page("/matters/"))[1]
    walk.post(f"/matters/{errand}/done")
    walk.post("/matters/told", told="200 minutes a day until 20 December")
    assert "Sun 20 December" in walk.page("/matters/")
    limit = re.search(r'action="/happened/(\w+)/over"', walk.page("/matters/"))[1]
    walk.post(f"/happened/{limit}/over", how="no_limit")
    assert [r.uid for r in walk.rows(HappeningRow)] and len(walk.rows(MatterRow)) == 1


def the_account(walk: Walk, clock) -> None:
    settings = {"zone": "Europe/Vienna", "instruments": "bassoon", "units": "inch", "emergency_number": "0 00"}
    walk.post("/settings", player="Ilse V.", **settings)
    walk.post("/settings/watch", watch="earlier")
    assert "Ilse V." in walk.page("/settings") and '"earlier" selected' in walk.page("/settings")
    sign_in(walk.app.test_client())
    handles = re.findall(r'action="/sign-out/([^"/]+)"', walk.page("/settings"))
    walk.post(f"/sign-out/{next(h for h in handles if h != 'everywhere')}")
    new = "rests and bars"
    walk.post("/settings/password", old_password="bars and rests", new_password=new, again=new)
    walk.post("/sign-out")
    walk.post("/sign-in", name="ilse", password=new)
    walk.post("/sign-out/everywhere")
    with walk.app.extensions["database"].open_db() as db:
        secret = accounts.make_setup_link(db, clock(), "jonas")
        db.commit()
    walk.client = walk.app.test_client()
    asked = {"password": "bars and rests", "player": "Jonas", "zone": "Europe/Vienna"}
    walk.post(f"/first-run/{secret}", instruments="violin", **asked)
    assert "Jonas" in walk.page("/")


def test_every_form_is_sent_once_and_taken(walk: Walk, clock):
    the_morning(walk, clock)
    hands_and_kit(walk)
    the_week(walk, clock)
    a_programme(walk)
    a_trial(walk)
    a_report(walk)
    a_part(walk)
    technique(walk)
    at_the_stand(walk, clock)
    the_record(walk)
    what_happened(walk)
    urgent(walk)
    the_account(walk, clock)
    forms = {rule.endpoint for rule in walk.app.url_map.iter_rules() if "POST" in rule.methods}
    assert forms - walk.sent == set()
    assert {"POST plan.bring_calendar", "POST technique.suggest_points", "POST report.show"} <= walk.rendered
    assert {musicxml.__name__, calendar_reader.__name__, picture.__name__, hearing.__name__, trace.__name__} <= (
        walk.rendered
    )
    assert {"landmarks", "_readings"} <= walk.rendered


def test_another_player_is_not_touched_by_any_of_it(app, walk, clock):
    add_player(app, "mara")
    other = app.test_client()
    sign_in(other, "mara")
    other.post("/morning/as-usual")
    hands_and_kit(walk)
    the_week(walk, clock)
    assert "Seat strap" not in other.get("/kit/").text and "serenade" not in other.get("/plan/?week=2026-11-16").text
