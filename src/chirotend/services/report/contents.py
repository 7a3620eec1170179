"""What stands on a report: one page of what was written in a span, for whoever reads it. No judgement of ours."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import islice, pairwise
from textwrap import shorten
from typing import Any

from chirotend.core.body.zones import zone
from chirotend.core.judge.baseline import baseline_range
from chirotend.core.load.series import load_series
from chirotend.core.record import Mark, Record
from chirotend.core.record.measures import measure_of
from chirotend.drawing import bodymap
from chirotend.drawing.bodymap import Map
from chirotend.drawing.measured import Picture
from chirotend.drawing.report_weeks import ReportDay, report_weeks
from chirotend.formats.cells import safe_text
from chirotend.formats.kept_rows import ReportData
from chirotend.services.body import changed
from chirotend.services.context import Context
from chirotend.services.kit import things
from chirotend.services.plan import engagements
from chirotend.services.plan.programmes import running
from chirotend.services.record import measured
from chirotend.services.today import matters, tell_happened
from chirotend.services.trial import trials
from chirotend.services.units import length, mass
from chirotend.services.words import KIND_WORDS, SHORT_REGIONS, TIMING_WORDS, amount, place_name, series_words
from chirotend.store.models import ReportRow

TITLES = {"clinician": "A player’s record", "teacher": "For my teacher", "repairer": "For the repairer"}
#: what each reader is shown, in this order
PARTS = {
    "clinician": ("maps", "weeks", "measures", "tried", "questions", "also"),
    "teacher": ("weeks", "measures", "tried", "aims", "questions", "also"),
    "repairer": ("kit", "maps", "measures", "tried", "questions"),
}
MEASURES_MOST, TRIED_MOST, LINES_MOST = 7, 5, 3
MATTERS_MOST = 3
NOTE_MOST = 140
USUAL_BEFORE_DAYS, NAME_MOST = 60, 32
#: signs on the small maps of a page are drawn this much larger
PRINT_SIGNS = 2.6
#: of each pair of views the one with more marks is shown
VIEWS = (("body-back", "body-palm"), ("hand-left-palm", "hand-left-back"), ("hand-right-palm", "hand-right-back"))


@dataclass(frozen=True)
class MapPart:
    """A part of the span: its title, the maps with the strongest mark of each zone, the places in words."""

    title: str
    maps: tuple[Map, ...]
    lines: tuple[str, ...]


@dataclass(frozen=True)
class MeasureLine:
    """A measure: its first and last value in the span, with their days."""

    name: str
    unit: str
    first: float
    first_day: date
    last: float
    last_day: date


@dataclass(frozen=True)
class Report:
    """A report as plain values; `parts` names what its reader is shown."""

    uid: str
    audience: str
    title: str
    parts: tuple[str, ...]
    who: str
    plays: str
    first: date
    last: date
    made: date
    written: int
    data: ReportData
    maps: tuple[MapPart, ...]
    weeks: Picture | None
    measures: tuple[MeasureLine, ...]
    tried: tuple[str, ...]
    also: tuple[str, ...]
    aims: tuple[str, ...]
    kit: tuple[str, ...]
    marks: tuple[Mark, ...]
    week_minutes: tuple[tuple[date, float], ...]

    @property
    def days(self) -> int:
        return (self.last - self.first).days + 1


def report(context: Context, row: ReportRow) -> Report:
    """Return a report from what is written in its span."""
    data = ReportData.model_validate(row.data)
    inside = context.store.record(row.first, row.last)
    with_baseline = context.store.record(row.first - timedelta(days=USUAL_BEFORE_DAYS), row.last)
    marks = tuple(m for c in inside.checks for m in c.marks)
    return Report(
        row.uid,
        row.audience,
        TITLES[row.audience],
        PARTS[row.audience],
        context.player.name if data.named else "A player",
        context.plays,
        row.first,
        row.last,
        context.today,
        len(inside.logged_days),
        data,
        tuple(_maps(marks, row.first, row.last)),
        _weeks(context, with_baseline, marks, row.first, row.last),
        tuple(islice(_measures(context, row.first, row.last), MEASURES_MOST)),
        tuple(islice(_tried(context, row.first, row.last), TRIED_MOST)),
        tuple(_also(context, inside, data, row)),
        tuple(_aims(context, row)),
        tuple(_kit(context)),
        marks,
        tuple(_week_minutes(inside, row.first, row.last)),
    )


def _maps(marks: Sequence[Mark], first: date, last: date) -> Iterator[MapPart]:
    """The span in three parts, oldest first."""
    days = (last - first).days + 1
    edges = [first + timedelta(days=days * n // 3) for n in range(4)]
    for begins, ends in pairwise(edges):
        final = ends - timedelta(days=1)
        here = [m for m in marks if begins <= m.day <= final]
        strongest: dict[tuple[str, str, str], float] = {}
        for m in here:
            key = m.entry.zone, m.entry.side, m.entry.kind
            strongest[key] = max(m.entry.intensity, strongest.get(key, 0.0))
        drawn = bodymap.maps([(*key, value) for key, value in strongest.items()], PRINT_SIGNS)
        by_id = {m.id: m for m in drawn}
        shown = tuple(max((by_id[a], by_id[b]), key=lambda m: len(m.marks)) for a, b in VIEWS)
        yield MapPart(f"{begins:%-d %b} to {final:%-d %b}", shown, tuple(_places(here)))


def _places(marks: Sequence[Mark]) -> Iterator[str]:
    days: dict[tuple[str, str, str], set[date]] = {}
    for m in marks:
        days.setdefault((m.entry.zone, m.entry.side, m.entry.kind), set()).add(m.day)
    for (name, side, kind), found in sorted(days.items(), key=lambda item: -len(item[1]))[:LINES_MOST]:
        when = Counter(m.timing for m in marks if (m.entry.zone, m.entry.side, m.entry.kind) == (name, side, kind))
        timing = TIMING_WORDS[when.most_common(1)[0][0]]
        place = zone(name).spoken(side)
        yield f"{place[:1].upper()}{place[1:]}: {KIND_WORDS[kind]} on {amount(len(found), 'day')}, mostly {timing}."


def _weeks(context: Context, record: Record, marks: Sequence[Mark], first: date, last: date) -> Picture:
    series = load_series(record, first - timedelta(days=USUAL_BEFORE_DAYS), last)
    top = Counter(m.place[0] for m in marks).most_common(3)
    rows = [region for region, _ in top]
    strongest: dict[tuple[date, str], Mark] = {}
    for m in marks:
        before = strongest.get((m.day, m.place[0]))
        if before is None or m.entry.intensity > before.entry.intensity:
            strongest[m.day, m.place[0]] = m
    played = {e.day for e in engagements.between(context, first, last) if e.kind == "performance"}
    days = []
    for n in range((last - first).days + 1):
        day = first + timedelta(days=n)
        here = (strongest.get((day, region)) for region in rows)
        load = series.on(day)[1]
        usual = baseline_range(series.load, series.index(day))
        signs = tuple((m.entry.kind, m.entry.intensity) if m else None for m in here)
        band = (usual.low, usual.high) if usual else None
        days.append(ReportDay(day, signs, None if load != load else load, band, day in played))
    return report_weeks(days, [SHORT_REGIONS.get(region, region) for region in rows])


def _measures(context: Context, first: date, last: date) -> Iterator[MeasureLine]:
    for key, rows in sorted(measured.followed(context).items()):
        here = [r for r in rows if first <= r.day <= last]
        if len(here) > 1 and measure_of(here[0].method).better:
            name, unit = series_words(key)
            yield MeasureLine(_short(name), unit, here[0].value, here[0].day, here[-1].value, here[-1].day)


def _short(name: str) -> str:
    """As much of a measure's name as stands on a line, cut at a comma."""
    kept, *rest = name.split(", ")
    for part in rest:
        if len(kept) + len(part) > NAME_MOST:
            break
        kept += f", {part}"
    return kept


