"""What is asked about a diary because its cells cannot say: each question with her own cells as the example."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Option:
    """One answer: what it is called, and what it would do to her rows."""

    value: str
    name: str
    would: str = ""


@dataclass(frozen=True)
class Question:
    """A question: the answer's name in `Match`, how it is asked, the answers, and the one that holds now."""

    code: str
    asked: str
    options: tuple[Option, ...]
    chosen: str
    answered: bool


@dataclass(frozen=True)
class AskedWord:
    """A word of hers, how often it stands there, and what it is taken for; `of` is the list it belongs to."""

    of: str
    word: str
    count: int
    to: str
