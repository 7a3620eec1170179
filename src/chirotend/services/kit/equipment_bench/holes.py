"""Reach on holes and keys: what the spacing asks of her hand, and what an extension, smaller keys or less travel do."""

import math
from collections.abc import Mapping, Sequence

from chirotend.core.errors import MethodError
from chirotend.core.fit import holes as fit_holes
from chirotend.core.fit.hands import NOT_MEASURED, OUT_OF_REACH, STRETCHED, Asked, Hand
from chirotend.drawing import equipment_bench as drawn
from chirotend.library.loader import hole_layouts
from chirotend.library.schema import HoleEntry
from chirotend.services import units
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import hands
from chirotend.services.kit.equipment_bench.knobs import NARROW, WIDE, EquipmentBench, Knob, asked_row, turned
from chirotend.services.kit.profile import profile
from chirotend.services.words import sentence

#: mm, the longest extension that is proposed: a longer lever is no key any more (common practice, no source)
EXTENSION_MOST_MM = 20


def holes(context: Context, typed: Mapping[str, str]) -> EquipmentBench:
    own = [key for i in context.player.instruments for key, h in hole_layouts().items() if h.instrument == i]
    choice = typed.get("choice") or (own[0] if own else next(iter(hole_layouts())))
    if choice not in hole_layouts():
        raise NotThere(choice)
    layout = hole_layouts()[choice]
    spacings = [
        turned(
            context,
            typed,
            Knob(
                f"to_{h.finger}",
                f"Finger {layout.holes[i].finger} to {h.finger}",
                10,
                fit_holes.SPACING_MAX_MM,
                1,
                round(_gap(layout.holes[i], h)),
                "mm",
            ),
        )
        for i, h in enumerate(layout.holes[1:])
    ]
    last = layout.holes[-1].finger
    scale = turned(context, typed, Knob("scale", "Spacing of another make", 80, 110, 1, 100, "%", 100))
    extension = turned(context, typed, Knob("extension", f"Extension key, finger {last}", 0, 40, 1, 0, "mm", 0))
    travel = turned(context, typed, Knob("travel", "Key travel", 0, 12, 0.5, layout.travel_mm, "mm", layout.travel_mm))
    force = turned(context, typed, Knob("force", "Force to close", 0, 8, 0.1, layout.force_N, "N", layout.force_N))
    before = [fit_holes.Hole(layout.holes[0].finger, 0.0, layout.holes[0].across_mm)]
    for h, knob in zip(layout.holes[1:], spacings, strict=True):
        rise = h.across_mm - before[-1].across_mm
        before.append(
            fit_holes.Hole(h.finger, before[-1].along_mm + max(5.0, knob.value**2 - rise**2) ** 0.5, h.across_mm)
        )
    try:
        after = fit_holes.changed(before, scale.value, {last: extension.value})
    except MethodError as error:
        raise FieldError(
            "extension", f"Extension key: {str(error).partition(': ')[2]}. Choose a shorter one."
        ) from error
    side = {"left": "right", "right": "left"}[layout.hand] if profile(context).mirrored == "yes" else layout.hand
    hand = hands.measured(context).hands[side]
    asked, was = fit_holes.asked_on(after, hand), fit_holes.asked_on(before, hand)
    was_at, at = ([(h.finger, h.along_mm, h.across_mm) for h in row] for row in (before, after))
    texts = [(a, units.length(context, a.asked_mm)) for a in asked]
    work, work_was = (
        fit_holes.stroke_work_mJ(force.value, travel.value),
        fit_holes.stroke_work_mJ(layout.force_N, layout.travel_mm),
    )
    rows = [_row(context, a, w) for a, w in zip(asked, was, strict=True)]
    rows.append(("one key", f"{work:.1f} mJ" + (f", was {work_was:.1f}" if work != work_was else ""), "", "", ""))
    return EquipmentBench(
        "holes",
        choice,
        {key: h.name for key, h in hole_layouts().items()},
        (*spacings, scale, extension, travel, force),
        drawn.holes_picture(was_at, at, texts, WIDE),
        drawn.holes_picture(was_at, at, texts, NARROW),
        tuple(rows),
        ("", "needed", "at ease", "at most", ""),
        _holes_remark(context, hand, asked, was, last, before),
        f"{sentence('bench', 'straight_lines')} {sentence('bench', 'starting_values_only', source=layout.source)}",
    )


def _row(context: Context, a: Asked, was: Asked) -> tuple[str, ...]:
    row = asked_row(context, a)
    before = f", was {units.length(context, was.asked_mm)}" if abs(a.asked_mm - was.asked_mm) >= 0.5 else ""
    return (row[0], row[1] + before, *row[2:])


def _gap(a: HoleEntry, b: HoleEntry) -> float:
    return math.hypot(b.along_mm - a.along_mm, b.across_mm - a.across_mm)


def _holes_remark(
    context: Context,
    hand: Hand,
    asked: Sequence[Asked],
    was: Sequence[Asked],
    last: str,
    before: Sequence[fit_holes.Hole],
) -> str:
    hard = [a for a in asked if a.verdict in (STRETCHED, OUT_OF_REACH)]
    changed = next(((a, w) for a, w in zip(asked, was, strict=True) if w.verdict != a.verdict), None)
    if all(a.verdict == NOT_MEASURED for a in asked):
        return sentence("bench", "measure_holes", side=hand.side)
    if changed is not None:
        a, w = changed
        pair = a.pair.replace("-", "–")
        return sentence("bench", "with_this", pair=pair, now=a.verdict, before=w.verdict)
    if not hard:
        return sentence("bench", "holes_comfortable")
    for mm in range(4, EXTENSION_MOST_MM + 1, 2):
        try:
            tried = fit_holes.asked_on(fit_holes.changed(before, 100, {last: mm}), hand)
        except MethodError:
            break
        better = [a for a in tried if a.verdict in (STRETCHED, OUT_OF_REACH)]
        if len(better) < len(hard):
            pair = hard[-1].pair.replace("-", "–")
            key = sentence("bench", "extension_key", length=units.length(context, mm), finger=last)
            return sentence("bench", "try_key", what=key, pair=pair)
    return sentence("bench", "try_smaller")
