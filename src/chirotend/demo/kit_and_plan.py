"""What the demo player has set up: hands, kit, room, the fortnight's dates and aims. All invented."""

from dataclasses import replace
from datetime import date, datetime, time, timedelta

from chirotend.formats.kept_rows import PartData, TrialData, TrialMeasure
from chirotend.services.context import Context
from chirotend.services.kit import hands, things
from chirotend.services.kit.profile import say
from chirotend.services.plan import engagements, scheduling, week_aims
from chirotend.services.plan.engagements import Typed
from chirotend.services.plan.programmes import begin
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.record import corrections
from chirotend.services.report import reports

PROGRAMMES = (
    (
        date(2026, 9, 28),
        "weak_hand",
        {"hand": "left"},
        date(2026, 10, 26),
        "The left is nearer the right in thirds. I keep the slow minute.",
    ),
    (date(2026, 11, 2), "change_beside", {"what": "left thumb off the tube"}, None, ""),
)
REPORT = {
    "audience": "clinician",
    "why": "My left thumb has woken tight since the end of October. Two fingers tingled on two mornings.",
    "question_1": "May I play the contra nights of 14 and 15 November?",
    "question_2": "Is the tingling from the wrist, or from further up?",
    "question_3": "What should I watch for on waking?",
    "medicines": "none",
    "named": "yes",
}
HANDS = {
    "left": {
        "span": "198",
        "T-1": (121, 140),
        "1-2": (58, 66),
        "2-3": (44, 52),
        "3-4": (57, 64),
        "1-3": (80, 96),
        "2-4": (74, 88),
        "1-4": (104, 120),
        "length": "178",
    },
    "right": {
        "span": "204",
        "T-1": (125, 144),
        "1-2": (60, 69),
        "2-3": (49, 57),
        "3-4": (61, 69),
        "1-3": (86, 101),
        "2-4": (80, 94),
        "1-4": (110, 126),
        "length": "179",
    },
}
KIT = (
    {
        "kind": "instrument",
        "name": "Bassoon",
        "instrument": "bassoon",
        "mass_g": "3.4 kg",
        "balance_mm": "470",
        "length_mm": "1335",
        "service_on": "2026-03-14",
        "service_months": "12",
    },
    {
        "kind": "instrument",
        "name": "Contrabassoon, the house’s",
        "instrument": "contrabassoon",
        "mass_g": "9.1 kg",
        "service_on": "2025-09-02",
        "service_months": "12",
    },
    {"kind": "strap", "name": "Seat strap, leather", "instrument": "bassoon", "setting_mm": "0"},
    {"kind": "rest", "name": "Right-hand rest", "instrument": "bassoon", "setting_mm": "8"},
    {"kind": "harness", "name": "Harness, borrowed", "instrument": "bassoon", "back_on": "2026-12-01"},
    {
        "kind": "peg",
        "name": "Floor peg, contra",
        "instrument": "contrabassoon",
        "note": "check the height before Friday",
    },
    {"kind": "chair", "name": "Pit chair, 46 cm"},
)
#: (days from Monday 9 November, begin, end, title, kind, instrument, minutes of the hands, effort)
DATES = (
    (3, time(14), time(16), "Section rehearsal", "rehearsal", "bassoon", 60, 4),
    (4, time(19), time(22), "Das Haus Arvedal, night 14", "performance", "bassoon", 110, 6),
    (5, time(9, 30), time(11, 15), "train to the villa concert", "travel", "", 0, 1),
    (5, time(17), time(18, 30), "Wind trio, villa", "performance", "bassoon", 60, 5),
    (6, time(15), time(18), "Das Haus Arvedal, last night", "performance", "contrabassoon", 95, 6),
    (8, time(14), time(17), "Rehearsal, Act I and II", "rehearsal", "bassoon", 100, 5),
    (9, time(18), time(21), "Rehearsal with singers", "rehearsal", "bassoon", 100, 5),
    (10, time(10), time(11), "reeds, two", "other", "", 50, 3),
    (10, time(14), time(16, 30), "Stage rehearsal", "rehearsal", "contrabassoon", 80, 5),
    (11, time(19), time(22), "Die Salzfahrer, first night", "performance", "contrabassoon", 110, 6),
    (13, time(15), time(18), "Die Salzfahrer, second night", "performance", "bassoon", 105, 6),
)
AIMS = (
    (0, TypedAim("Low F, softly", 40, 3, "bassoon")),
    (0, TypedAim("Thirds in A flat", 40, 4, "bassoon")),
    (7, TypedAim("Act II, contra", 80, 5, "contrabassoon", new_hard=True)),
    (7, TypedAim("Low F, softly", 60, 3, "bassoon")),
    (7, TypedAim("Thirds in A flat", 40, 4, "bassoon")),
)


