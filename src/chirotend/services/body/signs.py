"""A place opened: what is behind a sign there, in words and as a picture."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import uuid4

from chirotend.core.body.zones import regions
from chirotend.core.judge.before import Before
from chirotend.core.judge.signs.course import DAYS
from chirotend.core.judge.signs.opened import Opened, opened
from chirotend.core.record import Place
from chirotend.core.record.words import SIDES, SIGN_ANSWERS, SignAnswer
from chirotend.drawing.measured import Picture
from chirotend.drawing.sign_days import sign_days
from chirotend.drawing.sign_heights import sign_heights
from chirotend.services.body import said_signs
from chirotend.services.body.changed import change_of
from chirotend.services.body.getting_worse import weeks_words
from chirotend.services.body.sign_plan import SignPlan, sign_plan
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections
from chirotend.services.words import (
    ANSWER_WORDS,
    TIMING_WORDS,
    amount,
    day_words,
    listed,
    place_name,
    sentence,
    sure,
    times_words,
)
from chirotend.store.models import SignAnswerRow

NOTE_MAX = 500
PHONE_DAYS, PHONE_WIDTH = 42, 350.0
BEFORE_NAMES = {
    "heavy": "days above your usual load",
    "sleep": "short or broken nights",
    "cold": "cold hands on waking",
    "performance": "performances",
    "new_instrument": "the first fortnight of an instrument",
}
BEFORE_SAYS = {
    "cannot_tell": "too few days with it, or without it, to tell",
    "beyond_chance": "stronger after it, more than chance would give",
    "perhaps": "perhaps stronger after it",
    "chance": "no stronger after it than chance would give",
}


@dataclass(frozen=True)
class WentBefore:
    """A line of "what went before": its name, what is said, the means behind it in words, the p of the shifts."""

    name: str
    said: str
    numbers: str
    p: str


@dataclass(frozen=True)
class Answered:
    """What she answered to a sign: the day, the answer in words, her note."""

    day: date
    answer: str
    note: str
    uid: str = ""
    #: a cause she knows that has not ended: the place is watched until she says so
    lasts: bool = False
    #: what became of a change: said from two weeks after it on
    became: str = ""


@dataclass(frozen=True)
class WeekOfMarks:
    """A week of the table: its first day, the days in words, their mean (None = too few asked)."""

    first: date
    days: str
    mean: float | None


@dataclass(frozen=True)
class PlacePage:
    """What the page of a place shows."""

    place: str
    opened: Opened
    lead: str
    passing: str
    before: tuple[WentBefore, ...]
    trend: str
    trend_numbers: str
    timing: str
    spread: str
    answers: tuple[Answered, ...]
    #: what became of the signs told here within a year, and what her answers do
    past_signs: tuple[str, ...]
    #: offered while a sign speaks that is not watched, and something may be played
    plan: SignPlan | None
    wide: Picture
    phone: Picture
    #: how far each day stands out, and her own threshold; None before a fortnight was asked
    heights_wide: Picture | None
    heights_phone: Picture | None
    heights_in_numbers: str
    weeks: tuple[WeekOfMarks, ...]
    asked: int


def place_page(context: Context, region: str, side: str) -> PlacePage:
    """Return the page of a place; `NotThere` when there is no such place."""
    found = _opened(context, region, side)
    said = answers(context, found.course.place)
    since = found.course.risen_since
    phone_first = found.course.first + timedelta(days=DAYS - PHONE_DAYS)
    late = found.course.strengths[-PHONE_DAYS:]
    heights, numbers = _heights(found)
    return PlacePage(
        place_name(found.course.place),
        found,
        _lead(found, said, _is_watched(context, found)),
        _passing(found),
        tuple(_all_before(found)),
        *_trend(found),
        _timing(found),
        _spread(found),
        said,
        _past_signs(context, found.course.place),
        _plan(context, found),
        sign_days(found.course.first, found.course.strengths, found.course.usual, since),
        sign_days(phone_first, late, found.course.usual, since, PHONE_WIDTH),
        *heights,
        numbers,
        _weeks(found),
        sum(s is not None for s in found.course.strengths),
    )


def _plan(context: Context, found: Opened) -> SignPlan | None:
    """A plan, while a sign speaks that is not watched already; none on a day on which nothing is played."""
    speaks = found.course.sign is not None and found.course.sign.speaks
    if not speaks or _is_watched(context, found) or todays_call(context).issued.effective == "tacet":
        return None
    return sign_plan(context, found.course.place)


def _is_watched(context: Context, found: Opened) -> bool:
    return found.course.place in todays_call(context).evidence.watched


def _heights(found: Opened) -> tuple[tuple[Picture | None, Picture | None], str]:
    """How far the place stands out: drawn for a desk and a phone, and today's numbers in words."""
    today = found.heights[-1]
    if today is None:
        return (None, None), ""
    numbers = sentence("place", "height", height=f"{today[0]:.2f}", threshold=f"{today[1]:.2f}")
    return (sign_heights(found.heights), sign_heights(found.heights[-PHONE_DAYS:], PHONE_WIDTH)), numbers


def _opened(context: Context, region: str, side: str) -> Opened:
    if region not in regions() or side not in SIDES:
        raise NotThere(f"{region} {side}")
    return opened(todays_call(context).evidence, (region, side))


def _weeks(found: Opened) -> tuple[WeekOfMarks, ...]:
    def in_words(n: int) -> str:
        return " ".join("–" if s is None else f"{s:g}" for s in found.course.strengths[7 * n : 7 * n + 7])

    weeks = enumerate(found.course.trend.weeks)
    return tuple(WeekOfMarks(found.course.first + timedelta(days=7 * n), in_words(n), mean) for n, mean in weeks)


