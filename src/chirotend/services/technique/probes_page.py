"""The bench, F's first page: one measure today with its reason, then a line a probe."""

from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.record.words import TIGHTNESS
from chirotend.drawing.measured import Picture
from chirotend.drawing.search import wasted_picture
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.kit.profile import profile, say
from chirotend.services.technique import least_pressure, probes
from chirotend.services.technique.lines import ProbeLine
from chirotend.services.technique.registry import LINES
from chirotend.services.words import amount, date_words, listed, place_name, sentence

#: a measure is asked for again after so many days (ours, common practice)
AGAIN_AFTER, WATCHED = timedelta(days=14), timedelta(days=3)
THUMB_OR_HAND = ("wrist & thumb", "fingers", "forearm")


@dataclass(frozen=True)
class Today:
    """The one measure of today: its name, why it, what it needs, its history, where it begins; None = put off."""

    name: str
    reason: str
    needs: str
    action: str
    address: tuple[str, dict[str, str]]
    picture: Picture | None
    caption: str


@dataclass(frozen=True)
class ProbesPage:
    """The bench."""

    today: Today | None
    lines: tuple[ProbeLine, ...]
    day: date

    @property
    def empty(self) -> bool:
        """True as long as nothing was ever measured."""
        return all(line.day is None for line in self.lines)


def probes_page(context: Context) -> ProbesPage:
    """Return the bench with its one measure of today."""
    lines = tuple(line(context) for line in LINES)
    put_off = profile(context).probe_put_off == context.today.isoformat()
    return ProbesPage(None if put_off else _today(context, lines), lines, context.today)


def put_off(context: Context) -> None:
    """No measure today."""
    say(context, probe_put_off=context.today.isoformat())


def _today(context: Context, lines: tuple[ProbeLine, ...]) -> Today:
    """The measure asked for: a press beside a tight hand, else the press when it is due, else the oldest line."""
    spared = probes.spared_today(context)
    if spared:
        return _looking(context, lines[0], listed(sorted(set(spared.values()))))
    searches = least_pressure.latest(context)
    newest = searches[0][0] if searches else None
    tight = _tight_hand(context)
    if tight or newest is None or context.today - newest.day >= AGAIN_AFTER:
        return _pressure(context, tight)
    never = [line for line in lines if line.day is None]
    oldest = never[0] if never else min(lines, key=lambda line: line.day or date.min)
    reason = sentence("technique", "never_measured")
    if oldest.day is not None:
        reason = sentence("technique", "longest_ago", when=oldest.when(context.today))
    return Today(
        oldest.name,
        reason,
        sentence("technique", "ears_are_enough"),
        oldest.action,
        (oldest.endpoint, {}),
        oldest.picture,
        oldest.sentence if oldest.day else "",
    )


def _looking(context: Context, posture_line: ProbeLine, spared: str) -> Today:
    """On a Muted day the measure that asks nothing of the hand it rests on: looking."""
    return Today(
        posture_line.name,
        sentence("technique", "only_looks", place=spared),
        sentence("technique", "mirror_is_enough"),
        posture_line.action,
        (posture_line.endpoint, {}),
        posture_line.picture,
        posture_line.sentence if posture_line.day else "",
    )


def _tight_hand(context: Context) -> tuple[str, str, int] | None:
    """The side and region of a hand that was marked tight on two of the last three days or more, and how often."""
    evidence = todays_call(context).evidence
    first = context.today - WATCHED + timedelta(days=1)
    days: dict[tuple[str, str], set[date]] = {}
    for mark in evidence.marks:
        region, side = mark.place
        if mark.day >= first and mark.entry.kind in TIGHTNESS and region in THUMB_OR_HAND and side in ("left", "right"):
            days.setdefault((side, region), set()).add(mark.day)
    often = [(side, region, len(found)) for (side, region), found in sorted(days.items()) if len(found) >= 2]
    return max(often, key=lambda each: each[2], default=None)


def _pressure(context: Context, tight: tuple[str, str, int] | None) -> Today:
    searches = least_pressure.latest(context)
    wanted = next((s for s in searches if tight and s[0].about.hand == tight[0]), searches[0] if searches else None)
    if wanted is None:
        return Today(
            "Least pressure",
            sentence("technique", "never_searched") if tight is None else _tightness(tight),
            _needs(context),
            "Start, three minutes",
            ("technique.pressure", {}),
            wasted_picture([], "today"),
            sentence("technique", "what_ink_will_mean"),
        )
    last = wanted[0]
    age = (context.today - last.day).days
    reason = sentence("technique", "just_now")
    if age > 1:
        reason = sentence("technique", "days_ago", days=amount(age, "day"))
    if tight is not None:
        reason = f"{_tightness(tight)} {reason}"
    history = least_pressure.history(context, last)
    return Today(
        f"Least pressure, {last.about.what.rpartition(', ')[2]}",
        reason,
        _needs(context),
        "Start, three minutes",
        ("technique.pressure", {"instrument": last.about.instrument, "task": last.data.task}),
        wasted_picture(history[-5:], "today"),
        sentence("technique", "what_ink_means", day=date_words(history[-1][0]), wasted=f"{history[-1][1]:.0f}"),
    )


def _tightness(tight: tuple[str, str, int]) -> str:
    side, region, days = tight
    return sentence("technique", "hand_was_tight", place=place_name((region, side)), days=days)


def _needs(context: Context) -> str:
    muted = todays_call(context).issued.effective.startswith("muted")
    return sentence("technique", "needs_muted") if muted else sentence("technique", "needs")
