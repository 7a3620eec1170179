"""Her words and what they mean: her own choice first, then the word list; each word is counted once it is met."""

from collections import Counter
from collections.abc import Mapping
from functools import cache

from chirotend.core.body.zones import zones
from chirotend.core.record.words import BLOCK_KINDS, SIDES, SLEEP, SYMPTOM_KINDS, TIMINGS
from chirotend.formats.diary.questions import AskedWord
from chirotend.formats.spelled import plain
from chirotend.library.loader import diary_words, instruments

#: a word that is kept as it is (instruments), goes into the note, or says that nothing was felt
AS_IT_IS, NOTE, NOTHING, OFF = "as_it_is", "note", "nothing", "off"
LISTS: dict[str, tuple[str, ...]] = {
    "kind": (*BLOCK_KINDS, OFF, NOTE),
    "instrument": (AS_IT_IS,),
    "side": (*SIDES[:2], "both", NOTE),
    "symptom": (*SYMPTOM_KINDS, NOTHING, NOTE),
    "timing": (*TIMINGS, NOTE),
    "sleep": (*SLEEP, NOTE),
    "effort": (*(str(n) for n in range(11)), NOTE),
    "strength": (*(str(n) for n in range(11)), NOTE),
    "zone": (NOTHING, NOTE),
}


def meaning_is_allowed(of: str, to: str) -> bool:
    """True if meaning `to` is allowed for vocabulary `of`."""
    if to in LISTS.get(of, ()):
        return True
    return (of == "zone" and to in zones()) or (of == "instrument" and to in instruments())


class Words:
    """Looks words up and remembers which were met. `hers` maps "list word" to what she says it means."""

    def __init__(self, hers: Mapping[str, str]) -> None:
        self.hers = hers
        self.met: Counter[tuple[str, str]] = Counter()
        self.meant: dict[tuple[str, str], str] = {}
        self.spelled: dict[tuple[str, str], str] = {}

    def known(self, of: str, cell: str) -> str | None:
        """Return what a word of list `of` means, or None; nothing is counted."""
        word = plain(cell)
        mine = self.hers.get(f"{of} {word}")
        if mine is not None and meaning_is_allowed(of, mine):
            return mine
        found = diary_words(of).get(word)
        if found is None and of == "instrument":
            found = _instrument_names().get(word)
        if found is None and of == "kind" and word in diary_words("off") and not word.isdigit() and len(word) > 2:
            found = OFF
        if found is None and word.replace(" ", "_") in LISTS.get(of, ()):
            found = word.replace(" ", "_")
        return found

    def look(self, of: str, cell: str, unknown: str) -> str:
        """Return what a word means, `unknown` where nothing says; the word is counted."""
        found = self.known(of, cell) or unknown
        key = of, plain(cell)
        self.met[key] += 1
        if key not in self.meant:
            self.meant[key] = found
            self.spelled[key] = cell.strip()[:60]
        return found

    def asked(self) -> list[AskedWord]:
        """Return the words met that are not the words here, the most frequent first."""
        found = [
            AskedWord(of, self.spelled[of, word], count, self.meant[of, word])
            for (of, word), count in self.met.items()
            if plain(self.meant[of, word]) != word and word
        ]
        return sorted(found, key=lambda w: (-w.count, w.of, w.word))


@cache
def _instrument_names() -> Mapping[str, str]:
    """The names of the library's instruments, as they are looked up, with their ids."""
    found: dict[str, str] = {}
    for key, instrument in instruments().items():
        for name in (key.replace("_", " "), instrument.name, instrument.name.split("(")[0]):
            found.setdefault(plain(name), key)
    return found
