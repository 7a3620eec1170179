"""Which moves and chords of a written part go beyond a hand: by its span on keys, by one position on strings.

Pitches as they sound, as MIDI numbers (60 = middle c); lengths in millimetres.
"""

import re
from collections.abc import Callable, Sequence
from functools import cache

from chirotend.core.errors import OutOfRange, TooFew, check_range
from chirotend.core.fit.strings import fret_x

#: whether going from one pitch to another is beyond the hand; True = both at once
Beyond = Callable[[int, int, bool], bool]
#: an octave of keys is 164 mm: seven white ones of 23.5 mm. Common practice, no source
KEY_MM = 164.5 / 12
#: a board ends about two octaves above its open string. Common practice, no source
BOARD_SEMITONES = 24
_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
_NAME = re.compile(r"([A-G])(#|b)?(\d)")


def midi_of(name: str) -> int:
    """Return the MIDI number of a pitch by its name and octave ("C4" = 60, "F#2" = 42); `OutOfRange` for another."""
    found = _NAME.fullmatch(name)
    if found is None:
        raise OutOfRange("name", name, words=("C4", "F#2", "Bb3"))
    step, sign, octave = found.groups()
    return 12 * (int(octave) + 1) + _STEPS[step] + {"#": 1, "b": -1, None: 0}[sign]


def leaps(semitones: float) -> Beyond:
    """Return the rule that more than so many semitones (1-60) are wide, whatever the hand."""
    most = check_range("semitones", semitones, 1, 60)
    return lambda a, b, _: abs(a - b) > most


def on_keys(span_mm: float) -> Beyond:
    """Return the rule that what is wider than the span of the hand is wide."""
    return leaps(check_range("span_mm", span_mm, KEY_MM, 60 * KEY_MM, "mm") / KEY_MM)


def on_strings(open_strings: Sequence[int], L_mm: float, reach_mm: float) -> Beyond:
    """Return the rule that a move is wide when no two strings bring both notes within `reach_mm` along the board.

    An open string asks for nothing. Two notes at once need two strings. A note below all strings is never judged.
    """
    if not open_strings:
        raise TooFew("open_strings", "no string")
    reach = check_range("reach_mm", reach_mm, 1, 400, "mm")

    @cache
    def places(pitch: int) -> tuple[tuple[int, float], ...]:
        return tuple(
            (n, fret_x(L_mm, pitch - low)) for n, low in enumerate(open_strings) if 0 <= pitch - low <= BOARD_SEMITONES
        )

    @cache
    def beyond(a: int, b: int, together: bool) -> bool:
        if not places(a) or not places(b):
            return False
        return not any(
            not x or not y or abs(x - y) <= reach for m, x in places(a) for n, y in places(b) if m != n or not together
        )

    return beyond
