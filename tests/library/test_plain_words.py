"""Every sentence the application can say, read against docs/words.md: length, words never said, British spelling."""

import re
from functools import cache
from pathlib import Path

import codespell_lib
import pytest

from tests.library.spoken import Sentence, spoken

WORDS_PAGE = Path(__file__).parents[2] / "docs/words.md"
FOR_PLAYERS = ("guide.md", "formats.md", "devices.md")
LONGEST = 20
#: names of columns in a row, and what is written for whoever runs the server, are no sentences to a player
FILE_FORMATS = re.compile(r"\.csv\b")
FOR_THE_SERVER = ("cli.py", "services/server/", "camera/", "demo/", "devices/", "formats/ical", "store/")


@cache
def said() -> tuple[Sentence, ...]:
    return tuple(s for s in spoken() if not s.where.startswith(FOR_THE_SERVER))


def never() -> list[tuple[str, str]]:
    """The first table of docs/words.md: a pattern that is never said, and what is said instead."""
    screen, _, _ = WORDS_PAGE.read_text().partition("## Terms in the code")
    rows = re.findall(r"^\| `(.+)` \| (.+) \|$", screen, flags=re.M)
    return [(pattern.replace("\\|", "|"), but) for pattern, but in rows]


def found(pattern: str, sentences: tuple[Sentence, ...]) -> list[Sentence]:
    flags = 0 if pattern.isupper() or "AU" in pattern else re.IGNORECASE
    return [s for s in sentences if re.search(pattern, s.text, flags)]


def american() -> dict[str, str]:
    """American spellings with the British one, where that is no British word too; from codespell's word list."""
    page = (Path(codespell_lib.__file__).parent / "data/dictionary_en-GB_to_en-US.txt").read_text().splitlines()
    pairs = [(us, gb) for gb, us in (row.split("->") for row in page)]
    both = {"practice", "license", "licensed", "licensing", "program", "meter"}
    return {us: gb for us, gb in pairs if us not in both and "," not in us}


def test_the_collector_hears_all_four_kinds_of_places():
    kinds = {Path(s.where).suffix for s in said()}
    assert kinds == {".html", ".toml", ".py", ".js"} and len(said()) > 5000


def test_no_sentence_is_longer_than_twenty_words():
    long = [(s.where, s.text) for s in said() if len(s.text.split()) > LONGEST and not FILE_FORMATS.search(s.text)]
    assert long == []


@pytest.mark.parametrize(("pattern", "but"), never())
def test_words_that_are_never_said(pattern, but):
    assert [(s.where, s.text) for s in found(pattern, said())] == [], f"say: {but}"


@pytest.mark.parametrize("text", ["It is written in.", "A load of 300 AU.", "The median", "Lay the week", "Play on!"])
def test_the_table_catches_what_it_is_for(text):
    assert any(found(pattern, (Sentence("", text),)) for pattern, _ in never())


def test_spelling_is_british():
    wrong = american()
    heard = ((s.where, word) for s in said() for word in re.findall(r"[a-z]+", s.text.lower()))
    assert [(where, word, wrong[word]) for where, word in heard if word in wrong] == []
    assert {"color", "center", "analyze"} <= set(wrong)


@pytest.mark.parametrize("file", FOR_PLAYERS)
def test_what_players_read_speaks_to_you(file):
    lines = tuple(Sentence(file, line) for line in (WORDS_PAGE.parent / file).read_text().splitlines())
    assert [found(pattern, lines) for pattern, _ in never() if found(pattern, lines)] == []
