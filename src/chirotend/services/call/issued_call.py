"""An issued call: how one is written as a row, and how the row is said in words."""

from dataclasses import asdict, dataclass
from datetime import date
from typing import Any

from chirotend.core.judge.call import Call
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import Dose
from chirotend.formats.kept_rows import RECOVERY_DAYS, dose_from, finding_from, recovery_from
from chirotend.library.loader import wordings
from chirotend.services.words import Reason, reason
from chirotend.store.models import CallRow


@dataclass(frozen=True)
class IssuedCall:
    """A call as it was issued and stored, in words, with its overrule if there is one."""

    day: date
    call: str
    row: int
    reasons: tuple[Reason, ...]
    dose: Dose
    recovery: Recovery
    overrulable: bool
    urgent: bool
    version: int
    overrule: str | None = None
    overrule_reason: str = ""

    @property
    def effective(self) -> str:
        return self.overrule or self.call


def issued_call(row: CallRow) -> IssuedCall:
    """Return a stored call in words."""
    found = tuple(finding_from(f) for f in row.findings)
    call = Call(row.day, row.call, row.row, found, dose_from(row.dose), recovery_from(row.standing), row.version)
    return IssuedCall(
        row.day,
        row.call,
        row.row,
        tuple(reason(f) for f in found if f.code in wordings()),
        call.dose,
        call.recovery,
        call.overrulable,
        call.urgent,
        row.version,
        row.overrule,
        row.reason,
    )


def stored_values(call: Call) -> dict[str, Any]:
    """Return what of `call` a row keeps, as JSON holds it."""
    return {
        "version": call.version,
        "call": call.call,
        "row": call.row,
        "findings": [_stored_finding(f) for f in call.findings],
        "dose": asdict(call.dose),
        "standing": stored_recovery(call.recovery),
    }


def stored_recovery(recovery: Recovery) -> dict[str, Any]:
    """Return a recovery as JSON holds it."""
    days = {name: day.isoformat() if (day := getattr(recovery, name)) else None for name in RECOVERY_DAYS}
    return {**asdict(recovery), **days, "causes": [list(cause) for cause in recovery.causes]}


def _stored_finding(f: Finding) -> dict[str, Any]:
    return {
        "code": f.code,
        "row": f.row,
        "level": f.level,
        "values": f.values,
        "book": f.book,
        "nerve": f.nerve,
        "days": [d.isoformat() for d in f.days],
    }
