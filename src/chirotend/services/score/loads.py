"""Load of both hands over seven days: by place beside its own usual, and the week's sums, each with its rule."""

import math
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.body.zones import LEDGER_REGIONS, STAFF_REGIONS
from chirotend.core.judge.baseline import baseline_week
from chirotend.core.load.places import Asks, PlaceLoads, place_loads
from chirotend.core.load.weeks import WEEK, LoadWeek, load_week
from chirotend.core.record import Block, Place
from chirotend.drawing.hands_load import HandRow, PlaceBar, hands_load
from chirotend.drawing.measured import Picture
from chirotend.library.loader import load_wordings, other_uses
from chirotend.services.context import Context
from chirotend.services.kit import demands, own_library
from chirotend.services.words import SHORT_REGIONS, amount, day_words, long_time, place_name
from chirotend.store.models import AimRow, PlannedRow

#: days read before the last: six weeks of usual that end a week ago, and the week before their first sum
ROOM_DAYS = 63


@dataclass(frozen=True)
class Said:
    """A sentence of the page with its rule and source."""

    sentence: str
    rule: str
    source: str


@dataclass(frozen=True)
class LoadsPage:
    """The seven days that end with `last`: the drawing, wide and narrow, its facts as a table, the week's sums."""

    last: date
    wide: Picture
    narrow: Picture
    places: tuple[tuple[str, PlaceBar], ...]
    lines: tuple[Said, ...]


def loads_page(context: Context, last: date) -> LoadsPage:
    """Return the loads of the seven days that end with `last`."""
    first = last - timedelta(days=ROOM_DAYS)
    record = context.store.record(first, last)
    planned = {
        p.uid: p for p in context.store.repository(PlannedRow).all(PlannedRow.day >= first, PlannedRow.day <= last)
    }
    aims = {a.uid: a for a in context.store.repository(AimRow).all(AimRow.week >= first - timedelta(days=WEEK))}
    by_block = {uid: aims[p.aim_uid] for uid, p in planned.items() if p.aim_uid in aims}
    loads = place_loads(record, first, last, _asks(context, by_block))
    bars = {place: _bar(loads, place, last) for place in loads.by_place}
    week = load_week(record, last, {uid for uid, a in by_block.items() if a.new_hard})
    return LoadsPage(
        last,
        hands_load(_rows(bars, {})),
        hands_load(_rows(bars, SHORT_REGIONS), width=354, middle=90),
        tuple((place_name(p), bar) for p, bar in sorted(bars.items())),
        (*_over(bars), *_week_lines(week), *_untold(loads)),
    )


def _rows(bars: dict[Place, PlaceBar], names: dict[str, str]) -> list[HandRow]:
    regions = (*STAFF_REGIONS, *LEDGER_REGIONS)
    return [HandRow(names.get(r, r), *(bars.get((r, side)) for side in ("left", "right", "none"))) for r in regions]


def _asks(context: Context, aim_by_block: dict[str, AimRow]) -> Asks:
    """What a block asks of which places: its instrument with the grip of its aim, or another use of the hands."""
    by_instrument = {k: demands.of_instrument(context, i) for k, i in own_library.instruments(context).items()}
    by_grip = {k: demands.of_grip(g) for k, g in own_library.grips(context).items()}
    by_use = {k: demands.of_use(u) for k, u in other_uses().items()}

    def asked(block: Block) -> frozenset[Place] | None:
        if block.kind == "other":
            return by_use.get(block.instrument)
        places = by_instrument.get(block.instrument)
        aim = aim_by_block.get(block.planned)
        return places if places is None or aim is None else places | by_grip.get(aim.grip, frozenset())

    return asked


def _bar(loads: PlaceLoads, place: Place, last: date) -> PlaceBar:
    load, known = loads.week(place, last)
    usual = baseline_week(loads.by_place[place], (last - loads.first).days)
    return PlaceBar(load if known else None, (usual.low, usual.high) if usual else None)


def _over(bars: dict[Place, PlaceBar]) -> list[Said]:
    """One line for every place above its usual week, the furthest above first."""
    over = {
        place: bar.load / bar.usual[1] if bar.usual[1] else math.inf
        for place, bar in bars.items()
        if bar.load is not None and bar.usual is not None and bar.load > bar.usual[1]
    }
    if not over:
        return []
    names = [f"{place_name(place)} ({_above(share)})" for place, share in sorted(over.items(), key=_most)]
    return [_load_in_words("over", places=", ".join(names))]


def _above(share: float) -> str:
    """How far above its usual week a place is; of one that usually has none no share can be said."""
    return "usually none" if math.isinf(share) else f"{100 * (share - 1):.0f}\u00a0%"


def _most(item: tuple[Place, float]) -> tuple[float, Place]:
    return -item[1], item[0]


def _week_lines(week: LoadWeek) -> list[Said]:
    return [_minutes(week), _alike(week), _dense(week), *_new_and_hard(week), _since_rest(week)]


def _minutes(week: LoadWeek) -> Said:
    played = long_time(week.minutes)
    if week.change_min is None:
        code = "minutes_partly" if week.known else "nothing_written"
        return _load_in_words(code, minutes=played, known=amount(week.known, "day"))
    if round(week.change_min) == 0:
        return _load_in_words("minutes_same", minutes=played)
    change = f"{long_time(abs(week.change_min))} {'more' if week.change_min > 0 else 'less'}"
    return _load_in_words("minutes", minutes=played, change=change)


def _alike(week: LoadWeek) -> Said:
    if week.summary is None:
        return _load_in_words("all_alike" if week.alike else "not_all_known")
    monotony = week.summary.monotony
    how = "much alike" if monotony > 2 else "rather alike" if monotony > 1 else "unlike one another"
    return _load_in_words("alike", monotony=f"{monotony:.1f}", words=how, strain=f"{week.summary.strain:.0f}")


def _dense(week: LoadWeek) -> Said:
    return _load_in_words("dense", week=amount(week.performances[0], "performance"), month=str(week.performances[1]))


def _new_and_hard(week: LoadWeek) -> list[Said]:
    if not week.minutes:
        return []
    values = {
        "new": long_time(week.new_min),
        "new_pct": f"{100 * week.new_min / week.minutes:.0f}",
        "hard": long_time(week.hard_min),
        "hard_pct": f"{100 * week.hard_min / week.minutes:.0f}",
    }
    unrated = [_load_in_words("unrated", minutes=long_time(week.unrated_min))] if week.unrated_min else []
    return [_load_in_words("new_and_hard", **values), *unrated]


def _since_rest(week: LoadWeek) -> Said:
    if week.rest_day is None or week.hours_since is None:
        return _load_in_words("no_rest")
    return _load_in_words("since_rest", hours=long_time(week.hours_since * 60), day=day_words(week.rest_day))


def _untold(loads: PlaceLoads) -> list[Said]:
    return [_load_in_words("untold", minutes=long_time(loads.untold_min))] if loads.untold_min else []


def _load_in_words(code: str, **values: str) -> Said:
    w = load_wordings()[code]
    return Said(w.sentence.format(**values), w.rule, w.source)
