"""Session load. Units here: minutes, effort 0-10, load in arbitrary units (AU)."""

from chirotend.core.errors import check_range
from chirotend.core.record import Session
from chirotend.core.record.words import EFFORT_MAX, SESSION_MAX_MIN


def srpe_load(rpe: float, minutes: float) -> float:
    """Return a load in AU: effort times minutes played.

    Session-RPE as in Foster et al. 2001, J Strength Cond Res 15:109-115 (from memory). Ratings differ between
    people: compare a person with themself only.

    Parameters
    ----------
    rpe : float
        The person's own rating, 0 (rest) to 10 (maximal).
    minutes : float
        Playing time without rests, 0 to 1440.

    Raises
    ------
    NotANumber, OutOfRange
        If a value is not finite or outside its range.
    """
    check_range("rpe", rpe, 0, EFFORT_MAX)
    check_range("minutes", minutes, 0, SESSION_MAX_MIN, "min")
    return float(rpe * minutes)


def session_load(session: Session, instrument: str = "") -> float | None:
    """Return the load of a session in AU (`srpe_load` of its blocks); None when some minutes have no effort rating.

    With `instrument` only the blocks on it count.
    """
    total = 0.0
    for block in session.blocks:
        if instrument and block.instrument != instrument:
            continue
        effort = session.effort_of(block)
        if effort is None:
            if block.minutes:
                return None
            continue
        total += srpe_load(effort, block.minutes)
    return total
