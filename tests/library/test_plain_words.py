"""Every sentence the application can say, read against docs/words.md: length, words never said, British spelling."""

import re
import tomllib
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import codespell_lib
import pytest

from tests.library.spoken import ROOT, Sentence, spoken

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
    """The first two tables of docs/words.md: a pattern that is never said, and what is said instead."""
    screen, _, _ = WORDS_PAGE.read_text().partition("## Terms in the code")
    rows = re.findall(r"^\| `(.+)` \| (.+) \|$", screen, flags=re.M)
    rows += [(pattern, word) for word, pattern in re.findall(r"^\| ([^`|]+) \|.*\| `(.+)` \|$", screen, flags=re.M)]
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


#: what no page says outside of a fold
METHODS = r"Theil|Mann[–-]Kendall|Markov|CUSUM|Tau-U|permutation test|call table|rules version|\bp 0\."


def outside_folds(template: str) -> str:
    """A template without its comments, and without what lies in a fold that is closed at first."""
    kept, depth = [], 0
    for part in re.split(r"(<details\b|</details>)", re.sub(r"\{#.*?#\}", "", template, flags=re.S)):
        depth += (part == "<details") - (part == "</details>")
        kept += [part] if depth == 0 else []
    return "".join(kept)


def test_methods_have_their_names_in_folds_only():
    pages = {p: outside_folds(p.read_text(encoding="utf-8")) for p in sorted((ROOT / "web/templates").rglob("*.html"))}
    assert [(p.name, found) for p, text in pages.items() if (found := re.findall(METHODS, text))] == []
    assert "Theil" not in outside_folds("a<details><summary>b</summary>Theil<details>c</details></details>d")


#: what ends something that happened, beside its name
OF_A_BUTTON = ("It is no longer new", "It moves and feels as before")
#: words a button is called that does not open or name a thing; a verb or a thing is what else it may begin with
NO_BUTTONS = r"^(Keep it so|Ask$|Trouble|This one is mine|Read it so|Leave it$|Take it back|Take it out|or |Throw it)"


def labels(template: str) -> list[str]:
    found = re.findall(r"<(?:button|summary)\b[^>]*>(.*?)</(?:button|summary)>", template, flags=re.S)
    return [" ".join(re.sub(r"<[^>]+>|\{[{%].*?[%}]\}", " ", text).split()) for text in found]


def test_a_button_says_what_happens_or_what_opens():
    texts = [
        (p.name, t)
        for p in (ROOT / "web/templates").rglob("*.html")
        for t in labels(p.read_text(encoding="utf-8"))
        if t
    ]
    assert len(texts) > 150
    assert [(page, t) for page, t in texts if re.match(NO_BUTTONS, t)] == []


def texts_of(value: object) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict | list):
        for each in value.values() if isinstance(value, dict) else value:
            yield from texts_of(each)


@pytest.mark.parametrize("page", sorted((ROOT / "library/said").glob("*.toml")), ids=lambda p: p.stem)
def test_no_text_begins_with_an_it_that_is_nothing(page):
    """What is said may go on with "it", but not begin with one: nothing was named before."""
    texts = texts_of(tomllib.loads(page.read_text(encoding="utf-8")))
    assert [t for t in texts if re.match(r"It (is|was|stands|stays|has|goes)\b", t) and t not in OF_A_BUTTON] == []


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
