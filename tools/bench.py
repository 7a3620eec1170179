"""Speed as ratios, over a generated ten-year log: `make bench`. It asserts nothing."""

import gc
import io
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict
from datetime import UTC, date, datetime, timedelta
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory

import brotli
import numpy as np
from flask import Flask
from flask.testing import FlaskClient
from openpyxl import Workbook
from sqlalchemy import text

import bench_technique
import bench_tried
from chirotend.core.body.zones import zones
from chirotend.core.judge.recovery import Recovery
from chirotend.core.record import Block, Check, DayNote, Entry, Session
from chirotend.formats import csv_log
from chirotend.services.account import accounts
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.plan import scheduling, week_aims
from chirotend.services.record.bring import jobs, uploads
from chirotend.store.models import CallRow, EventRow, WarmupRow
from chirotend.web import create_app

NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)


def diary(years: int = 10, seed: int = 1) -> tuple[list[Session], list[Check], list[DayNote]]:
    """In ten years about 12,000 sessions, 60,000 block and check rows, 20,000 symptom entries, 3,650 notes."""
    rng = np.random.default_rng(seed)
    sided = [z.id for z in zones().values() if z.sided]
    sessions, checks, notes = [], [], []
    for back in range(365 * years, 0, -1):
        day = (NOW - timedelta(days=back)).date()
        for n in range(int(rng.integers(2, 6)) if rng.random() < 0.9 else 0):
            blocks = (Block(float(rng.integers(10, 40)), "bassoon"), Block(float(rng.integers(5, 20)), "contrabassoon"))
            sessions.append(Session(f"{day}-{n}", day, blocks, float(rng.integers(2, 7))))
        for timing in ("waking", "playing", "after", "night", "daily"):
            entries = tuple(
                Entry(str(rng.choice(sided)), "left", "tension", float(rng.integers(1, 5)))
                for _ in range(int(rng.random() < 0.6) * int(rng.integers(1, 4)))
            )
            checks.append(Check(csv_log.check_uid(day, timing), day, timing, entries))
        notes.append(DayNote(day, False, "sound", "warm", "Reeds were fine."))
    return sessions, checks, notes


def fill(context: Context, years: int) -> None:
    """A full record: the diary, twenty touches a session, a call and a warm-up a day."""
    sessions, checks, notes = diary(years)
    context.store.add_all(sessions, checks, notes)
    context.store.add_rows(EventRow, (event for session in sessions for event in touches(session)))
    days = [note.day for note in notes]
    context.store.add_rows(CallRow, (call(day) for day in days))
    step = {"id": "x", "name": "Long tones", "minutes": 5, "hand": "both"}
    wish = {"instrument": "bassoon", "minutes": 15, "tags": [], "skipped": [], "swaps": []}
    context.store.add_rows(WarmupRow, ({"day": day, "wish": wish, "steps": [step] * 6} for day in days))
    context.store.note_running_sessions()
    context.db.commit()


def touches(session: Session) -> Iterator[dict[str, object]]:
    at = datetime(session.day.year, session.day.month, session.day.day, 10, tzinfo=UTC)
    for n in range(20):
        kind = "start" if n == 0 else "close" if n == 19 else ("mark", "rest", "block")[n % 3]
        yield {
            "uid": f"{session.uid}-{n}",
            "session_uid": session.uid,
            "device": "stand",
            "seq": n + 1,
            "at_utc": at + timedelta(minutes=n),
            "monotonic_ms": None,
            "kind": kind,
            "payload": {"place": "wrist"} if kind == "mark" else {},
        }


def call(day: date) -> dict[str, object]:
    dose = {"minutes": None, "block_min": 30, "rest_min": 5, "dynamic": "", "tempo_pct": 100}
    recovery = {**asdict(Recovery()), "places": []}
    said = {"number": 1, "issued_utc": datetime(day.year, day.month, day.day, 8, tzinfo=UTC), "version": 2}
    return {"day": day, **said, "call": "open", "row": 10, "findings": [], "dose": dose, "standing": recovery}


def timed(work: Callable[[], object], times: int) -> tuple[float, float]:
    """Return p50 and p95 in milliseconds."""
    work()
    took = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        took.append((time.perf_counter() - start) * 1000)
    took.sort()
    return statistics.median(took), took[min(len(took) - 1, int(len(took) * 0.95))]


def beside(work: Callable[[], object], floor: Callable[[], object], times: int) -> tuple[float, float, float]:
    """Return p50 and p95 in milliseconds, and the ratio of medians to `floor`, run in turn with it: a machine that is
    slow for a while is slow for both."""
    took: list[float] = []
    floors: list[float] = []
    for one in (work, floor):
        one()
    for _ in range(times):
        for one, kept in ((floor, floors), (work, took)):
            start = time.perf_counter()
            one()
            kept.append((time.perf_counter() - start) * 1000)
    took.sort()
    p50 = statistics.median(took)
    return p50, took[min(len(took) - 1, int(len(took) * 0.95))], p50 / statistics.median(floors)


