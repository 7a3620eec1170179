"""What she can do: up to three activities she names, each from 0 (not at all) to 10 (as before), answered again."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from itertools import count

from chirotend.core.review.important_change import psfs_change
from chirotend.drawing.series_days import small_series
from chirotend.formats.probe_data import Activities
from chirotend.services.context import Context, FieldError
from chirotend.services.technique import probes
from chirotend.services.technique.lines import ProbeLine, never_done
from chirotend.services.technique.probes import About, Probe
from chirotend.services.units import whole
from chirotend.services.words import day_words, sentence

METHOD = "able.mean"
MOST, NAME_MOST = 3, 60


@dataclass(frozen=True)
class Asked:
    """An activity of the form: its number from 1, its name, what she said last ("" = never)."""

    number: int
    name: str
    last: str


@dataclass(frozen=True)
class ActivitiesPage:
    """The activities: what is found, what to do next, the form's rows, answers about the same ones, newest first."""

    headline: str
    beside: str
    rule: str
    next: str
    asked: tuple[Asked, ...]
    names: tuple[str, ...]
    answers: tuple[tuple[str, date, tuple[float, ...], float], ...]


def activities_page(context: Context) -> ActivitiesPage:
    """Return what she can do, as she said it last."""
    found = probes.of_kind(context, Activities)
    last = found[-1] if found else None
    same = _same(context, last) if last else []
    said = _in_words(context, last) if last else (sentence("technique", "able_first"), "", "", "")
    names = tuple(last.data.names) if last else ()
    ratings = [f"{r:g}" for r in last.data.ratings] if last else []
    padded = [*zip(names, ratings, strict=True), *[("", "")] * (MOST - len(names))]
    return ActivitiesPage(
        *said,
        tuple(Asked(n, name, rating) for n, (name, rating) in enumerate(padded, start=1)),
        names,
        tuple((p.uid, p.day, tuple(p.data.ratings), _mean(p)) for p in reversed(same)),
    )


def _mean(p: Probe[Activities]) -> float:
    return sum(p.data.ratings) / len(p.data.ratings)


def answer(context: Context, typed: Mapping[str, str]) -> None:
    """Keep an answer; other names than last time begin another series. `FieldError` at the field that cannot be."""
    names: list[str] = []
    ratings: list[float] = []
    for n in range(1, MOST + 1):
        name, rating = typed.get(f"name{n}", "").strip(), typed.get(f"rating{n}", "")
        if not name and not rating:
            continue
        names.append(_name(f"name{n}", name, names))
        ratings.append(_rating(f"rating{n}", rating))
    if not names:
        raise FieldError("name1", "Name one thing that is hard now.")
    data = Activities(names=names, ratings=ratings)
    probes.keep_whole(context, About(what=_since(context, names)), data, {METHOD: sum(ratings) / len(ratings)})


def _since(context: Context, names: list[str]) -> str:
    """What joins the answers about the same activities: the day of the first one, counted where a day has several."""
    before = probes.of_kind(context, Activities, most=1)
    if before and before[0].data.names == names:
        return before[0].about.what
    day = f"since {context.today:%-d %b %Y}"
    taken = {p.about.what for p in probes.every(context, Activities, context.today)}
    return next(what for n in count(1) if (what := day if n == 1 else f"{day} ({n})") not in taken)


def _same(context: Context, last: Probe[Activities]) -> list[Probe[Activities]]:
    """The latest answers about the same activities, oldest first."""
    return [p for p in probes.alike(context, last) if p.data.names == last.data.names]


def _name(field: str, name: str, names: list[str]) -> str:
    if not name:
        raise FieldError(field, "Name what you rated.")
    if len(name) > NAME_MOST:
        raise FieldError(field, f"At most {NAME_MOST} characters.")
    if name in names:
        raise FieldError(field, "This stands here twice. Name another thing, or leave the row empty.")
    return name


def _rating(field: str, text: str) -> float:
    value = whole(text)
    if value is None or value > 10:
        raise FieldError(field, "Say how well you can do it: 0 to 10.")
    return float(value)


def _first(context: Context, last: Probe[Activities]) -> Probe[Activities]:
    """The first answer about the same activities. A deletion undone late can bring another list back: that is none."""
    first = probes.first_alike(context, last)
    return first if first.data.names == last.data.names else last


def _in_words(context: Context, last: Probe[Activities]) -> tuple[str, str, str, str]:
    """The newest answer, how it lies to the first about the same activities, by what that is told, what to do next."""
    first = _first(context, last)
    found = psfs_change(first.data.ratings, last.data.ratings)
    day, before, do = day_words(first.day), f"{_mean(first):.1f}", sentence("technique", "able_do")
    rule = sentence("technique", "able_rule", needed=f"{found.needed:g}")
    now = sentence("technique", "able_now", mean=f"{_mean(last):.1f}")
    if first.uid == last.uid:
        return now, sentence("technique", "able_one"), rule, do
    if not found.detectable:
        return now, sentence("technique", "able_same", day=day, before=before), rule, do
    if found.change > 0:
        return now, sentence("technique", "able_more", day=day, before=before), rule, do
    less_do = sentence("technique", "able_less_do")
    return now, sentence("technique", "able_less", day=day, before=before), rule, less_do


def line(context: Context) -> ProbeLine:
    """Return the line of the bench: the mean of the newest answer with those about the same activities."""
    found = probes.of_kind(context, Activities, most=1)
    if not found:
        return never_done(
            Activities.kind,
            "What you can do",
            sentence("technique", "able_first"),
            "Answer now",
            "technique.activities",
        )
    last = found[0]
    _, beside, _, _ = _in_words(context, last)
    return ProbeLine(
        Activities.kind,
        "What you can do",
        last.day,
        f"{_mean(last):.1f}",
        "of 10, as before",
        small_series([(p.day, _mean(p)) for p in _same(context, last)][-12:], None, ""),
        beside,
        "Answer now",
        "technique.activities",
    )
