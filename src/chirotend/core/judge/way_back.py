"""The way back: one level per two clear wakings (five after nerve signs), each after playing at that level.

A waking is clear when it, and the day and night before, were at the player's own usual (less than 2 above it).
Days not logged do not count. Common practice, not yet reviewed by a clinician.
"""

from dataclasses import dataclass, replace
from datetime import date, timedelta

from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.rules import MUTED_MP, OPEN, TACET, muted_dose, rules
from chirotend.core.record import Place
from chirotend.core.record.words import KINDS, NERVE_KINDS

CLOSE = 1e-9  # intensities are compared as "below", strictly


@dataclass(frozen=True)
class Standing:
    """Where a player stands on the way back at the end of a call: carried from day to day.

    `level` is the ceiling (0 open … 3 tacet), `clear` the clear wakings at that level, `held` true when only the
    answer "seen by a clinician" opens the way, `start_dose_min` the dose given with that answer. `places` are the
    (region, side) that brought the level: a waking is clear when these are; none named = all. `usual_min` is her usual
    minutes as they were before the level: what is played while Muted must not make the next dose smaller still.
    """

    level: int = OPEN
    clear: int = 0
    nerve: bool = False
    held: bool = False
    settled_until: date | None = None
    start_dose_min: float | None = None
    places: tuple[Place, ...] = ()
    usual_min: float | None = None

    @property
    def wakings_needed(self) -> int:
        return rules().clear_wakings_nerve if self.nerve else rules().clear_wakings


def carried(before: Standing, evidence: Evidence) -> Standing:
    """Return the standing that `before` becomes with this morning's waking check, before today's rows are read."""
    if before.level == OPEN or before.held:
        return before
    if why := why_still(before, evidence):
        return replace(before, clear=0) if why == "not_clear" else before
    clear = before.clear + 1
    if clear < before.wakings_needed:
        return replace(before, clear=clear)
    level = before.level - 1
    # what she marks later today must still count: settled is everything before this clear morning
    settled = evidence.today - timedelta(days=1)
    if level == OPEN:
        return Standing(settled_until=settled, usual_min=before.usual_min)
    start_dose = before.start_dose_min if level > MUTED_MP else None
    return replace(before, level=level, clear=0, held=False, settled_until=settled, start_dose_min=start_dose)


def clear_waking(evidence: Evidence, places: tuple[Place, ...] = ()) -> bool:
    """True when today's waking, and yesterday's playing, after and night, were at the player's own usual there.

    "At usual" is less than 2 above it: at + 1 most steady but noisy players would be thrown back by chance. For
    tingling, numbness and weakness anything above usual counts, wherever it is.
    """
    yesterday = evidence.today - timedelta(days=1)
    for kind in KINDS:
        nerve = kind in NERVE_KINDS
        room = 0.0 if nerve else rules().clear_below_rise - CLOSE
        for timing, day in (("waking", evidence.today), (None, yesterday)):
            for place, by_day in evidence.daily_worst((kind,), timing).items():
                watched = nerve or not places or place in places
                if watched and by_day.get(day, 0.0) > evidence.usual(by_day, place, (kind,)) + room:
                    return False
    return True


def usual_before(standing: Standing, evidence: Evidence) -> float | None:
    """Return the usual minutes a dose is a share of: those from before the level, until as many days were played since
    it ended as make a usual."""
    if standing.usual_min is None:
        return evidence.usual_minutes
    if standing.level == OPEN and standing.settled_until is not None:
        since = sum(day > standing.settled_until for day, _ in evidence.played)
        if since > rules().usual_days:
            return evidence.usual_minutes
    return standing.usual_min


def played_at_level(standing: Standing, evidence: Evidence) -> bool:
    """True when yesterday was played within the level's dose; under Tacet, when it was not played."""
    return not _not_at_level(standing, evidence)


def _not_at_level(standing: Standing, evidence: Evidence) -> str:
    """Why yesterday does not count: over_dose, not_written, not_played or, under Tacet, played; "" = it does."""
    minutes = evidence.load.on(evidence.today - timedelta(days=1))[0]
    if standing.level == TACET:
        return "played" if minutes > 0 else ""
    if minutes != minutes or minutes == 0:
        return "not_played" if minutes == 0 else "not_written"
    most = dose_of(standing, evidence)
    return "over_dose" if most is not None and minutes > most else ""


def dose_of(standing: Standing, evidence: Evidence) -> float | None:
    """Return the minutes the level allowed: the start dose she was given, or the share of her usual."""
    if standing.start_dose_min is not None:
        return standing.start_dose_min
    return muted_dose(standing.level, usual_before(standing, evidence)).minutes


def why_still(before: Standing, evidence: Evidence) -> str:
    """Return why the way back from `before` did not go on this morning; "" = it did, or only a clinician opens it.

    "not_asked": no waking check; "not_clear": something was above her usual; else why yesterday does not count.
    """
    if before.level == OPEN or before.held:
        return ""
    if not any(c.timing == "waking" for c in evidence.record.checks_on(evidence.today)):
        return "not_asked"
    return "not_clear" if not clear_waking(evidence, before.places) else _not_at_level(before, evidence)
