"""Can I take this date? Typed in one line or picked; answered with what it does to the fortnight; taken or declined."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, time, timedelta

from chirotend.core.days import day_named
from chirotend.core.plan.asked_date import Answer, asked
from chirotend.core.plan.week import Engagement, PlannedBlock
from chirotend.core.plan.week_problem import monday
from chirotend.services import words
from chirotend.services.call.todays_call import TodaysCall
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.plan import days_ahead, engagements
from chirotend.services.plan.engagements import LONGEST_MIN, Typed
from chirotend.services.record import corrections
from chirotend.services.words import keyed_sentence, sentence

REASON_MAX = 500
WEEKDAYS = {
    name[:2].lower(): i
    for i, name in enumerate(("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"))
}
_DAY = re.compile(r"^(?:(mo|tu|we|th|fr|sa|su)[a-z]*\.?\s*)?(\d{1,2})(?:\.|\s+([a-z]{3})[a-z]*)?$", re.I)
_ISO = re.compile(r"^\d{4}-\d{2}-\d{2}$")
_TIME = re.compile(r"^(\d{1,2})[.:](\d{2})(?:\s*[-–]\s*(\d{1,2})[.:](\d{2}))?$")
_LENGTH = re.compile(r"^(?:(.*?)\s+)?(\d+(?:[.,]\d+)?)\s*(h|hours?|min|minutes?)$", re.I)
MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


@dataclass(frozen=True)
class Asked:
    """A question answered: what was asked, the core's answer, and its sentences."""

    engagement: Engagement
    answer: Answer
    line: str
    verdict: str
    changes: tuple[str, ...]
    against: tuple[str, ...]
    sums: str
    judged: TodaysCall