def _tried(context: Context, first: date, last: date) -> Iterator[str]:
    for t in trials.all_trials(context):
        if t.first <= last and t.end >= first:
            words = trials.result_words(context, t, t.outcome)
            yield f"{t.first:%-d %b} to {t.end:%-d %b}: {words}"
    for change in changed.changes_over(context, first, last):
        about = f": {shorten(change.note, NOTE_MOST, placeholder='…')}" if change.note else "."
        yield f"{change.day:%-d %b}, changed for the {place_name(change.place)}{about} {change.words}"
    for p in running.all_of(context):
        if p.first <= last and (p.ended or last) >= first:
            what = f", {p.data.what}" if p.data.what else ""
            ends = f"to {p.ended:%-d %b}" if p.ended else "and going on"
            yield f"From {p.first:%-d %b} {ends}: {p.entry.name}{what}.{f' {p.note}' if p.note else ''}"


def _also(context: Context, record: Record, data: ReportData, row: ReportRow) -> Iterator[str]:
    yield f"Medicines, as typed by me: {data.medicines or 'nothing typed'}."
    poor = sum(n.sleep in ("short", "broken") for n in record.notes)
    said = Counter(context.store.said_calls(row.first, row.last).values())
    muted = said["muted_mp"] + said["muted_pp"]
    yield f"Calls, as said each morning: Muted on {amount(muted, 'day')}, Tacet on {amount(said['tacet'], 'day')}."
    yield f"Sleep short or broken on {amount(poor, 'night')}."
    other = sum(b.minutes for s in record.sessions for b in s.blocks if b.kind == "other")
    yield f"Other uses of the hands written: {other / 60:.0f} h."
    flags = sum(bool(c.red_flags) for c in record.checks)
    yield f"Urgent signs are asked each morning: {amount(flags, 'answer')} said yes."
    yield from (f"{m.title}: {m.when}. {m.about}." for m in matters.open_matters(context)[:MATTERS_MOST])
    yield from (f"{h.name}, {h.when}." for h in tell_happened.lasting(context)[:MATTERS_MOST])


