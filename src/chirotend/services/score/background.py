"""Rules made for factory work as a what-if: typed numbers in, the rule's own numbers out, in words that end there."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from typing import Any

from chirotend.core.errors import MethodError
from chirotend.core.load.industrial.hand_activity import FASTEST_HZ, hal_radwin, hal_tlv_2018
from chirotend.core.load.industrial.holding import fatigue_pattern, rohmert_rest_pct
from chirotend.core.load.industrial.strain_index import rsi, si1995
from chirotend.core.load.industrial.tendon import wear_ratio
from chirotend.library.loader import background_methods
from chirotend.library.schema import BackgroundMethod
from chirotend.services.context import FieldError, NotThere
from chirotend.services.plan.part_holding import strength_left
from chirotend.services.units import decimal

Values = Mapping[str, Any]


@dataclass(frozen=True)
class Answer:
    """What a method says of the typed numbers."""

    method: str
    sentence: str
    flags: tuple[str, ...]


def _hand_activity(v: Values) -> dict[str, Any]:
    hal = hal_radwin(v["F_hz"], v["D_pct"])
    found = hal_tlv_2018(hal, v["npf"])
    too_fast = ("too fast",) if v["F_hz"] > FASTEST_HZ else ()
    return {**asdict(found), "hal": hal, "npf": v["npf"], "zones": (found.zone, *too_fast)}


def _strain_index(v: Values) -> dict[str, Any]:
    found = rsi(v["effort"] / 10, v["E_per_min"], v["D_s"], v["P_deg"], v["posture"], v["H"])
    return {**asdict(found), "zones": (found.zone,)}


def _strain_index_1995(v: Values) -> dict[str, Any]:
    found = si1995(**{**v, "posture_rating": int(v["posture_rating"]), "speed_rating": int(v["speed_rating"])})
    return {"factors": " · ".join(f"{m:g}" for m in found.mult), "SI": found.SI, "zones": (found.zone,)}


def _letting_go(v: Values) -> dict[str, Any]:
    load, seconds = v["load_pct"] / 100, v["minutes"] * 60
    with_rests = fatigue_pattern(v["joint"], [(load, v["hold_s"]), (0.0, v["rest_s"])], seconds)
    without = fatigue_pattern(v["joint"], [(load, seconds)], seconds)
    neither = with_rests.failed_at_s is not None and without.failed_at_s is not None
    return {
        "with_pct": strength_left(with_rests),
        "without_pct": strength_left(without),
        "zones": ("neither" if neither else "sooner",),
    }


def _rest_after_hold(v: Values) -> dict[str, Any]:
    pct = rohmert_rest_pct(v["load_pct"] / 100, v["held_min"])
    return {"rest_pct": pct, "held_min": v["held_min"], "rest_min": v["held_min"] * pct / 100, "zones": ()}


def _loud_and_soft(v: Values) -> dict[str, Any]:
    return {"ratio": wear_ratio(**v), "zones": ()}


METHODS: dict[str, Callable[[Values], dict[str, Any]]] = {
    "hand_activity": _hand_activity,
    "strain_index": _strain_index,
    "strain_index_1995": _strain_index_1995,
    "letting_go": _letting_go,
    "rest_after_hold": _rest_after_hold,
    "loud_and_soft": _loud_and_soft,
}
#: fields of the core that are another one here
_TYPED = {"t_min": "held_min", "E_per_min*D_s": "D_s", "f": "load_pct"}


def ask(method_id: str, typed: Mapping[str, str]) -> Answer:
    """Return what a method says of what was typed; `FieldError` names the field, `NotThere` an unknown method."""
    method = background_methods().get(method_id)
    if method is None:
        raise NotThere(method_id)
    try:
        found = METHODS[method_id](_values(method, typed))
    except MethodError as error:
        field = _TYPED.get(error.field, error.field)
        label = next((i.label for i in method.inputs if i.field == field), field)
        raise FieldError(field, f"{label}: {str(error).partition(': ')[2]}. Type other numbers.") from error
    zones = found.pop("zones")
    return Answer(method_id, method.says.format(**found), tuple(method.flags[z] for z in zones))


def _values(method: BackgroundMethod, typed: Mapping[str, str]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for i in method.inputs:
        text = typed.get(i.field, "")
        if i.words:
            if text not in i.words:
                raise FieldError(i.field, f"{i.label}: choose one of {', '.join(i.words)}.")
            found[i.field] = text
        else:
            found[i.field] = decimal(i.field, i.label, text, i.low, i.high, i.unit)
    return found
