"""How numbers, days and times are written on the screen."""

from collections.abc import Iterable
from datetime import date, datetime
from typing import Any
from uuid import uuid4

from flask import Flask
from flask_login import current_user

from chirotend.core.judge.rules import rules as call_rules
from chirotend.core.record.session import SESSION_TEXTS
from chirotend.core.record.shape import TEXT_MAX
from chirotend.drawing import signs
from chirotend.library.loader import cautions_for
from chirotend.library.schema import Caution
from chirotend.services import units, words
from chirotend.services.kit import own_library
from chirotend.services.score.score_page import by_region
from chirotend.services.today.happened import states_of
from chirotend.web.field_errors import was_refused
from chirotend.web.markup import quarter_line, score_line, small_score_line, stops, svg, zone_list, zone_paths
from chirotend.web.transaction import context, now


def init_app(app: Flask) -> None:
    app.jinja_env.filters.update(
        day=long_day,
        short_day=short_day,
        month=month,
        amount=words.amount,
        ordinal=words.ordinal,
        clock=clock,
        minutes=minutes,
        num=number,
        svg=svg,
        stops=stops,
        score_line=score_line,
        quarter_line=quarter_line,
        small_score_line=small_score_line,
        zone_list=zone_list,
        zone_paths=zone_paths,
        instrument=instrument,
        as_length=length,
        as_mass=mass,
        pairs=pairs,
        named=named,
        dict=dict,
        instruments_named=instruments_named,
    )
    app.jinja_env.globals.update(
        new_id=lambda: uuid4().hex,
        was_refused=was_refused,
        words=words,
        by_region=by_region,
        symptom=signs.symptom,
        call_sign=signs.call,
        sign_radius=signs.sign_radius,
        cautions_for=_cautions_for,
        text_max=TEXT_MAX,
        session_texts=SESSION_TEXTS,
        rules_version=call_rules().version,
    )
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True

    @app.context_processor
    def page_context() -> dict[str, object]:
        return {"here": context, "page_now": lambda: now().isoformat()}


def _cautions_for(*screens: str) -> list[Caution]:
    """The cautions of one or more screens, for the player who is signed in."""
    return cautions_for(screens, states_of(context()) if current_user.is_authenticated else ())


def long_day(day: date) -> str:
    return words.day_words(day)


def month(day: date) -> str:
    """November 2026."""
    return f"{day:%B} {day.year}"


def short_day(day: date) -> str:
    return f"{day:%a} {day.day} {day:%b}"


def clock(at: datetime | None) -> str:
    """The local time of the player, written 19.00."""
    return f"{at.astimezone(context().zone):%H.%M}" if at else ""


def instrument(name: str) -> str:
    """The name of an instrument of the library or of her own, or the word itself."""
    return own_library.name_of(context(), name) if name else ""


def pairs(words: Iterable[str]) -> list[tuple[str, str]]:
    """Words as choices that are called what they are."""
    return [(w, w) for w in words]


def named(entries: Iterable[Any]) -> list[tuple[str, str]]:
    """Entries of the library as choices."""
    return [(e.id, e.name) for e in entries]


def instruments_named(ids: Iterable[str]) -> list[tuple[str, str]]:
    """Instruments as choices."""
    return [(i, instrument(i)) for i in ids]


def length(mm: float | None) -> str:
    return units.length(context(), mm)


def mass(g: float | None) -> str:
    return units.mass(context(), g)


def minutes(value: float | None) -> str:
    """43 min, 3 h 15."""
    return "–" if value is None else words.long_time(value)


def number(value: float | None, digits: int = 0) -> str:
    return "–" if value is None else f"{value:.{digits}f}"
