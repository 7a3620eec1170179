"""E Score: days of the record as bars, with the calls as they were said then."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.body.zones import regions
from chirotend.core.judge.baseline import baseline_range
from chirotend.core.judge.signs.course import marked_courses
from chirotend.core.load.series import load_series
from chirotend.core.record import Check, DayNote, Record, Session
from chirotend.core.record.words import TIMINGS
from chirotend.drawing import score as drawn
from chirotend.drawing.score import Remark, ScoreDay, ScoreLine, ScoreMark
from chirotend.drawing.strip import Bar, Strip, strip
from chirotend.library.loader import instrument_name
from chirotend.services import words
from chirotend.services.body.getting_worse import headline
from chirotend.services.call.issued_call import IssuedCall, issued_call
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.play.stand import Stand
from chirotend.services.score.only import EVERYTHING, Only, measured_between
from chirotend.services.score.remarks import remarks_of
from chirotend.services.words import sentence
from chirotend.store.models import CallRow

TABLET_WEEKS = 6  # longer pages are drawn once and scaled, to stay quick
ROOM_BEFORE = 60  # days read before the first bar, for the usual range


@dataclass(frozen=True)
class ScorePage:
    first: date
    last: date
    days: tuple[ScoreDay, ...]
    remarks: tuple[Remark, ...]
    wide: tuple[ScoreLine, ...]
    tablet: tuple[ScoreLine, ...]
    phone: tuple[ScoreLine, ...]
    logged: int
    only: Only

    @property
    def days_shown(self) -> str:
        return f"{self.first:%-d %B %Y} to {self.last:%-d %B %Y}"

    @property
    def only_words(self) -> str:
        """What was chosen, in one sentence; "" = everything is shown."""
        region, instrument = self.only.region, instrument_name(self.only.instrument).lower()
        if region and self.only.instrument:
            return sentence("score", "only_both", region=region, instrument=instrument)
        if region:
            return sentence("score", "only_region", region=region)
        return sentence("score", "only_instrument", instrument=instrument) if self.only.instrument else ""


@dataclass(frozen=True)
class DayShown:
    """All there is of one day."""

    day: date
    sessions: tuple[Session, ...]
    checks: tuple[Check, ...]
    note: DayNote | None
    issued: IssuedCall | None
    load: float | None
    minutes: float | None


def score_lines_page(context: Context, weeks: int, last: date, only: Only = EVERYTHING) -> ScorePage:
    """Return `weeks` weeks ending with the week of `last`, broken into systems for context, tablet and phone.

    `only` leaves other regions and instruments out, and lays a measure under the load.
    """
    end = last + timedelta(days=6 - last.weekday())
    first = end - timedelta(days=7 * weeks - 1)
    record = context.store.record(first - timedelta(days=ROOM_BEFORE), end)
    calls = context.store.calls(first, end)
    days = _days(context, record, calls, first, end, only)
    remarks = tuple(r for r in remarks_of(calls) if only.region in ("", r.region))
    scheduled = measured_between(context, only.under, first, end)

    def broken(shown: Sequence[ScoreDay], layout: drawn.Layout) -> tuple[ScoreLine, ...]:
        return drawn.lines(shown, remarks, layout, words.SHORT_REGIONS, scheduled)

    return ScorePage(
        first,
        end,
        days,
        remarks,
        broken(days, drawn.DESK if weeks <= TABLET_WEEKS else drawn.HALF_YEAR),
        broken(days, drawn.TABLET) if weeks <= TABLET_WEEKS else (),
        broken(days[-14:], drawn.PHONE),
        sum(d.asked or d.played or d.off for d in days),
        only,
    )


def headline_of(context: Context, page: ScorePage) -> str:
    """Return what stands above a score: what the most urgent place shown does, or the days of earlier weeks."""
    if page.last < context.today:
        return page.days_shown
    courses = marked_courses(todays_call(context).evidence)
    return headline([c for c in courses if page.only.region in ("", c.place[0])])


def last_week(context: Context, record: Record) -> ScoreLine:
    """Return the last seven days as one system, for Today; `record` reaches back far enough for the usual range."""
    first = context.today - timedelta(days=6)
    days = _days(context, record, context.store.calls(first, context.today), first, context.today, EVERYTHING)
    return drawn.lines(days, (), drawn.Layout(500, 7, 0, short=True), words.SHORT_REGIONS)[0]


def of_record(context: Context, record: Record, first: date) -> tuple[tuple[ScoreLine, ...], tuple[ScoreLine, ...]]:
    """Return two weeks of a record that is not (yet) in the store, as lines for a wide screen and for a phone."""
    days = _days(context, record, {}, first, first + timedelta(days=13), EVERYTHING)
    wide, phone = (drawn.lines(days, (), layout, words.SHORT_REGIONS) for layout in (drawn.DESK, drawn.PHONE))
    return wide, phone


def _days(
    context: Context, record: Record, calls: dict[date, CallRow], first: date, last: date, only: Only
) -> tuple[ScoreDay, ...]:
    start = first - timedelta(days=ROOM_BEFORE)
    series = load_series(record, start, last, only.instrument)
    ranges = [baseline_range(series.load, i) for i in range((first - start).days, len(series.load))]
    sessions: dict[date, list[Session]] = {}
    for s in record.sessions:
        sessions.setdefault(s.day, []).append(s)
    off = {n.day for n in record.notes if n.off}
    today = context.today
    found = []
    for i in range((last - first).days + 1):
        day = first + timedelta(days=i)
        load = series.on(day)[1]
        row = calls.get(day)
        marks = tuple(m for m in _marks(record.checks_on(day)) if only.region in ("", m.region))
        blocks = [b for s in sessions.get(day, ()) for b in s.blocks if only.instrument in ("", b.instrument)]
        found.append(
            ScoreDay(
                day,
                row.call if row else None,
                row.overrule if row else None,
                any(b.kind == "performance" for b in blocks),
                day in off,
                bool(blocks),
                None if load != load else load,
                (usual.low, usual.high) if (usual := ranges[i]) else None,
                bool(record.checks_on(day)),
                marks,
                day == today,
                day > today,
            )
        )
    return tuple(found)


def _marks(checks: Sequence[Check]) -> tuple[ScoreMark, ...]:
    strongest: dict[tuple[str, str, str, str], float] = {}
    for c in checks:
        for e in c.entries:
            if e.intensity > 0:
                key = (e.region, e.side, e.kind, c.timing)
                strongest[key] = max(strongest.get(key, 0.0), e.intensity)
    return tuple(
        ScoreMark(region, side, kind, value, timing) for (region, side, kind, timing), value in strongest.items()
    )


def summary(d: ScoreDay) -> str:
    """Return what is said of a bar: the day, the call, the strongest marks."""
    parts = [words.day_words(d.day)]
    if d.call:
        parts.append(words.call_words(d.overrule or d.call))
    if d.performance:
        parts.append("performance")
    if d.off:
        parts.append("day off")
    strongest = sorted(d.marks, key=lambda m: -m.intensity)[:4]
    parts += [f"{_mark_words(m)} {words.TIMING_WORDS[m.timing]}" for m in strongest]
    if not d.marks:
        parts.append("nothing marked" if d.asked else "not asked")
    return ", ".join(parts)


def by_region(d: ScoreDay) -> dict[str, str]:
    """Return what is said of each marked region of a bar, from the neck down."""
    order = sorted({m.region for m in d.marks}, key=regions().index)
    return {region: _region_summary(region, d.marks) for region in order}


def _mark_words(m: ScoreMark) -> str:
    side = "" if m.side == "none" else m.side + " "
    return f"{side}{words.SHORT_REGIONS[m.region]} {words.KIND_WORDS[m.kind]} {m.intensity:g}"


def _region_summary(region: str, marks: Sequence[ScoreMark]) -> str:
    return ", ".join(f"{_mark_words(m)} {words.TIMING_WORDS[m.timing]}" for m in marks if m.region == region)


def day(context: Context, wanted: date) -> DayShown:
    """Return everything of one day; an empty day is a day too."""
    record = context.store.record(wanted, wanted)
    row = context.store.latest_call(wanted)
    minutes, load = load_series(record, wanted, wanted).on(wanted)
    return DayShown(
        wanted,
        record.sessions,
        tuple(sorted(record.checks, key=lambda c: TIMINGS.index(c.timing))),
        record.note(wanted),
        issued_call(row) if row else None,
        None if load != load else load,
        None if minutes != minutes else minutes,
    )


def todays_part(context: Context, sessions: Sequence[Session]) -> list[tuple[Session, Strip, Strip]]:
    """Return each session of today with its strip, wide and narrow."""
    found = []
    for s in sessions:
        bars = [
            Bar(
                b.minutes,
                f"{b.kind}, {instrument_name(b.instrument)}" if b.instrument else b.kind,
                "performance" if b.kind == "performance" else "play",
                s.effort_of(b),
            )
            for b in s.blocks
        ]
        found.append((s, strip(bars, 900), strip(bars, 350)))
    return found


def stand_strips(stand: Stand) -> tuple[Strip, Strip] | None:
    """Return the session so far with what is ahead, drawn wide and narrow; None when nothing runs."""
    spans = stand.state.spans
    if not spans:
        return None
    bars = [
        Bar(s.seconds / 60, _span_name(s.block_kind, s.instrument), "rest" if s.kind == "rest" else "play", state="now")
        for s in spans
        if s.seconds > 0
    ]
    played = sum(b.minutes for b in bars)
    if stand.state.live:
        current = "rest" if spans[-1].kind == "rest" else "play"
        bars.append(Bar(max(stand.left_s / 60, 0.1), "", current, state="ahead"))
        ahead = stand.bars[stand.bar + 1 :] if stand.bar is not None else ()
        bars += [Bar(b.minutes, b.title, b.kind, b.effort, "ahead") for b in ahead]
        if not ahead:
            bars.append(Bar(stand.next_min, "", stand.next_kind, state="ahead"))
    now_min = played if stand.state.live else None
    return strip(bars, 1200, now_min), strip(bars, 400, now_min)


def _span_name(kind: str, instrument: str) -> str:
    return f"{kind}, {instrument_name(instrument).lower()}" if instrument else kind
