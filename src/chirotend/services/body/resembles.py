"""What the marks of a fortnight resemble, in words with source and confidence. Never a diagnosis."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cache

from chirotend.core.body.patterns import TIERS, Felt, Pattern, resemblances, soonest
from chirotend.core.body.redflags import red_flag
from chirotend.core.body.territories import drawn_class, territory
from chirotend.core.body.zones import zone
from chirotend.core.judge.call_table import playing_stage
from chirotend.core.judge.evidence import Evidence
from chirotend.core.record import Mark, Record
from chirotend.core.record.words import SENSORY_KINDS, Kind, Timing
from chirotend.library.loader import symptom_patterns
from chirotend.library.schema import SymptomPattern
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.words import sentence

DAYS = 14
CLOSE_OVERLAP = 0.5
KIND_OF_WORD = {kind.said: kind.value for kind in Kind}
FLAGS = {
    "loss of control": ("loss_of_control",),
    "catching or locking": ("catching", "locked"),
    "colour or cold": ("colour",),
    "swelling": ("swelling",),
}
TIMING_OF_WORD = {timing.said: timing.value for timing in Timing}
SOON_WORDS = {
    "emergency": "now: ring for help",
    "same_day": "today",
    "prompt": "within a week",
    "routine": "within weeks, and before you raise the load",
}
BOOK_TIER = {"now": "emergency", "today": "same_day", "within a week": "prompt", "within two weeks": "routine"}
MEDIAN_WORDS = {
    "classic": "the thumb-side fingers alone, the palm and back of the hand free",
    "probable": "the thumb-side fingers and the palm, the back of the hand free",
}
KATZ = "Katz & Stirrat 1990, J Hand Surg Am 15:360–363, from memory, fairly sure; drawn by a clinic’s visitors"
STAGE_WORDS = (
    "",
    "pain at one place, only while playing",
    "pain at several places while playing",
    "pain that stays away from playing, or comes with some other uses",
    "pain with all common uses, still possible",
    "use lost through pain",
)


@dataclass(frozen=True)
class ResemblanceLine:
    sentence: str
    rule: str
    source: str


@dataclass(frozen=True)
class ShownPattern:
    """A pattern in words; `ease_off` is empty under Tacet, `sooner` names every urgent sign, worst first."""

    id: str
    name: str
    side: str
    places: tuple[str, ...]
    looks_like: str
    what_else: tuple[str, ...]
    log_next: tuple[str, ...]
    ease_off: tuple[str, ...]
    see_whom: tuple[str, ...]
    how_soon: str
    sooner: tuple[str, ...]
    likeness: str
    source: str


@dataclass(frozen=True)
class Likenesses:
    lines: tuple[ResemblanceLine, ...]
    patterns: tuple[ShownPattern, ...]
    stages: tuple[tuple[date, int], ...] = ()


@cache
def _patterns() -> tuple[Pattern, ...]:
    return tuple(
        Pattern(
            p.id,
            frozenset(p.looks_like.zones),
            frozenset(KIND_OF_WORD[k] for k in p.looks_like.kinds),
            frozenset(f for words in p.looks_like.flags for f in FLAGS[words]),
            frozenset(TIMING_OF_WORD[t] for t in p.looks_like.timings),
            p.looks_like.sides,
            p.how_soon,
        )
        for p in symptom_patterns().values()
    )


def resembling_page(context: Context) -> Likenesses:
    """Return what the marks of the last fourteen days resemble; nothing when there are few."""
    today = todays_call(context)
    call, evidence = today.issued, today.evidence
    first = context.today - timedelta(days=DAYS - 1)
    marks = [m for m in evidence.marks if m.day >= first]
    found = resemblances(
        (Felt(m.entry.zone, m.entry.side, m.entry.kind, m.timing, m.entry.flags) for m in marks), _patterns()
    )
    flags = {code for c in evidence.record.checks if c.day >= first for code in c.red_flags}
    booked = [BOOK_TIER[r.book] for r in call.reasons if r.book in BOOK_TIER]
    shown = [
        _shown_pattern(
            symptom_patterns()[r.pattern], r.side, r.zones, r.overlap, flags, booked, call.effective == "tacet"
        )
        for r in found
    ]
    return Likenesses(tuple(_lines(evidence, marks)), tuple(shown), stages_by_week(evidence))


def stages_by_week(evidence: Evidence, weeks: int = 12) -> tuple[tuple[date, int], ...]:
    """Return (last day, stage) of each of the last `weeks` weeks, oldest first; nothing when all are 0."""
    found = tuple(_stage_on(evidence, evidence.today - timedelta(days=7 * n)) for n in range(weeks - 1, -1, -1))
    return found if any(stage for _, stage in found) else ()


def _stage_on(evidence: Evidence, day: date) -> tuple[date, int]:
    """The stage as of an earlier day, worked out from the checks of its seven days alone."""
    week = tuple(c for n in range(6, -1, -1) for c in evidence.record.checks_on(day - timedelta(days=n)))
    record = Record(checks=week)
    return day, playing_stage(replace(evidence, record=record, today=day, settled_until=None))


def _shown_pattern(
    p: SymptomPattern,
    side: str,
    zones: Sequence[str],
    overlap: float,
    flags: set[str],
    booked: Sequence[str],
    tacet: bool,
) -> ShownPattern:
    raised = [s.tier for s in p.sooner_if if s.code in flags]
    raised += [t.tier for t in p.together_if if set(t.codes) <= flags]
    urgent = sorted((s for s in p.sooner_if if s.tier in ("emergency", "same_day")), key=lambda s: -TIERS.index(s.tier))
    return ShownPattern(
        p.id,
        p.plain_name,
        {"none": "", "both": "both sides"}.get(side, side),
        tuple(zone(z).name for z in zones),
        p.looks_like.words,
        p.what_else_it_can_be,
        p.what_to_log_next,
        () if tacet else p.ease_off,
        p.see_whom,
        SOON_WORDS[soonest([p.how_soon, *raised, *booked])],
        (*(red_flag(s.code).sentence.rstrip(".") for s in urgent), *p.prompt_if),
        sentence("series", "much_marked") if overlap >= CLOSE_OVERLAP else sentence("series", "part_marked"),
        p.source,
    )


def _lines(evidence: Evidence, marks: Sequence[Mark]) -> list[ResemblanceLine]:
    """Sentences on territories, the hand drawing and the stage, each with its rule and source."""
    found = []
    for side in ("left", "right"):
        here = [(m.entry.zone, m.entry.kind) for m in marks if m.entry.side == side]
        area = territory(here)
        if area is not None:
            names = ", ".join(zone(z).name for z in area.zones[:4])
            found.append(
                ResemblanceLine(
                    f"{side.capitalize()} {names}: the usual area of the {area.nerve} nerve."
                    " Not a diagnosis; worth showing to a clinician if it lasts.",
                    "At least two, and two thirds, of this hand’s tingling or numb places lie there.",
                    "standard anatomy, from memory; individual overlap is common",
                )
            )
        drawn = drawn_class(here)
        if drawn in MEDIAN_WORDS and any(kind in SENSORY_KINDS for _, kind in here):
            found.append(
                ResemblanceLine(
                    f"{side.capitalize()} hand as drawn: {MEDIAN_WORDS[drawn]}. A drawing often seen when the median"
                    " nerve is irritated; something to show, not a name for it.",
                    f"A published class of hand drawings ({drawn}).",
                    KATZ,
                )
            )
    stage = playing_stage(evidence)
    if stage:
        found.append(
            ResemblanceLine(
                f"Stage {stage} of five: {STAGE_WORDS[stage]}.",
                "Fry’s stages, from the marks of the last seven days and the answers on other uses.",
                "Fry 1986, Lancet 2:728–731, from memory, fairly sure; one clinic’s musicians",
            )
        )
    return found
