"""Speed as ratios, over a generated ten-year log: `make bench`. It asserts nothing."""

import gc
import statistics
import sys
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from flask import Flask
from sqlalchemy import text

from chirotend.core.body.zones import zones
from chirotend.core.record import Block, Check, Entry, Session
from chirotend.formats import csv_log
from chirotend.services import accounts, plan, today
from chirotend.services.desk import Desk
from chirotend.services.imports import begin, confirm
from chirotend.web import create_app

NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)
DAYS = 3650


def ten_years(seed: int = 1) -> tuple[list[Session], list[Check]]:
    """About 12,000 sessions, 60,000 block and check rows, 20,000 symptom entries."""
    rng = np.random.default_rng(seed)
    sided = [z.id for z in zones().values() if z.sided]
    sessions, checks = [], []
    for back in range(DAYS, 0, -1):
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
    return sessions, checks


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


def bare_read(desk: Desk) -> None:
    """The floor: the rows the call needs as plain tuples, and the numpy arithmetic of range, usual and averages."""
    first, load_first = ((NOW - timedelta(days=d)).date().isoformat() for d in (180, 90))
    sums: dict[str, float] = {}
    for day, minutes, effort in desk.db.execute(
        text(
            "select s.day, b.minutes, coalesce(b.effort, s.effort) from session s"
            " join block b on b.player_id = s.player_id and b.session_uid = s.uid"
            " where s.player_id = 1 and s.day >= :first"
        ),
        {"first": load_first},
    ):
        sums[day] = sums.get(day, 0.0) + minutes * effort
    marks = desk.db.execute(
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


def import_rows(app: Flask, desk: Desk) -> None:
    """Read 50,000 rows of CSV, compare them and save them, as the worker does."""
    rows = [f"2015-{1 + n % 12:02d}-{1 + n % 28:02d},{10 + n % 50},{n % 10}" for n in range(50_000)]
    data = ("day,minutes,effort\n" + "\n".join(rows) + "\n").encode()
    uid = begin(desk, [("sessions.csv", data)], app.extensions["database"].uploads)
    desk.db.commit()
    start = time.perf_counter()
    app.extensions["worker"].run_one()
    read = time.perf_counter() - start
    desk.db.expire_all()
    confirm(desk, uid, False)
    desk.db.commit()
    start = time.perf_counter()
    app.extensions["worker"].run_one()
    saved = time.perf_counter() - start
    print(
        f"import of 50,000 rows: read and compared {50_000 / read:,.0f} rows/s, read again and saved "
        f"{50_000 / saved:,.0f} rows/s, both {50_000 / (read + saved):,.0f} rows/s"
    )


def main() -> None:
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    with TemporaryDirectory() as folder:
        app = create_app(Path(folder), clock=lambda: NOW, testing=True)
        app.config["WTF_CSRF_ENABLED"] = False
        database = app.extensions["database"]
        with database.open_db() as db:
            account = accounts.add_account(
                db, app.extensions["passwords"], "ten", "bars and rests", "Ten Years", "Europe/Vienna", ["bassoon"], NOW
            )
            desk = accounts.desk_of(db, account, NOW)
            assert desk is not None
            sessions, checks = ten_years()
            start = time.perf_counter()
            desk.store.add_all(sessions, checks, [])
            db.commit()
            del sessions, checks  # kept, they would cost the garbage collector in every measurement
            gc.collect()
            gc.freeze()  # as `chirotend serve` does after start-up
            print(f"record: {desk.store.counts()}, written in {time.perf_counter() - start:.1f} s")
            client = app.test_client()
            client.post("/sign-in", data={"name": "ten", "password": "bars and rests"})
            client.post("/morning/as-usual")
            for n in range(12):
                typed = plan.TypedAim(f"aim {n}", (20, 40, 60, 90)[n % 4], 2 + n % 4, "bassoon")
                plan.write_aim(desk, NOW.date() + timedelta(days=7), typed)
            db.commit()
            week = (NOW.date() + timedelta(days=7)).isoformat()
            floor = timed(lambda: bare_read(desk), times)
            print(f"bare read + numpy     p50 {floor[0]:6.1f} ms  p95 {floor[1]:6.1f} ms")
            for name, work in (
                ("the call", lambda: today.issue(desk)),
                ("A Today", lambda: client.get("/")),
                ("E Score, 6 weeks", lambda: client.get("/score/")),
                ("E Score, half a year", lambda: client.get("/score/?weeks=26")),
                ("D Body", lambda: client.get("/body/")),
                ("B Plan", lambda: client.get(f"/plan/?week={week}")),
                ("a date asked for", lambda: client.get(f"/plan/?week={week}&line=28,+10.00,+octet,+3+h")),
                ("G Hands & kit", lambda: client.get("/kit/")),
                ("a bench answers", lambda: client.get("/kit/?strap=120", headers={"HX-Request": "true"})),
                ("Warm-up", lambda: client.get("/warm-up")),
            ):
                p50, p95 = timed(work, times)
                print(f"{name:21} p50 {p50:6.1f} ms  p95 {p95:6.1f} ms  {p50 / floor[0]:5.1f} x the bare read")
            p50, p95 = timed(lambda: plan.lay(desk, NOW.date() + timedelta(days=7)), 10)
            print(f"laying 12 aims        p50 {p50:6.1f} ms  p95 {p95:6.1f} ms")
            db.commit()
            import_rows(app, desk)


if __name__ == "__main__":
    main()
