"""Open matters: advice to be seen, and errands, each with its first day, the day it is due, and its answers.

The call raises advice once; it stays until the player answers it, whether or not the row that raised it still speaks.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any
from uuid import uuid4

from chirotend.core.judge.call import Call
from chirotend.core.judge.findings import Finding
from chirotend.core.record import Place
from chirotend.core.record.words import MatterState
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections
from chirotend.services.units import typed_day
from chirotend.services.words import day_words, place_name, short_day_words
from chirotend.store.models import MatterRow

#: days until someone should see it, by how soon the finding says; "now" is the urgent page's
DUE_DAYS = {"now": 0, "today": 0, "week": 7, "two_weeks": 14}
#: after "not now" it is asked again, after "I was seen" the same advice waits so long
ASK_AGAIN_DAYS, SEEN_HOLDS_DAYS = 14, 28
TITLE_MAX, NOTE_MAX, FURTHEST_DAYS = 120, 500, 366


@dataclass(frozen=True)
class Matter:
    """An open matter as pages show it. `asks_now`: it is on Today; `days_over`: days past its date (0 = none)."""

    row: MatterRow
    title: str
    about: str
    when: str
    asks_now: bool
    days_over: int

    @property
    def uid(self) -> str:
        return self.row.uid

    @property
    def is_visit(self) -> bool:
        return self.row.kind == "see"


def raise_from(context: Context, call: Call) -> None:
    """Write the advice to be seen that today's call brings, where it does not stand already.

    The same place keeps its first day; what is sooner now comes sooner.
    """
    rows = context.store.repository(MatterRow).all(MatterRow.kind == "see")
    for finding in call.findings:
        days = DUE_DAYS.get(finding.book)
        if days is None:
            continue
        due = context.today + timedelta(days=days)
        here = next((r for r in rows if r.settled_on is None and _same_matter(r, finding)), None)
        if here is not None:
            if due < here.due and here.state == MatterState.OPEN:
                here.due = due
        elif not any(_seen_lately(r, finding, context.today) for r in rows):
            rows.append(_write(context, "see", due, code=finding.code, place=finding.place or ("", "")))


def raise_for(context: Context, code: str, place: Place, soon: str) -> None:
    """Write the advice to be seen that follows of what happened, where none stands for that place."""
    rows = context.store.repository(MatterRow).all(MatterRow.settled_on.is_(None), MatterRow.kind == "see")
    if not any((r.region, r.side) == place and r.code == code for r in rows):
        _write(context, "see", context.today + timedelta(days=DUE_DAYS[soon]), code=code, place=place)


def _write(
    context: Context,
    kind: str,
    due: date,
    *,
    code: str = "",
    place: Place = ("", ""),
    title: str = "",
    advised_by: str = "",
) -> MatterRow:
    """Write a new open matter of today, not yet answered."""
    region, side = place
    values: dict[str, Any] = {"uid": uuid4().hex, "kind": kind, "code": code, "region": region, "side": side}
    values |= {"title": title, "advised_by": advised_by, "first_day": context.today, "due": due, "history": []}
    return context.store.repository(MatterRow).put(
        {**values, "state": MatterState.OPEN.value, "booked_for": None, "settled_on": None}
    )


def _same_matter(row: MatterRow, finding: Finding) -> bool:
    """Advice about no one place is the same visit as any other."""
    place = finding.place or ("", "")
    return (row.region, row.side) == place or not row.region or not place[0]


def _seen_lately(row: MatterRow, finding: Finding, today: date) -> bool:
    """True when she was seen about it: what was marked since, and is more urgent, is new advice."""
    if row.settled_on is None or row.state != MatterState.SEEN or not _same_matter(row, finding):
        return False
    if finding.book != "two_weeks" and finding.days and finding.days[-1] > row.settled_on:
        return False
    return (today - row.settled_on).days < SEEN_HOLDS_DAYS


def open_matters(context: Context) -> tuple[Matter, ...]:
    """Return what is open, the soonest first."""
    rows = context.store.repository(MatterRow).all(MatterRow.settled_on.is_(None), order=(MatterRow.due,))
    return tuple(_matter_of(context, row) for row in sorted(rows, key=_date_of))


def settled_matters(context: Context) -> tuple[Matter, ...]:
    """Return what is settled, the latest first."""
    rows = context.store.repository(MatterRow).all(
        MatterRow.settled_on.is_not(None), order=(MatterRow.settled_on.desc(),)
    )
    return tuple(_matter_of(context, row) for row in rows)


def asked_today(context: Context) -> tuple[Matter, ...]:
    """Return the matters that Today asks about: visits before errands, the soonest first."""
    asked = (m for m in open_matters(context) if m.asks_now)
    return tuple(sorted(asked, key=lambda m: not m.is_visit))


def _date_of(row: MatterRow) -> date:
    return row.booked_for if row.state == MatterState.BOOKED and row.booked_for is not None else row.due


def _matter_of(context: Context, row: MatterRow) -> Matter:
    today, day = context.today, _date_of(row)
    answered = date.fromisoformat(row.history[-1][0]) if row.history else row.first_day
    waits = row.state == MatterState.NOT_NOW and (today - answered).days < ASK_AGAIN_DAYS
    booked = row.state == MatterState.BOOKED and day >= today
    return Matter(
        row, _title(row), _about(row), _when(row, today), not waits and not booked, max(0, (today - day).days)
    )


def _title(row: MatterRow) -> str:
    return row.title or "See a doctor or hand therapist"


def _about(row: MatterRow) -> str:
    place = place_name((row.region, row.side)).capitalize() if row.region else ""
    by = f"Advised by {row.advised_by}" if row.advised_by else f"Open since {day_words(row.first_day)}"
    return ". ".join(part for part in (place, by) if part)


def _when(row: MatterRow, today: date) -> str:
    day = _date_of(row)
    if row.state == MatterState.BOOKED:
        return f"booked for {short_day_words(day)}" if day >= today else f"was booked for {short_day_words(day)}"
    return f"by {short_day_words(day)}" if day >= today else f"was due on {short_day_words(day)}"


def book(context: Context, uid: str, typed: str) -> None:
    """Note the day she is booked for. `FieldError` names the field."""
    row, day = context.row(MatterRow, uid), typed_day("booked_for", typed)
    if not context.today <= day <= context.today + timedelta(days=FURTHEST_DAYS):
        raise FieldError("booked_for", "The day you are booked for is today or within a year.")
    _answer(context, row, MatterState.BOOKED, f"for {day_words(day)}", booked_for=day)


def not_now(context: Context, uid: str, why: str) -> None:
    """Note why it is not for now: Today asks again after a fortnight. `FieldError` without a reason."""
    row = context.row(MatterRow, uid)
    if not why.strip():
        raise FieldError("why", "Write why in a few words. You are asked again in two weeks.")
    _answer(context, row, MatterState.NOT_NOW, why)


def seen(context: Context, uid: str, words: str) -> None:
    """Settle a visit: she was seen, and what was said."""
    _answer(context, context.row(MatterRow, uid), MatterState.SEEN, words, settled_on=context.today)


def done(context: Context, uid: str) -> None:
    """Settle an errand; `NotThere` for a visit, which is settled by having been seen."""
    row = context.row(MatterRow, uid)
    if row.kind == "see":
        raise NotThere(uid)
    _answer(context, row, MatterState.DONE, "", settled_on=context.today)


def dates(found: tuple[Matter, ...]) -> list[tuple[date, str]]:
    """Return the day and the short name of each matter, for the line of time."""
    return [(_date_of(m.row), "booked" if m.row.state == MatterState.BOOKED else "by") for m in found]


def add_errand(context: Context, typed: Mapping[str, str]) -> None:
    """Write an open matter of her own: what, by whom advised, by when. `FieldError` names the field."""
    title = typed.get("title", "").strip()
    if not 1 <= len(title) <= TITLE_MAX:
        raise FieldError("title", f"Say what it is, in up to {TITLE_MAX} characters.")
    due = typed_day("due", typed.get("due", ""))
    if not context.today <= due <= context.today + timedelta(days=FURTHEST_DAYS):
        raise FieldError("due", "The day lies between today and a year ahead.")
    by = typed.get("advised_by", "").strip()[:TITLE_MAX]
    kind = "see" if typed.get("kind") == "see" else "errand"
    _write(context, kind, due, title=title, advised_by=by)


def _answer(context: Context, row: MatterRow, state: MatterState, words: str, **changes: Any) -> None:
    """Write an answer; one to a settled matter, sent twice or from an older page, changes nothing."""
    if row.settled_on is not None:
        return
    if len(words) > NOTE_MAX:
        raise FieldError("words", f"At most {NOTE_MAX} characters.")
    history = [*row.history, [context.today.isoformat(), state.value, words.strip()]]
    corrections.change_row(context, "matter", row, state=state.value, history=history, **changes)