def _aims(context: Context, row: ReportRow) -> Iterator[str]:
    hard = Counter(s.was_hard.strip() for s in context.store.sessions(row.first, row.last) if s.was_hard.strip())
    for words, count in hard.most_common(4):
        yield f"Hard: {words[:90]}" + (f" ({count} times)" if count > 1 else "")


def _kit(context: Context) -> Iterator[str]:
    for t in things.kit(context):
        r = t.row
        parts = [r.name, mass(context, r.mass_g) if r.mass_g else ""]
        if r.setting_mm is not None:
            parts.append(f"set at {length(context, r.setting_mm)}")
        if r.service_on is not None:
            parts.append(f"last set up {r.service_on:%-d %b %Y}")
        yield ", ".join(p for p in (*parts, t.due) if p) + "."


def _week_minutes(record: Record, first: date, last: date) -> Iterator[tuple[date, float]]:
    """Minutes played in each whole week of the span of which five days are known."""
    series = load_series(record, first, last)
    for n in range(0, len(series.minutes) - 6, 7):
        week = [m for m in series.minutes[n : n + 7] if m == m]
        if len(week) >= 5:
            yield series.day(n), sum(week)


def as_values(r: Report) -> dict[str, Any]:
    """Return a report as JSON values: minutes, strengths 0-10, measures in their unit, days as ISO 8601 text."""
    return {
        "format": "chirotend-report",
        "version": 1,
        "for": r.audience,
        "who": r.who,
        "plays": r.plays,
        "first": r.first.isoformat(),
        "last": r.last.isoformat(),
        "days_written": r.written,
        "why": r.data.why,
        "questions": list(r.data.questions),
        "medicines": r.data.medicines,
        "marks": [
            {
                "day": m.day.isoformat(),
                "timing": m.timing,
                "zone": m.entry.zone,
                "side": m.entry.side,
                "kind": m.entry.kind,
                "intensity": m.entry.intensity,
            }
            for m in r.marks
        ],
        "week_minutes": [{"from": day.isoformat(), "minutes": minutes} for day, minutes in r.week_minutes],
        "measures": [
            {
                "name": m.name,
                "unit": m.unit,
                "first": m.first,
                "first_day": m.first_day.isoformat(),
                "last": m.last,
                "last_day": m.last_day.isoformat(),
            }
            for m in r.measures
        ],
        "tried": list(r.tried),
        "also": list(r.also),
    }


def as_rows(r: Report) -> list[tuple[str, str, str, str, str]]:
    """Return the same as rows of a table: kind, day, what, value, unit. Words that a sheet would run are made text."""
    rows = [("kind", "day", "what", "value", "unit")]
    for m in r.marks:
        what = f"{KIND_WORDS[m.entry.kind]}, {zone(m.entry.zone).spoken(m.entry.side)}, {TIMING_WORDS[m.timing]}"
        rows.append(("mark", m.day.isoformat(), what, f"{m.entry.intensity:g}", "of 10"))
    rows += [("week", day.isoformat(), "played from this day on", f"{v:g}", "min") for day, v in r.week_minutes]
    for each in r.measures:
        name, unit = safe_text(each.name), safe_text(each.unit)
        rows.append(("measure", each.first_day.isoformat(), name, f"{each.first:g}", unit))
        rows.append(("measure", each.last_day.isoformat(), name, f"{each.last:g}", unit))
    rows += [("tried", "", safe_text(line), "", "") for line in r.tried]
    rows += [("question", "", safe_text(line), "", "") for line in r.data.questions]
    return rows
