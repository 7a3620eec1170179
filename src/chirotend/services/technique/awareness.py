"""Looks at herself, a minute each: answered in one touch, counted by the week, each a row."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta

from chirotend.drawing.looks import looks_picture
from chirotend.drawing.measured import Picture
from chirotend.formats.probe_data import Awareness
from chirotend.library.probes import Look, looks
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.technique import probes
from chirotend.services.technique.probes import Probe
from chirotend.services.units import maybe

SET, MINUTES = "aware.", "aware_minutes."
WEEKS, MINUTES_MAX = 4, 240.0


@dataclass(frozen=True)
class Shown:
    """A look as the page shows it: its last four weeks as strokes, and how often it was set this week."""

    look: Look
    set: int
    asked: int
    minutes: float
    picture: Picture | None
    last: Probe[Awareness] | None


def shown(context: Context) -> list[Shown]:
    """Return every look with its last four weeks, in the order of the library."""
    first = context.today - timedelta(days=7 * WEEKS - 1)
    by_look: dict[str, list[Probe[Awareness]]] = {key: [] for key in looks()}
    for each in probes.of_kind(context, Awareness, first):
        by_look.get(each.data.asked, []).append(each)
    week = context.today - timedelta(days=6)
    found = []
    for key, look in looks().items():
        rows = by_look[key]
        recent = [p for p in rows if p.day >= week]
        counted = [p for p in recent if counts(look, p.data.answer) is not None]
        marks = [(p.day, counts(look, p.data.answer)) for p in rows]
        found.append(
            Shown(
                look,
                sum(counts(look, p.data.answer) is True for p in counted),
                len(counted),
                sum((p.data.seconds or 0.0) / 60 for p in recent),
                looks_picture(marks, context.today, WEEKS) if rows else None,
                rows[-1] if rows else None,
            )
        )
    return found


def counts(look: Look, answer: str) -> bool | None:
    """Return whether an answer counts as holding on; None = it counts neither way."""
    if answer == "not sure" or not look.set:
        return None
    return answer in look.set


def next_look(found: list[Shown]) -> Look:
    """Return the look while playing that was not answered for four weeks, else the one answered least this week."""
    playing = [s for s in found if s.look.when == "playing"]
    return min(playing, key=lambda s: (s.last is not None, s.asked)).look


def answer(context: Context, key: str, typed: Mapping[str, str]) -> None:
    """Keep an answer; `FieldError` at its field."""
    look = looks().get(key)
    if look is None:
        raise NotThere(key)
    said = typed.get("answer", "")
    if said not in look.answers:
        raise FieldError("answer", f"Say one of: {', '.join(look.answers)}.")
    minutes = maybe("minutes", "Minutes", typed.get("minutes", ""), 0, MINUTES_MAX) if look.minutes else None
    about = probes.about_of(context, {"instrument": typed.get("instrument", "") if look.when == "playing" else ""})
    data = Awareness(asked=key, answer=said, seconds=60 * minutes if minutes else None)
    values = {}
    if (held := counts(look, said)) is not None:
        values[SET + key] = float(held)
    if minutes:
        values[MINUTES + key] = minutes
    probes.keep_whole(context, about, data, values)


def after(key: str) -> str:
    """Return what to try next after the look that was answered; "" = none was."""
    return looks()[key].next if key in looks() else ""