def read_line(context: Context, line: str) -> Typed:
    """Return the date typed in one line, such as "Sa 28, 10.00, octet, contra 3 h"; `FieldError` says what is missing.

    Parts between commas, in any order: the day (Sa 28, 28 Nov, 2026-11-28), the begin (10.00, or 10.00–13.00), the
    length (3 h, 90 min), an instrument of hers by the beginning of its name, and the title.
    """
    day: date | None = None
    start: time | None = None
    end: time | None = None
    minutes: float | None = None
    instrument, title = "", ""
    for part in (p.strip() for p in line.split(",") if p.strip()):
        if day is None and (found_day := _day(context, part)) is not None:
            day = found_day
        elif start is None and (found := _TIME.match(part)):
            start, end = _clock(found[1], found[2]), _clock(found[3], found[4]) if found[3] else None
        else:
            if long := _LENGTH.match(part):
                value = float(long[2].replace(",", "."))
                minutes, part = value * (60 if long[3].lower().startswith("h") else 1), (long[1] or "").strip()
            known = _instrument(context, part)
            instrument = instrument or known
            if part and not known:
                title = f"{title}, {part}" if title else part
    if day is None:
        raise FieldError("line", "Which day? Write it as Sa 28, 28 Nov or 2026-11-28.")
    if start is None:
        raise FieldError("line", "When does it begin? Write it as 10.00, or 10.00–13.00.")
    if end is None and minutes is None:
        raise FieldError("line", "How long? Write it as 3 h or 90 min, or give begin and end as 10.00–13.00.")
    if minutes is not None and not 1 <= minutes <= LONGEST_MIN:
        raise FieldError("line", "A date lasts from 1 minute to 16 hours. Check how long.")
    if end is None:
        total = start.hour * 60 + start.minute + round(minutes or 0)
        end = time(total // 60 % 24, total % 60)
    return Typed(
        day, start, end, title or "untitled", "" if engagements.usual_for(title).words else "performance", instrument
    )


def _clock(hour: str, minute: str) -> time:
    try:
        return time(int(hour), int(minute))
    except ValueError as error:
        raise FieldError("line", f"{hour}.{minute} is no time of day. Write it as 10.00.") from error


def _day(context: Context, part: str) -> date | None:
    try:
        if _ISO.match(part):
            return day_named(part)
        found = _DAY.match(part)
        if found is None:
            return None
        return _next_day(context.today, int(found[2]), found[1], found[3])
    except ValueError as error:
        raise FieldError("line", f"“{part}” is no day there is. Write it as Sa 28 or 2026-11-28.") from error


def _next_day(today: date, number: int, weekday: str | None, month: str | None) -> date:
    """The next day of that number (and month); a weekday that does not fit it is refused."""
    if month and month.lower() not in MONTHS:
        raise ValueError(month)
    for ahead in range(0, 370):
        day = today + timedelta(days=ahead)
        if day.day == number and (month is None or day.month == MONTHS.index(month.lower()) + 1):
            if weekday and WEEKDAYS[weekday.lower()] != day.weekday():
                raise FieldError("line", f"The {words.day_words(day)} is no {weekday}. Check day and weekday.")
            return day
    raise ValueError(number)


def _instrument(context: Context, part: str) -> str:
    wanted = part.lower()
    if len(wanted) < 3:
        return ""
    return next(
        (i for i in context.player.instruments if own_library.name_of(context, i).lower().startswith(wanted)), ""
    )


def ask(context: Context, line: str) -> Asked:
    """Answer a date typed in one line."""
    typed = read_line(context, line)
    if typed.day < context.today:
        raise FieldError("line", "This day is over. Ask about today or a later day.")
    engagement = engagements.made(context, typed, "asked")
    first = monday(min(engagement.day, context.today))
    last = max(monday(engagement.day), first) + timedelta(days=13)
    what = days_ahead.ahead(context, first, last)
    open_blocks = [b for b in what.blocks if b.start_utc > context.now]
    answer = asked(engagement, what.engagements, open_blocks, what.loads, what.day_high, what.week_high, what.ceilings)
    return Asked(
        engagement,
        answer,
        line,
        _verdict_words(answer),
        tuple(_goes(context, answer)),
        tuple(keyed_sentence("against", j.code, **j.values) for j in answer.against),
        _sums(what, engagement, answer),
        what.judged,
    )


def _verdict_words(answer: Answer) -> str:
    if answer.verdict == "no":
        return sentence("plan", "no")
    if answer.verdict == "yes":
        return sentence("plan", "yes")
    changes = len(answer.goes)
    return sentence("plan", "yes_one") if changes == 1 else sentence("plan", "yes_some", changes=changes)


def _goes(context: Context, answer: Answer) -> list[str]:
    return [
        sentence(
            "plan",
            "goes",
            title=b.title or "Own practice",
            when=f"{b.day:%A} {b.start_utc.astimezone(context.zone):%H.%M}",
            minutes=f"{b.minutes:.0f}",
        )
        for b in answer.goes
    ]


def _sums(what: days_ahead.Ahead, engagement: Engagement, answer: Answer) -> str:
    load = answer.after[engagement.day]
    day, before, after = f"{engagement.day:%A}", f"{answer.before.get(engagement.day, 0.0):.0f}", f"{load:.0f}"
    if what.day_high is None:
        return sentence("plan", "sum_unknown", day=day, before=before, after=after)
    if load <= what.day_high:
        return sentence("plan", "sum_inside", day=day, before=before, after=after)
    return sentence("plan", "sum_above", day=day, before=before, after=after)


def take(context: Context, line: str, as_it_stands: bool = False, reason: str = "") -> Engagement:
    """Take the date: with the changes of the answer, or as it stands with a reason."""
    found = ask(context, line)
    against = found.answer.verdict == "no"
    if against and not as_it_stands:
        raise FieldError("line", "This cannot be taken as asked. Take it as it stands, with a reason, or decline.")
    if as_it_stands and not reason.strip():
        raise FieldError("reason", "Write the reason in a few words: it stays beside the date.")
    if len(reason) > REASON_MAX:
        raise FieldError("reason", f"At most {REASON_MAX} characters.")
    typed = read_line(context, line)
    engagement = engagements.made(context, typed)
    for block in found.answer.goes if not as_it_stands else _in_its_way(found):
        corrections.delete(context, "planned", block.uid)
    engagements.put(context, engagement, reason=reason.strip())
    return engagement


def _in_its_way(found: Asked) -> list[PlannedBlock]:
    e = found.engagement
    return [b for b in found.answer.goes if b.start_utc < e.end_utc and e.start_utc < b.end_utc]


def fortnight(found: Asked) -> Mapping[date, tuple[float, float]]:
    """Return load before and after by day, for the drawing."""
    days = sorted(found.answer.after)[:14]
    return {d: (found.answer.before.get(d, 0.0), found.answer.after[d]) for d in days}
