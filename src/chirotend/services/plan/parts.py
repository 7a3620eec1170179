"""Parts before the rehearsal: brought, read bar by bar for her hand, their heaviest bars laid into the week."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import uuid4

from chirotend.core.judge.baseline import median
from chirotend.core.load.part import BarAsk, WrittenBar, WrittenNote, bar_asks, heaviest, let_gos, passages, through
from chirotend.core.load.session import srpe_load
from chirotend.core.plan.week_problem import monday
from chirotend.drawing.measured import Picture
from chirotend.drawing.part_ribbon import part_ribbon
from chirotend.formats import part_reader
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.kept_rows import PartData
from chirotend.formats.part_reader import WrittenFile, WrittenPart
from chirotend.library.loader import part_wordings
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.plan import part_reach, week_aims
from chirotend.services.plan.part_holding import Holding, held_through
from chirotend.services.plan.part_reach import Reach
from chirotend.services.plan.week_aims import TITLE_MAX, TypedAim
from chirotend.services.record import corrections
from chirotend.services.units import decimal
from chirotend.services.words import listed
from chirotend.store.models import PartRow, PlannedRow

PASSAGES_MOST, PASSAGE_MIN, USUAL_EFFORT = 5, 20.0, 5.0
REHEARSAL_MIN, WEEK_RUNS = 100.0, 4
#: new and hard to her: this share of its bars asks as much
HARD_WEIGHT, HARD_SHARE = 0.45, 0.15


@dataclass(frozen=True)
class HeavyBars:
    """Bars in a row that ask the same."""

    name: str
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
        return srpe_load(self.effort, self.minutes)


@dataclass(frozen=True)
class PartPage:
    row: PartRow
    bars: int
    notes: int
    #: bars played again; False = its repeats make no sense, each bar is taken once
    again: int
    followed: bool
    minutes: float
    has_tempo: bool
    wide: str
    ribbon: Picture
    narrow: Picture
    heavy: tuple[HeavyBars, ...]
    passages: tuple[str, ...]
    #: bars where the part rests, and bars where nothing does
    let_go_in_rests: tuple[int, ...]
    let_go_in_notes: tuple[int, ...]
    holding: Holding | None
    forecasts: tuple[Forecast, ...]
    calibrated: bool
    new_hard: bool


def all_parts(context: Context) -> list[PartRow]:
    return context.store.repository(PartRow).all(order=(PartRow.day.desc(), PartRow.title))


def read_part(name: str, data: bytes) -> WrittenFile:
    """Read the file of a part; nothing is kept. `FieldError` says what is wrong with it."""
    if not data:
        raise FieldError("file", "Choose the file of your part.")
    try:
        return part_reader.read_parts_sandboxed(data, name[:80] or "The file")
    except UnreadableFile as error:
        raise FieldError("file", str(error)) from error


def keep(context: Context, found: WrittenFile, typed: Mapping[str, str]) -> str:
    """Keep the part of a file that is hers; returns its id. `FieldError` names the field."""
    instrument = typed.get("instrument", "")
    if instrument not in own_library.instruments(context):
        raise FieldError("instrument", "Choose the instrument it is for.")
    pace = _pace(typed.get("pace", "") or "100")
    part = _chosen_part(context, found.parts, instrument, typed.get("part", ""))
    uid = uuid4().hex
    kept = PartData(
        notes=[(n.onset, n.length, n.pitch, n.loud) for n in part.notes],
        bars=[(b.number, b.start, b.end, b.bpm) for b in part.bars],
        has_tempo=part.has_tempo,
        staves=[n.staff for n in part.notes] if any(n.staff != 1 for n in part.notes) else [],
        played=list(part.played),
        followed=part.followed,
    )
    title = " ".join((typed.get("title", "") or found.title).split())[:120] or part.name
    row = {"uid": uid, "title": title, "instrument": instrument, "day": context.today, "pace": pace}
    corrections.put_row(context, "part", {**row, "data": kept.model_dump(mode="json")})
    return uid


def set_pace(context: Context, uid: str, typed: str) -> None:
    """Read a part at another tempo, typed in % of the written one. `NotThere`; `FieldError` names the field."""
    corrections.change_row(context, "part", context.row(PartRow, uid), pace=_pace(typed))


def _pace(typed: str) -> float:
    return decimal("pace", "Your tempo", typed, 30, 200, "% of the written one") / 100


def _chosen_part(context: Context, parts: tuple[WrittenPart, ...], instrument: str, asked: str) -> WrittenPart:
    """Choose the part: the one named, else the one matching the instrument, else the only one."""
    sounding = [p for p in parts if p.notes]
    wanted = (asked or own_library.name_of(context, instrument)).strip().lower()
    named = [p for p in sounding if wanted and wanted in p.name.lower()]
    if len(sounding) == 1 or named:
        return named[0] if named else sounding[0]
    names = listed(p.name for p in sounding[:12])
    raise FieldError("part", f"The file holds {names}. Type which of them is yours, and choose the file again.")


def drop(context: Context, uid: str) -> None:
    context.row(PartRow, uid)
    corrections.delete(context, "part", uid)


def _asks(data: PartData, pace: float, reach: Reach) -> tuple[BarAsk, ...]:
    """What each bar asks at her tempo, with her hand."""
    bars = [WrittenBar(number, begins, ends, bpm * pace) for number, begins, ends, bpm in data.bars]
    staves = data.staves or [1] * len(data.notes)
    notes = [WrittenNote(*n, staff) for n, staff in zip(data.notes, staves, strict=True)]
    return bar_asks(notes, bars, reach.beyond)


def part_page(context: Context, uid: str, typed: Mapping[str, str] | None = None) -> PartPage:
    """Return the page of a part, with holding through it as `typed`. `NotThere`; `FieldError` names the field."""
    row = context.row(PartRow, uid)
    data = PartData.model_validate(row.data)
    reach = part_reach.reach_for(context, row.instrument)
    asks = _asks(data, row.pace, reach)
    heavy, found = heaviest(asks), let_gos(asks)
    let_go = frozenset(g.number for g in found)
    rings = frozenset(n for n, a in enumerate(asks) if a in heavy)
    ticks = frozenset(n for n, a in enumerate(asks) if a.number in let_go)
    played = through(asks, data.played)
    minutes = sum(a.seconds for a in played) / 60
    effort, calibrated = _effort(context, row)
    share = sum(a.seconds for a in played if a.notes_min) / max(1e-6, 60 * minutes)
    return PartPage(
        row,
        len(asks),
        len(data.notes),
        len(played) - len(asks),
        data.followed,
        minutes,
        data.has_tempo,
        reach.said,
        part_ribbon(asks, rings, ticks, 1040.0, 40),
        part_ribbon(asks, rings, ticks, 354.0, 14),
        _heavy_stretches(heavy),
        tuple(_name(p) for p in passages(heavy)[:PASSAGES_MOST]),
        tuple(g.number for g in found if g.rests),
        tuple(g.number for g in found if not g.rests),
        held_through(played, let_go, typed) if typed is not None else None,
        (
            Forecast("a run-through", minutes, effort),
            Forecast("a rehearsal", REHEARSAL_MIN * share, effort),
            Forecast(f"a week of {WEEK_RUNS} rehearsals", WEEK_RUNS * REHEARSAL_MIN * share, effort),
        ),
        calibrated,
        sum(a.weight >= HARD_WEIGHT for a in asks) >= HARD_SHARE * len(asks),
    )


def _heavy_stretches(heavy: Sequence[BarAsk]) -> tuple[HeavyBars, ...]:
    found: list[HeavyBars] = []
    first = last = -1
    for ask in heavy:
        asks = _asks_said(ask)
        if found and ask.number == last + 1 and asks == found[-1].asks:
            found.pop()
        else:
            first = ask.number
        last = ask.number
        found.append(HeavyBars(_name((first, last)), asks, part_wordings()[ask.asks[0]].tries if ask.asks else ""))
    return tuple(found)


def _asks_said(a: BarAsk) -> str:
    values = {
        "notes_s": f"{a.notes_min / 60:.1f}",
        "run": f"{a.run_s:.0f}",
        "held": f"{a.held_s:.0f}",
        "wide": a.wide,
        "repeated": a.repeated,
        "loud": round(100 * a.loud),
    }
    words = part_wordings()
    return ", ".join(words[code].asks.format(**values) for code in a.asks)


def _name(passage: tuple[int, int]) -> str:
    first, last = passage
    return f"Bar {first}" if first == last else f"Bars {first}–{last}"


def _effort(context: Context, row: PartRow) -> tuple[float, bool]:
    """The effort to expect: what she felt when she played it, else her usual on that instrument; True = she did."""
    aims = set(row.data.get("aims", ()))
    scheduled = {p.uid for p in context.store.repository(PlannedRow).all() if p.aim_uid in aims} if aims else set()
    felt, usual = [], []
    for session in context.store.sessions(context.today - timedelta(days=180), context.today):
        for block in session.blocks:
            effort = session.effort_of(block)
            if effort is not None and block.planned in scheduled and block.planned:
                felt.append(effort)
            elif effort is not None and block.instrument == row.instrument:
                usual.append(effort)
    if felt:
        return median(felt), True
    return (median(usual) if usual else USUAL_EFFORT), False


def schedule(context: Context, uid: str, week: date) -> date:
    """Make aims of the heaviest passages for a week; returns its Monday. The planner lays them when she asks it to."""
    shown = part_page(context, uid)
    row = shown.row
    start = monday(max(week, context.today))
    there = {a.title for a in week_aims.aims(context, start)}
    made = []
    with corrections.as_one(context):
        for name in shown.passages:
            title = f"{name}, {row.title}"[:TITLE_MAX]
            if title in there:
                continue
            effort = min(10.0, shown.forecasts[0].effort)
            aim = TypedAim(title, PASSAGE_MIN, effort, row.instrument, new_hard=shown.new_hard)
            made.append(week_aims.write_aim(context, start, aim))
        data = PartData.model_validate(row.data)
        kept = data.model_copy(update={"aims": [*data.aims, *made][-200:]})
        corrections.change_row(context, "part", row, data=kept.model_dump(mode="json"))
    return start
