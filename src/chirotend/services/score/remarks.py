"""What is pencilled into the score: where a finding was first said, whether it settled, faint signs without words."""

from datetime import date
from typing import Any

from chirotend.core.body.zones import zone
from chirotend.drawing.score import Remark
from chirotend.services import words
from chirotend.store.models import CallRow

#: codes of a raised sign: since version 3 of the rules, and before
SIGNS = ("risen", "sign")
REMARKS = {
    "sign": "{place}: higher since {since}",
    "risen": "{place}: higher since {since}",
    "tightness": "{place} tight, {days} of 7 days",
    "tightness_with_load": "{place} tight, {days} of 7, load up",
    "moderate_pain": "{place}: pain {intensity}",
    "brief_tingling": "{place}: {kind}",
    "strong_pain": "{place}: pain {intensity}",
    "woken": "woken: {place}",
    "tingling_nights": "tingling, {nights} nights",
    "tingling_playing_days": "tingling, {days} playing days",
    "tingling_stays": "tingling stayed",
    "morning_pain": "{place}: morning pain {intensity}",
    "stage": "stage {stage}",
    "loss": "{place}: {what}",
    "urgent_sign": "urgent sign",
    "prompt_sign": "see someone",
}


def remarks_of(calls: dict[date, CallRow]) -> tuple[Remark, ...]:
    """A remark stands where a finding was first said; it has settled when a later call came back to Open."""
    found = []
    before: set[str] = set()
    for day in sorted(calls):
        row = calls[day]
        now: dict[str, dict[str, Any]] = {}
        for f in row.findings:
            if 1 <= f["row"] <= 6 and f["code"] in REMARKS and row.call not in ("open", "not_enough"):
                now.setdefault(words.place_words(f["values"]), f)
        fresh = [f for place, f in now.items() if place not in before]
        if fresh:
            settled = any(d > day and calls[d].call == "open" for d in calls)
            found.append(_remark(day, fresh[0], settled))
        before = set(now)
    return (*found, *_faint_remarks(calls))


def _faint_remarks(calls: dict[date, CallRow]) -> list[Remark]:
    """The last faint sign of each place is a thin ring without words, unless it has come to speak since."""
    latest: dict[str, Remark | None] = {}
    for day in sorted(calls):
        for f in calls[day].findings:
            place = words.place_words(f["values"])
            if f["code"] == "faint":
                days = (date.fromisoformat(f["values"]["since"]), *(date.fromisoformat(d) for d in f["days"]))
                latest[place] = Remark(day, "", f["values"]["region"], days, False)
            elif f["code"] in SIGNS:
                latest[place] = None
    return [r for r in latest.values() if r is not None]


def _remark(day: date, finding: dict[str, Any], settled: bool) -> Remark:
    values = {**finding["values"], "place": words.place_words(finding["values"])}
    if "since" in values:
        since = date.fromisoformat(values["since"])
        values["since"] = f"{since.day} {since:%b}"
    if "kind" in values:
        values["kind"] = words.KIND_WORDS[values["kind"]]
    if "what" in values:
        values["what"] = words.LOSS_WORDS[values["what"]]
    for key, value in values.items():
        if isinstance(value, float):
            values[key] = f"{value:g}"
    region = values.get("region")
    if region is None and "zone" in values:
        region = zone(values["zone"]).region
    days = tuple(date.fromisoformat(d) for d in finding["days"])
    if finding["code"] in SIGNS:
        days = (date.fromisoformat(finding["values"]["since"]), *days)
    return Remark(day, REMARKS[finding["code"]].format(**values), region, days, settled)
