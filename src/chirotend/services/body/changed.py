"""What she changed about a place that stood out, and what became of it: the fortnight before beside the one after."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.record import Place
from chirotend.core.record.words import Kind, SignAnswer
from chirotend.core.review.important_change import PAIN_POINTS, PAIN_SHARE_PCT, nrs_change
from chirotend.core.review.spans import LEAST_DAYS
from chirotend.services.call.inputs import LOOK_AGAIN_DAYS
from chirotend.services.context import Context
from chirotend.services.words import day_words, sentence
from chirotend.store.models import SignAnswerRow


@dataclass(frozen=True)
class Fortnights:
    """Days with a mark at a place and days asked, in the two weeks before a change and in the two weeks after it.

    `pain_*` = the mean over the days asked of their strongest pain there, 0-10; None = fewer than seven were asked.
    """

    before: int
    asked_before: int
    after: int
    asked_after: int
    pain_before: float | None
    pain_after: float | None

    @property
    def pain_words(self) -> str:
        """Whether pain fell by as much as usually matters; "" = it had none before, or too few days were asked."""
        before, after = self.pain_before, self.pain_after
        if not before or after is None:
            return ""
        was, now = f"{before:.1f}", f"{after:.1f}"
        points, share = f"{PAIN_POINTS:g}", f"{PAIN_SHARE_PCT:g}"
        if nrs_change(before, after).clear:
            return sentence("place", "pain_less", before=was, after=now, points=points, share=share)
        return sentence("place", "pain_other", before=was, after=now, points=points, share=share)


@dataclass(frozen=True)
class Change:
    """Something she changed about a place: when, her words, what became of it (None = two weeks are not over)."""

    place: Place
    day: date
    note: str
    became: Fortnights | None

    @property
    def looked_at_on(self) -> date:
        return self.day + timedelta(days=LOOK_AGAIN_DAYS)

    @property
    def words(self) -> str:
        """What became of it, in one sentence or two."""
        if self.became is None:
            return sentence("place", "looked_at_again", day=day_words(self.looked_at_on))
        b = self.became
        marked = sentence(
            "place",
            "fortnights",
            before=b.before,
            asked_before=b.asked_before,
            after=b.after,
            asked_after=b.asked_after,
        )
        return f"{marked} {b.pain_words}".strip()


def change_of(context: Context, row: SignAnswerRow) -> Change:
    """Return the change of an answer "I have changed something"."""
    place = (row.region, row.side)
    over = (context.today - row.day).days >= LOOK_AGAIN_DAYS
    return Change(place, row.day, row.note, _fortnights(context, place, row.day) if over else None)


def changes_over(context: Context, first: date, last: date) -> Iterator[Change]:
    """Yield the changes whose two weeks ended from `first` to `last`, oldest first."""
    ended = timedelta(days=LOOK_AGAIN_DAYS)
    rows = context.store.repository(SignAnswerRow).all(
        SignAnswerRow.answer == SignAnswer.ACTED_ON,
        SignAnswerRow.day >= first - ended,
        SignAnswerRow.day <= min(last, context.today) - ended,
        order=(SignAnswerRow.day,),
    )
    yield from (change_of(context, row) for row in rows)


def _fortnights(context: Context, place: Place, since: date) -> Fortnights:
    spans = [(since - timedelta(days=LOOK_AGAIN_DAYS), since), (since, since + timedelta(days=LOOK_AGAIN_DAYS))]
    counts: list[int] = []
    pains: list[float | None] = []
    for first, end in spans:
        checks = context.store.record(first, end - timedelta(days=1)).checks
        marked = {m.day for c in checks for m in c.marks if m.place == place and m.entry.intensity > 0}
        asked = {c.day for c in checks}
        counts += [len(marked), len(asked)]
        pain: dict[date, float] = {}
        for m in (m for c in checks for m in c.marks if m.place == place and m.entry.kind == Kind.PAIN):
            pain[m.day] = max(m.entry.intensity, pain.get(m.day, 0.0))
        pains.append(sum(pain.values()) / len(asked) if len(asked) >= LEAST_DAYS else None)
    return Fortnights(*counts, *pains)
