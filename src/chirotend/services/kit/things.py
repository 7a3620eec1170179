"""Her kit: instruments, sticks, straps, rests, pegs, chair; masses, settings, services due. Grams, millimetres."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from uuid import uuid4

from chirotend.core.record.words import KIT_KINDS
from chirotend.services import units
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.record import corrections
from chirotend.services.units import typed_day, whole
from chirotend.store.models import KitRow

NAME_MAX, NOTE_MAX = 120, 1000


@dataclass(frozen=True)
class Thing:
    """A thing of her kit with what is due: `due` is a sentence, "" when nothing is."""

    row: KitRow
    line: str
    due: str


def kit(context: Context) -> tuple[Thing, ...]:
    """Return her kit, instruments first, each with what is due."""
    rows = context.store.repository(KitRow).all()
    return tuple(
        Thing(row, _line(context, row), due(row, context.today))
        for row in sorted(rows, key=lambda r: (KIT_KINDS.index(r.kind), r.name.lower()))
    )


def _line(context: Context, row: KitRow) -> str:
    parts = []
    if row.mass_g:
        parts.append(units.mass(context, row.mass_g))
    if row.setting_mm is not None:
        parts.append(f"set at {units.length(context, row.setting_mm)}")
    return ", ".join(parts)


def next_service(row: KitRow) -> date | None:
    """Return when the next service is due; None without a last one or an interval."""
    if row.service_on is None or not row.service_months:
        return None
    months = row.service_on.month - 1 + row.service_months
    year, month = row.service_on.year + months // 12, months % 12 + 1
    return date(year, month, min(row.service_on.day, 28))


def due(row: KitRow, today: date) -> str:
    """Return what is due with a thing, or soon will be, in words; "" when nothing is."""
    service = next_service(row)
    if service is not None and service <= today:
        return f"set-up due since {service:%B %Y}"
    if row.back_on is not None and (row.back_on - today).days <= 21:
        return f"give back by {row.back_on.day} {row.back_on:%B}"
    if service is not None and (service - today).days <= 30:
        return f"set-up due in {service:%B}"
    return ""


def thing(context: Context, uid: str) -> KitRow:
    return context.row(KitRow, uid)


def write(context: Context, uid: str | None, typed: Mapping[str, str]) -> str:
    """Write a thing of her kit (new, or in the place of `uid`); returns its id. `FieldError` names the field."""
    if uid is not None:
        thing(context, uid)
    kind, name = typed.get("kind", ""), typed.get("name", "").strip()
    if kind not in KIT_KINDS:
        raise FieldError("kind", f"Choose one of {', '.join(KIT_KINDS)}.")
    if not 1 <= len(name) <= NAME_MAX:
        raise FieldError("name", f"Give it a name, up to {NAME_MAX} characters.")
    instrument = typed.get("instrument", "").strip()
    if kind == "instrument" and instrument not in own_library.instruments(context):
        raise FieldError("instrument", "Choose which instrument it is from the list.")
    if len(typed.get("note", "")) > NOTE_MAX:
        raise FieldError("note", f"At most {NOTE_MAX} characters.")
    length = units.length_mm(context, "length_mm", typed.get("length_mm", ""), 10, 6000)
    balance = units.length_mm(context, "balance_mm", typed.get("balance_mm", ""), 1, 6000)
    if length is not None and balance is not None and balance > length:
        raise FieldError("balance_mm", "The balance point lies on the thing: it cannot be further than its length.")
    values = {
        "uid": uid or uuid4().hex,
        "kind": kind,
        "name": name,
        "instrument": instrument,
        "mass_g": units.mass_g(context, "mass_g", typed.get("mass_g", ""), 1, 600_000),
        "length_mm": length,
        "balance_mm": balance,
        "setting_mm": units.length_mm(context, "setting_mm", typed.get("setting_mm", ""), 0, 3000),
        "service_on": _day("service_on", typed.get("service_on", ""), context.today),
        "service_months": _months(typed.get("service_months", "")),
        "back_on": _day("back_on", typed.get("back_on", ""), None),
        "note": typed.get("note", "").strip(),
    }
    corrections.put_row(context, "kit", values)
    return str(values["uid"])


def note_down(context: Context, uid: str, line: str) -> None:
    """Add a line to the note of a thing; an older one goes where there is no room."""
    row = thing(context, uid)
    corrections.change_row(context, "kit", row, note="\n".join(part for part in (row.note, line) if part)[-NOTE_MAX:])


def _day(field: str, text: str, latest: date | None) -> date | None:
    if not text.strip():
        return None
    found = typed_day(field, text)
    if latest is not None and found > latest:
        raise FieldError(field, "This day lies in the future. Write the last service there was.")
    return found


def _months(text: str) -> int | None:
    if not text.strip():
        return None
    months = whole(text)
    if months is None or not 1 <= months <= 120:
        raise FieldError("service_months", "Months between services run from 1 to 120.")
    return months
