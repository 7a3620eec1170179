"""The week, read back, in words: its lines, one change, what got better, and where each comes from."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from chirotend.core.record import Place
from chirotend.core.review.week import ROOM_DAYS, WEEK, Aim, ReviewLine, week_review
from chirotend.drawing import score as drawn
from chirotend.drawing.measured import Picture
from chirotend.drawing.week_snippet import week_snippet
from chirotend.formats.kept_rows import finding_from
from chirotend.library.loader import review_wordings
from chirotend.services.body.changed import changes_over
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.plan import credit, own_blocks, week_aims
from chirotend.services.score import score_page
from chirotend.services.words import amount, day_words, place_words, times_words

#: on the last day of a week it is offered from this hour on, local time
SUNDAY, EVENING = 6, 17


@dataclass(frozen=True)
class Spoken:
    """A line in words, with its rule, source and days; `opens` is the place behind it."""

    code: str
    sentence: str
    rule: str
    do: str
    source: str
    days: tuple[date, ...]
    opens: Place | None


@dataclass(frozen=True)
class ReviewPage:
    """What the page of a week shows."""

    first: date
    last: date
    lines: tuple[Spoken, ...]
    change: Spoken
    better: Spoken | None
    wide: drawn.ScoreLine
    #: the week beside each line, with the days it is about; None where it is about none of them
    beside: tuple[Picture | None, ...]
    over: bool

    @property
    def all(self) -> tuple[Spoken, ...]:
        """Every line with the change and what got better: where each comes from."""
        return (*self.lines, self.change, *([self.better] if self.better else []))

    @property
    def earlier(self) -> date:
        return self.first - timedelta(days=1)

    @property
    def later(self) -> date:
        return self.last + timedelta(days=1)


def week_review_page(context: Context, day: date) -> ReviewPage:
    """Return the week that holds `day` read back, as far as it is lived."""
    monday = day - timedelta(days=day.weekday())
    last = min(monday + timedelta(days=WEEK - 1), context.today)
    record = context.store.record(monday - timedelta(days=ROOM_DAYS), last)
    became = tuple(_became(context, monday, last))
    found = week_review(record, monday, last, _risen(context, last), _aims(context, monday), became)
    shown = score_page.score_lines_page(context, 1, last)
    lines = tuple(map(spoken, found.lines))
    return ReviewPage(
        monday,
        monday + timedelta(days=WEEK - 1),
        lines,
        spoken(found.change),
        spoken(found.better) if found.better else None,
        shown.wide[0],
        tuple(_beside(shown.days, line) for line in lines),
        monday + timedelta(days=WEEK - 1) < context.today,
    )


def _beside(days: Sequence[drawn.ScoreDay], line: Spoken) -> Picture | None:
    meant = [n for n, day in enumerate(days) if day.day in line.days]
    return week_snippet([d.load for d in days], meant) if meant else None


def due(context: Context) -> bool:
    """True on Sunday evening, when the week can be read back."""
    return context.today.weekday() == SUNDAY and context.now.astimezone(context.zone).hour >= EVENING


def _risen(context: Context, last: date) -> tuple[Place, ...]:
    """The places whose sign spoke in the last call of the week, as it was said then."""
    todays_call(context)
    calls = context.store.calls(last - timedelta(days=WEEK - 1), last)
    if not calls:
        return ()
    said = map(finding_from, calls[max(calls)].findings)
    return tuple(f.place for f in said if f.code == "risen" and f.place is not None)


def _became(context: Context, monday: date, last: date) -> Iterator[ReviewLine]:
    """What became of changes whose two weeks ended in the week."""
    for change in changes_over(context, monday, last):
        if change.became is not None:
            region, side = change.place
            counts = {n: v for n, v in vars(change.became).items() if v is not None}
            yield ReviewLine("became", {"region": region, "side": side, "pain": change.became.pain_words, **counts})


def _aims(context: Context, monday: date) -> tuple[Aim, ...]:
    last = monday + timedelta(days=WEEK - 1)
    blocks, played = own_blocks.blocks_between(context, monday, last), credit.played_by_block(context, monday, last)
    return tuple(
        Aim(a.title, a.minutes, credit.played_of(a.uid, blocks, played), a.done)
        for a in week_aims.aims(context, monday)
    )


def spoken(line: ReviewLine) -> Spoken:
    """Return a line in words."""
    w, values = review_wordings()[line.code], _values(line)
    opens = (str(line.values["region"]), str(line.values["side"])) if "region" in line.values else None
    sentence = w.sentence.format(**values).strip()
    return Spoken(
        line.code,
        sentence[:1].upper() + sentence[1:],
        w.rule.format(**values),
        w.do.format(**values),
        w.source,
        line.days,
        opens,
    )


def _values(line: ReviewLine) -> dict[str, Any]:
    values: dict[str, Any] = {k: f"{v:g}" if isinstance(v, float) else v for k, v in line.values.items()}
    if "region" in values:
        values["place"] = place_words(line.values)
    if "count" in values:
        count = int(line.values["count"])
        values["count_days"], values["count_performances"] = amount(count, "day"), amount(count, "performance")
    if "asked" in values:
        values["asked_days"] = amount(int(line.values["asked"]), "day")
    if "waking" in values:
        values["waking_times"] = times_words(int(line.values["waking"]))
    if "most_on" in values:
        values["most_on"] = day_words(date.fromisoformat(str(values["most_on"])))
    return values
