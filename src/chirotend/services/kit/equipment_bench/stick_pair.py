"""Two sticks or mallets side by side: what is felt at the tip, and what the hand does in a free and a choked stroke."""

from collections.abc import Mapping

from chirotend.core.fit import sticks
from chirotend.drawing import equipment_bench as drawn
from chirotend.library.loader import stick_models
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit.equipment_bench.knobs import NARROW, WIDE, EquipmentBench, Knob, turned
from chirotend.services.words import sentence
from chirotend.store.models import KitRow

Stick = tuple[str, float, float, float | None]  # name, mass g, length mm, balance mm


def compare(context: Context, typed: Mapping[str, str]) -> EquipmentBench:
    known: dict[str, Stick] = {k: (m.name, m.mass_g, m.length_mm, None) for k, m in stick_models().items()}
    for row in context.store.repository(KitRow).all(KitRow.kind.in_(("stick", "mallet", "bow"))):
        if row.mass_g and row.length_mm:
            known[row.uid] = (row.name, row.mass_g, row.length_mm, row.balance_mm)
    chosen = [typed.get("choice") or "medium", typed.get("other") or "heavy"]
    if any(c not in known for c in chosen):
        raise NotThere(chosen)
    speed = turned(context, typed, Knob("speed", "Speed of the tip", 0.5, 15, 0.5, 6, "m/s"))
    back = turned(context, typed, Knob("rebound", "Rebound of the head", 10, 95, 5, 80, "%"))
    knobs: list[Knob] = []
    found = []
    for letter, key in zip("ab", chosen, strict=True):
        name, mass, length, balance = known[key]
        mine = (
            turned(context, typed, Knob(f"{letter}_mass", f"{letter.upper()}: mass", 10, 500, 1, mass, "g")),
            turned(context, typed, Knob(f"{letter}_length", f"{letter.upper()}: length", 200, 800, 1, length, "mm")),
            turned(
                context,
                typed,
                Knob(f"{letter}_hold", f"{letter.upper()}: held, from the butt", 0, 400, 5, round(length / 3), "mm"),
            ),
        )
        knobs += mine
        if mine[2].value >= mine[1].value:
            raise FieldError(
                f"{letter}_hold", f"{letter.upper()}: it cannot be held beyond its tip. Hold it nearer to the butt."
            )
        found.append((f"{letter.upper()}: {name}", *(k.value for k in mine), balance))
    return _sticks_shown(chosen, known, (*knobs, speed, back), found, speed.value, back.value / 100)


FINGERS_M = 0.08  # where the fingers stop a choked stick, from the fulcrum (assumed)


def _sticks_shown(chosen, known, knobs, found, v_tip: float, e: float) -> EquipmentBench:  # type: ignore[no-untyped-def]
    rods, cycles, scenes = [], [], []
    for _, mass, length, hold, balance in found:
        at = None if balance is None else balance / 1000
        rods.append(sticks.rod_about_fulcrum(mass / 1000, length / 1000, hold / 1000, at))
        cycles.append(sticks.hand_cycle(mass / 1000, length / 1000, hold / 1000, v_tip, e, FINGERS_M, at))
    most = max(c.choked for c in cycles)
    for (name, _, length, hold, balance), rod, cycle in zip(found, rods, cycles, strict=True):
        scenes.append(
            drawn.StickScene(
                name,
                length,
                hold,
                balance or length / 2,
                max(0.0, rod.zero_shock_a_m * 1000),
                cycle.free / most,
                cycle.choked / most,
                (f"let it bounce {1000 * cycle.free:.1f}", f"choked {1000 * cycle.choked:.1f}"),
            )
        )
    rows = (
        ("mass felt at the tip", *(f"{1000 * r.tip_mass_kg:.1f} g" for r in rods)),
        ("moment of inertia", *(f"{1e4 * r.I:.1f} kg·cm²" for r in rods)),
        ("hand's push (angular impulse), bouncing", *(f"{1000 * c.free:.1f} mN·m·s" for c in cycles)),
        ("hand's push (angular impulse), choked", *(f"{1000 * c.choked:.1f} mN·m·s" for c in cycles)),
        ("blow into stopping fingers", *(f"{1000 * c.stop_impulse_Ns:.0f} mN·s" for c in cycles)),
        ("fulcrum without shock", *(f"{1000 * r.zero_shock_a_m:.0f} mm" for r in rods)),
    )
    ratio = cycles[0].choked / cycles[0].free if cycles[0].free else float("inf")
    lighter, heavier = sorted((0, 1), key=lambda i: rods[i].tip_mass_kg)
    more = 100 * (rods[heavier].tip_mass_kg / rods[lighter].tip_mass_kg - 1)
    remarks = [sentence("bench", "choked_asks", times=f"{ratio:.0f}")]
    if more >= 1:
        felt = sentence("bench", "feels_heavier", heavier="AB"[heavier], more=f"{more:.0f}", lighter="AB"[lighter])
        remarks.append(felt)
    remarks.append(sentence("bench", "try_with_teacher"))
    return EquipmentBench(
        "sticks",
        chosen[0],
        {k: n for k, (n, *_) in known.items()},
        knobs,
        drawn.sticks_picture(scenes, WIDE),
        drawn.sticks_picture(scenes, NARROW),
        rows,
        ("", *(name for name, *_ in found)),
        " ".join(remarks),
        sentence("bench", "rods", mm=f"{1000 * FINGERS_M:.0f}"),
        options={"other": (chosen[1], {k: n for k, (n, *_) in known.items()})},
    )
