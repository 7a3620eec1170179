"""The answer "seen by a clinician", with the minutes a day that were allowed: the only way back after rows 1 and 2."""

from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError

MOST_START_MIN = 240


def waits_for_clinician(context: Context) -> bool:
    """Return whether only the answer "seen by a clinician" opens the way back."""
    return todays_call(context).issued.recovery.held


def check_start_dose(minutes: float | None) -> float:
    """Return the minutes a day she was given to start with; `FieldError` without them: there is no default dose."""
    if minutes is None or not 1 <= minutes <= MOST_START_MIN:
        raise FieldError(
            "start_dose_min",
            f"Type the minutes a day you were given, from 1 to {MOST_START_MIN}. There is no default dose.",
        )
    return minutes


def clear_by_clinician(context: Context, start_dose_min: float | None) -> None:
    """Take the answer "seen by a clinician" with the dose she was given (minutes a day).

    `FieldError` without a dose. Where nothing waits for the answer it changes nothing.
    """
    given = check_start_dose(start_dose_min)
    if waits_for_clinician(context):
        context.store.add_clearance(context.now, given)
