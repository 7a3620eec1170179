"""Loading the library: each file is checked against its schema once, when it is first asked for."""

import tomllib
from functools import cache
from importlib.resources import files
from typing import Literal

from pydantic import BaseModel, ConfigDict


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Caution(Strict):
    """A caution of at most two sentences, with the screens that show it."""

    id: str
    title: str
    text: str
    screens: tuple[str, ...]
    when: str
    tone: Literal["plain", "quiet", "urgent"]
    reviewed_by_clinician: bool
    source: str


class Family(Strict):
    id: str
    name: str


class Instrument(Strict):
    id: str
    name: str
    family: str


class Wording(Strict):
    """What is said for one finding code."""

    sentence: str
    rule: str
    do: str
    source: str


def _toml(name: str) -> dict[str, object]:
    return tomllib.loads(files("chirotend.library").joinpath(f"{name}.toml").read_text(encoding="utf-8"))


@cache
def cautions() -> tuple[Caution, ...]:
    return tuple(Caution.model_validate(c) for c in _toml("cautions")["caution"])  # type: ignore[attr-defined]


def cautions_for(screen: str) -> list[Caution]:
    """Return the cautions that `screen` always shows, urgent ones first."""
    order = {"urgent": 0, "plain": 1, "quiet": 2}
    found = [c for c in cautions() if screen in c.screens and c.when == "always"]
    return sorted(found, key=lambda c: order[c.tone])


@cache
def families() -> dict[str, Family]:
    return {f["id"]: Family.model_validate(f) for f in _toml("instruments")["family"]}  # type: ignore[attr-defined]


@cache
def instruments() -> dict[str, Instrument]:
    """Return the instruments by id; one whose family is unknown is refused."""
    found = {i["id"]: Instrument.model_validate(i) for i in _toml("instruments")["instrument"]}  # type: ignore[attr-defined]
    unknown = {i.family for i in found.values()} - set(families())
    if unknown:
        raise ValueError(f"instruments.toml: unknown family {sorted(unknown)}")
    return found


def instrument_name(instrument: str) -> str:
    """Return the name of a library id, or the player's own word unchanged."""
    known = instruments().get(instrument)
    return known.name if known else instrument


@cache
def wordings() -> dict[str, Wording]:
    return {code: Wording.model_validate(w) for code, w in _toml("sentences").items()}
