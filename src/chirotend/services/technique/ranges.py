"""The range of wrists, forearms and thumbs: typed from a level, or taken from pictures, followed by side."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from chirotend.core.measure.joint_range import CHANGE_DEG, MOST_DEG, is_from_another_zero, ranges_differ
from chirotend.core.measure.landmarks import other_side
from chirotend.drawing.measured import Picture
from chirotend.drawing.series_days import small_series
from chirotend.drawing.two_sides import two_sides
from chirotend.formats.probe_data import RANGE_BY, Posture, Range
from chirotend.library.probes import Movement, movements, templates
from chirotend.services.context import Context, FieldError
from chirotend.services.technique import probes
from chirotend.services.technique.lines import ProbeLine, never_done
from chirotend.services.technique.posture import angles_of
from chirotend.services.technique.probes import About, Probe
from chirotend.services.units import decimal
from chirotend.services.words import day_words, sentence

METHOD = "joint.range"
BY_WORDS = dict(zip(RANGE_BY, ("the telephone’s level", "a picture", "a protractor"), strict=True))
HANDS = ("left", "right")
#: earlier readings that are looked at
LATEST = 200


@dataclass(frozen=True)
class Reading:
    """A reading as the page lists it."""

    uid: str
    day: date
    movement: str
    hand: str
    deg: float
    by: str


@dataclass(frozen=True)
class RangesPage:
    """The ranges: the movement that is drawn, its sentences, pictures of today to take one from, all readings."""

    movement: Movement
    movements: tuple[Movement, ...]
    hand: str
    headline: str
    beside: str
    next: str
    wide: Picture | None
    phone: Picture | None
    pictures: tuple[tuple[str, str], ...]
    readings: tuple[Reading, ...]


def ranges_page(context: Context, movement: str = "") -> RangesPage:
    """Return the ranges with one movement drawn: the one asked for, else that of the newest reading."""
    found = probes.of_kind(context, Range, most=LATEST)
    newest = found[-1] if found else None
    shown = movements().get(movement) or movements()[newest.data.movement if newest else next(iter(movements()))]
    here = [p for p in found if p.data.movement == shown.id]
    sides = {hand: [(p.day, p.data.deg) for p in here if p.about.hand == hand] for hand in HANDS}
    widths = (940.0, 350.0) if here else ()
    drawn = [two_sides(sides["left"], sides["right"], shown.usual.deg, width) for width in widths]
    said = _in_words(found, here[-1]) if here else (sentence("technique", "range_first"), "", shown.how)
    return RangesPage(
        shown,
        tuple(movements().values()),
        _hand(context, newest),
        *said,
        drawn[0] if drawn else None,
        drawn[1] if drawn else None,
        tuple((uid, words) for uid, (_, words) in _pictures(context).items()),
        tuple(_listed(p) for p in reversed(found)),
    )


def _hand(context: Context, newest: Probe[Range] | None) -> str:
    """The side that is chosen until she chooses: the last one, or one that is not spared today."""
    last, spared = newest.about.hand if newest else "left", probes.spared_today(context)
    return next((hand for hand in (last, *HANDS) if hand not in spared), last)


def _listed(p: Probe[Range]) -> Reading:
    name = movements()[p.data.movement].name
    return Reading(p.uid, p.day, name, p.about.hand, p.data.deg, BY_WORDS[p.data.by])


def _pictures(context: Context) -> dict[str, tuple[dict[str, float], str]]:
    """Pictures of today that show a movement: the angles of each with their sign, and its words."""
    found = {}
    shown_by = {m.angle for m in movements().values() if m.angle}
    for each in probes.every(context, Posture, context.today):
        angles = {k: v for k, v in angles_of(templates()[each.data.template], each).items() if k in shown_by}
        if each.done and angles:
            words = ", ".join(_picture_words(k, v) for k, v in angles.items())
            found[each.uid] = (angles, f"{each.about.hand} hand: {words}")
    return found


def _picture_words(angle: str, value: float) -> str:
    way = next(m.name for m in movements().values() if m.angle == angle and m.sign * value >= 0)
    return f"{way.lower()} {abs(value):.0f}°"


def keep(context: Context, typed: Mapping[str, str]) -> str:
    """Keep a reading from a form; returns its movement. `FieldError` at the field that cannot be."""
    movement = movements().get(typed.get("movement", ""))
    if movement is None:
        raise FieldError("movement", "Choose the movement.")
    hand, by, picture = typed.get("hand", ""), typed.get("by", ""), typed.get("picture", "")
    if hand not in HANDS:
        raise FieldError("hand", "Say which side: left or right.")
    if by not in RANGE_BY:
        raise FieldError("by", "Say what it was read by.")
    if picture:
        by, deg = "picture", _from_picture(context, movement, hand, picture)
    else:
        deg = decimal("deg", "The range", typed.get("deg", ""), 0, MOST_DEG, "degrees")
    usual = movement.usual.deg
    if is_from_another_zero(deg, usual):
        raise FieldError("deg", sentence("technique", "range_too_far", deg=f"{deg:.0f}", usual=f"{usual:.0f}"))
    about = About(hand=hand, what=movement.name.lower(), kit=BY_WORDS[by])
    data = Range(movement=movement.id, deg=deg, by=by, picture=picture)
    probes.keep_whole(context, about, data, {METHOD: deg})
    return movement.id


def _from_picture(context: Context, movement: Movement, hand: str, uid: str) -> float:
    found = _pictures(context).get(uid)
    if found is None:
        raise FieldError("picture", "This picture is not of today, or its points are not set yet.")
    if probes.probe(context, uid, Posture).about.hand != hand:
        raise FieldError("hand", "This picture is of the other hand. Choose its side.")
    value = found[0].get(movement.angle)
    if value is None or movement.sign * value < 0:
        raise FieldError("movement", "This picture shows another movement. Choose the one it shows.")
    return abs(value)


def _in_words(found: Sequence[Probe[Range]], last: Probe[Range]) -> tuple[str, str, str]:
    """The newest reading, how it lies to the one before it and to the other side, and what to do next."""
    movement = movements()[last.data.movement]
    headline = sentence(
        "technique",
        "range_now",
        hand=last.about.hand.capitalize(),
        movement=movement.name.lower(),
        deg=f"{last.data.deg:.0f}",
    )
    said: list[str] = []
    before = [p for p in _alike(found, last) if p.at_utc < last.at_utc]
    less = False
    if before:
        less = last.data.deg < before[-1].data.deg and ranges_differ(last.data.deg, before[-1].data.deg)
        said.append(_change_words(last, before[-1]))
    other = _newest_other_side(found, last)
    if other is not None and ranges_differ(last.data.deg, other.data.deg):
        apart = f"{abs(last.data.deg - other.data.deg):.0f}"
        if last.data.deg < other.data.deg:
            said.append(sentence("technique", "range_side_less", other=other.about.hand, deg=apart))
        else:
            said.append(sentence("technique", "range_side_more", other=other.about.hand, deg=apart))
    do = sentence("technique", "range_less_do") if less else sentence("technique", "range_do")
    return headline, " ".join(said), do


def _change_words(last: Probe[Range], before: Probe[Range]) -> str:
    least, day = f"{CHANGE_DEG:.0f}", day_words(before.day)
    change = last.data.deg - before.data.deg
    if not ranges_differ(last.data.deg, before.data.deg):
        return sentence("technique", "range_same", day=day, least=least)
    by = f"{abs(change):.0f}"
    if change < 0:
        return sentence("technique", "range_less", deg=by, day=day, least=least)
    return sentence("technique", "range_more", deg=by, day=day, least=least)


def _alike(found: Sequence[Probe[Range]], wanted: Probe[Range]) -> list[Probe[Range]]:
    """The readings of the same movement and side, read from the same thing."""
    return [p for p in found if p.about == wanted.about]


def _newest_other_side(found: Sequence[Probe[Range]], last: Probe[Range]) -> Probe[Range] | None:
    other = replace(last.about, hand=other_side(last.about.hand))
    same = [p for p in found if p.about == other]
    return same[-1] if same else None


def line(context: Context) -> ProbeLine:
    """Return the range line of the bench: the newest reading with those of its kind."""
    found = probes.of_kind(context, Range, most=LATEST)
    if not found:
        return never_done(
            Range.kind,
            "Range",
            sentence("technique", "range_first"),
            "Read one",
            "technique.ranges",
        )
    last = found[-1]
    movement = movements()[last.data.movement]
    values: Sequence[tuple[date, float]] = [(p.day, p.data.deg) for p in _alike(found, last)[-12:]]
    _, beside, _ = _in_words(found, last)
    return ProbeLine(
        Range.kind,
        "Range",
        last.day,
        f"{last.data.deg:.0f}°",
        f"{last.about.hand} {movement.name.lower()}",
        small_series(values, movement.usual.deg, "°"),
        beside,
        "Read one",
        "technique.ranges",
    )
