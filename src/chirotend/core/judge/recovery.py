"""Recovery, the way back: one level per two clear mornings, from Muted mp per one; after nerve signs five a level.

A morning is clear when it, and the day and night before, were at the player's own usual (less than 2 above it). It
counts whole after a day within the limit, and half after a day above it or one that is not written: who plays more
than told and wakes clear is not held for ever. A clear evening without a waking check counts half of that. Days on
which nothing was asked do not count. Common practice, not yet reviewed by a clinician.
"""

from dataclasses import dataclass, replace
from datetime import date, timedelta

from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.known import Known
from chirotend.core.judge.rules import MUTED_MP, OPEN, TACET, muted_dose, rules
from chirotend.core.record import Place
from chirotend.core.record.words import NERVE_KINDS, SYMPTOM_KINDS

CLOSE = 1e-9  # intensities are compared as "below", strictly
#: mornings before a gap in the calls that are still counted
GAP_DAYS_READ = 21
Cause = tuple[str, str, str, float]  # region, side, kind ("" = several), strength


@dataclass(frozen=True)
class Recovery:
    """The state of recovery at the end of a call, carried from day to day.

    `level` is the ceiling (0 open … 3 tacet), `clear` the clear mornings at that level (in quarters), `held` true when
    only the answer "seen by a clinician" opens the way, `start_dose_min` the dose given with that answer. `causes` are
    what brought the level: a morning is clear when their places are; none named = all. `usual_min` is the usual minutes
    as they were before the level: what is played while Muted must not make the next dose smaller still. `limit_min` is
    the limit as it was said (None = none was), `since` the first day of the level, `overruled_until` the day until
    which early signs were overruled.
    """

    level: int = OPEN
    clear: float = 0
    nerve: bool = False
    held: bool = False
    settled_until: date | None = None
    start_dose_min: float | None = None
    causes: tuple[Cause, ...] = ()
    usual_min: float | None = None
    limit_min: float | None = None
    since: date | None = None
    overruled_until: date | None = None

    @property
    def wakings_needed(self) -> int:
        if self.nerve:
            return rules().clear_wakings_nerve
        return rules().clear_wakings_mp if self.level == MUTED_MP else rules().clear_wakings

    @property
    def places(self) -> tuple[Place, ...]:
        """The (region, side) that brought the level."""
        return tuple(dict.fromkeys((region, side) for region, side, _, _ in self.causes))

    @property
    def causes_by_kind(self) -> tuple[tuple[str, str, str], ...]:
        """What brought the level: (region, side, kind)."""
        return tuple((region, side, kind) for region, side, kind, _ in self.causes)

    def rests_on_known(self, known: tuple[Known, ...], day: date) -> bool:
        """True when all that brought the level is a known complaint on `day`. Tacet rests on more, always."""
        held = [k for k in known if k.holds_on(day)]
        return (
            OPEN < self.level < TACET
            and bool(self.causes)
            and all(any(_belongs(cause, k) for k in held) for cause in self.causes)
        )


def _belongs(cause: Cause, known: Known) -> bool:
    region, side, kind, strength = cause
    return (region, side) == known.place and kind in ("", known.kind) and strength <= known.level


@dataclass(frozen=True)
class Morning:
    """What a morning is worth on the way back: so many clear mornings (0-1), and why it is not a whole one.

    `why`: not_asked, not_clear, over_limit, not_written, not_played, played (under Tacet), evening; "" = it is one.
    """

    counts: float
    why: str


def carried(before: Recovery, evidence: Evidence) -> Recovery:
    """Return the recovery that `before` becomes with this morning, before today's rows are read."""
    if before.level == OPEN or before.held:
        return before
    morning = morning_of(before, evidence)
    if not morning.counts:
        again = before.nerve or rules().unclear_resets
        return replace(before, clear=0) if morning.why == "not_clear" and again else before
    clear = before.clear + morning.counts
    if clear < before.wakings_needed:
        return replace(before, clear=clear)
    level = MUTED_MP if _was_strong_once(before, evidence) else before.level - 1
    # what she marks later today must still count: settled is everything before this clear morning
    settled = evidence.today - timedelta(days=1)
    if level == OPEN:
        return Recovery(settled_until=settled, usual_min=before.usual_min, overruled_until=before.overruled_until)
    start_dose = before.start_dose_min if level > MUTED_MP else None
    return replace(
        before,
        level=level,
        clear=0,
        held=False,
        settled_until=settled,
        start_dose_min=start_dose,
        since=evidence.today,
    )


# one strong day is no reason for days of climbing back: decision 154
def _was_strong_once(before: Recovery, evidence: Evidence) -> bool:
    """True where Tacet rests on one day of strong pain, and on nothing else."""
    once = before.level == TACET and bool(before.causes) and not before.nerve
    return once and bool(rules().strong_once_skips) and len(evidence.strong_days()) <= 1


