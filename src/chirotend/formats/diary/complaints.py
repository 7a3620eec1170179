"""Complaints in words: "L thumb tight 3; neck 2" is two places with side, kind and strength."""

import re
from dataclasses import dataclass

from chirotend.core.record.words import SYMPTOM_KINDS
from chirotend.formats.diary.words import NOTE, NOTHING, Words
from chirotend.formats.spelled import SpelledNumber, number_of, plain, runs_of
from chirotend.library.loader import diary_words

PARTED = re.compile(r"[,;\n]+|/(?!\d)|\s\+\s")
_NUMBER = re.compile(r"(?<!\w)\d+(?:[.,]\d+)?(?:\s*(?:-|–|/)\s*\d+(?:[.,]\d+)?)?(?!\w)")
#: the longest place of the word list has so many words
LONGEST = 4


@dataclass(frozen=True)
class Felt:
    """A complaint as far as it is said; "" and None = not said. `rest` holds the words that say something else."""

    zone: str
    side: str = ""
    kind: str = ""
    timing: str = ""
    strength: float | SpelledNumber | None = None
    rest: str = ""


def complaints(cell: str, words: Words) -> list[Felt] | None:
    """Return what a cell of complaints says, [] for "asked, nothing there"; None when it is for the note."""
    found: list[Felt] = []
    asked = False
    for part in PARTED.split(cell):
        if not part.strip():
            continue
        felt = _one(part.strip(), words)
        if felt is None:
            asked = True
        elif isinstance(felt, Felt):
            found.append(felt)
    return found if found or asked else None


def _one(part: str, words: Words) -> Felt | str | None:
    """A complaint; None for "nothing there"; the part itself where it says neither."""
    if is_nothing(part, words):
        return None
    mine = words.hers.get(f"zone {plain(part)}")
    number = _NUMBER.search(part)
    strength = number_of(number.group().replace(" ", "")) if number else None
    bare = part if number is None else part[: number.start()] + " " + part[number.end() :]
    said, rest = _meanings(plain(bare).split() if any(c.isalnum() for c in bare) else [], words)
    place = mine if mine is not None else words.look("zone", said["zone"], NOTE) if said.get("zone") else ""
    if not place:
        place = words.look("zone", bare.strip() or part, NOTE)
    if place == NOTHING:
        return None
    if place == NOTE:
        return part
    kind = said.get("symptom", "")
    return Felt(place, said.get("side", ""), kind, said.get("timing", ""), strength or _number(said), " ".join(rest))


def _number(said: dict[str, str]) -> float | None:
    return float(said["strength"]) if said.get("strength", NOTE) != NOTE else None


def _meanings(tokens: list[str], words: Words) -> tuple[dict[str, str], list[str]]:
    """What runs of words say, each list once, the longest run first; and the words that nothing knows.

    Of a place the word itself comes, not yet its zone: it is looked up, and so counted, by the whole.
    """
    said: dict[str, str] = {}
    rest: list[str] = []
    at = 0
    while at < len(tokens):
        for length in range(min(LONGEST, len(tokens) - at), 0, -1):
            run = " ".join(tokens[at : at + length])
            of = _list_of(run, said, words)
            if of is not None:
                said[of] = run if of == "zone" else words.look(of, run, NOTE)
                if of == "zone" and length > 1 and "side" not in said:
                    said |= _side_in(tokens[at : at + length], words)
                at += length
                break
        else:
            if tokens[at] not in diary_words("empty"):
                rest.append(tokens[at])
            at += 1
    return said, rest


def _side_in(run: list[str], words: Words) -> dict[str, str]:
    """The side that a word within a place of several words says, if one does."""
    return next(({"side": side} for word in run if (side := words.known("side", word))), {})


def _list_of(run: str, said: dict[str, str], words: Words) -> str | None:
    if run in diary_words("empty"):
        return None
    for of in ("zone", "side", "symptom", "timing", "strength"):
        if of not in said and words.known(of, run) is not None:
            return of
    return None


def is_nothing(cell: str, words: Words) -> bool:
    """True when a cell says that nothing was felt: "none", "ok", "–"; her own choice goes before the list."""
    word = plain(cell)
    mine = words.hers.get(f"zone {word}")
    if mine is None and word not in diary_words("nothing"):
        return False
    return words.look("zone", cell, NOTHING) == NOTHING


def kind_said(name: str) -> str:
    """Return the kind that the name of a column or sheet says ("Pain level", "Schmerzen"), "" for none."""
    known = diary_words("symptom")
    return next((known[run] for run in runs_of(plain(name).split(), LONGEST) if known.get(run) in SYMPTOM_KINDS), "")


def kind_in(cell: str, words: Words) -> str:
    """Return the kind that a cell of a place names, "" for none."""
    found = words.known("symptom", cell)
    return words.look("symptom", cell, NOTE) if found in SYMPTOM_KINDS else ""
