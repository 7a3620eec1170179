"""A line of the bench: a probe with its newest value and day, its history as a small drawing, a sentence, one link."""

from dataclasses import dataclass
from datetime import date

from chirotend.drawing.measured import Picture
from chirotend.services.words import amount, day_words


@dataclass(frozen=True)
class ProbeLine:
    """One probe on the bench. `day` None = never done: no value, no drawing, and `sentence` invites."""

    kind: str
    name: str
    day: date | None
    value: str
    value_words: str
    picture: Picture | None
    sentence: str
    action: str
    #: the address of its page, by name
    endpoint: str

    def when(self, today: date) -> str:
        """Return its day in words with its age: no value stands without its date."""
        if self.day is None:
            return "not yet"
        return f"{day_words(self.day)}, {ago(self.day, today)}"


def never_done(kind: str, name: str, sentence: str, action: str, endpoint: str) -> ProbeLine:
    """Return the line of a probe that was never done: its sentence invites."""
    return ProbeLine(kind, name, None, "", "", None, sentence, action, endpoint)


def ago(day: date, today: date) -> str:
    """Return how long ago a day was, in words."""
    days = (today - day).days
    return "today" if days == 0 else "yesterday" if days == 1 else f"{amount(days, 'day')} ago"
