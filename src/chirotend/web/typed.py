"""Fields for typed answers, with sentences that say how to mend a wrong one."""

from collections.abc import Iterable, Mapping
from typing import Any

from wtforms import DateField, DecimalField, TimeField
from wtforms.fields.choices import SelectChoice
from wtforms.validators import Length

from chirotend.core.days import is_sensible
from chirotend.core.record.shape import shapes
from chirotend.web.fields import LARGEST


def choices(pairs: Iterable[tuple[str, str]] | Mapping[str, str]) -> list[SelectChoice]:
    """Return (value, label) pairs as the choices of a select field."""
    return [SelectChoice(value, label) for value, label in (pairs.items() if isinstance(pairs, Mapping) else pairs)]


def fits(kind: type, name: str) -> Length:
    """Return the check that a text is no longer than the record holds in this field."""
    longest = shapes(kind)[name].longest
    return Length(max=longest, message=f"At most {longest} characters.")


class _PlainMessage:
    """Replaces the library's message for what cannot be read by `wrong`."""

    wrong = ""

    def process_formdata(self, valuelist: list[str]) -> Any:
        try:
            return super().process_formdata(valuelist)  # type: ignore[misc]
        except ValueError as error:
            raise ValueError(self.wrong) from error


class DayField(_PlainMessage, DateField):
    wrong = "Choose a day that exists, written YYYY-MM-DD."

    data: Any

    def process_formdata(self, valuelist: list[str]) -> Any:
        super().process_formdata(valuelist)
        if self.data is not None and not is_sensible(self.data):
            self.data = None
            raise ValueError(self.wrong)


class ClockField(_PlainMessage, TimeField):
    wrong = "Type a time such as 10:30, or leave it empty."


class NumberField(_PlainMessage, DecimalField):
    wrong = "This is not a number. Type digits, such as 43 or 4.5."

    data: Any

    def process_formdata(self, valuelist: list[str]) -> Any:
        super().process_formdata([v.replace(",", ".") for v in valuelist])
        if self.data is not None and not (self.data.is_finite() and abs(self.data) <= LARGEST):
            self.data = None
            raise ValueError(self.wrong)
