"""Signs as they were said over a time: how often each place was named, whether that was right, when she eased off.

Ours, common practice: a sign was right when she said so, or when strong symptoms came to its place; easing off is three
days together at half of her usual minutes or less.
"""

import math
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.baseline import median
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.core.load.series import LoadSeries
from chirotend.core.record import Place

#: the findings of the call that say a sign
SAID = ("risen", "risen_after_load")
#: strong symptoms or easing off belong to a sign said so many days before
FOLLOWS_DAYS = 28
EASED_DAYS, EASED_SHARE = 3, 0.5


@dataclass(frozen=True)
class SaidSign:
    """A sign of a place: the days on which it was first and last said."""

    place: Place
    first: date
    last: date


def said_signs(said: Iterable[tuple[Place, date]]) -> tuple[SaidSign, ...]:
    """Return the signs behind the days on which places were named; two weeks without begin a new one."""
    found: dict[Place, list[SaidSign]] = {}
    for place, day in sorted(said):
        here = found.setdefault(place, [])
        if here and (day - here[-1].last).days <= sign_rules().quiet_days:
            here[-1] = SaidSign(place, here[-1].first, day)
        else:
            here.append(SaidSign(place, day, day))
    return tuple(sorted((sign for here in found.values() for sign in here), key=lambda s: (s.first, s.place)))


def followed(day: date, strong: Collection[date]) -> bool:
    """Return whether strong symptoms came within four weeks of a day: a sign said on it was right."""
    return any(day <= came <= day + timedelta(days=FOLLOWS_DAYS) for came in strong)


def was_right(
    sign: SaidSign, agreed: Collection[date], not_so: Collection[date], strong: Collection[date]
) -> bool | None:
    """Return whether a sign was right; None = nobody said, and nothing followed.

    `agreed` and `not_so` are the days of her answers at its place, `strong` those of strong symptoms there: they are
    heard before an answer.
    """
    if followed(sign.first, strong):
        return True
    answers = {**dict.fromkeys(not_so, False), **dict.fromkeys(agreed, True)}
    until = sign.last + timedelta(days=sign_rules().quiet_days)
    said = [answers[day] for day in sorted(answers) if sign.first <= day <= until]
    return said[-1] if said else None


def eased_off_after(sign: SaidSign, load: LoadSeries) -> int | None:
    """Return the days from a sign until she eased off; None = not within four weeks, or not known."""
    before = [load.on(sign.first - timedelta(days=n))[0] for n in range(1, FOLLOWS_DAYS + 1)]
    usual = [m for m in before if not math.isnan(m)]
    if not usual or sum(usual) == 0:
        return None
    most = EASED_SHARE * EASED_DAYS * sum(usual) / len(usual)
    for after in range(FOLLOWS_DAYS):
        if sum(load.on(sign.first + timedelta(days=after + n))[0] for n in range(EASED_DAYS)) <= most:
            return after
    return None


def middle(days: Collection[int]) -> int | None:
    """Return the median of whole days, rounded down; None of none."""
    return math.floor(median(list(days))) if days else None
