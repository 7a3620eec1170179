"""The pages of the application in every state a player can find them in, one after another, in a real browser."""

import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from flask.testing import FlaskClient
from playwright.sync_api import Page
from sqlalchemy import select

from chirotend.store import jobs
from chirotend.store.models import JobRow, PlayerRow
from tests.browser.conftest import Server
from tests.conftest import add_player, sign_in
from tests.web.steps import TECHNIQUE, probes

#: pages that open by their address alone, over the demo record
PAGES = (
    *("/", "/warm-up", "/warm-up/cycles", "/what-if?if_minutes=90&if_effort=6"),
    *("/body/", "/body/beside?series=effort", "/body/self-checks", "/body/known", "/body/place/wrist%20&%20thumb/left"),
    *("/body/getting-worse", "/help?words=thumb", "/record/?until=2026-10-31", "/record/lists?all=yes"),
    *("/body/history/thumb_base_joint/left", "/matters/", "/matters/?told=30+minutes+a+day+until+20+December"),
    *("/happened/", "/happened/operation", "/happened/tour", "/happened/instrument"),
    *("/play/", "/play/takes", "/curtain/", "/curtain/written/play", "/curtain/written/hand-over", "/away/"),
    *("/score/", "/score/?weeks=2&region=fingers", "/score/?weeks=26", "/score/table", "/score/week?of=2026-11-08"),
    *("/score/years", "/score/load", "/score/background", "/score/background?method=letting_go", "/score/2026-11-11"),
    *("/score/trials/", "/score/trials/hand-rest"),
    *("/plan/?week=2026-11-16", "/plan/?week=2026-11-16&line=Sa+21%2C+10.00%2C+octet%2C+3+h", "/plan/engagement"),
    *("/plan/programmes/", "/plan/programmes/?begin=season", "/plan/parts/", "/plan/parts/salzfahrer"),
    *("/kit/", "/kit/bench/string", "/kit/bench/holes", "/kit/bench/sticks", "/kit/hands", "/kit/room", "/kit/thing"),
    *("/kit/left-out", "/kit/library/instrument", "/kit/library/grip", "/kit/library/exercise"),
    *("/kit/library/exercise/new", "/kit/library/grip/new", "/kit/library/instrument/new"),
    *TECHNIQUE,
    *("/record/", "/record/session/new", "/record/day", "/record/lists", "/record/words", "/record/delete"),
    *("/record/reports/", "/shown", "/settings", "/help", "/urgent", "/nowhere"),
)
SEND = """([path, form]) => {
    const sent = document.createElement("form");
    Object.assign(sent, {method: "post", action: path});
    for (const [name, value] of Object.entries(form)) {
        const field = Object.assign(document.createElement("input"), {type: "hidden", name, value});
        sent.append(field);
    }
    document.body.append(sent);
    sent.submit();
}"""


@dataclass
class Visit:
    """A player with a page open, and a client that changes her record beside it."""

    server: Server
    page: Page
    client: FlaskClient = field(init=False)

    def __post_init__(self) -> None:
        self.server.app.config["WTF_CSRF_ENABLED"] = False
        self.client = self.server.app.test_client()
        if not self.server.app.config["DEMO"]:
            add_player(self.server.app)
            sign_in(self.client)
            self.go("/sign-in")
            assert self.shown_after("/sign-in", name="ilse", password="bars and rests") == 200

    def go(self, path: str) -> str:
        self.page.goto(self.server.url + path)
        return path

    def post(self, path: str, files: dict | None = None, **form: object) -> str:
        """Send a form beside the page; returns where it leads. It is taken."""
        answer = self.client.post(path, data={**form, **(files or {})})
        assert answer.status_code in (200, 204, 302), (path, answer.status_code)
        return str(answer.headers.get("Location", ""))

    def shown_after(self, path: str, **form: str) -> int:
        """Send a form on the page, which shows what comes of it; returns its number."""
        with self.page.expect_navigation() as navigated:
            self.page.evaluate(SEND, [path, form])
        answer = navigated.value
        return answer.status if answer else 0


def every_page(visit: Visit) -> Iterator[str]:
    for path in PAGES:
        yield visit.go(path)