def bare_read(context: Context) -> None:
    """The floor: the rows the call needs as plain tuples, and the numpy arithmetic of range, usual and averages."""
    first, load_first = ((NOW - timedelta(days=d)).date().isoformat() for d in (180, 90))
    sums: dict[str, float] = {}
    for day, minutes, effort in context.db.execute(
        text(
            "select s.day, b.minutes, coalesce(b.effort, s.effort) from session s"
            " join block b on b.player_id = s.player_id and b.session_uid = s.uid"
            " where s.player_id = 1 and s.day >= :first"
        ),
        {"first": load_first},
    ):
        sums[day] = sums.get(day, 0.0) + minutes * effort
    marks = context.db.execute(
        text(
            'select c.day, c.timing, c.at_utc, e.zone, e.side, e.kind, e.intensity, e.lasting, e.flags from "check" c'
            " left join entry e on e.player_id = c.player_id and e.check_uid = c.uid"
            " where c.player_id = 1 and c.day >= :first"
        ),
        {"first": first},
    ).all()
    load = np.array(list(sums.values()))
    np.percentile(load[-49:-7], [10, 90])
    np.median(load[-28:])
    by_day: dict[str, float] = {}
    for row in marks:
        by_day[row[0]] = max(by_day.get(row[0], 0.0), row[6] or 0.0)
    np.median(list(by_day.values())[-28:])


def brought(app: Flask, context: Context, what: str, name: str, data: bytes, rows: int) -> None:
    """Read a file, compare and show it, and save it, as the worker does."""
    database = app.extensions["database"]
    uid, names = uploads.put([(name, data)], database.uploads)
    uploads.begin(context, uid, names)
    context.db.commit()
    start = time.perf_counter()
    app.extensions["worker"].run_one()
    read = time.perf_counter() - start
    context.db.expire_all()
    jobs.confirm(context, uid, {})
    context.db.commit()
    start = time.perf_counter()
    app.extensions["worker"].run_one()
    saved = time.perf_counter() - start
    context.db.expire_all()
    print(
        f"{what}, {rows:,} rows: read, matched and shown {read:.2f} s, saved {saved:.2f} s, together "
        f"{rows / (read + saved):,.0f} rows/s"
    )


