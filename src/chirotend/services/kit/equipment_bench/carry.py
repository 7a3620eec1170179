"""What carries the instrument: forces now and as it hangs, and the one move that takes most off the watched support."""

from collections.abc import Mapping
from dataclasses import replace

from chirotend.core.errors import MethodError
from chirotend.core.fit import statics
from chirotend.drawing import equipment_bench as drawn
from chirotend.library.loader import carry_layouts
from chirotend.library.schema import CarryLayout
from chirotend.services import units
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit.equipment_bench.knobs import EquipmentBench, Knob, turned
from chirotend.services.kit.profile import profile, say
from chirotend.services.words import sentence
from chirotend.store.models import KitRow

THUMB = "thumb"


def _first_layout(context: Context) -> str:
    own = [key for i in context.player.instruments for key, c in carry_layouts().items() if c.instrument == i]
    return own[0] if own else next(iter(carry_layouts()))


def carry(context: Context, typed: Mapping[str, str]) -> EquipmentBench:
    choice = typed.get("choice") or _first_layout(context)
    if choice not in carry_layouts():
        raise NotThere(choice)
    layout = carry_layouts()[choice]
    hangs = _as_it_hangs(context, layout)
    knobs = tuple(turned(context, typed, replace(k, was=k.value)) for k in _carry_knobs(layout, hangs))
    values = {k.field: k.value for k in knobs}
    try:
        now, before = _carried(layout, values), _carried(layout, hangs)
    except MethodError as error:
        raise FieldError("lean", f"In this position nothing holds it: {str(error).partition(': ')[2]}.") from error
    names = {s.id: s.name for s in layout.supports} | ({layout.spare.id: layout.spare.name} if layout.spare else {})
    picture = drawn.carry_picture(_scene(context, layout, names, values, now, before))
    return EquipmentBench(
        "carry",
        choice,
        {key: c.name for key, c in carry_layouts().items()},
        knobs,
        picture,
        picture,
        _rows(context, layout, names, now, before),
        ("", "now", "share", "was"),
        _carry_remark(context, layout, values, hangs),
        _basis(layout),
        tuple(
            (title, tuple((names[k], share) for k, share in _shares(c).items()))
            for title, c in (("as it hangs now", before), ("as set here", now))
        ),
    )


def _basis(layout: CarryLayout) -> str:
    """What the numbers of a layout rest on."""
    parts = [sentence("bench", "drawn_flat"), layout.note]
    if layout.watched == THUMB:
        parts.append(sentence("bench", "lever", mm=f"{layout.lever_mm:.0f}"))
    return " ".join([*parts, sentence("bench", "starting_values", source=layout.source)])


def _rows(
    context: Context, layout: CarryLayout, names: Mapping[str, str], now: statics.Carried, before: statics.Carried
) -> tuple[tuple[str, ...], ...]:
    """Each support with its force, its share and its force before; the thumb, where it carries, with its moment."""
    rows = [
        (
            name,
            units.force(context, now.forces_N[key]),
            _share(now, key),
            units.force(context, before.forces_N.get(key, 0.0)),
        )
        for key, name in names.items()
        if key in now.forces_N
    ]
    if layout.watched == THUMB:  # the only joint here that carries by itself
        moments = (statics.joint_moment_Nm(c.forces_N[THUMB], layout.lever_mm) for c in (now, before))
        moment, was = (f"{m:.2f} N·m" for m in moments)
        rows.append((f"{names[THUMB]}, moment at its base joint", moment, "", was))
    return tuple(rows)


def _scene(
    context: Context,
    layout: CarryLayout,
    names: Mapping[str, str],
    values: Mapping[str, float],
    now: statics.Carried,
    before: statics.Carried,
) -> drawn.CarryScene:
    """What is drawn: the supports where they are set, each with its force and share in words."""
    texts = {
        key: (units.force(context, f), _beside(context, now, key, before.forces_N.get(key, 0.0)))
        for key, f in now.forces_N.items()
    }
    return drawn.CarryScene(
        layout.length_mm / 1000,
        values["balance"] / 1000,
        values["lean"],
        [(s, names[s.id]) for s in _supports(layout, values) if s.id in now.forces_N],
        now,
        before,
        {"weight": (units.force(context, now.W_N), f"balance at {units.length(context, values['balance'])}"), **texts},
    )


def _beside(context: Context, now: statics.Carried, key: str, was: float) -> str:
    return _share(now, key) + (f", was {units.force(context, was)}" if abs(now.forces_N[key] - was) > 0.05 else "")


def _shares(found: statics.Carried) -> dict[str, float]:
    """How much of what is carried each support carries (%): they add up; one that pulls back or steadies has none."""
    up = {key: share for key, share in found.shares_pct.items() if share >= 0.5}
    return {key: 100 * share / sum(up.values()) for key, share in up.items()}


def _share(found: statics.Carried, key: str) -> str:
    if found.shares_pct[key] <= -0.5:
        return "pulls back"
    share = _shares(found).get(key, 0.0)
    pushes = abs(found.forces_N[key]) > 0.05
    return "steadies" if pushes and not share else f"{share:.0f} %"


