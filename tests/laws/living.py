"""Players who live through the pages day by day with a clock: they answer, forget, disobey, log late, and are hurt."""

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any

from flask import Flask
from flask.testing import FlaskClient

from chirotend.formats.kept_rows import dose_from, finding_from, recovery_from
from chirotend.services.account import accounts
from chirotend.services.call.issued_call import IssuedCall
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context

Marks = Callable[[int], list[dict[str, Any]]]


@dataclass(frozen=True)
class Habits:
    """How a player lives: minutes of a usual day, whether she keeps to the limit, when and how she writes.

    `felt(n)` gives the marks of day n as form fields. `mornings` and `evenings` say on which days she answers;
    `through`: "add" = Add a session only. `instruments`: played in turn.
    """

    name: str
    minutes: float = 90
    obeys: bool = True
    mornings: Callable[[int], bool] = lambda n: True
    evenings: Callable[[int], bool] = lambda n: True
    felt: Marks = lambda n: []
    off: Callable[[int], bool] = lambda n: n % 7 == 6
    instruments: tuple[str, ...] = ("bassoon",)


@dataclass
class Morning:
    """What stood on a morning: the call as stored, and the page."""

    day: date
    issued: IssuedCall
    page: str


@dataclass
class Living:
    """A player in the application; `history` holds her mornings."""

    app: Flask
    client: FlaskClient
    clock: Any
    habits: Habits
    number: int = 0
    history: list[Morning] = field(default_factory=list)
    #: called on each morning once the check is answered
    looks: Callable[["Living", Morning], None] = lambda living, morning: None

    def context(self) -> Context:
        db = self.app.extensions["database"].open_db()
        account = accounts.the_only_account(db)
        assert account is not None
        found = accounts.context_of(db, account, self.clock(), False)
        assert found is not None
        return found

    def call(self) -> IssuedCall:
        """The call that stands now."""
        context = self.context()
        try:
            return todays_call(context).issued
        finally:
            context.db.rollback()
            context.db.close()

    def live(self, days: int) -> "Living":
        for _ in range(days):
            self.day()
        return self

    def day(self) -> None:
        """One day: the morning's look, the check, the playing, the evening's entry."""
        h, n = self.habits, self.number
        felt = h.felt(n)
        at = self.clock.now.replace(hour=7, minute=0) + timedelta(days=1)
        self.clock.now = at
        if h.mornings(n):
            self._mark([m for m in felt if m["timings"] in ("waking", "night")])
            self.post("/morning/as-usual")
        page = self.client.get("/")
        assert page.status_code == 200, page.text
        morning = Morning(at.date(), self.call(), page.text)
        self.history.append(morning)
        self.looks(self, morning)
        self.clock.now = at.replace(hour=20)
        minutes = self._plays(morning.issued)
        if h.evenings(n):
            if minutes:
                self.add_session(minutes, h.instruments[n % len(h.instruments)], felt)
            elif h.off(n):
                self.post("/day-off", {"off": "yes"})
        self.number += 1

    def _plays(self, call: IssuedCall) -> float:
        h = self.habits
        if h.off(self.number):
            return 0.0
        limit = call.dose.minutes
        if not h.obeys or (limit is None and call.effective != "tacet"):
            return h.minutes
        return 0.0 if call.effective == "tacet" else min(h.minutes, limit or 0.0)

    def add_session(self, minutes: float, instrument: str, felt: list[dict[str, Any]]) -> None:
        after = [m for m in felt if m["timings"] in ("playing", "after")]
        form = {"day": self.clock.now.date().isoformat(), "instrument": instrument, "minutes": f"{minutes:g}"}
        form |= {"effort": "4", "grip": "last", "posture": "last", "after": "show" if after else "nothing"}
        self.post("/record/session/new", form)
        self._mark(after)

    def _mark(self, marks: list[dict[str, Any]]) -> None:
        for each in marks:
            self.post("/body/", each)

    def post(self, path: str, data: dict[str, Any] | None = None) -> None:
        answer = self.client.post(path, data=data or {})
        assert answer.status_code in (302, 303), (path, answer.status_code, answer.text[-2000:])

    def levels(self) -> list[str]:
        return [m.issued.effective for m in self.history]


def mark(place: str, kind: str, strength: float, timing: str, lasting: str = "", flags: str = "") -> dict[str, Any]:
    found = {"places": place, "kind": kind, "intensity": f"{strength:g}", "timings": timing}
    return found | ({"lasting": lasting} if lasting else {}) | ({"flags": flags} if flags else {})


def stored_calls(living: Living) -> list[tuple[date, Any, Any, list[Any]]]:
    """Every call as it is stored: its day, dose, standing and findings."""
    context = living.context()
    try:
        rows = context.store.calls(date(2000, 1, 1), living.clock.now.date())
        return [
            (r.day, dose_from(r.dose), recovery_from(r.standing), [finding_from(f) for f in r.findings])
            for r in rows.values()
        ]
    finally:
        context.db.rollback()
        context.db.close()
