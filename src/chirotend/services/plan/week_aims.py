"""The small aims of a week."""

from dataclasses import dataclass
from datetime import date
from uuid import uuid4

from chirotend.core.plan.week import Aim
from chirotend.core.plan.week_problem import monday
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.record import corrections
from chirotend.store.models import AimRow, PlannedRow

TITLE_MAX = 120


def aims(context: Context, week: date) -> list[AimRow]:
    """Return the aims of the week that begins on `week`."""
    return context.store.repository(AimRow).all(AimRow.week == week, order=(AimRow.done, AimRow.title))


def every_aim(context: Context) -> list[AimRow]:
    """Return every aim she ever wrote, oldest first."""
    return context.store.repository(AimRow).all(order=(AimRow.week,))


@dataclass(frozen=True)
class TypedAim:
    """An aim as typed: minutes wanted that week, effort 0-10, whether new and hard, soft school or edge."""

    title: str
    minutes: float | None
    effort: float | None = None
    instrument: str = ""
    new_hard: bool = False
    manner: str = "soft"
    done: bool = False
    grip: str = ""
    posture: str = ""


def write_aim(context: Context, week: date, typed: TypedAim, uid: str | None = None) -> str:
    """Write an aim (new, or in the place of `uid`); returns its id. `FieldError` names the field."""
    if uid is not None:
        context.row(AimRow, uid)
    if not 1 <= len(typed.title.strip()) <= TITLE_MAX:
        raise FieldError("aim_title", f"Say the aim in a few words, up to {TITLE_MAX} characters.")
    if typed.minutes is None or not 5 <= typed.minutes <= 1200:
        raise FieldError("aim_minutes", "Minutes wanted this week run from 5 to 1200.")
    effort = 4.0 if typed.effort is None else typed.effort
    if not 0 <= effort <= 10:
        raise FieldError("aim_effort", "Effort runs from 0 (nothing) to 10 (all you have).")
    if typed.manner not in ("soft", "edge"):
        raise FieldError("aim_manner", "Choose soft and slow, or at the edge.")
    for field, hold in (("aim_grip", typed.grip), ("aim_posture", typed.posture)):
        if hold and hold not in own_library.grips(context):
            raise FieldError(field, "Choose a grip or seat of the library, or none.")
    values = {
        "grip": typed.grip,
        "posture": typed.posture,
        "uid": uid or uuid4().hex,
        "week": monday(week),
        "title": typed.title.strip(),
        "minutes": typed.minutes,
        "effort": effort,
        "instrument": typed.instrument[:80],
        "new_hard": typed.new_hard,
        "manner": typed.manner,
        "done": typed.done,
        "unlaid": "",
    }
    corrections.put_row(context, "aim", values)
    return str(values["uid"])


def as_aim(row: AimRow) -> Aim:
    """Return an aim as the core plans with it."""
    return Aim(row.uid, row.title, row.minutes, row.effort, row.instrument, row.new_hard, row.weight)


def holds_for(context: Context, postures: bool) -> dict[str, str]:
    """Return the grips (or, with `postures`, the seats and supports) for her instruments: name by id."""
    families = {i.family for k, i in own_library.instruments(context).items() if k in context.player.instruments} | {
        "all"
    }
    fit = {k: g for k, g in own_library.grips(context).items() if families & set(g.families)}
    return {k: f"{g.name} ({g.kind})" for k, g in fit.items() if g.is_posture == postures}


def finish_aim(context: Context, uid: str) -> None:
    """Give credit: the aim is done. `NotThere` if she has none of that id."""
    corrections.change_row(context, "aim", context.row(AimRow, uid), done=True, unlaid="")


def drop_aim(context: Context, uid: str) -> None:
    """Delete an aim and what the planner laid for it ahead."""
    context.row(AimRow, uid)
    scheduled = context.store.repository(PlannedRow).all(
        PlannedRow.aim_uid == uid, PlannedRow.laid_by == "planner", PlannedRow.start_utc > context.now
    )
    with corrections.as_one(context):
        for row in scheduled:
            corrections.delete(context, "planned", row.uid)
        corrections.delete(context, "aim", uid)
