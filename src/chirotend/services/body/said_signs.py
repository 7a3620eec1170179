"""What became of the early signs that were said within a year: how often they were right, when she eased off."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.evidence import Evidence, is_strong
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.core.judge.signs.history import (
    FOLLOWS_DAYS,
    SAID,
    SaidSign,
    eased_off_after,
    middle,
    said_signs,
    was_right,
)
from chirotend.core.load.series import load_series
from chirotend.core.record import Place
from chirotend.core.record.words import SignAnswer
from chirotend.formats.kept_rows import finding_from
from chirotend.services.context import Context
from chirotend.services.words import amount, capital, sentence, times_words
from chirotend.store.models import SignAnswerRow

YEAR_DAYS = 365


@dataclass(frozen=True)
class Became:
    """What became of a sign: whether it was right (None = nobody said), the days until she eased off (None = she did
    not)."""

    sign: SaidSign
    right: bool | None
    eased: int | None


def became_of_signs(context: Context, place: Place | None = None) -> tuple[Became, ...]:
    """Return what became of each sign that was said within a year, at one place or at all of them."""
    first = context.today - timedelta(days=YEAR_DAYS)
    said = [
        (found.place, day)
        for day, findings in context.store.said_findings(first, context.today)
        for found in map(finding_from, findings)
        if found.code in SAID and found.place is not None and place in (None, found.place)
    ]
    signs = said_signs(said)
    if not signs:
        return ()
    before = signs[0].first - timedelta(days=FOLLOWS_DAYS)
    record = context.store.record(before, context.today)
    load = load_series(record, before, context.today)
    strong = [(mark.place, mark.day) for check in record.checks for mark in check.marks if is_strong(mark.entry)]
    answers = context.store.repository(SignAnswerRow).all(SignAnswerRow.day >= first)

    def here(sign: SaidSign, not_so: bool) -> list[date]:
        of_place = [a for a in answers if (a.region, a.side) == sign.place]
        return [a.day for a in of_place if (a.answer == SignAnswer.NOT_SO) == not_so]

    return tuple(
        Became(
            sign,
            was_right(sign, here(sign, False), here(sign, True), [day for at, day in strong if at == sign.place]),
            eased_off_after(sign, load),
        )
        for sign in signs
    )


def became_words(found: Sequence[Became]) -> tuple[str, ...]:
    """Return in sentences what became of them; nothing where none was said."""
    if not found:
        return ()
    right, wrong, unanswered = (sum(b.right is said for b in found) for said in (True, False, None))
    lines = [sentence("place", "told", times=times_words(len(found)))]
    lines += [sentence("place", "told_right", times=capital(times_words(right)))] if right else []
    lines += [sentence("place", "told_not_so", times=times_words(wrong))] if wrong else []
    lines += [sentence("place", "told_unanswered", times=capital(times_words(unanswered)))] if unanswered else []
    eased = [b.eased for b in found if b.eased is not None]
    days = middle(eased)
    if days is not None and len(eased) == 1:
        lines.append(sentence("place", "eased_off_once", days=amount(days, "day")))
    elif days is not None:
        lines.append(sentence("place", "eased_off", of=times_words(len(eased)), days=amount(days, "day")))
    return tuple(lines)


def raised_words(evidence: Evidence, place: Place) -> str:
    """Return what her answers "not so" do at a place; "" where they do nothing."""
    said = sum(at == place for at, _ in evidence.not_so)
    if said < sign_rules().not_so_from:
        return ""
    return sentence("place", "not_so_raises", times=times_words(said))
