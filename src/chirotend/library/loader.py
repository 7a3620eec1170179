"""Loading the library: each file is checked against its schema once, when it is first asked for."""

import tomllib
from collections.abc import Collection, Mapping
from functools import cache
from importlib.resources import files
from typing import Annotated, Any, TypeVar

from pydantic import Field, TypeAdapter

from chirotend.core.body.redflags import red_flags
from chirotend.core.body.zones import zones
from chirotend.core.load.part import WEIGHTS
from chirotend.core.record.words import BLOCK_KINDS, SLEEP, SYMPTOM_KINDS, TIMINGS
from chirotend.library.schema import (
    BackgroundMethod,
    CardProblem,
    CarryLayout,
    Caution,
    DiaryColumn,
    DiaryWord,
    Door,
    ExerciseEntry,
    Family,
    FirstDaysStep,
    Grip,
    HelpQuestion,
    HoleLayout,
    Instrument,
    KindWords,
    OtherComplaint,
    OtherUse,
    PartWording,
    ProgrammeEntry,
    PromptEntry,
    RestGuide,
    SelfCheck,
    StickModel,
    Strict,
    SymptomPattern,
    Wording,
)

T = TypeVar("T", bound=Strict)


SENTENCES = TypeAdapter(dict[str, Annotated[str, Field(min_length=8)]])


@cache
def _toml(name: str) -> Mapping[str, list[dict[str, object]]]:
    return tomllib.loads(files("chirotend.library").joinpath(f"{name}.toml").read_text(encoding="utf-8"))


def _by_id(file: str, table: str, schema: type[T]) -> dict[str, T]:
    found: dict[str, T] = {}
    for each in _toml(file)[table]:
        entry: Any = schema.model_validate(each)
        key = str(entry.id)
        if key in found:
            raise ValueError(f"{file}.toml: {table} “{key}” stands there twice")
        found[key] = entry
    return found


@cache
def cautions() -> tuple[Caution, ...]:
    return tuple(_by_id("said/cautions", "caution", Caution).values())


def cautions_for(screens: Collection[str], states: Collection[str] = ()) -> list[Caution]:
    """Return the cautions of `screens`, urgent ones first: those for everyone, and those for what she said she is."""
    order = {"urgent": 0, "plain": 1, "quiet": 2}
    wanted = set(screens)
    found = [c for c in cautions() if wanted & set(c.screens) and (c.when == "always" or c.when in states)]
    return sorted(found, key=lambda c: order[c.tone])


@cache
def families() -> dict[str, Family]:
    return _by_id("instruments", "family", Family)


def _of_known_families(file: str, entries: Mapping[str, T], named: Mapping[str, tuple[str, ...]]) -> None:
    known = {*families(), "all"}
    for key in entries:
        if unknown := set(named[key]) - known:
            raise ValueError(f"{file}.toml: “{key}” names unknown families {sorted(unknown)}")


@cache
def instruments() -> dict[str, Instrument]:
    """Return the instruments by id; one whose family is unknown is refused."""
    found = _by_id("instruments", "instrument", Instrument)
    _of_known_families("instruments", found, {k: (i.family,) for k, i in found.items()})
    return found


@cache
def grips() -> dict[str, Grip]:
    """Return the grips, holds, seats and supports by id."""
    found = _by_id("grips", "grip", Grip)
    _of_known_families("grips", found, {k: g.families for k, g in found.items()})
    return found


@cache
def exercises() -> dict[str, ExerciseEntry]:
    """Return the exercises by id."""
    found = _by_id("exercises", "exercise", ExerciseEntry)
    _of_known_families("exercises", found, {k: e.families for k, e in found.items()})
    for key, entry in found.items():
        if unknown := {*entry.only_on, *entry.not_on} - set(instruments()):
            raise ValueError(f"exercises.toml: “{key}” names unknown instruments {sorted(unknown)}")
    return found


@cache
def carry_layouts() -> dict[str, CarryLayout]:
    """Return the ways of carrying that the bench starts from, by id."""
    return _by_id("equipment_bench", "carry", CarryLayout)


@cache
def hole_layouts() -> dict[str, HoleLayout]:
    return _by_id("equipment_bench", "holes", HoleLayout)


@cache
def programmes() -> dict[str, ProgrammeEntry]:
    """Return the programmes by id; one that excludes an unknown one is refused."""
    found = _by_id("programmes", "programme", ProgrammeEntry)
    for key, entry in found.items():
        if unknown := set(entry.excludes) - set(found):
            raise ValueError(f"programmes.toml: “{key}” excludes unknown programmes {sorted(unknown)}")
    return found


@cache
def dose_reasons() -> dict[str, str]:
    """Return why a dose of a programme is what it is: a sentence a code, {number} filled in."""
    return {str(code): str(said["sentence"]) for code, said in _toml("said/programme").items()}  # type: ignore[call-overload]


@cache
def part_wordings() -> dict[str, PartWording]:
    """Return what is said of what a bar of a part asks, by its code."""
    found = {code: PartWording.model_validate(said) for code, said in _toml("said/part").items()}
    if set(found) != set(WEIGHTS):
        raise ValueError(f"part.toml: {sorted(set(found) ^ set(WEIGHTS))} are said or asked alone")
    return found


