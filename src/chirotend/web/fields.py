"""Reading touched (not typed) answers of a form; a wrong one is refused with its field."""

from datetime import date

from flask import request

from chirotend.services.desk import Refused

#: days a page can be asked for: weeks before and after must exist too
FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2200, 1, 1)


def number(name: str) -> float | None:
    """Return the number in field `name`, None when it is empty. A decimal comma is fine."""
    value = request.form.get(name, "").strip()
    if not value:
        return None
    try:
        found = float(value.replace(",", "."))
    except ValueError:
        found = float("nan")
    if found != found or abs(found) == float("inf"):
        raise Refused(name, f"“{value[:30]}” is not a number. Type digits, such as 43.")
    return found


def day(name: str) -> date | None:
    """Return the day in field `name` of the address or form; None when it is empty or no day that can be shown."""
    try:
        found = date.fromisoformat(request.values.get(name, ""))
    except ValueError:
        return None
    return found if FIRST_DAY <= found <= LAST_DAY else None


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
