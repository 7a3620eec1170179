"""Lengths, masses and forces as she types and reads them: metric, or inch, pound and ounce. Inside always mm, g, N.

Whole numbers and days as she types them, too.
"""

import re
from datetime import date, time

from chirotend.core.days import day_named
from chirotend.core.errors import MethodError
from chirotend.core.fit.sticks import N_PER_LBF
from chirotend.services.context import Context, FieldError

MM_PER = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "inch": 25.4, "″": 25.4, '"': 25.4}
G_PER = {"g": 1.0, "kg": 1000.0, "oz": 28.349523125, "lb": 453.59237}
_TYPED = re.compile(r"^\s*([0-9]{1,9}(?:[.,][0-9]{1,9})?)\s*([a-zA-Z″\"]*)\s*$")


def whole(text: str) -> int | None:
    """Return a typed whole number in plain digits, up to a million; None when it is none."""
    plain = text.strip()
    return int(plain) if plain.isascii() and plain.isdigit() and len(plain) <= 6 else None


def decimal(field: str, name: str, text: str, low: float, high: float, unit: str = "") -> float:
    """Return a typed number (a decimal comma is fine) between `low` and `high`; `FieldError` names field and range."""
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        value = float("nan")
    if not low <= value <= high:
        raise FieldError(field, f"{name}: type a number from {low:g} to {high:.10g} {unit}".rstrip() + ".")
    return value


def maybe(field: str, name: str, text: str, low: float, high: float, unit: str = "") -> float | None:
    """Return a typed number as `decimal` does; None where nothing is typed."""
    return decimal(field, name, text, low, high, unit) if text.strip() else None


def decimals(field: str, text: str, low: float, high: float, example: str) -> list[float]:
    """Return typed numbers with spaces between them, each between `low` and `high`; none typed = none.

    `FieldError` names the field, the part that cannot be and an `example`.
    """
    found = []
    for part in text.replace(";", " ").replace("−", "-").split():
        try:
            value = float(part.rstrip(",").replace(",", "."))
        except ValueError:
            value = float("nan")
        if not low <= value <= high:
            raise FieldError(
                field,
                f"“{part[:20]}” cannot be. Type numbers from {low:g} to {high:.10g} with spaces between, "
                f"such as {example}.",
            )
        found.append(value)
    return found


def length_mm(context: Context, field: str, text: str, low: float, high: float) -> float | None:
    """Return a typed length in mm; without a unit it is mm, or inches where she reads inches. Empty: None."""
    usual = "in" if context.player.units == "inch" else "mm"
    return _number_in_units(field, text, MM_PER, usual, low, high, f"{length(context, low)} to {length(context, high)}")


def mass_g(context: Context, field: str, text: str, low: float, high: float) -> float | None:
    """Return a typed mass in g; without a unit it is g, or ounces where she reads inches. Empty: None."""
    usual = "oz" if context.player.units == "inch" else "g"
    return _number_in_units(field, text, G_PER, usual, low, high, f"{mass(context, low)} to {mass(context, high)}")


def _number_in_units(
    field: str, text: str, units: dict[str, float], usual: str, low: float, high: float, wanted: str
) -> float | None:
    if not text.strip():
        return None
    found = _TYPED.match(text)
    unit = (found.group(2).lower() or usual) if found else ""
    if found is None or unit not in units:
        names = ", ".join(u for u in units if u.isalpha())
        raise FieldError(
            field, f"“{text[:30]}” cannot be read. Type a number, with one of {names} behind it if you like."
        )
    value = float(found.group(1).replace(",", ".")) * units[unit]
    if not low <= value <= high:
        raise FieldError(field, f"“{text.strip()}” is out of range: {wanted} can be.")
    return value


def length(context: Context, mm: float | None) -> str:
    """Return a length as she reads it: 198 mm, or 7.8 in."""
    if mm is None:
        return "–"
    return f"{mm / 25.4:.1f} in" if context.player.units == "inch" else f"{mm:.0f} mm"


def mass(context: Context, g: float | None) -> str:
    """Return a mass as she reads it: 53 g, 3.40 kg, 1.9 oz, 7.5 lb."""
    if g is None:
        return "–"
    if context.player.units == "inch":
        return f"{g / G_PER['lb']:.1f} lb" if g >= G_PER["lb"] else f"{g / G_PER['oz']:.1f} oz"
    return f"{g / 1000:.2f} kg" if g >= 1000 else f"{g:.0f} g"


def force(context: Context, newtons: float) -> str:
    """Return a force as she reads it: 12.6 N, or 2.8 lbf."""
    return f"{newtons / N_PER_LBF:.1f} lbf" if context.player.units == "inch" else f"{newtons:.1f} N"


def typed_day(field: str, text: str) -> date:
    """Return the day that was typed; `FieldError` names the field."""
    try:
        return day_named(text.strip())
    except MethodError as error:
        raise FieldError(field, "Choose a day that exists, written YYYY-MM-DD.") from error


def typed_time(field: str, text: str, how_to_mend: str) -> time:
    """Return the time of day that was typed, 10:30 or 10.30; `FieldError` at `field` says `how_to_mend`."""
    try:
        return time.fromisoformat(text.replace(".", ":")).replace(tzinfo=None)
    except ValueError as error:
        raise FieldError(field, how_to_mend) from error
