"""The day's call: the table's rows, the way back, and the dose that follows."""

from dataclasses import dataclass, replace
from datetime import date, timedelta

from chirotend.core.judge.call_table import ROWS, ROWS_ABOVE_KNOWN
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.recovery import Recovery, baseline_before, carried, carried_over, limit_of, morning_of
from chirotend.core.judge.rules import LEVELS, MUTED_PP, NOT_ENOUGH, OPEN, TACET, Dose, muted_dose, rules

OVERRULABLE_ROWS = (5, 6)
#: findings of row 9 that do not hold the day to her usual range
NOT_CAPPING = ("worth_showing", "beside", "often_marked", "long_level", "watched", "risen_quiet", "told_without")
#: findings whose minutes limit the day, and what is said to rule it then
LIMITING = {"return": "return", "after_fever": "return", "programme": "programme", "told": "told"}
RESTING_ROW, NOT_ENOUGH_ROW, CAPPING_ROW, NOTHING_ROW = 8, 7, 9, 10
OPEN_BLOCK_MIN, OPEN_REST_MIN = 30.0, 5.0


@dataclass(frozen=True)
class Call:
    """What is said for one practice day.

    `call` is open, muted_mp, muted_pp, tacet or not_enough; `row` the row of the table that decided (0 = the way
    back holds); `findings` every matching row, the deciding one first; `recovery` is carried to the next day.
    """

    day: date
    call: str
    row: int
    findings: tuple[Finding, ...]
    dose: Dose
    recovery: Recovery
    version: int

    @property
    def overrulable(self) -> bool:
        return self.row in OVERRULABLE_ROWS and self.call in ("muted_mp", "muted_pp")

    @property
    def urgent(self) -> bool:
        return bool(self.findings) and self.findings[0].row == 1


def compute_call(evidence: Evidence, before: Recovery, last_day: date | None = None) -> Call:
    """Return the call for `evidence.today`, given the recovery carried over from the last call, of `last_day`.

    First match decides, all matches are listed. A level that the way back still holds counts like a matching row
    before row 7. None for `last_day`: yesterday.
    """
    if last_day is not None:
        before = carried_over(before, last_day, evidence.above_known)
    recovery = carried(before, evidence.above_known)
    if recovery.rests_on_known(evidence.known, evidence.today):
        recovery = replace(Recovery(), settled_until=recovery.settled_until, usual_min=recovery.usual_min)
    evidence = evidence.settled(recovery.settled_until, recovery.overruled_until)
    above = evidence.above_known
    found = sorted(
        (f for row in ROWS for f in row(above if row in ROWS_ABOVE_KNOWN else evidence)),
        key=lambda f: (f.row, -f.level),
    )
    if recovery.held and not any(f.row in (1, 2) for f in found):
        recovery = replace(recovery, held=False)  # the mark that held it was rubbed out
    symptoms = [f for f in found if 1 <= f.row <= 6 and f.level > OPEN]
    ruled = max((f.level for f in symptoms), default=OPEN)
    stops = next((f for f in found if f.row == RESTING_ROW and f.level == TACET), None)
    level, first = OPEN, found[0] if found else None
    if ruled > OPEN and ruled >= recovery.level:
        level, first = ruled, next(f for f in symptoms if f.level == ruled)
        recovery = _ruled_recovery(recovery, first, symptoms, evidence)
    elif recovery.level > OPEN:
        level, first = recovery.level, _recovery_finding(before, recovery, evidence)
    if stops is not None and (ruled == OPEN or level < TACET):
        level, first = TACET, stops
    if recovery.level > OPEN:
        recovery = recovery if recovery.since is not None else replace(recovery, since=evidence.today)
        found += _long_level(recovery, evidence)
    if first is not None:
        found = [first, *(f for f in found if f is not first)]
    row = first.row if first is not None else NOTHING_ROW
    dose = _dose(level, recovery, found, evidence)
    call = NOT_ENOUGH if level == OPEN and row == NOT_ENOUGH_ROW else LEVELS[level]
    recovery = replace(recovery, limit_min=dose.minutes if recovery.level > OPEN else None)
    return Call(evidence.today, call, row, tuple(found), dose, recovery, rules().version)


