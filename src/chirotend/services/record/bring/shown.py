"""What the page of a diary shows, as plain values kept with the job: columns, questions, words, problems, gains."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict
from datetime import date, timedelta
from typing import Any

from chirotend.core.judge.baseline import baseline_range
from chirotend.core.judge.call import compute_call
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import rules
from chirotend.core.load.series import load_series
from chirotend.core.record import Record
from chirotend.formats import documents
from chirotend.formats.cells import BadCell
from chirotend.formats.spelled import plain
from chirotend.services.context import Context
from chirotend.services.record.bring.compare import Plan
from chirotend.services.record.bring.read import Read, Table
from chirotend.services.words import reason

BAD_SHOWN, ODD_SHOWN, CHANGES_SHOWN, WORDS_SHOWN, SAMPLES, CELL_SHOWN = 60, 60, 100, 60, 3, 40
FORTNIGHT = 14
#: days read before a day, so that its usual range is known
ROOM_BEFORE = 60


def shown(context: Context, found: Read, plan: Plan) -> dict[str, Any]:
    """Return what the page shows of a plan, as JSON values."""
    record = found.record
    days = found.days
    words = found.words.asked()[:WORDS_SHOWN]
    return {
        "sessions": len(plan.sessions),
        "minutes": round(sum(s.minutes for s in plan.sessions)),
        "checks": len(plan.checks),
        "joined": len(plan.joined),
        "joined_notes": len(plan.joined_notes),
        "days": len(plan.notes),
        "symptoms": sum(len(c.entries) for c in (*plan.checks, *plan.joined)),
        "known": plan.known,
        "alike": plan.alike,
        "changes": [
            {"key": c.key, "day": _day(c.day), "said": list(c.said), "taken": c.taken}
            for c in plan.changes[:CHANGES_SHOWN]
        ],
        "change_count": len(plan.changes),
        "bad": [str(b) for b in plan.bad[:BAD_SHOWN]],
        "bad_groups": _grouped(plan.bad, found),
        "bad_count": plan.bad_rows,
        "first": _day(min(days)) if days else None,
        "last": _day(max(days)) if days else None,
        "everything": plan.kept is not None,
        "whole": "replace" if plan.replaces else "add" if plan.added is not None else "",
        "added": {name: len(rows) for name, rows in plan.added.tables.items() if rows} if plan.added else {},
        "behind": plan.added.behind if plan.added else {},
        "empty": plan.is_empty,
        "tables": {str(n): _table(table, context.player.zone) for n, table in enumerate(found.tables)},
        "remarks": [*found.remarks, *(r for t in found.tables for r in t.diary.remarks)],
        "encodings": {str(n): _encoding(n, found) for n in found.encodings},
        "readings": {str(n): reading for n, reading in found.encodings.items()},
        "words": {f"{w.of} {plain(w.word)}": w.to for w in words},
        "words_asked": [asdict(w) | {"key": f"{w.of} {plain(w.word)}"} for w in words],
        "fortnight": _fortnight(record, days),
        "gives": _gives(context, record, days),
    }


def _table(table: Table, zone: str) -> dict[str, Any]:
    diary, sheet = table.diary, table.diary.sheet
    samples: list[list[str]] = [[] for _ in sheet.header]
    for _, cells in sheet.rows[:400]:
        for n, cell in enumerate(cells):
            if cell and len(samples[n]) < SAMPLES and cell not in samples[n]:
                samples[n].append(cell)
    odd = table.odd[:ODD_SHOWN]
    rows = {line: cells for line, cells in sheet.rows if line in {o.line for o in odd}}
    return {
        "file": sheet.file,
        "rows": len(sheet.rows),
        "labels": [sheet.label(n) for n in range(len(sheet.header))],
        "samples": [[_short(cell) for cell in found] for found in samples],
        "columns": [c.model_dump() for c in diary.columns],
        "match": table.match.model_dump(mode="json"),
        "questions": [asdict(q) for q in diary.questions],
        "chosen": {q.code: q.chosen for q in diary.questions} | {"zone": table.match.zone or zone},
        "timed": any(taken.session.start_utc for taken in diary.sessions),
        "odd": [
            {
                "line": o.line,
                "why": o.why,
                "cells": _row(rows.get(o.line, ())),
                "said": table.match.odd.get(o.line, ""),
                **_mend(table, o.column, rows.get(o.line, ())),
            }
            for o in odd
        ],
        "odd_count": len(table.odd),
        "left_out": [{"line": n, "cells": _row(cells)} for n, cells in list(diary.left_out.items())[:ODD_SHOWN]],
        "mendable": _mendable(table),
    }


def _day(day: date) -> str:
    return f"{day:%-d %B %Y}"


def _short(cell: str) -> str:
    return cell if len(cell) <= CELL_SHOWN else cell[:CELL_SHOWN] + "…"


def _row(cells: Sequence[str]) -> str:
    return " · ".join(_short(cell) for cell in cells if cell)[:160]


def _mend(table: Table, meaning: str, cells: Sequence[str]) -> dict[str, Any]:
    """The cell to be mended: the number of its column and what stands there."""
    wanted = ("minutes", "hours", "end") if meaning == "minutes" else (meaning,)
    at = next((n for w in wanted for n, c in enumerate(table.diary.columns) if c.meaning == w), 0)
    return {"column": at, "label": table.diary.sheet.label(at), "cell": cells[at] if cells else ""}


def _mendable(table: Table) -> dict[str, str]:
    """What stands in the cells that can be mended on the page, by "line:column"."""
    sheet = table.diary.sheet
    lines = {b.line for b in table.diary.bad[:BAD_SHOWN]} | {o.line for o in table.odd[:ODD_SHOWN]}
    now = {f"{line}:{n}": cell for line, cells in sheet.rows if line in lines for n, cell in enumerate(cells)}
    return {**now, **table.match.mended}


def _grouped(bad: Sequence[BadCell], found: Read) -> list[dict[str, Any]]:
    """The rows that cannot be taken, by cause: how many rows, and the first of them with the cell to mend."""
    causes: Counter[tuple[str, str]] = Counter()
    rows: dict[tuple[str, str], list[dict[str, Any]]] = {}
    wanted = {b.line for b in bad}
    at = {
        (table.diary.sheet.file, line): (n, cells)
        for n, table in enumerate(found.tables)
        for line, cells in table.diary.sheet.rows
        if line in wanted
    }
    seen: set[tuple[str, int]] = set()
    for b in bad:
        cause = b.column, b.expected
        causes[cause] += (b.file, b.line) not in seen
        seen.add((b.file, b.line))
        if len(rows.setdefault(cause, [])) < BAD_SHOWN // 4:
            rows[cause].append(_bad_row(b, at.get((b.file, b.line)), found))
    return [
        {"column": column, "expected": expected, "count": causes[column, expected], "rows": rows[column, expected]}
        for column, expected in sorted(rows, key=lambda c: -causes[c])
    ]


def _bad_row(b: BadCell, at: tuple[int, tuple[str, ...]] | None, found: Read) -> dict[str, Any]:
    row: dict[str, Any] = {"line": b.line, "cells": _short(b.value)}
    if at is None:
        return row
    number, cells = at
    sheet = found.tables[number].diary.sheet
    labels = [sheet.label(n) for n in range(len(sheet.header))]
    row["cells"] = _row(cells)
    if b.column in labels:
        n = labels.index(b.column)
        mended = found.tables[number].match.mended.get(f"{b.line}:{n}")
        row |= {"table": number, "column": n, "label": b.column, "cell": mended if mended is not None else cells[n]}
    return row


def _encoding(number: int, found: Read) -> str:
    return next(
        (t.diary.sheet.text.encoding for t in found.tables if t.file_number == number and t.diary.sheet.text), ""
    )


def _fortnight(record: Record, days: Sequence[date]) -> dict[str, Any] | None:
    """The documents of the first fortnight, for it to be drawn."""
    if not days:
        return None
    first = min(days)
    last = first + timedelta(days=FORTNIGHT - 1)
    return {
        "first": first.isoformat(),
        "sessions": [documents.session_document(s) for s in record.sessions if s.day <= last],
        "checks": [documents.check_document(c) for c in record.checks if c.day <= last],
        "days": [documents.note_document(n) for n in record.notes if n.day <= last],
    }


def fortnight_of(document: dict[str, Any]) -> tuple[date, Record]:
    """Return the first day and the record of a kept fortnight."""
    return date.fromisoformat(document["first"]), Record(
        tuple(map(documents.session_from, document["sessions"])),
        tuple(map(documents.check_from, document["checks"])),
        tuple(map(documents.note_from, document["days"])),
    )


def _gives(context: Context, record: Record, days: Sequence[date]) -> dict[str, Any]:
    """What the diary gives on its last day: rated sessions, the usual range, and what the signs would have said."""
    if not days:
        return {"rated": 0, "usual": None, "reasons": []}
    last = max(days)
    series = load_series(record, last - timedelta(days=ROOM_BEFORE), last)
    usual = baseline_range(series.load, ROOM_BEFORE)
    judged = last - timedelta(days=rules().judge_days)
    seen = Record(
        tuple(s for s in record.sessions if s.day >= judged),
        tuple(c for c in record.checks if c.day >= judged),
        tuple(n for n in record.notes if n.day >= judged),
    )
    call = compute_call(Evidence(seen, last, context.now), Recovery())
    return {
        "rated": sum(s.effort is not None for s in record.sessions),
        "usual": [round(usual.low), round(usual.high)] if usual else None,
        "reasons": [reason(finding).sentence for finding in call.findings if finding.level > 0][:3],
    }