@cache
def retraining_schools() -> dict[str, ProgrammeEntry]:
    """Return the schools of changing a hold for good, by the name of the school."""
    return {entry.school: entry for entry in programmes().values() if entry.school}


@cache
def other_complaints() -> tuple[OtherComplaint, ...]:
    return tuple(_by_id("said/whom", "complaint", OtherComplaint).values())


@cache
def help_questions() -> tuple[HelpQuestion, ...]:
    return tuple(_by_id("said/help", "question", HelpQuestion).values())


@cache
def stick_models() -> dict[str, StickModel]:
    return _by_id("equipment_bench", "stick", StickModel)


@cache
def symptom_patterns() -> dict[str, SymptomPattern]:
    """Return the symptom patterns by id; one that asks for an unknown urgent sign is refused."""
    found = _by_id("patterns", "pattern", SymptomPattern)
    for key, pattern in found.items():
        asked = {
            *pattern.ask_first,
            *(s.code for s in pattern.sooner_if),
            *(c for t in pattern.together_if for c in t.codes),
        }
        if unknown := asked - set(red_flags()):
            raise ValueError(f"patterns.toml: “{key}” asks for unknown signs {sorted(unknown)}")
    return found


@cache
def self_checks() -> dict[str, SelfCheck]:
    return _by_id("said/self_checks", "check", SelfCheck)


@cache
def first_days_steps() -> tuple[FirstDaysStep, ...]:
    return tuple(_by_id("said/first_days", "ahead", FirstDaysStep).values())


@cache
def diary_columns() -> dict[str, str]:
    """Return what each word of a diary's first line means."""
    found: dict[str, str] = {}
    for column in (DiaryColumn.model_validate(each) for each in _toml("diary_words")["column"]):
        _once(found, dict.fromkeys(column.words, column.meaning), "column")
    return found


@cache
def diary_words(of: str) -> dict[str, str]:
    """Return what each word of a list in diaries means here: a listed word, zone, instrument or number."""
    known: dict[str, Collection[str]] = {
        "kind": BLOCK_KINDS,
        "symptom": SYMPTOM_KINDS,
        "timing": TIMINGS,
        "sleep": SLEEP,
        "zone": zones(),
        "instrument": instruments(),
    }
    found: dict[str, str] = {}
    for word in (DiaryWord.model_validate(each) for each in _toml("diary_words")["word"]):
        if word.of == of:
            if of in known and word.to not in known[of]:
                raise ValueError(f"diary_words.toml: {of} has no “{word.to}”")
            _once(found, dict.fromkeys(word.words, word.to), of)
    return found


def _once(found: dict[str, str], more: dict[str, str], of: str) -> None:
    if twice := set(found) & set(more):
        raise ValueError(f"diary_words.toml: {of} {sorted(twice)} stand there twice")
    found |= more


@cache
def card_problems() -> dict[str, CardProblem]:
    return _by_id("said/concert_card", "problem", CardProblem)


@cache
def doors() -> dict[str, Door]:
    return _by_id("said/happened", "door", Door)


@cache
def prompts() -> dict[str, PromptEntry]:
    return _by_id("said/stand", "prompt", PromptEntry)


@cache
def rest_guides() -> tuple[RestGuide, ...]:
    return tuple(_by_id("said/stand", "rest", RestGuide).values())


@cache
def other_uses() -> dict[str, OtherUse]:
    return _by_id("days", "other_use", OtherUse)


@cache
def background_methods() -> dict[str, BackgroundMethod]:
    """Return the methods made for other people than players, by id."""
    return _by_id("background", "method", BackgroundMethod)


@cache
def kind_words() -> tuple[KindWords, ...]:
    return tuple(KindWords.model_validate(k) for k in _toml("days")["engagement"])


def instrument_name(instrument: str) -> str:
    """Return the name of a library id (an instrument, another use of the hands), or the player's own word."""
    known = instruments().get(instrument) or other_uses().get(instrument)
    return known.name if known else instrument


@cache
def wordings() -> dict[str, Wording]:
    return {code: Wording.model_validate(w) for code, w in _toml("said/call").items()}


@cache
def sentences(subject: str) -> Mapping[str, str]:
    """Return the sentences of `said/<subject>.toml` by code; what is filled in stands in braces."""
    by_code: dict[str, str] = SENTENCES.validate_python(_toml(f"said/{subject}"))
    return by_code


@cache
def jump_wordings() -> dict[str, Wording]:
    """Return what is said of each jump in the days ahead."""
    return {code: Wording.model_validate(w) for code, w in _toml("said/jumps").items()}


@cache
def review_wordings() -> dict[str, Wording]:
    """Return what is said of each line of a week that is read back."""
    return {code: Wording.model_validate(w) for code, w in _toml("said/review").items()}


@cache
def load_wordings() -> dict[str, Wording]:
    """Return what is said of each number of a week's load."""
    return {code: Wording.model_validate(w) for code, w in _toml("said/load").items()}
