"""What can be chosen on the page of a diary, as it is said there."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.body.zones import regions, zones
from chirotend.core.record.words import BlockKind, Kind, Sleep, Timing
from chirotend.formats.diary.match import MEANINGS
from chirotend.formats.diary.words import AS_IT_IS, LISTS, NOTE, NOTHING, OFF
from chirotend.library.loader import instruments

Choice = tuple[str, str]
#: what the lists of words are called
LISTS_SAID = {
    "kind": "kind of playing",
    "instrument": "instrument",
    "side": "side",
    "symptom": "how it feels",
    "timing": "when",
    "sleep": "sleep",
    "effort": "effort",
    "strength": "how strong",
    "zone": "place or complaint",
}
_SAID = {
    AS_IT_IS: "as it is written",
    NOTE: "only the note",
    NOTHING: "asked, nothing there",
    OFF: "a day off",
    "left": "left",
    "right": "right",
    "both": "both sides",
}


@dataclass(frozen=True)
class Menus:
    """The choices of every list on the page: (value, name)."""

    meanings: tuple[Choice, ...]
    sides: tuple[Choice, ...]
    kinds: tuple[Choice, ...]
    timings: tuple[Choice, ...]
    zones: dict[str, tuple[Choice, ...]]
    words: dict[str, tuple[Choice, ...]]
    lists: dict[str, str]


@cache
def menus() -> Menus:
    """Return what can be chosen."""
    kept = {str(word): word.said for words in (BlockKind, Kind, Timing, Sleep) for word in words} | _SAID
    words = {of: tuple((to, kept.get(to, to)) for to in found) for of, found in LISTS.items()}
    words["instrument"] += tuple((key, i.name) for key, i in instruments().items())
    return Menus(
        tuple(MEANINGS.items()),
        (("", "side not said"), ("left", "left"), ("right", "right"), ("both", "both sides")),
        (("", "kind not said"), *((str(k), k.said) for k in Kind)),
        (("", "when the row says"), *((str(t), t.said) for t in Timing)),
        {region: tuple((z.id, z.name) for z in zones().values() if z.region == region) for region in regions()},
        words,
        LISTS_SAID,
    )
