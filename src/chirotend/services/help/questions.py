"""Help: the questions a player may ask, found by their words."""

from chirotend.core.names import name_key
from chirotend.library.loader import help_questions
from chirotend.library.schema import HelpQuestion


def questions(words: str) -> tuple[HelpQuestion, ...]:
    """Return the questions that hold every one of the words, in their order; all of them without a word."""
    wanted = [name_key(word) for word in words.split()]
    return tuple(q for q in help_questions() if all(word in _text(q) for word in wanted))


def _text(question: HelpQuestion) -> str:
    return name_key(" ".join((question.ask, *question.answer, question.words)))