def answer(context: Context, region: str, side: str, answer: str, note: str) -> None:
    """Write what she answers to the sign of a place. `NotThere` when no sign speaks there; `FieldError` names the
    field.

    "Not so" settles it until today. A cause she knows is watched until she says that it ended. What she changed is
    looked at again after 14 days.
    """
    sign = _opened(context, region, side).course.sign
    if sign is None or not sign.speaks:
        raise NotThere(f"{region} {side}")
    if answer not in SIGN_ANSWERS:
        raise FieldError("answer", "Choose one of the three answers.")
    if len(note) > NOTE_MAX:
        raise FieldError("note", f"At most {NOTE_MAX} characters.")
    if any(a.lasts for a in answers(context, (region, side))):
        raise FieldError("answer", "You said that you know the cause. Say below when it has ended.")
    values = {"uid": uuid4().hex, "region": region, "side": side, "day": context.today, "ended": None}
    corrections.put_row(context, "sign_answer", {**values, "answer": answer, "note": note.strip()})


def take_plan(context: Context, region: str, side: str) -> None:
    """Take the plan that is offered for a place: it is kept as something she changed. `NotThere` when none is."""
    plan = _plan(context, _opened(context, region, side))
    if plan is None:
        raise NotThere(f"{region} {side}")
    answer(context, region, side, SignAnswer.ACTED_ON, " ".join(plan.lines)[:NOTE_MAX])


def answers(context: Context, place: Place) -> tuple[Answered, ...]:
    """Return what she answered to signs of a place, newest first."""
    here = (SignAnswerRow.region == place[0], SignAnswerRow.side == place[1])
    rows = context.store.repository(SignAnswerRow).all(*here, order=(SignAnswerRow.day.desc(),))
    return tuple(
        Answered(
            r.day,
            ANSWER_WORDS[r.answer],
            r.note,
            r.uid,
            r.answer == SignAnswer.KNOWN_CAUSE and r.ended is None,
            change_of(context, r).words if r.answer == SignAnswer.ACTED_ON else "",
        )
        for r in rows
    )


def end_cause(context: Context, uid: str) -> None:
    """Note that the cause she knew has ended: what was marked until today is settled. `NotThere` without such a one."""
    row = context.row(SignAnswerRow, uid)
    if row.answer != SignAnswer.KNOWN_CAUSE or row.ended is not None:
        raise NotThere(uid)
    corrections.change_row(context, "sign_answer", row, ended=context.today)


def _past_signs(context: Context, place: Place) -> tuple[str, ...]:
    raised = said_signs.raised_words(todays_call(context).evidence, place)
    return (*said_signs.became_words(said_signs.became_of_signs(context, place)), *([raised] if raised else []))


def _lead(found: Opened, said: Sequence[Answered], watched: bool) -> str:
    cause = next((a for a in said if a.lasts), None)
    if cause is not None:
        return sentence("place", "cause_known", day=day_words(cause.day))
    if watched:
        changed_on = next(a.day for a in said if a.became)
        return sentence("place", "changed", day=day_words(changed_on))
    if found.course.sign is None and said:
        return sentence("place", "settled", day=day_words(said[0].day))
    if not any(s is not None for s in found.course.strengths):
        return sentence("place", "nothing_written")
    if found.course.sign is None:
        return sentence("place", "nothing_stands_out")
    if not found.course.sign.speaks:
        return sentence("place", "a_little_above")
    return sentence(
        "place", "higher_since", since=day_words(found.course.sign.since), sure=sure(found.course.sign.odds)
    )


def _passing(found: Opened) -> str:
    if not found.passed:
        return sentence("place", "nothing_passed")
    times, days = times_words(len(found.passed)), amount(max(found.passed), "day")
    return sentence("place", "came_and_passed", times=times, days=days)


def _all_before(found: Opened) -> Iterator[WentBefore]:
    """What went before, a line each; what cannot be told shares one line."""
    cannot = [BEFORE_NAMES[name] for name, before in found.before.items() if before.p is None]
    yield from (_went_before(name, before) for name, before in found.before.items() if before.p is not None)
    if cannot:
        yield WentBefore(listed(cannot), BEFORE_SAYS["cannot_tell"], "", "")


def _went_before(name: str, before: Before) -> WentBefore:
    numbers = f"{before.with_it:.1f} after it, {before.without:.1f} on other days"
    return WentBefore(BEFORE_NAMES[name], BEFORE_SAYS[before.said], numbers, f"{before.p:.2f}")


def _trend(found: Opened) -> tuple[str, str]:
    """Where the weeks go, in one sentence, and the numbers behind it."""
    trend = found.course.trend
    if trend.test is None or trend.slope_a_week is None:
        return weeks_words(found.course), ""
    return weeks_words(found.course), f"{trend.slope_a_week:+.2f} a week (Theil–Sen), Mann–Kendall p {trend.test.p:.2f}"


def _timing(found: Opened) -> str:
    """Where marks come later than they did: from playing to after, to waking, to daily life, to the night."""
    new = [TIMING_WORDS[t] for t, (before, after) in found.timings.items() if after and not before and t != "playing"]
    if not any(sum(counts) for counts in found.timings.values()):
        return sentence("place", "nothing_marked")
    if not any(before for before, _ in found.timings.values()):
        return sentence("place", "nothing_marked_before")
    return sentence("place", "felt_newly", times=", ".join(new)) if new else sentence("place", "felt_as_before")


def _spread(found: Opened) -> str:
    if not found.spread:
        return sentence("place", "no_spread")
    return sentence("place", "spread", places=", ".join(map(place_name, found.spread)))
