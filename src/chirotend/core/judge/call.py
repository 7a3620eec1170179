"""The day's call: the table's rows, the way back, and the dose that follows."""

from dataclasses import dataclass, replace
from datetime import date, timedelta

from chirotend.core.judge.call_table import ROWS, ROWS_ABOVE_KNOWN
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.rules import (
    LEVELS,
    MUTED_MP,
    MUTED_PP,
    NOT_ENOUGH,
    OPEN,
    TACET,
    Dose,
    muted_dose,
    rules,
)
from chirotend.core.judge.way_back import Standing, carried, dose_of, usual_before, why_still

OVERRULABLE_ROWS = (5, 6)
#: findings of row 9 that do not hold the day to her usual range
NOT_CAPPING = ("worth_showing", "beside")
OPEN_BLOCK_MIN, OPEN_REST_MIN = 30.0, 5.0


@dataclass(frozen=True)
class Call:
    """What is said for one practice day.

    `call` is open, muted_mp, muted_pp, tacet or not_enough; `row` the row of the table that decided (0 = the way
    back holds); `findings` every matching row, the deciding one first; `standing` is carried to the next day.
    """

    day: date
    call: str
    row: int
    findings: tuple[Finding, ...]
    dose: Dose
    standing: Standing
    version: int

    @property
    def overrulable(self) -> bool:
        return self.row in OVERRULABLE_ROWS and self.call in ("muted_mp", "muted_pp")

    @property
    def urgent(self) -> bool:
        return bool(self.findings) and self.findings[0].row == 1


def todays_call(evidence: Evidence, before: Standing) -> Call:
    """Return the call for `evidence.today`, given the standing carried over from the last call before it.

    First match decides, all matches are listed. A level that the way back still holds counts like a matching row
    before row 7.
    """
    standing = carried(before, evidence.above_known)
    evidence = evidence.settled(standing.settled_until)
    above = evidence.above_known
    found = sorted(
        (f for row in ROWS for f in row(above if row in ROWS_ABOVE_KNOWN else evidence)),
        key=lambda f: (f.row, -f.level),
    )
    if standing.held and not any(f.row in (1, 2) for f in found):
        standing = replace(standing, held=False)  # the mark that held it was rubbed out
    symptoms = [f for f in found if 1 <= f.row <= 6 and f.level > OPEN]
    ruled = max((f.level for f in symptoms), default=OPEN)
    fever = next((f for f in found if f.code == "fever"), None)
    if ruled > OPEN and ruled >= standing.level:
        first = next(f for f in symptoms if f.level == ruled)
        standing = _ruled_standing(standing, first, symptoms, evidence)
        level, row = ruled, first.row
    elif standing.level > OPEN:
        first = Finding(
            "way_back",
            0,
            standing.level,
            {
                "level": LEVELS[standing.level],
                "clear": standing.clear,
                "needed": standing.wakings_needed,
                "held": int(standing.held),
                **_still(before, evidence),
            },
            nerve=standing.nerve,
        )
        level, row = standing.level, 0
    elif fever is None:
        row = found[0].row if found else 10
        return Call(
            evidence.today,
            NOT_ENOUGH if row == 7 else "open",
            row,
            tuple(found),
            _open_dose(found, evidence),
            standing,
            rules().version,
        )
    if fever is not None and (ruled == OPEN or level < TACET):
        first, level, row = fever, TACET, fever.row
    found = [first, *(f for f in found if f is not first)]
    return Call(
        evidence.today,
        LEVELS[level],
        row,
        tuple(found),
        _within_programmes(muted(level, usual_before(standing, evidence), standing.start_dose_min), evidence),
        standing,
        rules().version,
    )


def _still(before: Standing, evidence: Evidence) -> dict[str, str | float | int]:
    """Why the way back stands still, with yesterday's minutes and the dose they passed; nothing when it goes on."""
    why = why_still(before, evidence.above_known)
    if why != "over_dose":
        return {"still": why} if why else {}
    minutes = evidence.load.on(evidence.today - timedelta(days=1))[0]
    return {"still": why, "played": round(minutes), "dose": round(dose_of(before, evidence) or 0)}


def _ruled_standing(standing: Standing, first: Finding, symptoms: list[Finding], evidence: Evidence) -> Standing:
    """A row that only looks back over a window does not undo clear wakings; one with evidence of today does."""
    fresh = first.level > standing.level or (bool(first.days) and first.days[-1] == evidence.today)
    here = [f for f in symptoms if f.level == first.level]
    places = () if any(f.place is None for f in here) else tuple(dict.fromkeys(f.place for f in here if f.place))
    return Standing(
        first.level,
        0 if fresh else standing.clear,
        any(f.nerve for f in here) or (standing.nerve and not fresh),
        first.row in (1, 2),
        standing.settled_until,
        places=places,
        usual_min=usual_before(standing, evidence),
    )


def overruled(call: Call) -> Standing:
    """Return the standing after the player overruled rows 5 or 6 with a reason: what was seen is settled."""
    return Standing(OPEN, settled_until=call.day - timedelta(days=1))


def muted(level: int, usual_minutes: float | None, start_dose_min: float | None) -> Dose:
    """Return the dose of `level`; a start dose given by a clinician replaces the share of usual."""
    if level == TACET:
        return Dose(0.0, 0.0, 0.0, "", 0.0)
    dose = muted_dose(level, usual_minutes)
    if start_dose_min is None or level == MUTED_MP:
        return dose
    return Dose(start_dose_min, dose.block_min, dose.rest_min, dose.dynamic, dose.tempo_pct)


def _open_dose(found: list[Finding], evidence: Evidence) -> Dose:
    minutes = [float(f.values["dose_min"]) for f in found if f.code in ("return", "programme")]
    if not minutes and any(f.row == 9 and f.code not in NOT_CAPPING for f in found) and evidence.usual_minutes_range:
        minutes = [evidence.usual_minutes_range.high]
    return Dose(min(minutes) if minutes else None, OPEN_BLOCK_MIN, OPEN_REST_MIN, "", 100.0)


def _within_programmes(dose: Dose, evidence: Evidence) -> Dose:
    """A level never allows more than a programme does."""
    least = min((c.minutes for c in evidence.ceilings), default=None)
    return dose if least is None or dose.minutes is None else replace(dose, minutes=min(dose.minutes, least))


def seen_by_clinician(day: date, start_dose_min: float) -> Standing:
    """Return the standing after the answer "seen by a clinician": Muted pp at the dose she was given (minutes)."""
    return Standing(MUTED_PP, 0, True, False, day - timedelta(days=1), start_dose_min)
