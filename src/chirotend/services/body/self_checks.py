"""Five gentle looks at both hands. A clear one is kept as a value and never loosens a call."""

from dataclasses import dataclass
from datetime import date

from chirotend.drawing.pictures import Drawn, drawn
from chirotend.library.loader import self_checks
from chirotend.library.schema import SelfCheck
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit.profile import profile
from chirotend.services.record import measured
from chirotend.store.models import MeasurementRow

SAME, DIFFERS = 0.0, 1.0


@dataclass(frozen=True)
class ShownCheck:
    """A self-check with its drawing, and the last answer with its day (None = never done)."""

    check: SelfCheck
    picture: Drawn
    last: str
    last_day: date | None


def shown(context: Context) -> tuple[ShownCheck, ...]:
    """Return the self-checks that suit her in their order, each with the last answer."""
    states = profile(context).states
    pictures = drawn("self_checks")
    latest: dict[str, MeasurementRow] = {}
    for row in measured.kept(context, "selfcheck.*"):
        latest[row.method.removeprefix("selfcheck.")] = row
    return tuple(
        ShownCheck(
            check,
            pictures[key],
            ("differs" if latest[key].value == DIFFERS else "as always") if key in latest else "",
            latest[key].day if key in latest else None,
        )
        for key, check in self_checks().items()
        if not states & set(check.not_with)
    )


def answer(context: Context, check_id: str, said: str) -> SelfCheck:
    """Keep the day's answer, "same" or "differs", in the place of an earlier one that day; returns the check.

    What differs is then marked on the body by her.
    """
    check = self_checks().get(check_id)
    if check is None:
        raise NotThere(check_id)
    if said not in ("same", "differs"):
        raise FieldError("said", "Say whether it is as always, or differs.")
    value = DIFFERS if said == "differs" else SAME
    measured.keep(context, f"selfcheck.{check_id}", value, uid=f"selfcheck-{check_id}-{context.today}")
    return check
