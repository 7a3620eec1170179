"""The numbers of the call table, read from one data file, with a version."""

import math
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, replace
from functools import cache

from chirotend.core.tables import typed

OPEN, MUTED_MP, MUTED_PP, TACET = range(4)
LEVELS = ("open", "muted_mp", "muted_pp", "tacet")
NOT_ENOUGH = "not_enough"
ROUNDING = 1e-9  # what 0.7 x 90 falls short of 63 by
#: the version that can still be read beside the present one, for comparisons
EARLIER = 6


@dataclass(frozen=True)
class Dose:
    """What a day allows: minutes (None = no limit is known), block and rest minutes, dynamic, tempo %.

    `minutes` is a whole number; `ruled_by` names the smallest of what limits the day: level, start, told, return,
    programme, usual ("" = nothing does).
    """

    minutes: float | None
    block_min: float
    rest_min: float
    dynamic: str
    tempo_pct: float
    ruled_by: str = ""

    def at_most(self, minutes: float | None, ruled_by: str) -> "Dose":
        """Return the dose kept to `minutes` too, rounded down to a whole minute; no block is longer than the day.

        A limit above 0 leaves one minute at least. None changes nothing.
        """
        if minutes is None:
            return self
        whole = 0.0 if minutes <= 0 else max(1.0, float(math.floor(minutes + ROUNDING)))
        if self.minutes is not None and self.minutes <= whole:
            return self
        return replace(self, minutes=whole, block_min=min(self.block_min, whole), ruled_by=ruled_by)

    def left(self, played_min: float) -> float | None:
        """Return the minutes the limit leaves beside `played_min` of the day, never below 0; None = no limit."""
        return None if self.minutes is None else max(0.0, self.minutes - played_min)


@dataclass(frozen=True)
class LevelRules:
    """A Muted level: share of the usual minutes (%), at most (min, 0 = no limit), blocks and rests (min), tempo (%)."""

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
    baseline_days: int
    #: percentile of her asked days that usual is at least; 0 = the median alone
    baseline_high_percentile: float
    baseline_high_from_days: int
    baseline_high_to_days: int
    baseline_high_min_days: int
    #: days, those with a new instrument are no part of usual for this long; 0 = they are
    apart_days: int
    #: days, window of the usual load range
    baseline_range_days: int
    #: days, the window ends this many days ago
    baseline_range_ends_before: int
    #: percentile, lower edge over played days
    baseline_range_low: float
    #: percentile, upper edge over played days
    baseline_range_high: float
    #: played days, fewer give no range
    baseline_range_min_days: int
    #: % a week, the most that the range which caps a day grows; 0 = no limit
    baseline_growth: float
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
    #: 0-10, tightness or stiffness from here on speaks like strong pain
    tacet_tightness: float
    #: grade, stage of row 4
    pp_stage: int
    #: 0-10, pain away from the instrument that makes stage 3, at a place that hurts while playing; 0 = any
    stage_pain: float
    #: nights in 7
    pp_tingling_nights: int
    #: of 7 playing days
    pp_tingling_playing_days: int
    #: 0-10, morning pain above usual
    pp_morning_rise: float
    #: 0-10, the first such morning in seven mutes less below this; 0 = it does not
    first_morning_pain: float
    #: 0-10, tightness or stiffness at night counts from here on
    woken_tightness: float
    #: 0-10, pain at or above this in 48 h
    mp_pain: float
    #: days, a brief tingling with another one within this takes the longer way back; 0 = always
    brief_nerve_days: int
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
    #: days before the last seven from which her own rate is taken
    rate_days: int
    #: probability, so many of seven must be this unlikely under her own rate; 1 = not asked
    rate_chance: float
    #: days, a sign after a heavy week caps the day so long before it mutes
    sign_caps_days: int
    #: asked days without more than `sign_quiet_mark` at its place, after which a sign mutes no more; 0 = it does
    sign_quiet_days: int
    #: 0-10
    sign_quiet_mark: float
    #: of 7 days, above the usual range: a heavy week
    heavy_week_days: int
    #: 0-10, the same place marked from here on
    often_mark: float
    #: days of `often_within` that are worth showing; 0 = never
    often_days: int
    often_within: int
    #: days a level has stood when it is asked about; 0 = never
    long_level_days: int
    #: and when someone should see it
    long_level_book_days: int
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
    #: wakings, the same from Muted mp to Open
    clear_wakings_mp: int
    #: 1 = after one day of strong pain in 14 the way back leads from Tacet to Muted mp
    strong_once_skips: int
    #: wakings, the same after nerve signs
    clear_wakings_nerve: int
    #: 1 = a morning that is not clear begins the count again; 0 = only after nerve signs
    unclear_resets: int
    #: wakings that a clear one counts for under Muted mp, after a day off or within her usual minutes
    off_day_counts: float
    #: the same after any other day: above the limit, or not written
    other_day_counts: float
    #: share of it that a clear evening counts for where the waking was not asked
    evening_counts: float
    #: 1 = a level that ended settles early signs too
    release_settles_signs: int
    #: logged days, reference of rank_cusum
    cusum_m: int
    cusum_k: float
    cusum_cap: float
    cusum_gate: float
    #: days, how far back the judgement reads checks
    judge_days: int
    #: days, how far back it reads sessions; older played days only as minutes
    judge_load_days: int


_version: ContextVar[str] = ContextVar("earlier version of the rules", default="")


@contextmanager
def rules_of_version(version: int) -> Iterator[None]:
    """Judge by the numbers of `version` inside the block: the present one or `EARLIER`. For comparisons only."""
    if version not in (rules().version, EARLIER):
        raise ValueError(f"rules of version {version} are not kept")
    token = _version.set(f"version_{EARLIER}" if version == EARLIER else "")
    try:
        yield
    finally:
        _version.reset(token)


def rules() -> CallRules:
    return _rules(_version.get())


@cache
def _rules(earlier: str) -> CallRules:
    return typed(CallRules, "call_rules", earlier=earlier)


def level_rules(level: int) -> LevelRules:
    """Return the numbers of a Muted level."""
    return _level_rules(level, _version.get())


@cache
def _level_rules(level: int, earlier: str) -> LevelRules:
    return typed(LevelRules, "call_rules", {MUTED_MP: "mp_", MUTED_PP: "pp_"}[level], earlier)


def muted_dose(level: int, baseline_minutes: float | None) -> Dose:
    """Return the dose of a Muted level: a share of the usual playing-day minutes, rounded down.

    Without a usual (None) no minutes are named: only blocks, rests, dynamic and tempo. Common practice, not yet
    reviewed by a clinician.
    """
    r = level_rules(level)
    free = Dose(None, r.block_min, r.rest_min, "p", r.tempo)
    if baseline_minutes is None:
        return free
    share = baseline_minutes * r.share / 100
    return free.at_most(min(share, r.most_min) if r.most_min else share, "level")
