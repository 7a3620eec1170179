"""Reading touched (not typed) answers of a form; a wrong one is refused with its field."""

from flask import request

from chirotend.services.desk import Refused


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


def is_part() -> bool:
    """True when htmx asks for a part of a page."""
    return request.headers.get("HX-Request") == "true"
