"""What every bench shares: values to turn, and the page it makes of them.

Every value has a range; one outside it is refused in words at its field. Inside mm, kg, g, N, degrees; shown in inches,
pounds and ounces to whoever reads those.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from chirotend.core.fit.hands import Asked
from chirotend.core.fit.sticks import N_PER_LBF
from chirotend.drawing.measured import Picture
from chirotend.services import units
from chirotend.services.context import Context, FieldError

WIDE, NARROW = 700.0, 340.0
#: the unit shown instead, and how much of the inner unit it holds
INCH_UNITS = {"mm": ("in", 25.4), "kg": ("lb", 0.45359237), "g": ("oz", 28.349523125), "N": ("lbf", N_PER_LBF)}


@dataclass(frozen=True)
class Knob:
    """A value to turn: its field, label, range, step, value and what it was, in `unit`; shown in `shown_unit`."""

    field: str
    label: str
    low: float
    high: float
    step: float
    value: float
    unit: str
    was: float | None = None
    shown_unit: str = ""
    per: float = 1.0

    @property
    def digits(self) -> int:
        step = self.step / self.per
        return 0 if step >= 1 else 1 if step >= 0.1 else 2

    def shown(self, value: float) -> str:
        return f"{value / self.per:.{self.digits}f}"

    @property
    def was_share(self) -> float | None:
        """Where it was, as a share of the range; None when it has not moved."""
        if self.was is None or abs(self.was - self.value) < 1e-9:
            return None
        return min(1.0, max(0.0, (self.was - self.low) / (self.high - self.low)))


@dataclass(frozen=True)
class EquipmentBench:
    """A bench with its knobs, its drawing wide and narrow, its rows of numbers, and what to try next."""

    tab: str
    choice: str
    choices: Mapping[str, str]
    knobs: tuple[Knob, ...]
    wide: Picture
    narrow: Picture
    rows: tuple[tuple[str, ...], ...]
    heads: tuple[str, ...]
    remark: str
    fine_print: str
    bars: tuple[tuple[str, tuple[tuple[str, float], ...]], ...] = ()
    options: Mapping[str, tuple[str, Mapping[str, str]]] | None = None


def turned(context: Context, typed: Mapping[str, str], knob: Knob) -> Knob:
    """Return a knob with the typed value; an empty field keeps its own. `FieldError` says what can be typed."""
    shown_unit, per = (
        INCH_UNITS.get(knob.unit, (knob.unit, 1.0)) if context.player.units == "inch" else (knob.unit, 1.0)
    )
    knob = replace(knob, shown_unit=shown_unit, per=per)
    text = typed.get(knob.field, "").strip().replace(",", ".")
    if not text:
        return knob
    try:
        value = float(text.removesuffix(shown_unit).strip()) * per
    except ValueError:
        value = float("nan")
    if not knob.low - 0.01 * per <= value <= knob.high + 0.01 * per:
        low, high = knob.shown(knob.low), knob.shown(knob.high)
        raise FieldError(
            knob.field, f"{knob.label}: type a number from {low} to {high} {shown_unit}; “{text[:20]}” is none."
        )
    return replace(knob, value=min(max(value, knob.low), knob.high))


def asked_row(context: Context, a: Asked) -> tuple[str, ...]:
    """Return one pair of fingers as a row: what is asked, what she has, the verdict."""
    has = (units.length(context, mm) for mm in (a.ease_mm, a.most_mm))
    return (a.pair.replace("-", "–"), units.length(context, a.asked_mm), *has, a.verdict)