def import_rows(app: Flask, context: Context) -> None:
    """Bring our own table, a diary of another shape, and a spreadsheet."""
    rows = [f"2015-{1 + n % 12:02d}-{1 + n % 28:02d},{10 + n % 50},{n % 10}" for n in range(50_000)]
    brought(app, context, "our own CSV", "sessions.csv", ("day,minutes,effort\n" + "\n".join(rows)).encode(), 50_000)
    first = date(2016, 1, 1)
    cells = [
        [
            (first + timedelta(days=n // 15)).strftime("%d.%m.%Y"),
            str(20 + n % 50),
            "Fg",
            str(n % 10),
            "li Daumen 3" if n % 3 else "",
        ]
        for n in range(50_000)
    ]
    head = ["Datum", "Minuten", "Instr.", "Anstrengung", "Beschwerden"]
    diary = "\n".join(";".join(row) for row in [head, *cells]).encode()
    brought(app, context, "a diary as CSV", "diary.csv", diary, 50_000)
    book = Workbook(write_only=True)
    sheet = book.create_sheet("Diary")
    for row in [head, *cells[:20_000]]:
        sheet.append([f"{row[0]}", row[1], "KFg" if row is not head else row[2], *row[3:]])
    out = io.BytesIO()
    book.save(out)
    brought(app, context, "a diary as XLSX", "diary.xlsx", out.getvalue(), 20_000)


PAGES = (
    ("A Today", "/"),
    ("E Score, 6 weeks", "/score/"),
    ("E Score, half a year", "/score/?weeks=26"),
    ("E Score, five years", "/score/years"),
    ("Load, both hands", "/score/load"),
    ("D Body", "/body/"),
    ("B Plan", "/plan/?week=2026-11-16"),
    ("a date asked for", "/plan/?week=2026-11-16&line=28,+10.00,+octet,+3+h"),
    ("C Play", "/play/"),
    ("G Hands & kit", "/kit/"),
    ("Warm-up", "/warm-up"),
    ("H Record", "/record/"),
)
SMALL = {"Accept-Encoding": "br"}


@contextmanager
def a_record(years: int) -> Iterator[tuple[Flask, Context, FlaskClient]]:
    """An application over a full record of so many years, and its player signed in."""
    with TemporaryDirectory() as folder:
        app = create_app(Path(folder), clock=lambda: NOW, testing=True)
        app.config["WTF_CSRF_ENABLED"] = False
        with app.extensions["database"].open_db() as db:
            account = accounts.add_account(
                db, app.extensions["passwords"], "ten", "bars and rests", "Ten Years", "Europe/Vienna", ["bassoon"], NOW
            )
            context = accounts.context_of(db, account, NOW)
            assert context is not None
            fill(context, years)
            gc.collect()
            gc.freeze()  # as `chirotend serve` does after start-up
            client = app.test_client()
            client.post("/sign-in", data={"name": "ten", "password": "bars and rests"})
            client.post("/morning/as-usual")
            yield app, context, client


def pages(context: Context, client: FlaskClient, times: int) -> None:
    for n in range(12):
        typed = week_aims.TypedAim(f"aim {n}", (20, 40, 60, 90)[n % 4], 2 + n % 4, "bassoon")
        week_aims.write_aim(context, NOW.date() + timedelta(days=7), typed)
    context.db.commit()
    floor = timed(lambda: bare_read(context), times)
    print(f"bare read + numpy     p50 {floor[0]:6.1f} ms  p95 {floor[1]:6.1f} ms")
    works: list[tuple[str, Callable[[], object]]] = [("the call", lambda: todays_call(context))]
    works += [(name, partial(client.get, path, headers=SMALL)) for name, path in PAGES]
    works += [("a bench answers", lambda: client.get("/kit/?strap=120", headers={**SMALL, "HX-Request": "true"}))]
    for name, work in works:
        p50, p95, ratio = beside(work, partial(bare_read, context), times)
        print(f"{name:21} p50 {p50:6.1f} ms  p95 {p95:6.1f} ms  {ratio:5.1f} x the bare read")
    p50, p95 = timed(lambda: scheduling.schedule(context, NOW.date() + timedelta(days=7)), 8)
    print(f"laying 12 aims        p50 {p50:6.1f} ms  p95 {p95:6.1f} ms")
    context.db.commit()


def after_a_write(client: FlaskClient, times: int) -> None:
    def write_and_look() -> float:
        client.post(
            "/body/", data={"places": "palm_centre.left", "kind": "tension", "intensity": "1", "timings": "after"}
        )
        start = time.perf_counter()
        client.get("/", headers=SMALL)
        return (time.perf_counter() - start) * 1000

    took = sorted(write_and_look() for _ in range(times))
    print(f"Today after a write   p50 {statistics.median(took):6.1f} ms  p95 {took[int(len(took) * 0.95)]:6.1f} ms")


def beside_a_writer(app: Flask, client: FlaskClient) -> None:
    """A page while another program holds the write lock for two seconds."""
    with app.extensions["database"].engine.connect() as other:
        other.exec_driver_sql("BEGIN IMMEDIATE")
        start = time.perf_counter()
        client.get("/", headers=SMALL)
        took = (time.perf_counter() - start) * 1000
        other.rollback()
    print(f"Today beside a writer {took:10.1f} ms")


def first_load(client: FlaskClient) -> None:
    page = client.get("/", headers=SMALL)
    text = brotli.decompress(page.data).decode() if page.headers.get("Content-Encoding") == "br" else page.text
    named = {part.split('"')[0] for part in text.split("/assets/")[1:]}
    sent = [len(client.get(f"/assets/{name}", headers=SMALL).data) for name in named]
    print(
        f"a first load of Today {(len(page.data) + sum(sent)) / 1000:.0f} kB in {1 + len(sent)} requests, then ", end=""
    )
    print(f"{len(page.data) / 1000:.0f} kB a page")


FIRST = """
import sys, time
start = time.perf_counter()
from pathlib import Path
from datetime import UTC, datetime
from chirotend.store.models import CallRow, EventRow, WarmupRow
from chirotend.web import create_app
app = create_app(Path(sys.argv[1]), clock=lambda: datetime(2026, 11, 12, 9, 10, tzinfo=UTC), testing=True, demo=True)
ready = time.perf_counter()
app.test_client().get("/")
print(f"start {ready - start:.2f} s, first page {(time.perf_counter() - ready) * 1000:.0f} ms")
"""


def first_request(app: Flask) -> None:
    done = subprocess.run(
        [sys.executable, "-c", FIRST, str(app.extensions["database"].folder)],
        capture_output=True,
        text=True,
        check=True,
    )
    print(f"a new process         {done.stdout.strip()}")


def growth(times: int) -> None:
    for years in (1, 10, 30):
        with a_record(years) as (_, _, client):
            shown = ", ".join(f"{name} {timed(partial(client.get, path), times)[0]:.1f}" for name, path in PAGES[:7:3])
            print(f"{years:2} years: {shown} ms")
        gc.unfreeze()


def main() -> None:
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    with a_record(10) as (app, context, client):
        print(f"record: {context.store.counts()}")
        pages(context, client, times)
        after_a_write(client, times // 2)
        beside_a_writer(app, client)
        first_load(client)
        import_rows(app, context)
        first_request(app)
        bench_tried.pages(context, client, partial(beside, floor=partial(bare_read, context), times=times // 3))
        bench_technique.served(timed, context, client, app.extensions["database"].blobs)
    bench_technique.files()
    gc.unfreeze()
    growth(times // 3)


if __name__ == "__main__":
    main()
