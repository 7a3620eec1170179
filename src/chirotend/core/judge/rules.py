"""The numbers of the call table, read from one data file, with a version."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.tables import typed

OPEN, MUTED_MP, MUTED_PP, TACET = range(4)
LEVELS = ("open", "muted_mp", "muted_pp", "tacet")
NOT_ENOUGH = "not_enough"


@dataclass(frozen=True)
class Dose:
    """What a level allows: minutes a day (None = her own range), block and rest minutes, dynamic, tempo %."""

    minutes: float | None
    block_min: float
    rest_min: float
    dynamic: str
    tempo_pct: float


@dataclass(frozen=True)
class LevelRules:
    """The dose of a Muted level: share of the usual minutes (%), at most (min), blocks and rests (min), tempo (%)."""

    share: float
    most_min: float
    block_min: float
    rest_min: float
    tempo: float


@dataclass(frozen=True)
class CallRules:
    """The numbers of `call_rules.csv`."""

    #: number of this set of rules
    version: int
    #: days, usual = median of the last this many logged days
    usual_days: int
    #: days, window of the usual load range
    usual_range_days: int
    #: days, the window ends this many days ago
    usual_range_ends_before: int
    #: percentile, lower edge over played days
    usual_range_low: float
    #: percentile, upper edge over played days
    usual_range_high: float
    #: played days, fewer give no range
    usual_range_min_days: int
    #: h, how long one event of rows 4 and 5 keeps speaking by itself; then the way back holds
    single_event_hours: float
    #: 0-10, pain at or above this in 24 h
    tacet_pain: float
    #: h
    tacet_pain_hours: float
    #: grade, stage at or above this
    tacet_stage: int
    #: grade, stage at or above this: book within a week
    tacet_stage_week: int
    #: days, two such days within this: book
    tacet_repeat_days: int
    #: grade, stage of row 4
    pp_stage: int
    #: nights in 7
    pp_tingling_nights: int
    #: of 7 playing days
    pp_tingling_playing_days: int
    #: 0-10, morning pain above usual
    pp_morning_rise: float
    #: 0-10, pain at or above this in 48 h
    mp_pain: float
    #: 0-10, tightness or stiffness at or above this
    mp_tightness: float
    #: 0-10, and this far above usual
    mp_tightness_rise: float
    #: of 7 logged days, with load above the usual range in the last 3 days
    mp_days_with_load: int
    #: of 7 logged days, without
    mp_days_without_load: int
    #: days, how far back load above the usual range counts
    load_days: int
    #: of 7 days, logged days needed for a call
    enough_days: int
    #: days, off this long: half of usual
    off_days_half: int
    #: days, off this long: a quarter of usual
    off_days_quarter: int
    #: min, most that a return may grow in a step
    return_step_min: float
    #: 0-10, a waking is clear below usual plus this
    clear_below_rise: float
    #: wakings, clear wakings for one level back
    clear_wakings: int
    #: wakings, the same after nerve signs
    clear_wakings_nerve: int
    #: logged days, reference of rank_cusum
    cusum_m: int
    cusum_k: float
    cusum_cap: float
    cusum_gate: float
    #: days, how far back the judgement reads checks
    judge_days: int
    #: days, how far back it reads sessions; older played days only as minutes
    judge_load_days: int


@cache
def rules() -> CallRules:
    return typed(CallRules, "call_rules")


@cache
def level_rules(level: int) -> LevelRules:
    """Return the numbers of a Muted level."""
    return typed(LevelRules, "call_rules", {MUTED_MP: "mp_", MUTED_PP: "pp_"}[level])


def muted_dose(level: int, usual_minutes: float | None) -> Dose:
    """Return the dose of a Muted level: a share of the usual playing-day minutes, with a ceiling.

    Without a usual (None) the ceiling alone holds. Common practice, not yet reviewed by a clinician.
    """
    r = level_rules(level)
    minutes = r.most_min if usual_minutes is None else min(r.most_min, usual_minutes * r.share / 100)
    return Dose(minutes, r.block_min, r.rest_min, "p", r.tempo)
