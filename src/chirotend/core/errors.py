"""The errors of the core: one family, a subclass for each thing that can be wrong with a value."""

import math
from numbers import Real


class MethodError(ValueError):
    """A value that a method cannot take. `field` names the argument."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(f"{field}: {message}")
        self.field = field


class NotANumber(MethodError, TypeError):
    """E_TYPE: not a finite number, or of the wrong type (a boolean is not a number)."""


class OutOfRange(MethodError):
    """E_RANGE: outside the stated range, or not one of the listed words."""

    def __init__(
        self,
        field: str,
        value: object,
        low: float | None = None,
        high: float | None = None,
        unit: str = "",
        words: tuple[str, ...] = (),
    ) -> None:
        wanted = f"one of {', '.join(words)}" if words else f"{_edge(low)} to {_edge(high)} {unit}".strip()
        super().__init__(field, f"{value!r} is not {wanted}")
        self.value, self.low, self.high, self.unit, self.words = value, low, high, unit, words


class Missing(MethodError):
    """E_MISSING: a day inside the window is not logged."""


class TooFew(MethodError):
    """E_FEW: fewer points than the method needs."""


class Degenerate(MethodError):
    """E_DEGENERATE: mathematically undefined for these values."""


class Inconsistent(MethodError):
    """E_INCONSISTENT: the values contradict one another."""


def check_number(field: str, value: object) -> float:
    """Return `value` as a float; `NotANumber` if it is not a finite real number."""
    if type(value) is float and math.isfinite(value):
        return value  # nearly every value read from the store takes this way
    if isinstance(value, bool) or not isinstance(value, Real) or not math.isfinite(float(value)):
        raise NotANumber(field, f"{value!r} is not a finite number")
    return float(value)


def check_range(
    field: str, value: object, low: float | None = None, high: float | None = None, unit: str = ""
) -> float:
    """Return `value` as a float inside [low, high]; `NotANumber` or `OutOfRange` otherwise."""
    number = check_number(field, value)
    if (low is not None and number < low) or (high is not None and number > high):
        raise OutOfRange(field, value, low, high, unit)
    return number


def check_word(field: str, value: str, words: tuple[str, ...]) -> str:
    """Return `value` if it is one of `words`; `OutOfRange` otherwise."""
    if value not in words:
        raise OutOfRange(field, value, words=words)
    return value


def _edge(bound: float | None) -> str:
    return "…" if bound is None else f"{bound:g}"
