"""What A Today shows: the call, and beside it the limit drawn, the next step, the question, the open matter."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from chirotend.core.body.zones import zone
from chirotend.core.record import Entry, Record, Session
from chirotend.drawing.limit_bar import limit_bar
from chirotend.drawing.measured import Picture
from chirotend.library.loader import doors
from chirotend.services.body import checks
from chirotend.services.call.issued_call import IssuedCall
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.plan import plan_page
from chirotend.services.plan.plan_page import StillToday
from chirotend.services.play.running_session import RunningSession
from chirotend.services.today import matters
from chirotend.services.today.happened import states_of
from chirotend.services.today.matters import Matter
from chirotend.services.today.missing import unasked_after_playing
from chirotend.services.today.week import Week, week_of
from chirotend.services.words import KIND_WORDS, keyed_sentence, listed, long_time, sentence

PHONE_WIDTH = 350.0
#: reasons under which a child's parent or teacher is told today
TELL_SOMEONE = ("loss", "prompt_sign", "numb_unknown", "night_sign", "woken", "tingling_nights")


@dataclass(frozen=True)
class Today:
    """Today's call, the seven days that end today, and what was written of today."""

    issued: IssuedCall
    week: Week
    record: Record
    sessions: tuple[Session, ...]
    asked: tuple[str, ...]
    day_off: bool


def todays_page(context: Context) -> Today:
    """Return what A Today shows."""
    call, today = todays_call(context), context.today
    record = call.evidence.record
    note = record.note(today)
    return Today(
        call.issued,
        week_of(call.evidence),
        record,
        tuple(s for s in record.sessions if s.day == today),
        tuple(c.timing for c in record.checks_on(today)),
        bool(note and note.off),
    )


@dataclass(frozen=True)
class Limit:
    """The day's one limit: the sentence, what rules it, the bar (wide and for a phone), minutes left (None = none)."""

    sentence: str
    ruled_by: str
    wide: Picture | None
    phone: Picture | None
    left: float | None


@dataclass(frozen=True)
class NextStep:
    """The one black button: what it says, and the page it opens; "" = there is none today."""

    label: str
    endpoint: str


@dataclass(frozen=True)
class BesideCall:
    """What stands beside the call."""

    limit: Limit
    #: the instruments that someone licensed ruled out, as a sentence; "" = none
    ruled_out: str
    tonight: StillToday | None
    over_limit: bool
    next: NextStep
    yesterday: str
    woke_with: str
    matter: Matter | None
    more_matters: int
    tell_a_parent: bool
    #: yesterday, when it was played and nothing was asked after: one touch answers it
    after_open: date | None


def beside_call(context: Context, page: Today, stand: RunningSession) -> BesideCall:
    """Return what Today shows beside the call."""
    call, played = page.issued, page.week.today_minutes or 0.0
    tonight = plan_page.still_today(context) if call.effective != "tacet" else None
    asked = tonight.minutes if tonight else 0.0
    limit = _limit(call, played, asked, page.week.baseline_minutes)
    open_matters = matters.asked_today(context)
    return BesideCall(
        limit,
        _ruled_out(call),
        tonight,
        bool(tonight and not call.overrule and limit.left is not None and asked > limit.left),
        _next(call, stand, limit, open_matters),
        "" if "waking" in page.asked else _marks(checks.yesterdays_marks(context)),
        _marks(_woke_with(page)),
        open_matters[0] if open_matters else None,
        max(0, len(open_matters) - 1),
        "under_16" in states_of(context)
        and (call.effective == "tacet" or any(r.code in TELL_SOMEONE for r in call.reasons)),
        unasked_after_playing(page.record, call.day),
    )


def _woke_with(page: Today) -> list[Entry]:
    """Return what this morning's waking check holds, strongest first."""
    entries = (e for c in page.record.checks_on(page.issued.day) if c.timing == "waking" for e in c.entries)
    return sorted(entries, key=lambda e: -e.intensity)


def _ruled_out(call: IssuedCall) -> str:
    if call.effective == "tacet":
        return ""
    return next((r.sentence for r in call.reasons if r.code == "told_without"), "")


def _limit(call: IssuedCall, played: float, asked: float, usual: float | None) -> Limit:
    minutes, muted = call.dose.minutes, call.effective.startswith("muted")
    if call.effective == "tacet" or call.overrule:
        return Limit("", "", None, None, None)
    block = call.dose.block_min if muted else 0.0
    wide, phone = (limit_bar(played, minutes, block, asked, usual, width) for width in (640.0, PHONE_WIDTH))
    ruled_by = "" if minutes is None or call.dose.ruled_by == "level" else call.dose.ruled_by
    return Limit(_limit_sentence(call), keyed_sentence("ruled", ruled_by), wide, phone, call.dose.left(played))


def _limit_sentence(call: IssuedCall) -> str:
    minutes, block = call.dose.minutes, f"{call.dose.block_min:g}"
    if not call.effective.startswith("muted"):
        return "" if minutes is None else sentence("today", "limit", minutes=long_time(minutes))
    if minutes is None:
        return sentence("today", "limit_unknown", block=block)
    return sentence("today", "limit_muted", minutes=long_time(minutes), block=block)


def _next(call: IssuedCall, stand: RunningSession, limit: Limit, asked: Sequence[Matter]) -> NextStep:
    if call.effective == "tacet":
        lead = call.reasons[0].code if call.reasons and not call.overrule else ""
        door = doors().get(lead.removesuffix("_stops")) if lead.endswith("_stops") else None
        if door is not None:
            return NextStep(door.tacet_button, "happened.index")
        visit = bool(asked) and asked[0].is_visit
        return NextStep("Arrange to see someone", "matters.index") if visit else NextStep("", "")
    if stand.state.live:
        return NextStep("Back to the stand", "play.index")
    if limit.left is not None and limit.left < 1:
        return NextStep("", "")
    if call.effective.startswith("muted"):
        block = call.dose.block_min if limit.left is None else min(call.dose.block_min, limit.left)
        return NextStep(f"Play the next {block:.0f} minutes", "play.index")
    return NextStep("Start playing", "play.index")


def _marks(entries: Sequence[Entry]) -> str:
    """Marks in a few words: "left thumb base, pain 3"."""
    return listed(_mark(e) for e in entries) if entries else ""


def _mark(entry: Entry) -> str:
    return f"{zone(entry.zone).spoken(entry.side)}, {KIND_WORDS[entry.kind]} {entry.intensity:g}"