def begun_and_ended(context: Context) -> None:
    """A programme that is over, and one in its second week."""
    zone = context.zone
    for first, key, typed, ended, note in PROGRAMMES:
        then = replace(context, now=datetime.combine(first, time(9), zone))
        uid = begin.begin(then, key, typed)
        if ended is not None:
            begin.end(replace(context, now=datetime.combine(ended, time(9), zone)), uid, note)


def try_one_change(context: Context) -> None:
    """A trial that is over and waits to be decided; its lot was drawn once, and what it says comes from the diary."""
    rest = next(t.row.uid for t in things.kit(context) if t.row.kind == "rest")
    letters = "A" * 16 + "B" * 18
    data = TrialData(
        change="rest",
        what="the hand rest 8 mm out",
        instrument="bassoon",
        thing=rest,
        measure=TrialMeasure(kind="mark", region="forearm", side="right", timing="after"),
        better="lower",
        order="phases",
        least=5,
        letters=letters,
        lot_days=len(letters),
    )
    first = date(2026, 9, 29)
    values = {"uid": "hand-rest", "title": f"Did {data.what} help?", "first": first, "ended": None, "outcome": ""}
    last = first + timedelta(days=len(letters) - 1)
    corrections.put_row(context, "trial", {**values, "last": last, "data": data.model_dump(mode="json")})


def a_part(context: Context) -> None:
    """An invented part of 64 bars: broken thirds that speed up, a long low note, rests before the last page."""
    notes: list[tuple[float, float, int | None, bool]] = []
    for bar in range(64):
        begins, kind = 4.0 * bar, bar // 8
        if kind in (3, 6):
            notes.append((begins, 4.0 if bar % 2 == 0 else 2.0, 34, False))
        elif kind != 5 or bar % 2:
            step = (0.5, 0.25, 0.25, 0.0, 0.5, 0.5, 0.0, 0.25)[kind]
            for n in range(int(4 / step)):
                notes.append((begins + n * step, step * 0.98, 46 + (0, 4, 2, 5, 16, 5, 9, 7)[n % 8] - kind, kind >= 4))
    bars = [(bar + 1, 4.0 * bar, 4.0 * bar + 4.0, 96.0 if bar < 32 else 112.0) for bar in range(64)]
    data = PartData(notes=notes, bars=bars, has_tempo=True)
    row = {"uid": "salzfahrer", "title": "Die Salzfahrer, Act III", "instrument": "bassoon", "day": context.today}
    corrections.put_row(context, "part", {**row, "pace": 1.0, "data": data.model_dump(mode="json")})


def set_up(context: Context) -> None:
    """Write the demo player's hands, kit, room, dates and aims, and let the next week be laid."""
    for side, values in HANDS.items():
        typed = {k: str(v) for k, v in values.items() if isinstance(v, str)}
        for pair, gap in values.items():
            if isinstance(gap, tuple):
                typed |= {f"{pair}.ease": str(gap[0]), f"{pair}.most": str(gap[1])}
        hands.measure(context, side, typed)
    for thing in KIT:
        things.write(context, None, thing)
    say(
        context,
        dominant="right",
        mirrored="no",
        cold_hands="often",
        loose_joints="none",
        states_asked="yes",
        little_left="moves with the ring finger",
        little_right="moves alone",
        weak_hand="left",
        chair="firm, knees at a right angle",
        stand="not yet",
        mirror="yes",
        light="enough",
        rest_weekday="0",
        rest_school="light day",
    )
    begun_and_ended(context)
    try_one_change(context)
    reports.make(context, REPORT)
    a_part(context)
    monday = date(2026, 11, 9)
    for offset, start, end, title, kind, instrument, minutes, effort in DATES:
        day = monday + timedelta(days=offset)
        engagements.write(context, Typed(day, start, end, title, kind, instrument, minutes, effort))
    for offset, aim in AIMS:
        week_aims.write_aim(context, monday + timedelta(days=offset), aim)
    scheduling.schedule(context, monday + timedelta(days=7))
