"""What the name of a column says: a meaning of the word list, or a place on the body with side, kind and timing."""

from dataclasses import dataclass

from chirotend.core.memos import by_value
from chirotend.formats.spelled import plain, runs_of
from chirotend.library.loader import diary_columns, diary_words


@dataclass(frozen=True)
class Head:
    """A column's meaning; `zone`, `side`, `kind`, `timing` only where it is a place ("" = not said)."""

    meaning: str
    zone: str = ""
    side: str = ""
    kind: str = ""
    timing: str = ""


@by_value(5000)
def head_of(name: str) -> Head | None:
    """Return what the name of a column says, or None."""
    known = diary_columns()
    whole = plain(name.replace("_", " "))
    bare = plain(name.replace("_", " ").split("(")[0])
    meaning = known.get(whole) or known.get(bare)
    if meaning:
        in_hours = meaning == "minutes" and any(w in ("h", "std", "hours", "stunden") for w in whole.split()[1:])
        return Head("hours" if in_hours else meaning)
    return _place(whole) or _by_its_words(whole)


def _place(name: str) -> Head | None:
    """A place: its longest run of words that is one, and what the other words say of it."""
    words = name.split()
    for length in range(min(4, len(words)), 0, -1):
        for at in range(len(words) - length + 1):
            zone = diary_words("zone").get(" ".join(words[at : at + length]))
            if zone:
                return Head("place", zone, **_beside_place(words[:at] + words[at + length :]))
    return None


def _beside_place(words: list[str]) -> dict[str, str]:
    """What is said beside a place, each word or pair of words once."""
    found = {}
    for part, of in (("side", "side"), ("kind", "symptom"), ("timing", "timing")):
        known = diary_words(of)
        found[part] = next((known[run] for run in runs_of(words, 3) if run in known), "")
    return found


def _by_its_words(name: str) -> Head | None:
    """A name of several words, of which one alone says what it is: "minutes today", "effort 0 10"."""
    words = [w for w in name.split() if not w.isdigit()]
    said = [diary_columns()[w] for w in words if len(w) > 2 and w in diary_columns()]
    return Head(said[0]) if len(set(said)) == 1 and len(words) <= 4 else None
