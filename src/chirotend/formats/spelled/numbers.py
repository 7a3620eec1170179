"""Numbers as people write them: 3, 3,5, 3½, 3/10, 3–4, ca. 3."""

import re
from dataclasses import dataclass

from chirotend.core.memos import by_value

NUMBER = r"\d{1,6}(?:[.,]\d{1,6})?"
_HALVES = {"½": ".5", "¼": ".25", "¾": ".75"}
_ABOUT = re.compile(r"^(?:~|≈|about|approx\.?|ca\.?|circa|etwa|env\.?|environ)\s*", re.IGNORECASE)
_FORM = re.compile(
    rf"(?P<low>{NUMBER})(?:\s*(?:-|–|—|\bto\b|\bbis\b|\bà\b)\s*(?P<high>{NUMBER}))?(?:\s*(?:/|\bof\b|\bvon\b|\bsur\b)\s*(?P<of>{NUMBER}))?\s*\+?"
)


@dataclass(frozen=True)
class SpelledNumber:
    """A number; `high` when two were written ("3–4"), `out_of` when its end was ("3/5")."""

    low: float
    high: float | None = None
    out_of: float | None = None

    @property
    def middle(self) -> float:
        return self.low if self.high is None else (self.low + self.high) / 2


def as_number(text: str) -> float:
    """Return what digits with a point or a comma say."""
    return float(text.replace(",", "."))


def tidied(text: str) -> str:
    """Return `text` without "about", its halves as decimals: "ca. 1½" becomes "1.5"."""
    found = _ABOUT.sub("", text.strip())
    for sign, decimal in _HALVES.items():
        if sign in found:
            found = re.sub(rf"(\d)\s?{sign}", rf"\g<1>{decimal}", found).replace(sign, "0" + decimal)
    return re.sub(r"\b(\d) 1/2\b", r"\1.5", found)


@by_value(20_000)
def number_of(text: str) -> SpelledNumber | None:
    """Return the number that `text` spells, or None."""
    found = _FORM.fullmatch(tidied(text))
    if found is None:
        return None
    high, out_of = found["high"], found["of"]
    spelled = SpelledNumber(
        as_number(found["low"]), as_number(high) if high else None, as_number(out_of) if out_of else None
    )
    backwards = spelled.high is not None and spelled.high <= spelled.low
    return None if backwards or spelled.out_of == 0 else spelled
