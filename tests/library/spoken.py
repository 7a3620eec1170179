"""Every sentence the application can say, with where it stands: templates, knowledge files, Python and scripts."""

import ast
import re
import tomllib
from collections.abc import Iterable, Iterator
from html.parser import HTMLParser
from pathlib import Path
from typing import Any, NamedTuple

ROOT = Path(__file__).parents[2] / "src/chirotend"
#: keys of the knowledge files that nobody reads on a screen as a sentence, or that no sentence can shorten
SILENT = {"source", "formula", "never_say", "id"}
INLINE = {"b", "i", "em", "strong", "kbd", "code", "abbr", "u"}
SPOKEN_ATTRIBUTES = {"aria-label", "placeholder", "title", "alt"}


class Sentence(NamedTuple):
    where: str
    text: str


class _Visible(HTMLParser):
    """The text of a page in pieces, one for each element that stands by itself."""

    def __init__(self) -> None:
        super().__init__()
        self.pieces = [""]

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag not in INLINE:
            self.pieces.append("")
        said = [value for name, value in attrs if value and name in SPOKEN_ATTRIBUTES]
        self.pieces[-1:] = [self.pieces[-1], *said, ""] if said else self.pieces[-1:]

    def handle_endtag(self, tag: str) -> None:
        if tag not in INLINE:
            self.pieces.append("")

    def handle_data(self, data: str) -> None:
        self.pieces[-1] += data


def _of_template(text: str) -> Iterator[str]:
    text = re.sub(r"\{#.*?#\}", "", text, flags=re.S)
    for tag in re.findall(r"\{[{%].*?[%}]\}", text, flags=re.S):
        yield from re.findall(r'"([^"{}]*[a-z] [^"{}]*)"', tag)
    text = re.sub(r"<style>.*?</style>", "", text, flags=re.S)
    visible = _Visible()
    visible.feed(re.sub(r"\{\{.*?\}\}", "X", re.sub(r"\{%.*?%\}", "\0", text, flags=re.S), flags=re.S))
    for piece in visible.pieces:
        yield from piece.split("\0")


def _of_knowledge(value: Any, key: str = "") -> Iterator[str]:
    if isinstance(value, str) and key not in SILENT and " " in value:
        yield value
    elif isinstance(value, dict):
        for name, inner in value.items():
            yield from _of_knowledge(inner, name)
    elif isinstance(value, list):
        for inner in value:
            yield from _of_knowledge(inner, key)


def _of_python(text: str) -> Iterator[str]:
    tree = ast.parse(text)
    silent = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            silent |= {id(part) for part in node.values}
            yield "".join(str(part.value) if isinstance(part, ast.Constant) else "X" for part in node.values)
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in silent:
            yield node.value


def _of_script(text: str) -> Iterator[str]:
    for plain, template in re.findall(r'"([^"\n]*)"|`([^`]*)`', text):
        yield re.sub(r"\$\{.*?\}", "X", plain or template)


def _sentences(texts: Iterable[str], where: str, only_prose: bool = False) -> Iterator[Sentence]:
    for text in texts:
        whole = " ".join(text.split())
        if only_prose and not re.match(r"[A-Z“X].*[a-z] [a-z]", whole):
            continue
        for sentence in re.split(r"(?<=[.?!])\s+", whole):
            if re.search(r"[a-z]{2}", sentence):
                yield Sentence(where, sentence)


def spoken() -> Iterator[Sentence]:
    """Yield every sentence; a value that is filled in stands as X."""
    for path in sorted(ROOT.rglob("*")):
        where = str(path.relative_to(ROOT))
        if "vendor" in where or not path.is_file():
            continue
        if path.suffix == ".html":
            yield from _sentences(_of_template(path.read_text()), where)
        elif path.suffix == ".toml":
            yield from _sentences(_of_knowledge(tomllib.loads(path.read_text())), where)
        elif path.suffix == ".py":
            yield from _sentences(_of_python(path.read_text()), where, only_prose=True)
        elif path.suffix == ".js":
            yield from _sentences(_of_script(path.read_text()), where, only_prose=True)
