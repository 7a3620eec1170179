"""What she answered on the page of a diary, and what of it is remembered for the next."""

import copy
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, ValidationError

from chirotend.core.errors import MethodError
from chirotend.formats.diary.match import Answered, Column, Match
from chirotend.formats.diary.text import ENCODINGS
from chirotend.formats.diary.words import meaning_is_allowed
from chirotend.services.context import Context, FieldError
from chirotend.store.models import HabitRow

WORDS = "words"
SHAPE = "shape "


def _known_words(words: dict[str, str]) -> dict[str, str]:
    for key, to in words.items():
        if not meaning_is_allowed(key.partition(" ")[0], to):
            raise ValueError(f"“{key.partition(' ')[2]}” cannot mean “{to}”")
    return words


HerWords = Annotated[dict[Annotated[str, Field(max_length=200)], str], AfterValidator(_known_words)]


class Answers(Answered):
    """Her answers by table (its number in the files), by word, and for the whole."""

    tables: dict[int, Match] = Field(default_factory=dict)
    words: HerWords = Field(default_factory=dict)
    #: what text files were written in, where she says it
    encodings: dict[int, Literal[tuple(ENCODINGS)]] = Field(default_factory=dict)  # type: ignore[valid-type]
    #: sessions that look like ones that are there: the same ones, or new
    alike: Literal["", "same", "new"] = ""
    #: a whole record brought into one that is not empty: add what is missing, or replace everything
    whole: Literal["", "add", "replace"] = ""
    #: changes she ticked or took the tick from, by key
    changes: dict[str, bool] = Field(default_factory=dict)


def check_habit(key: str, document: Mapping[str, Any]) -> None:
    """Raise `ValueError` when a kept habit could not have come from the page of a diary."""
    if key == WORDS:
        Answers(words=dict(document))
    elif key.startswith(SHAPE):
        Match.model_validate(document)
    else:
        raise ValueError(f"there is no habit “{key}”")


def remembered(context: Context, shape: str) -> Match:
    """Return what she said of the last table with this first line."""
    row = context.store.repository(HabitRow).get(SHAPE + shape)
    return Match.model_validate(row.document) if row is not None else Match()


def her_words(context: Context) -> dict[str, str]:
    """Return what her own words mean, by "list word"."""
    row = context.store.repository(HabitRow).get(WORDS)
    return dict(row.document) if row is not None else {}


def remember(context: Context, shape: str, habits: Match) -> None:
    """Keep how a table with this first line is read."""
    context.store.repository(HabitRow).put({"key": SHAPE + shape, "document": habits.model_dump(mode="json")})


def keep_words(context: Context, words: Mapping[str, str]) -> None:
    """Keep what her words mean beside those that are kept already."""
    if words:
        context.store.repository(HabitRow).put({"key": WORDS, "document": {**her_words(context), **words}})


def change_word(context: Context, key: str, to: str) -> None:
    """Let a kept word mean something else; "" forgets it. `FieldError` when it cannot mean that."""
    words = her_words(context)
    if key not in words or (to and not meaning_is_allowed(key.partition(" ")[0], to)):
        raise FieldError("word", "Choose one of the words that are kept, and a meaning of its list.")
    kept = {k: (to if k == key else old) for k, old in words.items() if k != key or to}
    context.store.repository(HabitRow).put({"key": WORDS, "document": kept})


def answered(before: Answers, typed: Mapping[str, str], shown: Mapping[str, Any]) -> Answers:
    """Return `before` with what was typed on the page `shown`; only what differs from what stood there is an answer.

    The fields are named as the page names them: `column.0.3`, `order.0`, `word.zone thumb`, `mend.0.17.2`, `odd.0.17`,
    `encoding.0`, `alike`, `change.day 2026-10-12`.
    """
    found = before.model_dump()
    try:
        for name, value in typed.items():
            _take(found, name, value, shown)
        return Answers.model_validate(found)
    except (ValidationError, MethodError, ValueError, KeyError, IndexError) as error:
        raise FieldError("answers", "An answer on this page is none of those offered. Choose it again.") from error


def _take(found: dict[str, Any], name: str, value: str, shown: Mapping[str, Any]) -> None:
    what, _, rest = name.partition(".")
    if what == "word":
        if value != shown["words"].get(rest):
            found["words"][rest] = value
    elif what == "alike":
        if value != (found["alike"] or "same"):
            found["alike"] = value
    elif what == "whole":
        if value != (found["whole"] or "add"):
            found["whole"] = value
    elif what == "change":
        now = {c["key"]: c["taken"] for c in shown["changes"]}
        if rest in now and (value == "yes") != now[rest]:
            found["changes"][rest] = value == "yes"
    elif what == "encoding":
        if value != shown["encodings"].get(rest):
            found["encodings"][int(rest)] = value
    elif what in ("column", "mend", "odd") or what in Match.model_fields:
        _take_of_table(found["tables"], what, rest, value, shown)


def _take_of_table(tables: dict[int, Any], what: str, rest: str, value: str, shown: Mapping[str, Any]) -> None:
    number, _, place = rest.partition(".")
    table = shown["tables"][number]
    match = copy.deepcopy(tables.get(int(number)) or table["match"])
    said = match["columns"], match["mended"], match["odd"]
    columns, mended, odd = ({str(key): each for key, each in part.items()} for part in said)
    if what == "column":
        n, _, part = place.partition(".")
        now = table["columns"][int(n)]
        if value == now[part]:
            return
        columns[n] = Column(**{**(columns.get(n) or now), part: value}).model_dump()
    elif what == "mend":
        cell = place.replace(".", ":")
        if value == table["mendable"].get(cell):
            return
        mended[cell] = value
    elif what == "odd":
        if value == odd.get(place, ""):
            return
        odd[place] = value or "right"
    elif value == table["chosen"].get(what):
        return
    else:
        match[what] = int(value) if what in ("effort_of", "strength_of", "year") else value
    tables[int(number)] = {**match, "columns": columns, "mended": mended, "odd": odd}