def every_call(visit: Visit) -> Iterator[str]:
    """Muted as the demo stands, overruled, Muted pp, Tacet, and a sign that must not wait."""
    ruled = ("/", "/play/", "/warm-up", "/plan/", "/plan/programmes/", "/technique/", "/curtain/", "/score/trials/")
    visit.post("/call", to="open", reason="Only a bruise from the case.")
    yield f"overruled {visit.go('/')}"
    visit.post("/call/back")
    visit.post("/body/", places="thumb_base_joint.left", kind="pain", intensity="4", timings="night")
    visit.go("/")
    assert "pp" in visit.page.locator("#call-word").inner_text()
    for path in ruled:
        yield f"Muted pp {visit.go(path)}"
    visit.post("/body/", places="thumb_base_joint.left", kind="pain", intensity="8", timings="playing")
    for path in ruled:
        yield f"Tacet {visit.go(path)}"
    visit.post("/morning", sleep="short", hands="cold", red_flags="sudden_weakness")
    for path in (*ruled, "/urgent", "/body/", "/record/", "/kit/"):
        yield f"urgent {visit.go(path)}"


def open_call(visit: Visit) -> Iterator[str]:
    for path in ("/", "/play/", "/warm-up", "/plan/", "/score/", "/kit/"):
        yield f"open {visit.go(path)}"


def nothing_yet(visit: Visit) -> Iterator[str]:
    """A player who has written nothing."""
    for path in PAGES:
        if not path.startswith(("/plan/parts/salz", "/score/trials/hand")):
            yield f"empty {visit.go(path)}"
    visit.post("/morning/as-usual")
    yield f"first day {visit.go('/')}"


def a_session(visit: Visit) -> Iterator[str]:
    """Playing, with every choice of the stand used; resting; paused; stopped; written in; left open; Tacet within."""
    clock, session = visit.server.clock, ""

    def touch(kind: str, **payload: str) -> str:
        clock.on(seconds=20)
        visit.post("/play/events", uid=f"{kind}{clock.now:%d%H%M%S}", session=session, kind=kind, **payload)
        return f"stand after {kind} {visit.go('/play/')}"

    def begun(**form: str) -> str:
        visit.post("/play/start", uid=f"s{clock.now:%d%H%M%S}", **form)
        return f"stand {visit.go('/play/')}"

    yield begun(instrument="bassoon", block_kind="technique")
    session = str(visit.page.locator("[data-session]").first.get_attribute("data-session"))
    yield touch("mark", place="thumb")
    yield touch("mark", place="ring", feeling="tingling")
    yield touch("ladder", tempo="96", school="soft")
    yield touch("run", clean="no")
    clock.on(minutes=14)
    yield f"stand over its bar {visit.go('/play/')}"
    yield touch("rest")
    yield touch("pause")
    yield touch("resume")
    yield touch("block", instrument="contrabassoon")
    yield touch("pause")
    yield touch("resume")
    yield touch("stop")
    assert visit.shown_after("/play/write") == 422
    yield "wrap-up refused"
    assert visit.shown_after("/play/write", effort="6", anything="nothing") == 422
    yield "wrap-up that wants an answer"
    told = {"mark": "ring-tingling", "side-ring-tingling": "left", "strength-ring-tingling": "2"}
    visit.post("/play/write", effort="6", anything="nothing", **told)
    visit.post("/warm-up/start", uid="warm")
    yield f"stand in a warm-up {visit.go('/play/')}"
    session = str(visit.page.locator("[data-session]").first.get_attribute("data-session"))
    yield touch("rest")
    yield touch("block")
    yield touch("pause")
    yield touch("resume")
    visit.post("/body/", places="thumb_base_joint.left", kind="pain", intensity="8", timings="playing")
    yield f"Tacet on the stand {visit.go('/play/')}"
    yield touch("stop")


def a_session_left_open(visit: Visit) -> Iterator[str]:
    visit.post("/play/start", instrument="violin", block_kind="technique", uid="left")
    visit.server.clock.on(hours=9)
    yield f"a session left open {visit.go('/play/')}"


def every_measure(visit: Visit) -> Iterator[str]:
    """Each probe begun, and done; a search under way."""
    for path, files, form in probes():
        # a Muted day spares the left thumb
        where = visit.post(path, files=files, **{**form, **({"part": "right thumb"} if "part" in form else {})})
        yield visit.go(where)
    measured = visit.client.get("/record/export.json").get_json()["probes"]
    done = {probe["kind"]: probe["uid"] for probe in measured if probe["state"] == "done"}
    assert {"pressure", "evenness", "posture", "trace"} <= set(done)
    for kind, uid in done.items():
        if kind in ("pressure", "evenness", "posture", "trace"):
            yield visit.go(f"/technique/{kind}/{uid}")
    search = visit.post("/technique/pressure", task="key", part="right ring", instrument="bassoon")
    for number in range(12):
        spoke = "yes" if number % 3 else "no"
        visit.client.post(f"{search}/answer", data={"number": str(number), "spoke": spoke})
        if number % 4 == 0:
            yield f"search after {number + 1} answers {visit.go(search)}"


