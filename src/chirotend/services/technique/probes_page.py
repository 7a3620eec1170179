"""The bench, F's first page: one measure today with its reason, then a line a probe."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.measure.first_measure import FORCE, LOOKS, Candidate, First, Hands, first_measure
from chirotend.core.plan.suits import HAND
from chirotend.core.record.words import SENSORY_KINDS, TIGHTNESS
from chirotend.drawing.measured import Picture
from chirotend.drawing.search import wasted_picture
from chirotend.formats.probe_data import Pressure
from chirotend.library.probes import offered_measures
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile, say
from chirotend.services.technique import least_pressure, probes
from chirotend.services.technique.lines import ProbeLine, ago
from chirotend.services.technique.registry import LINES
from chirotend.services.words import date_words, listed, place_name, sentence

#: how long marks of a hand count for what is asked of it, and marks of a place for what belongs to it (ours)
WATCHED, MARKED_WITHIN = timedelta(days=3), timedelta(days=14)


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


def _today(context: Context, lines: tuple[ProbeLine, ...]) -> Today | None:
    """The measure asked for: a press beside a tight hand, else what `first_measure` offers."""
    hands, why_looks = _hands(context)
    tight = _tight_hand(context) if hands.allows(FORCE) else None
    if tight:
        return _pressure(context, _tightness(tight), tight[0])
    marked = _marked_days(context)
    found = first_measure(_candidates(context, lines), hands, marked, context.today)
    if found is None:
        return None
    reason = why_looks if why_looks and found.candidate.asks == LOOKS else _reason(context, found, marked)
    if found.candidate.id == Pressure.kind:
        return _pressure(context, reason)
    line = next(line for line in lines if line.kind == found.candidate.id)
    return Today(
        line.name,
        reason,
        offered_measures()[line.kind].needs,
        line.action,
        (line.endpoint, {}),
        line.picture,
        line.sentence if line.day else "",
    )


def _candidates(context: Context, lines: tuple[ProbeLine, ...]) -> list[Candidate]:
    """What suits her instruments, with the day it was taken last."""
    known = own_library.instruments(context)
    families = {known[i].family for i in context.player.instruments if i in known}
    searches = least_pressure.latest(context)
    days = {line.kind: line.day for line in lines} | {Pressure.kind: searches[0][0].day if searches else None}
    return [
        Candidate(m.id, m.asks, m.regions, m.again, days[m.id], m.device)
        for m in offered_measures().values()
        if m.suits(families)
    ]


def _hands(context: Context) -> tuple[Hands, str]:
    """How her hands are today, and why only looking is asked for; "" = it is not."""
    spared = probes.spared_today(context)
    muted = todays_call(context).issued.effective.startswith("muted")
    numb = _numb_hand(context)
    hands = Hands(bool(numb), bool(spared), muted)
    if numb:
        return hands, sentence("technique", "only_looks_numb", place=numb)
    if spared:
        return hands, sentence("technique", "only_looks", place=listed(sorted(set(spared.values()))))
    return hands, sentence("technique", "only_looks_muted") if muted else ""


def _numb_hand(context: Context) -> str:
    """The place of a hand that was marked as numb or tingling within three days; "" = none was."""
    first = context.today - WATCHED + timedelta(days=1)
    marks = [m for m in todays_call(context).evidence.marks if m.day >= first and m.entry.kind in SENSORY_KINDS]
    return next((place_name(m.place) for m in marks if m.place[0] in HAND), "")


def _marked_days(context: Context) -> dict[str, int]:
    """On how many of the last fourteen days each region was marked."""
    days: dict[str, set[date]] = {}
    for mark in todays_call(context).evidence.marks:
        if context.today - mark.day < MARKED_WITHIN and mark.entry.intensity > 0:
            days.setdefault(mark.place[0], set()).add(mark.day)
    return {region: len(found) for region, found in days.items()}


def _reason(context: Context, found: First, marked: Mapping[str, int]) -> str:
    if found.why == "marked":
        place = place_name((found.region, "none"))
        return sentence("technique", "was_marked", place=place, days=marked[found.region])
    if found.candidate.last is None:
        return sentence("technique", "never_measured")
    return sentence("technique", "longest_ago", when=ago(found.candidate.last, context.today))


def _tight_hand(context: Context) -> tuple[str, str, int] | None:
    """The side and region of a hand that was marked tight on two of the last three days or more, and how often."""
    evidence = todays_call(context).evidence
    first = context.today - WATCHED + timedelta(days=1)
    days: dict[tuple[str, str], set[date]] = {}
    for mark in evidence.marks:
        region, side = mark.place
        if mark.day >= first and mark.entry.kind in TIGHTNESS and region in HAND and side in ("left", "right"):
            days.setdefault((side, region), set()).add(mark.day)
    often = [(side, region, len(found)) for (side, region), found in sorted(days.items()) if len(found) >= 2]
    return max(often, key=lambda each: each[2], default=None)


def _pressure(context: Context, reason: str, hand: str = "") -> Today:
    """The least press as the measure of today, of `hand` where one was searched ("" = the newest)."""
    searches = least_pressure.latest(context)
    wanted = next((s for s in searches if hand and s[0].about.hand == hand), searches[0] if searches else None)
    needs = offered_measures()[Pressure.kind].needs
    if wanted is None:
        return Today(
            "Least pressure",
            reason,
            needs,
            "Start, three minutes",
            ("technique.pressure", {}),
            wasted_picture([], "today"),
            sentence("technique", "what_ink_will_mean"),
        )
    last = wanted[0]
    history = least_pressure.history(context, last)
    return Today(
        f"Least pressure, {last.about.what.rpartition(', ')[2]}",
        reason,
        needs,
        "Start, three minutes",
        ("technique.pressure", {"instrument": last.about.instrument, "task": last.data.task}),
        wasted_picture(history[-5:], "today"),
        sentence("technique", "what_ink_means", day=date_words(history[-1][0]), wasted=f"{history[-1][1]:.0f}"),
    )


def _tightness(tight: tuple[str, str, int]) -> str:
    side, region, days = tight
    return sentence("technique", "hand_was_tight", place=place_name((region, side)), days=days)
