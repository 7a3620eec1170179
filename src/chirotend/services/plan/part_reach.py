"""Which moves of a part are wide for her: on keys by her own span, on strings by her own fingers, else by a leap."""

from dataclasses import dataclass

from chirotend.core.fit import moves, strings
from chirotend.library.schema import Instrument
from chirotend.services import units
from chirotend.services.context import Context
from chirotend.services.kit import hands, own_library
from chirotend.services.words import sentence

KEYS = ("keyboard", "organ", "accordion")
#: more than an octave: common practice, no source
LEAP_SEMITONES = 12.0
#: index to little finger
FRAME = "1-4"


@dataclass(frozen=True)
class Reach:
    """The rule, and how it is said on the page."""

    beyond: moves.Beyond
    said: str


def reach_for(context: Context, instrument: str) -> Reach:
    """Return what is wide for her on an instrument of the library or of her own."""
    played = own_library.instruments(context).get(instrument)
    if played is not None and played.open_strings and played.string_length_mm:
        return _on_strings(context, played)
    if played is not None and played.family in KEYS:
        return _on_keys(context)
    return Reach(moves.leaps(LEAP_SEMITONES), sentence("plan", "wide_octave"))


def _on_keys(context: Context) -> Reach:
    spans = [h.span_mm for h in hands.measured(context).hands.values() if h.span_mm is not None]
    if not spans:
        return Reach(
            moves.leaps(LEAP_SEMITONES),
            sentence("plan", "wide_unmeasured"),
        )
    span = min(spans)
    return Reach(moves.on_keys(span), sentence("plan", "wide_span", span=units.length(context, span)))


def _on_strings(context: Context, played: Instrument) -> Reach:
    """A move is wide when no strings bring it under her fingers in one place."""
    length, side = played.usual_string_mm, hands.on_the_strings(context)
    gap = hands.measured(context).hands[side].gaps.get(FRAME)
    system = strings.fingerings()[played.fingering or "1234"]
    reach = gap.ease_mm if gap is not None else strings.interval_span(length, 1, system.width)
    within, string, tuning = units.length(context, reach), units.length(context, length), " ".join(played.open_strings)
    if gap is None:
        said = sentence("plan", "wide_strings_unmeasured", reach=within, length=string, tuning=tuning)
    else:
        said = sentence("plan", "wide_strings", reach=within, side=side, length=string, tuning=tuning)
    return Reach(moves.on_strings([moves.midi_of(name) for name in played.open_strings], length, reach), said)
