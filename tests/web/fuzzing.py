"""Requests nobody would make: every address and every form the pages hold, filled with what cannot be."""

import io
import json
import re
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from html.parser import HTMLParser

from flask import Flask
from flask.testing import FlaskClient
from hypothesis import strategies as st

from tests.conftest import add_player, sign_in

#: texts by what is wrong with them; "\ud800" is half a character
HOSTILE = (
    "", " ", "0", "-1", "1", "9" * 400, "-" + "9" * 400, "1e308", "1e-320", "-1e400", "nan", "NaN", "inf", "-Infinity",
    "²", "٣", "１２", "½", "0x10", "1_000", "1,5", "1,2,3", "true", "None", "null", "[]", "{}", "\x00", "a\x00b",
    "\ud800", "é" * 3000, "🎻" * 80, "0001-01-01", "9999-12-31", "1899-12-31", "2026-02-30", "2026-11-12T25:99",
    "00:00", "24:00", "23:59:60", "2026-W01", "12.11.2026", "../../etc/passwd", "%s%s%s", "'; drop table session; --",
    "<script>alert(1)</script>", "{{ 7 * 7 }}", "a b", "a/b", "\\", "\r\n\r\nx: y", "=1+1", "١٢٣", "１９：００",
    "x" * 5000,
    "Sa 28, 10.00, octet, contra, 3 h", "Sa 28, 99.99, x, 3 h", "Mo 1, 0.00, " + "y" * 500 + ", 1e9 h", "left", "open",
)  # fmt: skip
NUMBERS = (0, -1, 1, 2**31, 2**63, 10**400, 1e30, 1e308, float("nan"), float("inf"), -0.0, True, None, "²", [], {})
LEFT_ALONE = {"account.sign_out_here", "account.sign_out_everywhere", "account.sign_out_one", "play.sound"}
#: pages whose forms are looked for
STARTS = (
    "/", "/plan/", "/play/", "/body/", "/score/", "/kit/", "/kit/hands", "/kit/room", "/kit/thing", "/kit/left-out",
    "/kit/library/exercise/new", "/kit/library/grip/new", "/kit/library/instrument/new", "/warm-up", "/warm-up/cycles",
    "/curtain/", "/away/", "/record/", "/record/session/new", "/record/day", "/record/lists", "/record/words",
    "/record/delete",
    "/settings",
    "/play/takes", "/body/self-checks", "/body/known", "/body/place/fingers/left", "/plan/engagement", "/score/week",
    "/urgent", "/kit/bench/string", "/kit/bench/holes",
    "/kit/bench/sticks", "/technique/", "/technique/pressure", "/technique/evenness", "/technique/posture",
    "/technique/trace", "/technique/strokes", "/technique/ranges", "/technique/activities",
    "/technique/wrists", "/technique/awareness", "/technique/grips",
    "/plan/programmes/", "/score/trials/", "/record/reports/", "/plan/parts/",
)  # fmt: skip


@dataclass
class Form:
    """A form as a page holds it: where it goes, how, and its fields with the values it offers."""

    action: str
    method: str
    fields: dict[str, list[str]] = field(default_factory=dict)


