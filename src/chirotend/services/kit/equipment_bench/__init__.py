"""The fitting bench: what she types becomes numbers, a drawing, and one thing to try next, in words."""

from collections.abc import Mapping

from chirotend.library.loader import carry_layouts, hole_layouts
from chirotend.services.context import Context, NotThere
from chirotend.services.kit import own_library
from chirotend.services.kit.equipment_bench.carry import carry, save_as_baseline
from chirotend.services.kit.equipment_bench.holes import holes
from chirotend.services.kit.equipment_bench.knobs import EquipmentBench
from chirotend.services.kit.equipment_bench.stick_pair import compare
from chirotend.services.kit.equipment_bench.string import string

__all__ = ["TABS", "EquipmentBench", "equipment_bench", "own_tab", "save_as_baseline"]

TABS = {
    "carry": "What carries it",
    "string": "Reach on a string",
    "holes": "Reach on holes and keys",
    "sticks": "Sticks and mallets",
}
_MAKERS = {"carry": carry, "string": string, "holes": holes, "sticks": compare}


def own_tab(context: Context) -> str | None:
    """Return the tab of her first instrument: what carries it, else its strings, holes or sticks; None without one."""
    key = context.player.instruments[0] if context.player.instruments else ""
    played = own_library.instruments(context).get(key)
    if played is None:
        return None
    if any(c.instrument == key for c in carry_layouts().values()):
        return "carry"
    if played.string_length_mm:
        return "string"
    if any(h.instrument == key for h in hole_layouts().values()):
        return "holes"
    return "sticks" if played.family in ("sticks_mallets", "marching") else None


def equipment_bench(context: Context, tab: str, typed: Mapping[str, str]) -> EquipmentBench:
    """Return the bench of `tab` with the typed values; `FieldError` names the field, `NotThere` an unknown tab."""
    if tab not in _MAKERS:
        raise NotThere(tab)
    return _MAKERS[tab](context, typed)
