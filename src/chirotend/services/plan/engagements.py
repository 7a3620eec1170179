"""What stands in her calendar: typed in, brought from a calendar file, written in as played with one touch."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from uuid import uuid4

from chirotend.core.days import practice_day
from chirotend.core.errors import MethodError
from chirotend.core.plan.week import ENGAGEMENT_KINDS, PLAYED_KINDS, Engagement
from chirotend.core.record import Block, Session, overlap
from chirotend.formats.spelled import plain, runs_of
from chirotend.library.loader import diary_words, kind_words
from chirotend.library.schema import KindWords
from chirotend.services.context import Context, FieldError
from chirotend.services.record import corrections
from chirotend.store.models import EngagementRow

TITLE_MAX = 200
LONGEST_MIN = 16 * 60
NEAR_DAYS = 3


@dataclass(frozen=True)
class Typed:
    """An engagement as typed: local day and times, minutes of the hands and effort (None = as usual for its kind)."""

    day: date
    start: time
    end: time
    title: str
    kind: str = ""
    instrument: str = ""
    minutes: float | None = None
    effort: float | None = None


def between(context: Context, first: date, last: date) -> list[Engagement]:
    """Return the engagements of the practice days `first` to `last`, oldest first."""
    return [_value(row) for row in rows_between(context, first, last)]


def rows_between(context: Context, first: date, last: date) -> list[EngagementRow]:
    repository = context.store.repository(EngagementRow)
    return repository.all(EngagementRow.day >= first, EngagementRow.day <= last, order=(EngagementRow.start_utc,))


def near_today(context: Context, last: date) -> list[EngagementRow]:
    """Return the engagements from today to `last`, at most `NEAR_DAYS` ahead. A page reads their rows once."""
    return [row for row in _near(context) if context.today <= row.day <= last]


def _near(context: Context) -> list[EngagementRow]:
    first, last = context.today - timedelta(days=1), context.today + timedelta(days=NEAR_DAYS)
    return context.per_request("engagements near today", lambda: rows_between(context, first, last))


def row_of(context: Context, uid: str) -> EngagementRow:
    return context.row(EngagementRow, uid)


def _value(row: EngagementRow) -> Engagement:
    return Engagement(
        row.uid, row.day, row.start_utc, row.end_utc, row.kind, row.title, row.instrument, row.minutes, row.effort
    )


def usual_for(title: str, kind: str = "") -> KindWords:
    """Return what is usual for a kind; without one, for the kind its title tells."""
    if kind:
        return next(k for k in kind_words() if k.kind == kind)
    words = title.lower()
    told = next((k for k in kind_words() if any(w in words for w in k.words)), None)
    return told or _in_other_tongues(title) or kind_words()[-1]


def _in_other_tongues(title: str) -> KindWords | None:
    """The kind that a title tells by the word list of diaries: its longest run of words that is one."""
    runs = runs_of(plain(title).split(), 3)
    kinds = {k.kind: k for k in kind_words()}
    return next((kinds[kind] for run in runs if (kind := diary_words("kind").get(run)) in kinds), None)


def made(context: Context, typed: Typed, uid: str | None = None) -> Engagement:
    """Return the engagement that was typed, with what is usual for its kind filled in; `FieldError` names the field."""
    title = typed.title.strip()
    if not 1 <= len(title) <= TITLE_MAX:
        raise FieldError("title", f"Give it a title, up to {TITLE_MAX} characters.")
    if typed.kind not in ("", *ENGAGEMENT_KINDS):
        raise FieldError("kind", f"Choose one of {', '.join(ENGAGEMENT_KINDS)}.")
    start = _instant(context, typed.day, typed.start)
    end = _instant(context, typed.day, typed.end)
    if end <= start:
        end = _instant(context, typed.day + timedelta(days=1), typed.end)
    length = (end - start).total_seconds() / 60
    if length > LONGEST_MIN:
        raise FieldError("end", "This would last more than 16 hours. Check begin and end.")
    usual = usual_for(title, typed.kind)
    minutes = round(length * usual.hands_share) if typed.minutes is None else typed.minutes
    if not 0 <= minutes <= length:
        raise FieldError("minutes", f"Minutes of the hands run from 0 to the length of it, {length:.0f}.")
    instrument = typed.instrument or (
        context.player.instruments[0] if usual.kind in PLAYED_KINDS and context.player.instruments else ""
    )
    try:
        effort = usual.effort if typed.effort is None else typed.effort
        day = practice_day(start, context.zone)
        return Engagement(uid or uuid4().hex, day, start, end, usual.kind, title, instrument[:80], minutes, effort)
    except MethodError as error:
        raise FieldError(error.field, "Effort runs from 0 (nothing) to 10 (all you have).") from error


def _instant(context: Context, day: date, at: time) -> datetime:
    return datetime.combine(day, at, context.zone).astimezone(UTC)


def write(context: Context, typed: Typed, uid: str | None = None) -> Engagement:
    """Write an engagement (new, or in the place of `uid`)."""
    old = row_of(context, uid) if uid else None
    engagement = made(context, typed, uid)
    put(
        context,
        engagement,
        old.source if old else "",
        old.reason if old else "",
        session_uid=old.session_uid if old else "",
    )
    return engagement


def put(
    context: Context, e: Engagement, source: str = "", reason: str = "", import_uid: str = "", session_uid: str = ""
) -> None:
    """Keep an engagement; it can be undone for a while."""
    corrections.put_row(context, "engagement", row_values(e, source, reason, import_uid, session_uid))


def row_values(e: Engagement, source: str, reason: str, import_uid: str, session_uid: str) -> dict[str, object]:
    names = ("uid", "day", "start_utc", "end_utc", "kind", "title", "instrument", "minutes", "effort")
    kept = {"source": source, "reason": reason, "import_uid": import_uid, "session_uid": session_uid}
    return {**{n: getattr(e, n) for n in names}, **kept}


def drop(context: Context, uid: str) -> None:
    row_of(context, uid)
    corrections.delete(context, "engagement", uid)


def waiting(context: Context) -> list[EngagementRow]:
    """Return the engagements since yesterday that are over, used the hands, and are not written in."""
    rows = (r for r in _near(context) if r.day <= context.today)
    return [r for r in rows if r.end_utc <= context.now and r.minutes > 0 and not r.session_uid]


def as_planned(context: Context, uid: str, effort: float | None = None) -> Session:
    """Write an engagement in as it was planned, with its expected effort or the one given."""
    row = row_of(context, uid)
    if row.session_uid:
        raise FieldError("engagement", "This is saved already.")
    if row.end_utc > context.now:
        raise FieldError("engagement", "This is not over yet. Save it afterwards.")
    kind = row.kind if row.kind in PLAYED_KINDS else "other"
    block = Block(row.minutes, row.instrument if kind != "other" else row.title[:80], kind)
    felt = row.effort if effort is None else effort
    session = Session(uuid4().hex, row.day, (block,), felt, row.start_utc, row.end_utc)
    clash = overlap(session, context.store.sessions(row.day - timedelta(days=1), row.day + timedelta(days=1)))
    if clash is not None:
        raise FieldError("engagement", "A session is written at this time already. Edit that one instead.")
    with corrections.as_one(context):
        corrections.put(context, session)
        corrections.change_row(context, "engagement", row, session_uid=session.uid)
    return session