def _recovery_finding(before: Recovery, recovery: Recovery, evidence: Evidence) -> Finding:
    """The level that still holds, how many clear mornings it wants, and what this one was worth."""
    values: dict[str, str | float | int] = {
        "level": LEVELS[recovery.level],
        "clear": recovery.clear,
        "needed": recovery.wakings_needed,
        "held": int(recovery.held),
        **_still(before, evidence),
    }
    return Finding("way_back", 0, recovery.level, values, nerve=recovery.nerve)


def _long_level(recovery: Recovery, evidence: Evidence) -> list[Finding]:
    """A level that has stood for two weeks is asked about; after three someone should see it."""
    r = rules()
    days = (evidence.today - (recovery.since or evidence.today)).days + 1
    if recovery.held or not r.long_level_days or days < r.long_level_days:
        return []
    book = "two_weeks" if days >= r.long_level_book_days else ""
    return [Finding("long_level", 9, OPEN, {"days": days, "level": LEVELS[recovery.level]}, (), book)]


def _still(before: Recovery, evidence: Evidence) -> dict[str, str | float | int]:
    """Why this morning is no whole step, with yesterday's minutes and the limit they passed."""
    why = morning_of(before, evidence.above_known).why
    if why != "over_limit":
        return {"still": why} if why else {}
    minutes = evidence.load.on(evidence.today - timedelta(days=1))[0]
    return {"still": why, "played": int(minutes), "limit": int(limit_of(before, evidence) or 0)}


def _ruled_recovery(recovery: Recovery, first: Finding, symptoms: list[Finding], evidence: Evidence) -> Recovery:
    """A row that only looks back over a window does not undo clear wakings; one with evidence of today does."""
    fresh = first.level > recovery.level or (bool(first.days) and first.days[-1] == evidence.today)
    here = [f for f in symptoms if f.level == first.level]
    causes = () if any(f.cause is None for f in here) else tuple(dict.fromkeys(f.cause for f in here if f.cause))
    return Recovery(
        first.level,
        0 if fresh else recovery.clear,
        any(f.nerve for f in here) or (recovery.nerve and not fresh),
        first.row in (1, 2),
        recovery.settled_until,
        causes=causes,
        usual_min=baseline_before(recovery, evidence),
        since=recovery.since if first.level == recovery.level else evidence.today,
        overruled_until=recovery.overruled_until,
    )


def overruled(call: Call) -> Recovery:
    """Return the recovery after the player overruled rows 5 or 6 with a reason: what was seen is settled."""
    settled = call.day - timedelta(days=1)
    return Recovery(OPEN, settled_until=settled, overruled_until=settled)


# one place works out the limit, so that no page can show another: decision 138
def _dose(level: int, recovery: Recovery, found: list[Finding], evidence: Evidence) -> Dose:
    """Return the one limit of the day: the smallest of what the level, a start dose, a return, a programme, someone
    licensed and her usual range allow. A stricter level never allows more than a milder one."""
    if level == TACET:
        return Dose(0.0, 0.0, 0.0, "", 0.0, "level")
    dose = Dose(None, OPEN_BLOCK_MIN, OPEN_REST_MIN, "", 100.0)
    if level > OPEN:
        dose = muted_dose(level, baseline_before(recovery, evidence)).at_most(recovery.start_dose_min, "start")
    for f in found:
        if f.code in LIMITING:
            dose = dose.at_most(float(f.values["dose_min"]), LIMITING[f.code])
    capped = any(f.row == CAPPING_ROW and f.code not in NOT_CAPPING for f in found)
    if evidence.baseline_minutes_range is not None and capped:
        dose = dose.at_most(evidence.baseline_minutes_range.high, "usual")
    return dose


def seen_by_clinician(day: date, start_dose_min: float) -> Recovery:
    """Return the recovery after the answer "seen by a clinician": Muted pp at the dose she was given (minutes)."""
    settled = day - timedelta(days=1)
    return Recovery(MUTED_PP, 0, True, False, settled, start_dose_min, since=day, overruled_until=settled)
