"""Her hands, measured one by one: every value is kept with its day, the latest counts. Millimetres."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from chirotend.core.fit.hands import GAP, SPAN, Gap, Hand, hand_norms
from chirotend.core.fit.hands import normal_percentile as percentile
from chirotend.drawing.measured import NEIGHBOURS, Picture, measured_hand, self_test
from chirotend.services import units
from chirotend.services.context import Context, FieldError
from chirotend.services.kit.profile import Profile, profile
from chirotend.services.record import corrections
from chirotend.services.record import measured as measured_values
from chirotend.store.models import MeasurementRow

SIDES = ("left", "right")
#: the pairs the form asks for, neighbours first
ASKED_PAIRS = ("T-1", "1-2", "2-3", "3-4", "1-3", "2-4", "1-4")
PAIR_WORDS = {
    "T-1": "thumb to index",
    "1-2": "index to middle",
    "2-3": "middle to ring",
    "3-4": "ring to little",
    "1-3": "index to ring",
    "2-4": "middle to little",
    "1-4": "index to little",
}


@dataclass(frozen=True)
class Measured:
    """Both hands as last measured, and when; pictures with the values on them."""

    hands: Mapping[str, Hand]
    on: date | None
    pictures: Mapping[str, Picture]


def measured(context: Context) -> Measured:
    """Return the latest values of both hands; a hand never measured has none."""
    latest: dict[tuple[str, str], MeasurementRow] = {}
    rows = measured_values.kept(context, "hand.*")
    for row in rows:
        latest[row.hand, row.method] = row
    hands = {side: _hand(side, {m: r.value for (s, m), r in latest.items() if s == side}) for side in SIDES}
    pictures = {side: picture(context, hand) for side, hand in hands.items()}
    return Measured(hands, max((r.day for r in rows), default=None), pictures)


def _hand(side: str, values: Mapping[str, float]) -> Hand:
    gaps = {}
    for pair in ASKED_PAIRS:
        most = values.get(f"hand.gap.{pair}.most")
        ease = values.get(f"hand.gap.{pair}.ease")
        if most is not None and ease is not None and ease <= most:
            gaps[pair] = Gap(ease, most)
    return Hand(side, gaps, values.get("hand.span"), values.get("hand.length"))


def picture(context: Context, hand: Hand) -> Picture:
    """Return the drawing of a hand with its gaps at ease and its span."""

    def bare(mm: float) -> str:
        return units.length(context, mm).removesuffix(" mm").removesuffix(" in")

    gaps = {pair: bare(gap.ease_mm) for pair, gap in hand.gaps.items() if pair in NEIGHBOURS}
    return measured_hand(hand.side, gaps, units.length(context, hand.span_mm) if hand.span_mm else "")


def self_test_picture(kind: str) -> Picture:
    """Return the drawing of a self-test without force."""
    return self_test(kind)


def measure(context: Context, side: str, typed: Mapping[str, str]) -> int:
    """Write what was typed for one hand; returns how many values changed. `FieldError` names the field.

    Fields: span, length, and for each pair `PAIR.ease`, `PAIR.most`; empty = not measured now (the older value stays).
    """
    if side not in SIDES:
        raise FieldError("side", "Choose the left or the right hand.")
    values: dict[str, float] = {}
    for name in ("span", "length"):
        value = units.length_mm(context, f"{side}.{name}", typed.get(name, ""), SPAN.low, SPAN.high)
        if value is not None:
            values[f"hand.{name}"] = value
    for pair in ASKED_PAIRS:
        for how in ("ease", "most"):
            field = f"{pair}.{how}"
            value = units.length_mm(context, f"{side}.{field}", typed.get(field, ""), GAP.low, GAP.high)
            if value is not None:
                values[f"hand.gap.{field}"] = value
    known = _known(context, side)
    _check_gaps(side, {**known, **values})
    changed = {m: v for m, v in values.items() if known.get(m) != v}
    with corrections.as_one(context):
        for method, value in changed.items():
            measured_values.keep(context, method, value, hand=side)
    return len(changed)


def _known(context: Context, side: str) -> dict[str, float]:
    return {row.method: row.value for row in measured_values.kept(context, "hand.*", hand=side)}


def _check_gaps(side: str, values: Mapping[str, float]) -> None:
    for pair in ASKED_PAIRS:
        ease, most = (values.get(f"hand.gap.{pair}.{how}") for how in ("ease", "most"))
        if ease is not None and most is None:
            raise FieldError(f"{side}.{pair}.most", "Measure this gap at most, too: both belong together.")
        if most is not None and ease is None:
            raise FieldError(f"{side}.{pair}.ease", "Measure this gap at ease, too: both belong together.")
        if ease is not None and most is not None and ease > most:
            raise FieldError(f"{side}.{pair}.ease", "At ease cannot be wider than at most. Check the two.")


def known_values(context: Context, side: str) -> dict[str, str]:
    """Return the latest values of a hand as the form shows them, by field."""
    return {
        method.removeprefix("hand.").removeprefix("gap."): units.length(context, value)
        for method, value in _known(context, side).items()
    }


def span_words(hand: Hand) -> tuple[str, ...]:
    """Return how the span compares with published means: background, never a verdict."""
    if hand.span_mm is None:
        return ()
    return tuple(
        f"{percentile(hand.span_mm, n.mean_mm, n.sd_mm):.0f} of 100 {n.who} measured have a smaller span"
        f" ({n.source}; {n.status})"
        for n in hand_norms("span")
    )


def on_the_strings(context: Context) -> str:
    """Return the hand that stops strings: the left one, the right one of a mirrored player."""
    return "right" if profile(context).mirrored == "yes" else "left"


def findings(said: Profile) -> tuple[str, ...]:
    """Return what her answers about her hands mean for the bench and the warm-up."""
    found = []
    for side in SIDES:
        if getattr(said, f"little_{side}") == "moves with the ring finger":
            found.append(f"The {side} little finger moves with its neighbour.")
    if said.loose_joints in ("some", "many"):
        found.append("Loose joints: hold them short of their end; no stretching at the end of a joint.")
    if said.cold_hands in ("sometimes", "often"):
        found.append("Cold hands: the warm-up gives more time to warmth.")
    if said.mirrored == "yes":
        found.append("You play mirrored: left and right of each instrument are swapped for you.")
    return tuple(found)
