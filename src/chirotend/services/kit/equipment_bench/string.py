"""Reach on a string: what a fingering asks of her hand where it stands, and where each system is at ease."""

from collections.abc import Mapping

from chirotend.core.fit import strings
from chirotend.core.fit.hands import COMFORTABLE, NOT_MEASURED, STRETCHED, Asked, Hand, asked_of
from chirotend.drawing import equipment_bench as drawn
from chirotend.services import units
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import hands, own_library
from chirotend.services.kit.equipment_bench.knobs import NARROW, WIDE, EquipmentBench, Knob, asked_row, turned
from chirotend.services.words import sentence

#: strings apart at the bridge where the library does not say
SPACING_MM = 12.0
NOTES = ("C", "D♭", "D", "E♭", "E", "F", "G♭", "G", "A♭", "A", "B♭", "B")


def string(context: Context, typed: Mapping[str, str]) -> EquipmentBench:
    strung = {k: i for k, i in own_library.instruments(context).items() if i.string_length_mm}
    choice = typed.get("choice") or next((i for i in context.player.instruments if i in strung), "double_bass")
    if choice not in strung:
        raise NotThere(choice)
    played = strung[choice]
    knobs = _knobs(context, typed, played.usual_string_mm, played.string_spacing_mm or SPACING_MM)
    length, first = knobs[0].value, int(knobs[1].value)
    system = strings.fingerings().get(typed.get("system") or played.fingering or "1234")
    if system is None:
        raise NotThere(typed.get("system"))
    side = hands.on_the_strings(context)
    hand = hands.measured(context).hands[side]
    asked = strings.asked_at(length, system, first, hand)
    maps = strings.reach_map(length, hand)
    outer = asked_of(
        hand, f"{system.fingers[0][0]}-{system.fingers[-1][0]}", strings.interval_span(length, first, system.width)
    )
    open_note = _note(typed.get("open", "G"))
    scene = drawn.StringScene(
        length,
        first,
        system,
        f"asks {units.length(context, outer.asked_mm)}",
        f"you have {units.length(context, outer.ease_mm)} at ease, {units.length(context, outer.most_mm)} at most"
        if outer.ease_mm
        else "not measured yet",
        maps,
        tuple(strings.fingerings().values()),
        [NOTES[(open_note + n) % 12] for n in range(1, 13)],
    )
    rows = [*(asked_row(context, a) for a in asked), *_across(context, hand, system, knobs)]
    return EquipmentBench(
        "string",
        choice,
        {k: i.name for k, i in strung.items()},
        knobs,
        drawn.string_picture(scene, WIDE),
        drawn.string_picture(scene, NARROW),
        tuple(rows),
        (f"{system.name} here", "needed", "at ease", "at most", ""),
        _string_remark(maps, system, first, outer, side),
        sentence("bench", "equal_temperament", side=side),
        options={
            "system": (system.id, {s.id: f"{s.name}, {s.asks}" for s in strings.fingerings().values()}),
            "open": (NOTES[open_note], {n: n for n in NOTES}),
        },
    )


def _knobs(context: Context, typed: Mapping[str, str], usual_mm: float, apart_mm: float) -> tuple[Knob, ...]:
    shortest, longest = strings.STRING_MIN_MM, strings.STRING_MAX_MM
    knobs = (
        Knob("length", "String, nut to bridge", shortest, longest, 1, usual_mm, "mm"),
        Knob("first", "First finger at semitone", 1, 12, 1, 1, ""),
        Knob("apart", "Strings between two fingers", 0, 7, 1, 0, ""),
        Knob("spacing", "Strings apart at the bridge", 5, 40, 0.5, apart_mm, "mm"),
    )
    return tuple(turned(context, typed, knob) for knob in knobs)


def _across(context: Context, hand: Hand, system: strings.Fingering, knobs: tuple[Knob, ...]) -> list[tuple[str, ...]]:
    """The outer pair again, held over the strings between them; nothing when both stand on one string."""
    length, first, apart, spacing = (knob.value for knob in knobs)
    if not apart:
        return []
    at = int(first)
    reach = strings.cross_string_reach(length, at, at + system.width, apart, spacing * 0.5, spacing)
    row = asked_row(context, asked_of(hand, f"{system.fingers[0][0]}-{system.fingers[-1][0]}", reach))
    return [(f"{row[0]}, {apart:.0f} strings apart", *row[1:])]


def _note(name: str) -> int:
    if name not in NOTES:
        raise FieldError("open", "Choose the note of the open string from the list.")
    return NOTES.index(name)


def _string_remark(
    maps: Mapping[str, tuple[strings.Run, ...]], system: strings.Fingering, first: int, outer: Asked, side: str
) -> str:
    here = next(r.verdict for r in maps[system.id] if r.first <= first <= r.last)
    if here == NOT_MEASURED:
        return sentence("bench", "measure_strings", side=side)
    switches = [
        f"{s.name} from semitone {start}"
        for s in strings.fingerings().values()
        if (start := strings.comfortable_from(maps[s.id])) is not None and start > 1
    ]
    if here == COMFORTABLE:
        said = [sentence("bench", "comfortable", fingering=system.name)]
    elif here == STRETCHED:
        said = [sentence("bench", "stretched", fingering=system.name)]
    else:
        said = [sentence("bench", "out_of_reach", fingering=system.name)]
    said += [sentence("bench", "at_ease", where="; ".join(switches))] if switches else []
    return " ".join([*said, sentence("bench", "check_with_teacher")])