def every_import(visit: Visit) -> Iterator[str]:
    """A diary with questions, one that cannot be read, one that is saved."""
    diary = (
        "Datum;Minuten;Daumen;Bemerkung\n"
        + "".join(f"{n}.10.2026;{20 + n};{n % 5};warm, then Act {n}\n" for n in range(1, 25))
        + "31.10.2026;forty;7;?\n"
    )
    for name, data in (("diary.csv", diary), ("sessions.csv", "day,minutes,effort\n2026-10-01,30,4\n"), ("x.csv", "?")):
        where = visit.post("/record/import", files={"files": (io.BytesIO(data.encode()), name)})
        visit.page.goto(visit.server.url + where)
        visit.page.wait_for_selector("text=/Save|cannot|could not|no /")
        yield f"import of {name}"
    visit.go("/record/")
    yield "imports that wait /record/"


def every_job(visit: Visit) -> Iterator[str]:
    """A large file and a diary while they are read, and when it came to nothing."""
    ends = ({"error": "This recording is broken. Record or copy it again."}, {})
    for kind, path in (("trace", "/technique/job/"), ("import", "/record/import/")):
        for state, result in zip(("running", "failed", "cancelled"), ({}, *ends), strict=True):
            uid = _job(visit, kind, state, result)
            yield f"job {state} {visit.go(path + uid)}"


def _job(visit: Visit, kind: str, state: str, result: dict[str, str]) -> str:
    """A job in a state that lasts: nobody works on it."""
    worker = visit.server.app.extensions["worker"]
    with visit.server.app.extensions["database"].open_db() as db:
        player = db.scalars(select(PlayerRow.id)).first()
        assert player is not None
        uid = jobs.queue(db, player, kind, {"probe": "none", "names": ["a diary.xlsx"], **result}, visit.server.clock())
        db.get_one(JobRow, (player, uid)).state = state
        worker.progress[uid] = (37, 100)
        db.commit()
    return uid


def every_report(visit: Visit) -> Iterator[str]:
    for audience in ("clinician", "teacher", "repairer"):
        where = visit.post("/record/reports/", audience=audience)
        yield f"report for {audience} {visit.go(where)}"
    assert visit.shown_after(f"{where}/show") == 200
    code = visit.page.locator(".share-code").inner_text().strip()
    yield "report with its code"
    assert visit.shown_after("/shown", code=code) == 200
    yield "report on another screen"


#: forms that are not sent here: they end the visit, or answer a script
NOT_SENT = ("account.sign_out", "play.events", "record.import")
#: forms of one thing of hers
OF_ONE = (
    *("/plan/parts/salzfahrer/pace", "/plan/programmes/begin/new_instrument", "/score/trials/hand-rest/decide"),
    *("/body/place/wrist%20&%20thumb/left", "/kit/library/exercise/new", "/kit/library/grip/new"),
    *("/kit/library/instrument/new", "/technique/grips/bassoon/faults", "/technique/grips/bassoon/alternate"),
    *("/technique/grips/bassoon/retraining", "/technique/awareness/jaw_rests", "/technique/ranges"),
    "/technique/activities",
    *(f"/happened/{door}" for door in ("operation", "cast", "fall", "fever", "away", "instrument", "tour", "medicine")),
)


def every_refusal(visit: Visit) -> Iterator[str]:
    """Each form that refuses what says nothing, with its sentence at the field."""
    rules = [r for r in visit.server.app.url_map.iter_rules() if "POST" in (r.methods or ()) and not r.arguments]
    paths = sorted(r.rule for r in rules if not r.endpoint.startswith(NOT_SENT))
    refused = 0
    for path in (*paths, *OF_ONE):
        visit.go("/record/day")
        if visit.shown_after(path) == 422:
            refused += 1
            yield f"refused {path}"
    assert refused > 35, refused


TOURS: dict[str, tuple[str | None, Callable[[Visit], Iterator[str]]]] = {
    "pages": ("bassoonist", every_page),
    "calls": ("bassoonist", every_call),
    "open": ("steady", open_call),
    "empty": (None, nothing_yet),
    "session": ("steady", a_session),
    "left": ("steady", a_session_left_open),
    "measures": ("bassoonist", every_measure),
    "jobs": ("bassoonist", every_job),
    "imports": ("bassoonist", every_import),
    "reports": ("bassoonist", every_report),
    "refusals": ("bassoonist", every_refusal),
}