def carried_over(before: Recovery, last_day: date, evidence: Evidence) -> Recovery:
    """Return the recovery after the days between the last call (of `last_day`) and today, each read as it is written
    now: a diary that is written late counts too."""
    first = max(last_day, evidence.today - timedelta(days=GAP_DAYS_READ))
    for n in range(1, (evidence.today - first).days):
        if before.level == OPEN or before.held:
            break
        before = carried(before, evidence.as_of(first + timedelta(days=n)))
    return before


# at the places that brought the level, and 2 above the baseline at most: decision 4
def clear_waking(evidence: Evidence, places: tuple[Place, ...] = ()) -> bool:
    """True when today's waking, and yesterday's playing, after and night, were at the player's own usual there.

    "At usual" is less than 2 above it: at + 1 most steady but noisy players would be thrown back by chance. For
    tingling, numbness and weakness anything above usual counts, wherever it is.
    """
    yesterday = evidence.today - timedelta(days=1)
    for kind in SYMPTOM_KINDS:
        nerve = kind in NERVE_KINDS
        room = 0.0 if nerve else rules().clear_below_rise - CLOSE
        for timing, day in (("waking", evidence.today), (None, yesterday)):
            for place, by_day in evidence.daily_worst((kind,), timing).items():
                watched = nerve or not places or place in places
                if watched and by_day.get(day, 0.0) > evidence.baseline(by_day, place, (kind,)) + room:
                    return False
    return True


# a level makes its own days short: measured by them a dose would shrink for ever. Decision 73
def baseline_before(recovery: Recovery, evidence: Evidence) -> float | None:
    """Return the usual minutes a dose is a share of: those from before the level, until as many days were played since
    it ended as make a usual."""
    if recovery.usual_min is None:
        return evidence.baseline_minutes
    if recovery.level == OPEN and recovery.settled_until is not None:
        since = sum(day > recovery.settled_until for day, _ in evidence.played)
        if since > rules().baseline_days:
            return evidence.baseline_minutes
    return recovery.usual_min


def dose_of(recovery: Recovery, evidence: Evidence) -> float | None:
    """Return the minutes the level allows: the share of usual, or the smaller start dose that was given."""
    share = muted_dose(recovery.level, baseline_before(recovery, evidence))
    return share.at_most(recovery.start_dose_min, "start").minutes


def limit_of(recovery: Recovery, evidence: Evidence) -> float | None:
    """Return the limit that was said at `recovery`; where none was stored, the one its level allows."""
    return recovery.limit_min if recovery.limit_min is not None else dose_of(recovery, evidence)


# what is not as it should be counts half, and begins nothing again: decisions 141 and 143
def morning_of(before: Recovery, evidence: Evidence) -> Morning:
    """Return what this morning is worth on the way back from `before`; nothing when there is no way to go."""
    r = rules()
    if before.level == OPEN or before.held:
        return Morning(0.0, "")
    yesterday = evidence.today - timedelta(days=1)
    waking = any(c.timing == "waking" for c in evidence.record.checks_on(evidence.today))
    evening = any(c.timing != "waking" for c in evidence.record.checks_on(yesterday))
    if not waking and not (evening and r.evening_counts):
        return Morning(0.0, "not_asked")
    if not clear_waking(evidence, before.places):
        return Morning(0.0, "not_clear")
    day = _day_counts(before, evidence)
    return day if waking else Morning(day.counts * r.evening_counts, day.why or "evening")


def _day_counts(recovery: Recovery, evidence: Evidence) -> Morning:
    """What a clear morning is worth after yesterday's playing."""
    r = rules()
    minutes = evidence.load.on(evidence.today - timedelta(days=1))[0]
    if recovery.level == TACET:
        return Morning(r.other_day_counts, "played") if minutes > 0 else Morning(1.0, "")
    if minutes != minutes:
        return Morning(r.other_day_counts, "not_written")
    lenient = recovery.level == MUTED_MP and not recovery.nerve and r.off_day_counts > 0
    if minutes == 0:
        return Morning(r.off_day_counts, "") if lenient else Morning(r.other_day_counts, "not_played")
    limit = limit_of(recovery, evidence)
    if limit is None or minutes < limit + 1:  # a clock counts seconds; the limit is said in whole minutes
        return Morning(1.0, "")
    if lenient and minutes <= _baseline_day(recovery, evidence):
        return Morning(r.off_day_counts, "")
    return Morning(r.other_day_counts, "over_limit")


def _baseline_day(recovery: Recovery, evidence: Evidence) -> float:
    """The minutes up to which a day is one of her usual ones."""
    found = evidence.baseline_minutes_range
    return max(found.high if found is not None else 0.0, baseline_before(recovery, evidence) or 0.0)
