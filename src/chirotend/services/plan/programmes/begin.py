"""Programmes are begun, given a dose by whoever was asked, and ended with a review."""

from collections.abc import Callable, Mapping
from datetime import date, timedelta
from uuid import uuid4

from pydantic import ValidationError

from chirotend.core.errors import MethodError
from chirotend.core.judge.baseline import median
from chirotend.core.judge.evidence import Evidence
from chirotend.core.plan.programmes.steps import hands
from chirotend.core.plan.programmes.weeks import season
from chirotend.formats.kept_rows import ProgrammeData
from chirotend.library.loader import programmes
from chirotend.library.schema import ProgrammeEntry
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import own_library
from chirotend.services.plan.programmes.running import Programme, all_of, programme_of
from chirotend.services.record import corrections
from chirotend.services.units import decimal, maybe, typed_day
from chirotend.store.models import ProgrammeRow

#: a programme may begin so many days ahead
AHEAD_DAYS = 90
WORDS_MAX, NOTE_MAX = 120, 2000
Ask = Callable[[Context, Mapping[str, str], date], dict[str, object]]
NO_DOSE = "0 minutes is no playing. Begin when you may play, with the minutes you are given."


def begin(context: Context, key: str, typed: Mapping[str, str]) -> str:
    """Begin a programme of the library from what was typed; returns its id. `FieldError` names the field."""
    entry = programmes().get(key)
    if entry is None:
        raise NotThere(key)
    first = typed_day("first", typed.get("first", "") or context.today.isoformat())
    if not context.today <= first <= context.today + timedelta(days=AHEAD_DAYS):
        raise FieldError("first", f"It begins today or within the next {AHEAD_DAYS} days.")
    _nothing_in_the_way(context, entry)
    data = _data(context, entry, typed, first)
    uid = uuid4().hex
    row = {"uid": uid, "programme": key, "first": first, "ended": None, "note": ""}
    corrections.put_row(context, "programme", {**row, "data": data.model_dump(mode="json")})
    return uid


def _nothing_in_the_way(context: Context, entry: ProgrammeEntry) -> None:
    for other in all_of(context):
        if other.ended is None and (other.entry.id in entry.excludes or entry.id in other.entry.excludes):
            raise FieldError(
                "programme",
                f"“{other.entry.name}” is there since {other.first:%-d %B} and cannot stand under this one. "
                "End it first, or wait for its review.",
            )


def _data(context: Context, entry: ProgrammeEntry, typed: Mapping[str, str], first: date) -> ProgrammeData:
    """Put together what the programme asks for."""
    evidence = todays_call(context).evidence
    week_min = _baseline_week(evidence)
    values: dict[str, object] = {"usual_min": evidence.baseline_minutes, "usual_week_min": week_min}
    if typed.get("start_min", "").strip() in ("0", "0.0", "0,0"):
        raise FieldError("start_min", NO_DOSE)
    for ask in entry.asks:
        values |= _ASKED[ask](context, typed, first)
    if entry.id == "return":
        values |= _start_of_return(typed)
    if entry.rule == "weeks" and min(share for share, _, _ in entry.weeks) > 0 and not evidence.baseline_minutes:
        raise FieldError("programme", "Its weeks are shares of your usual day, and no playing is written yet.")
    try:
        data = ProgrammeData.model_validate(values)
        if data.until is not None and data.target_min is not None:
            season(first, data.until, week_min, data.target_min)
    except ValidationError as error:
        raise FieldError("aim_min", "The aim is at least the start.") from error
    except MethodError as error:
        raise FieldError(error.field, "The date lies 2 to 25 weeks after the first day.") from error
    return data


def _baseline_week(evidence: Evidence) -> float:
    """Minutes of the middle one of her last four weeks, an hour at least."""
    last = evidence.load.minutes[-28:]
    return max(60.0, median([sum(m for m in last[i : i + 7] if m == m) for i in range(0, 28, 7)]))


def _start(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
    typed_min = maybe("start_min", "Minutes to start with", typed.get("start_min", ""), 1, 240, "minutes")
    return {"start_min": hands().least_min if typed_min is None else typed_min}


def _start_of_return(typed: Mapping[str, str]) -> dict[str, object]:
    """A clinician's dose comes before ours; after an operation there is none of ours."""
    text = typed.get("start_min", "").strip()
    clinician = typed.get("by_clinician") == "yes"
    if typed.get("why") == "operation" and not (clinician and text):
        raise FieldError(
            "start_min", "After an operation the dose comes from your clinician. Type it and tick the box."
        )
    return {"by_clinician": clinician}


def _aim(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
    return {"aim_min": decimal("aim_min", "Minutes a day to reach", typed.get("aim_min", ""), 1, 600, "minutes")}


def _why(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
    why = typed.get("why", "")
    if why not in ("layoff", "illness", "operation"):
        raise FieldError("why", "Choose what you come back from.")
    return {"why": why}


def _instrument(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
    found = typed.get("instrument", "")
    if found not in own_library.instruments(context):
        raise FieldError("instrument", "Choose the instrument.")
    return {"instrument": found}


def _words(name: str, sentence: str) -> Ask:
    def asked(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
        text = typed.get(name, "").strip()
        if not 1 <= len(text) <= WORDS_MAX:
            raise FieldError(name, sentence)
        return {name: text}

    return asked


def _until(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
    return {"until": typed_day("until", typed.get("until", ""))}


def _target(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
    hours = decimal("target_min", "Hours a week it asks", typed.get("target_min", ""), 1, 70, "hours")
    return {"target_min": hours * 60}


def _hand(context: Context, typed: Mapping[str, str], first: date) -> dict[str, object]:
    hand = typed.get("hand", "")
    if hand not in ("left", "right"):
        raise FieldError("hand", "Choose the hand.")
    return {"hand": hand}


_ASKED: dict[str, Ask] = {
    "start_min": _start,
    "aim_min": _aim,
    "why": _why,
    "instrument": _instrument,
    "what": _words("what", "Say in a few words what you change, such as: left thumb off the tube."),
    "teacher": _words("teacher", "Write who watches it. This one is not for you alone."),
    "until": _until,
    "target_min": _target,
    "hand": _hand,
}


def give(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Go on at a dose named by whoever was asked, from today."""
    row, programme = _own(context, uid)
    if programme.entry.rule != "steps":
        raise NotThere(uid)
    dose = decimal("dose", "Minutes you were told", typed.get("dose", ""), 1, 240, "minutes")
    data = programme.data.model_copy(update={"given": {**programme.data.given, context.today: dose}})
    corrections.change_row(context, "programme", row, data=data.model_dump(mode="json"))


def end(context: Context, uid: str, note: str) -> None:
    """End a programme with what she writes of it; one that has not begun is taken out whole."""
    row, programme = _own(context, uid)
    if programme.first > context.today:
        corrections.delete(context, "programme", uid)
    else:
        corrections.change_row(context, "programme", row, ended=context.today, note=note.strip()[:NOTE_MAX])


def _own(context: Context, uid: str) -> tuple[ProgrammeRow, Programme]:
    row = context.row(ProgrammeRow, uid)
    if row.ended is not None:
        raise NotThere(uid)
    return row, programme_of(row)
