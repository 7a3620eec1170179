"""Parts before the rehearsal: brought, read bar by bar for her hand, their heaviest bars laid into the week."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import uuid4

from chirotend.core.judge.usual import median
from chirotend.core.load.part import BarAsk, WrittenBar, WrittenNote, bar_asks, heaviest, let_gos, passages
from chirotend.core.plan.week_problem import monday
from chirotend.drawing.measured import Picture
from chirotend.drawing.part_ribbon import part_ribbon
from chirotend.formats import musicxml
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.kept_rows import PartData
from chirotend.formats.musicxml import WrittenPart
from chirotend.library.loader import part_wordings
from chirotend.services.desk import Desk, Refused
from chirotend.services.kit import hands, own_library
from chirotend.services.plan import week_aims
from chirotend.services.plan.week_aims import TITLE_MAX, TypedAim
from chirotend.services.record import corrections
from chirotend.services.units import decimal
from chirotend.services.words import listed
from chirotend.store.models import PartRow, PlannedRow

#: a move or chord is wide from so many semitones on, by family; on keys what her own span takes
WIDE = dict.fromkeys(("upper_bowed", "cello", "double_bass", "viols", "fretted", "electric_bass"), 9.0)
KEYS = ("keyboard", "organ", "accordion")
WIDE_ELSE, KEY_MM = 12.0, 13.7
PASSAGES_MOST, PASSAGE_MIN, USUAL_EFFORT = 5, 20.0, 5.0
REHEARSAL_MIN, WEEK_RUNS = 100.0, 4
#: new and hard to her: this share of its bars asks as much
HARD_WEIGHT, HARD_SHARE = 0.45, 0.15


@dataclass(frozen=True)
class HeavyBar:
    number: int
    asks: str
    tries: str


@dataclass(frozen=True)
class Forecast:
    """A use of the part: minutes, expected effort 0-10, load in AU."""

    name: str
    minutes: float
    effort: float

    @property
    def load(self) -> float:
        return self.minutes * self.effort


@dataclass(frozen=True)
class PartPage:
    row: PartRow
    bars: int
    notes: int
    minutes: float
    has_tempo: bool
    wide: float
    ribbon: Picture
    narrow: Picture
    heavy: tuple[HeavyBar, ...]
    passages: tuple[str, ...]
    let_go: tuple[int, ...]
    forecasts: tuple[Forecast, ...]
    calibrated: bool
    new_hard: bool


def all_parts(desk: Desk) -> list[PartRow]:
    return desk.store.shelf(PartRow).all(order=(PartRow.day.desc(), PartRow.title))


def bring(desk: Desk, name: str, data: bytes, typed: Mapping[str, str]) -> str:
    """Keep the part of a file that is hers; returns its id. `Refused` names the field."""
    instrument = typed.get("instrument", "")
    if instrument not in own_library.instruments(desk):
        raise Refused("instrument", "Choose the instrument it is for.")
    pace = decimal("pace", "Your tempo", typed.get("pace", "") or "100", 30, 200, "% of the written one") / 100
    if not data:
        raise Refused("file", "Choose the file of your part.")
    try:
        found = musicxml.read(data, name[:80] or "The file")
    except UnreadableFile as error:
        raise Refused("file", str(error)) from error
    part = _hers(desk, found.parts, instrument, typed.get("part", ""))
    uid = uuid4().hex
    kept = PartData(
        notes=[(n.onset, n.length, n.pitch, n.loud) for n in part.notes],
        bars=[(b.number, b.start, b.end, b.bpm) for b in part.bars],
        has_tempo=part.has_tempo,
    )
    title = " ".join((typed.get("title", "") or found.title).split())[:120] or part.name
    row = {"uid": uid, "title": title, "instrument": instrument, "day": desk.today, "pace": pace}
    corrections.put_row(desk, "part", {**row, "data": kept.model_dump(mode="json")})
    return uid


def _hers(desk: Desk, parts: tuple[WrittenPart, ...], instrument: str, asked: str) -> WrittenPart:
    """The part she names, or the one called as her instrument, or the only one."""
    sounding = [p for p in parts if p.notes]
    wanted = (asked or own_library.name_of(desk, instrument)).strip().lower()
    named = [p for p in sounding if wanted and wanted in p.name.lower()]
    if len(sounding) == 1 or named:
        return named[0] if named else sounding[0]
    names = listed(p.name for p in sounding[:12])
    raise Refused("part", f"The file holds {names}. Type which of them is yours, and choose the file again.")


def drop(desk: Desk, uid: str) -> None:
    desk.row(PartRow, uid)
    corrections.delete(desk, "part", uid)


def wide_for(desk: Desk, instrument: str) -> float:
    """Return from how many semitones on a move is wide for her: on keys by her smaller span, else by the family."""
    known = own_library.instruments(desk).get(instrument)
    family = known.family if known else ""
    spans = [h.span_mm for h in hands.measured(desk).hands.values() if h.span_mm is not None]
    if family in KEYS and spans:
        return max(1.0, min(24.0, min(spans) / KEY_MM))
    return WIDE.get(family, WIDE_ELSE)


def asks_of(desk: Desk, row: PartRow) -> tuple[BarAsk, ...]:
    """Return what each bar asks at her tempo, with her hand."""
    data = PartData.model_validate(row.data)
    bars = [WrittenBar(number, begins, ends, bpm * row.pace) for number, begins, ends, bpm in data.bars]
    return bar_asks([WrittenNote(*n) for n in data.notes], bars, wide_for(desk, row.instrument))


def page(desk: Desk, uid: str) -> PartPage:
    """Return the page of a part; `NotThere` when she has none of that id."""
    row = desk.row(PartRow, uid)
    asks = asks_of(desk, row)
    heavy, let_go = heaviest(asks), let_gos(asks)
    rings = frozenset(n for n, a in enumerate(asks) if a in heavy)
    ticks = frozenset(n for n, a in enumerate(asks) if a.number in let_go)
    minutes = sum(a.seconds for a in asks) / 60
    effort, calibrated = _effort(desk, row)
    share = sum(a.seconds for a in asks if a.notes_min) / max(1e-6, sum(a.seconds for a in asks))
    return PartPage(
        row,
        len(asks),
        len(row.data["notes"]),
        minutes,
        bool(row.data["has_tempo"]),
        wide_for(desk, row.instrument),
        part_ribbon(asks, rings, ticks, 1040.0, 40),
        part_ribbon(asks, rings, ticks, 354.0, 14),
        tuple(_said(a) for a in heavy),
        tuple(_name(p) for p in passages(heavy)[:PASSAGES_MOST]),
        let_go,
        (
            Forecast("a run-through", minutes, effort),
            Forecast("a rehearsal", REHEARSAL_MIN * share, effort),
            Forecast(f"a week of {WEEK_RUNS} rehearsals", WEEK_RUNS * REHEARSAL_MIN * share, effort),
        ),
        calibrated,
        sum(a.weight >= HARD_WEIGHT for a in asks) >= HARD_SHARE * len(asks),
    )


def _said(a: BarAsk) -> HeavyBar:
    values = {
        "notes_s": f"{a.notes_min / 60:.1f}",
        "run": f"{a.run_s:.0f}",
        "held": f"{a.held_s:.0f}",
        "wide": a.wide,
        "repeated": a.repeated,
        "loud": round(100 * a.loud),
    }
    words = part_wordings()
    asks = ", ".join(words[code].asks.format(**values) for code in a.asks)
    return HeavyBar(a.number, asks, words[a.asks[0]].tries if a.asks else "")


def _name(passage: tuple[int, int]) -> str:
    first, last = passage
    return f"Bar {first}" if first == last else f"Bars {first}–{last}"


def _effort(desk: Desk, row: PartRow) -> tuple[float, bool]:
    """The effort to expect: what she felt when she played it, else her usual on that instrument; True = she did."""
    aims = set(row.data.get("aims", ()))
    laid = {p.uid for p in desk.store.shelf(PlannedRow).all() if p.aim_uid in aims} if aims else set()
    felt, usual = [], []
    for session in desk.store.sessions(desk.today - timedelta(days=180), desk.today):
        for block in session.blocks:
            effort = session.effort_of(block)
            if effort is not None and block.planned in laid and block.planned:
                felt.append(effort)
            elif effort is not None and block.instrument == row.instrument:
                usual.append(effort)
    if felt:
        return median(felt), True
    return (median(usual) if usual else USUAL_EFFORT), False


def lay(desk: Desk, uid: str, week: date) -> date:
    """Make aims of the heaviest passages for a week; returns its Monday. The planner lays them when she asks it to."""
    shown = page(desk, uid)
    row = shown.row
    start = monday(max(week, desk.today))
    there = {a.title for a in week_aims.aims(desk, start)}
    made = []
    with corrections.as_one(desk):
        for name in shown.passages:
            title = f"{name}, {row.title}"[:TITLE_MAX]
            if title in there:
                continue
            effort = min(10.0, shown.forecasts[0].effort)
            aim = TypedAim(title, PASSAGE_MIN, effort, row.instrument, new_hard=shown.new_hard)
            made.append(week_aims.write_aim(desk, start, aim))
        data = PartData.model_validate(row.data)
        kept = data.model_copy(update={"aims": [*data.aims, *made][-200:]})
        corrections.change_row(desk, "part", row, data=kept.model_dump(mode="json"))
    return start
