"""What happened to her beside the playing, read from its table: the call, the warm-up and the programmes rest on it."""

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

from chirotend.core.body.zones import zone
from chirotend.core.judge.happened import CAST, FEVER, INSTRUMENT, NO_LIMIT, OPERATION, PREGNANT, Happening
from chirotend.services.context import Context
from chirotend.services.kit.profile import profile
from chirotend.store.models import HappeningRow

#: what ended longer ago than this changes nothing any more
READ_DAYS = 60


def happening_of(row: HappeningRow) -> Happening:
    place = (zone(row.zone).region, row.side or "none") if row.zone else None
    return Happening(
        row.uid,
        row.kind,
        row.day,
        row.until,
        row.answer,
        row.allowed_min,
        row.allowed_from,
        row.allowed_until,
        tuple(row.not_on),
        place,
        row.words if row.kind == INSTRUMENT else "",
    )


def new_row(kind: str, day: date, **said: Any) -> dict[str, Any]:
    """Return the values of a new row of `kind` that began on `day`; what is not `said` is empty."""
    nothing: dict[str, Any] = {
        "until": None,
        "answer": "",
        "zone": "",
        "side": "",
        "said_by": "",
        "words": "",
        "not_on": [],
    }
    no_limit = {"allowed_min": None, "allowed_from": None, "allowed_until": None}
    return {"uid": uuid4().hex, "kind": kind, "day": day, **nothing, **no_limit, **said}


def happenings(context: Context) -> tuple[Happening, ...]:
    """Return what happened and has not long ended, the latest first."""
    return context.per_request("happenings", lambda: tuple(map(happening_of, rows(context))))


def rows(context: Context) -> list[HappeningRow]:
    """Return the rows of what happened and has not long ended, the latest first."""
    since = context.today - timedelta(days=READ_DAYS)
    lasting = HappeningRow.until.is_(None) | (HappeningRow.until >= since)
    return context.store.repository(HappeningRow).all(lasting, order=(HappeningRow.day.desc(),))


def states_of(context: Context) -> frozenset[str]:
    """Return what she said of herself, with what follows of what happened while it lasts."""
    states = set(profile(context).states)
    for h in happenings(context):
        if h.lasts_on(context.today) and h.kind == PREGNANT:
            states.add("pregnant")
        if h.lasts_on(context.today) and h.kind in (OPERATION, CAST) and h.answer != NO_LIMIT:
            states.add("recent_operation")
    return frozenset(states)


def ruled_out(context: Context) -> frozenset[str]:
    """Return the instruments that someone licensed ruled out for today."""
    now = (h for h in happenings(context) if h.allows_on(context.today) and h.kind != FEVER)
    return frozenset(instrument for h in now for instrument in h.not_on)