def _as_it_hangs(context: Context, layout: CarryLayout) -> dict[str, float]:
    """The values before: what she kept, else her own kit's mass and balance, else the layout's."""
    hangs = {"mass": layout.mass_kg, "balance": layout.balance_mm, "lean": layout.lean_deg}
    if layout.tension_N is not None:
        hangs["tension"] = layout.tension_N
    hangs |= {s.id: s.at_mm for s in layout.supports}
    mine = context.store.repository(KitRow).all(KitRow.kind == "instrument", KitRow.instrument == layout.instrument)
    for row in mine[:1]:
        hangs |= {"mass": row.mass_g / 1000} if row.mass_g else {}
        hangs |= {"balance": row.balance_mm} if row.balance_mm else {}
    return hangs | profile(context).bench.get(layout.id, {})


def _carry_knobs(layout: CarryLayout, hangs: Mapping[str, float]) -> list[Knob]:
    moving = [s for s in layout.supports if s.moves_from_mm is not None and s.moves_to_mm is not None]
    knobs = [
        Knob(
            s.id,
            f"{s.name[:1].upper()}{s.name[1:]}, from the end",
            s.moves_from_mm or 0,
            s.moves_to_mm or 0,
            5,
            hangs[s.id],
            "mm",
        )
        for s in moving
    ]
    if "tension" in hangs:
        knobs.append(Knob("tension", "Pull of the strap", 0, 12, 0.5, hangs["tension"], "N"))
    return [
        *knobs,
        Knob("lean", "Lean from upright", 2, 70, 1, hangs["lean"], "°"),
        Knob("balance", "Balance, from the end", 50, layout.length_mm, 5, hangs["balance"], "mm"),
        Knob("mass", "Mass", 0.2, 20, 0.05, hangs["mass"], "kg"),
    ]


def _supports(layout: CarryLayout, values: Mapping[str, float]) -> list[statics.Support]:
    found = [
        statics.Support(s.id, values.get(s.id, s.at_mm) / 1000, s.way, s.off_vertical_deg, s.off_axis_mm / 1000)
        for s in layout.supports
    ]
    if layout.spare is not None:
        found.append(statics.Support(layout.spare.id, layout.spare.at_mm / 1000, layout.spare.way))
    return found


def _carried(layout: CarryLayout, values: Mapping[str, float]) -> statics.Carried:
    supports = _supports(layout, values)
    if layout.tension_N is not None:
        at = {s.id: s.s_m for s in supports}
        return statics.carried_upright(
            values["mass"],
            values["lean"],
            values["balance"] / 1000,
            at["thumb"],
            at["mouth"],
            at["strap"],
            values["tension"],
        )
    spare = supports[3] if layout.spare is not None else None
    return statics.carried(values["mass"], values["lean"], values["balance"] / 1000, supports[:3], spare)


def _carry_remark(
    context: Context, layout: CarryLayout, values: Mapping[str, float], hangs: Mapping[str, float]
) -> str:
    """Say what the change does, or the single move (up to 40 mm, or a pull of 4 N) that takes most off."""
    names = {s.id: s.name for s in layout.supports}
    watched = names[layout.watched]
    was = _carried(layout, hangs).forces_N[layout.watched]
    now = _carried(layout, values).forces_N[layout.watched]
    if values != hangs and abs(now - was) > 0.05 and abs(was) > 0.05:
        pct = 100 * (1 - abs(now) / abs(was))
        change = f"takes {pct:.0f} % off" if pct > 0 else f"adds {-pct:.0f} % to"
        forces = f"{units.force(context, was)} → {units.force(context, now)}"
        return f"Set like this it {change} the {watched}: {forces}. {layout.who}"
    best, words = abs(now), ""
    for support in layout.supports:
        if support.moves_from_mm is None or support.moves_to_mm is None:
            continue
        for step in range(-40, 45, 5):
            at = values[support.id] + step
            if not step or not support.moves_from_mm <= at <= support.moves_to_mm:
                continue
            force = abs(_carried(layout, {**values, support.id: at}).forces_N[layout.watched])
            if force < best - 0.005:
                way = "up" if step > 0 else "down"
                best = force
                words = f"moving the {support.name} {units.length(context, abs(step))} {way}"
    if "tension" in values and values["tension"] < 4:
        best = abs(_carried(layout, {**values, "tension": 4.0}).forces_N[layout.watched])
        words = f"a strap that pulls with {units.force(context, 4.0)}"
    if not words or abs(now) < 0.05:
        return sentence("bench", "nothing_to_gain", place=watched)
    off = 100 * (1 - best / abs(now))
    forces = f"{units.force(context, now)} → {units.force(context, best)}"
    tried = sentence("bench", "try_one", what=words, off=f"{off:.0f}", place=watched, forces=forces)
    return f"{tried} {layout.who}"


def save_as_baseline(context: Context, typed: Mapping[str, str]) -> None:
    """Save the current support layout as the baseline that later changes are compared with."""
    shown = carry(context, typed)
    kept = {k.field: k.value for k in shown.knobs}
    say(context, bench={**profile(context).bench, shown.choice: kept})