class Forms(HTMLParser):
    """Collects the forms of a page."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.page, self.found, self.select = page, list[Form](), ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        a = {k: v or "" for k, v in attrs}
        if tag == "form":
            self.found.append(Form(a.get("action") or self.page, a.get("method", "get").lower()))
        elif self.found and tag in ("input", "textarea", "select", "button") and a.get("name"):
            self.found[-1].fields.setdefault(a["name"], []).append(a.get("value", ""))
            self.select = a["name"] if tag == "select" else ""
        elif self.found and tag == "option" and self.select:
            self.found[-1].fields[self.select].append(a.get("value", ""))


def forms_of(client: FlaskClient) -> list[Form]:
    """Return every form the pages hold, one of each shape."""
    found: dict[tuple[str, frozenset[str]], Form] = {}
    for page in STARTS:
        parser = Forms(page)
        parser.feed(client.get(page, follow_redirects=True).get_data(as_text=True))
        for form in parser.found:
            if "sign-out" not in form.action:
                found.setdefault((form.action, frozenset(form.fields)), form)
    return list(found.values())


text = st.one_of(st.sampled_from(HOSTILE), st.text(max_size=40))


def values_for(offered: list[str]) -> st.SearchStrategy[list[str]]:
    """What is sent in one field: as it was offered, hostile, missing, or several times."""
    one = st.one_of(st.sampled_from(offered), text) if offered else text
    return st.lists(one, max_size=2) if offered else st.lists(text, max_size=2)


@st.composite
def form_requests(draw: st.DrawFn, forms: list[Form]) -> dict:
    form = draw(st.sampled_from(forms))
    wrong = draw(st.sets(st.sampled_from(sorted(form.fields)), max_size=4)) if form.fields else set()
    data = {}
    for name, offered in form.fields.items():
        data[name] = draw(values_for(offered)) if name in wrong else draw(st.sampled_from([offered[-1:], offered[:1]]))
    if draw(st.booleans()):
        data[draw(st.sampled_from(["week", "until", "day", "minutes", "uid", "x"]))] = [draw(text)]
    path = draw(st.sampled_from([form.action, form.action, form.action + "?week=" + draw(st.sampled_from(FAR))]))
    return {"path": path, "method": form.method.upper(), "data": data}


FAR = ("0001-01-01", "9999-12-31", "2026-11-09", "%00", "%ED%A0%80", "²", "1e9")


@st.composite
def address_requests(draw: st.DrawFn, app: Flask) -> dict:
    """An address of the map, its variable parts and its query hostile."""
    rules = [r for r in sorted(app.url_map.iter_rules(), key=str) if r.endpoint not in LEFT_ALONE]
    rule = draw(st.sampled_from(rules))
    odd = ("1", "x", "2026-11-11", "9" * 30, "²", "a b", "left", "thumb_ball", "🎻" * 80, "-1")
    parts = {k: draw(st.sampled_from(odd)) for k in rule.arguments}
    path = str(rule.rule)
    for converter_and_name in [p for p in path.replace("<", "\n<").split("\n") if p.startswith("<")]:
        part = converter_and_name[: converter_and_name.index(">") + 1]
        path = path.replace(part, parts[part.strip("<>").rpartition(":")[2]])
    names = (
        "week",
        "until",
        "weeks",
        "day",
        "line",
        "search",
        "kind",
        "instrument",
        "cycle",
        "notes",
        "block",
        "saved",
    )
    query = {n: draw(text) for n in draw(st.sets(st.sampled_from(names), max_size=3))}
    method = draw(st.sampled_from(sorted(rule.methods - {"OPTIONS", "HEAD"})))
    return {"path": path, "method": method, "query_string": _printable(query), "data": {}}


def _printable(query: dict[str, str]) -> dict[str, str]:
    return {k: v.encode("utf-8", "replace").decode() for k, v in query.items()}


TOUCHED = ("mark", "block", "rest", "stretch", "ladder", "run", "answer", "note")
CARRIED = ("bar", "minutes", "tempo", "place", "block_kind", "school")
events = st.lists(
    st.one_of(
        st.sampled_from([None, 3, "x", [], {}]),
        st.fixed_dictionaries(
            {},
            optional={
                "uid": st.one_of(text, st.sampled_from(NUMBERS)),
                "session": st.one_of(text, st.just("SESSION"), st.sampled_from(NUMBERS)),
                "kind": st.one_of(st.sampled_from(TOUCHED), text),
                "seq": st.sampled_from(NUMBERS),
                "monotonic_ms": st.sampled_from(NUMBERS),
                "at_utc": st.one_of(text, st.sampled_from(["0001-01-01T00:00:00+23:59", "9999-12-31T23:59:59-23:59"])),
                "payload": st.one_of(
                    st.dictionaries(st.sampled_from(CARRIED), text, max_size=4),
                    st.sampled_from(NUMBERS),
                ),
                "device": text,
            },
        ),
    ),
    max_size=4,
)  # fmt: skip


def begun(client: FlaskClient) -> str:
    """The id of a running session, begun if there is none."""
    client.post("/play/start", data={"instrument": "bassoon", "block_kind": "technique"})
    found = re.search(r'data-session="(\w+)"', client.get("/play/").get_data(as_text=True))
    return found[1] if found else "none"


#: what makes another state of her day: a session, Tacet, a sign that must not wait, and the way back from each
states = st.sampled_from(
    [
        {"state": path, "data": data}
        for path, data in (
            ("/play/start", {"instrument": "bassoon", "block_kind": "technique"}),
            ("/warm-up/start", {}),
            ("/play/discard", {}),
            ("/body/", {"places": "thumb_ball.left", "kind": "pain", "intensity": "8", "timings": "playing"}),
            ("/body/rub-out", {"day": "2026-11-12", "timing": "playing", "zone": "thumb_ball", "side": "left"}),
            ("/morning", {"sleep": "short", "hands": "cold", "red_flags": "sudden_weakness"}),
            ("/urgent/mistake", {}),
            ("/call", {"to": "open", "reason": "It was a bruise."}),
        )
    ]
)


def _signed_in(app: Flask, name: str) -> FlaskClient:
    """A browser in which a new player of that name is signed in."""
    add_player(app, name)
    client = app.test_client()
    sign_in(client, name)
    return client


class Target:
    """A server under fire: sends what was drawn, counts the answers, and says whether Today still opens.

    A player whose day says rest may measure nothing, so files are brought by another, `rested`, whose day stays open.
    """

    def __init__(self, app: Flask, client: FlaskClient, number: int = 0) -> None:
        self.app, self.client, self.number = app, client, number
        self.rested = _signed_in(app, f"rested{number}")
        self.others: dict[int, Target] = {}
        self.mine, self.looked = Counter[int](), 0
        self.slow, self.mine_over_5_s = (0.0, ""), 0

    @property
    def answers(self) -> Counter[int]:
        """How many answers there were of each number, to all players."""
        return sum((each.mine for each in self.others.values()), self.mine)

    @property
    def sent(self) -> int:
        return self.answers.total()

    @property
    def slowest(self) -> tuple[float, str]:
        return max(self.slow, *(each.slow for each in self.others.values()), (0.0, ""))

    @property
    def over_5_s(self) -> int:
        return self.mine_over_5_s + sum(each.mine_over_5_s for each in self.others.values())

    def send(self, request: dict) -> int:
        path = request["path"].replace("\x00", "%00")
        data = {k: v for k, v in request["data"].items() if v}
        sent = {k: [x.encode("utf-8", "surrogatepass") for x in v] for k, v in data.items()}
        answer = self.client.open(path, method=request["method"], data=sent, query_string=request.get("query_string"))
        return self.count(answer.status_code)

    def send_events(self, drawn: list, session: str) -> int:
        body = json.dumps(drawn).replace('"SESSION"', json.dumps(session))
        answer = self.client.post("/play/events", data=body, content_type="application/json")
        return self.count(answer.status_code)

    def send_file(self, path: str, name: str, field_name: str, body: bytes) -> int:
        safe = name.encode("utf-8", "replace").decode()
        answer = self.client.post(path, data={field_name: (io.BytesIO(body), safe), "seconds": "5"})
        return self.count(answer.status_code)

    def bring(self, request: dict) -> int:
        """Bring a file; the answer to a damaged part says what is wrong, and no process is left behind."""
        data = {**request["form"], request["field"]: (io.BytesIO(request["body"]), request["name"])}
        return self.count(self.rested.post(request["path"], data=data).status_code)

    def at_once(self, requests: list[dict]) -> list[int]:
        """Send what several players ask for at one time; returns the numbers of the answers."""
        for n in range(len(self.others) + 1, len(requests)):
            self.others[n] = Target(self.app, _signed_in(self.app, f"player{n}"), n)
        beside = [self, *(self.others[n] for n in range(1, len(requests)))]
        with ThreadPoolExecutor(len(requests)) as several:
            sent = [several.submit(each.fire, r) for each, r in zip(beside, requests, strict=True)]
            return [each.result() for each in sent]

    def fire(self, request: dict) -> int:
        """Send what was drawn, whatever it is."""
        began = time.perf_counter()
        if "events" in request:
            code = self.send_events(request["events"], begun(self.client))
        elif "body" in request:
            code = self.bring(request)
        elif "state" in request:
            code = self.count(self.client.post(request["state"], data=request["data"]).status_code)
        else:
            code = self.send(request)
        took = time.perf_counter() - began
        self.slow = max(self.slow, (took, str(request.get("path", next(iter(request))))))
        self.mine_over_5_s += took > 5
        return code

    def count(self, code: int) -> int:
        self.mine[code] += 1
        if code == 401:
            self.client.post("/sign-in", data={"name": "ilse", "password": "bars and rests"})
        return code

    def pages_open(self) -> Iterator[tuple[str, int]]:
        """Whether the pages still open: nothing that was taken may break them for good."""
        for page in (
            "/",
            "/play/",
            "/plan/",
            "/body/",
            "/score/",
            "/record/export.json",
            "/record/export.csv.zip",
            "/urgent",
        ):
            yield page, self.client.get(page).status_code
