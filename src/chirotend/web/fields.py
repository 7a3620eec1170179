"""Reading touched (not typed) answers of a form; a wrong one is refused with its field."""

from datetime import date, datetime

from flask import request

from chirotend.core.days import day_named
from chirotend.core.errors import MethodError
from chirotend.services.context import FieldError, NotThere

#: no number that is typed here is larger; a smaller one than the second is nothing
LARGEST, SMALLEST = 1e9, 1e-6


def number(name: str) -> float | None:
    """Return the number in field `name`, None when it is empty. A decimal comma is fine."""
    value = request.form.get(name, "").strip()
    if not value:
        return None
    try:
        found = float(value.replace(",", "."))
    except ValueError:
        found = float("nan")
    if not abs(found) <= LARGEST:
        raise FieldError(name, f"“{value[:30]}” is not a number. Type digits, such as 43.")
    return found if abs(found) >= SMALLEST else 0.0


def day(name: str) -> date | None:
    """Return the day in field `name` of the address or form; None when it is empty or no day that can be shown."""
    try:
        return day_named(request.values.get(name, ""))
    except MethodError:
        return None


def instant(name: str) -> datetime | None:
    """Return the instant in field `name`, of an answer that waited on a device; None for none that can be read."""
    try:
        return datetime.fromisoformat(request.form.get(name, ""))
    except ValueError:
        return None


def written_day(text: str) -> date:
    """Return a day that is part of an address; `NotThere` when there is none of that name."""
    try:
        return day_named(text)
    except MethodError as error:
        raise NotThere(text) from error


def is_script() -> bool:
    """True when a script asks, which wants an answer in a number and not a page to sign in on."""
    return is_part() or request.is_json


def local_path(target: str) -> str | None:
    """Return `target` when it is a path of this server and nothing else; None for any other.

    Browsers read a backslash as a slash and pass over control characters, so none of them is taken.
    """
    plain = target.startswith("/") and not target.startswith("//") and target.isprintable() and "\\" not in target
    return target if plain else None


def is_part() -> bool:
    """True when htmx asks for a part of a page."""
    return request.headers.get("HX-Request") == "true"
