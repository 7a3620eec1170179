"""The rows of the call table, one function each: evidence in, findings out.

Common practice put together with care; not yet reviewed by a clinician. All matching rows are listed; the first
decides. Numbers come from `call_rules.csv`.
"""

import math
from collections.abc import Callable, Iterator
from datetime import date, timedelta

from chirotend.core.body.redflags import red_flag, tier_beside
from chirotend.core.body.stages import fry_grade
from chirotend.core.judge.evidence import Evidence, is_strong
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.happened import FEVER, MEDICINE
from chirotend.core.judge.rules import MUTED_MP, MUTED_PP, OPEN, TACET, rules
from chirotend.core.judge.signs import signs
from chirotend.core.judge.watched_series import beside
from chirotend.core.record import Mark
from chirotend.core.record.words import SENSORY_KINDS, SYMPTOM_KINDS, TIGHTNESS, Kind

Findings = Iterator[Finding]
FAINT_ROW = 10  # a faint mark in the score: it is kept, never spoken, and decides nothing


def urgent_signs(e: Evidence) -> Findings:
    """Row 1, and the prompt codes of rows 0 and 2: signs answered on the urgent list and not yet seen to."""
    seen: dict[str, date] = {}
    for check in e.uncleared_checks:
        for code in check.red_flags:
            seen[code] = max(check.day, seen.get(code, check.day))
    for code, day in seen.items():
        flag = red_flag(code)
        tier = tier_beside(code, seen)
        book = {"emergency": "now", "same_day": "today", "prompt": "week", "routine": "two_weeks"}[tier]
        if tier in ("emergency", "same_day"):
            yield Finding("urgent_sign", 1, TACET, {"sign": code, "tier": tier}, (day,), book, nerve=True)
        elif flag.row == 2:
            yield Finding("prompt_sign", 2, TACET, {"sign": code, "tier": tier}, (day,), book, nerve=True)
        elif flag.row == 4:
            if (e.today - day).days * 24 <= rules().single_event_hours and not e.is_settled(day):
                yield Finding("night_sign", 4, MUTED_PP, {"sign": code}, (day,), book, nerve=code == "night_tingling")
        elif flag.row == 8:
            if (e.today - day).days <= 1:
                yield Finding("fever", 8, TACET, {"sign": code}, (day,), book)
        else:
            yield Finding("worth_showing", 9, OPEN, {"sign": code}, (day,), book)


def loss(e: Evidence) -> Findings:
    """Row 2: numbness that stays, weakness, loss of control, a locked finger, swelling."""
    for check in e.uncleared_checks:
        for entry in (mark.entry for mark in check.marks):
            if what := _loss_in(entry.kind, entry.lasting, entry.flags):
                yield Finding(
                    "loss",
                    2,
                    TACET,
                    {"what": what, "zone": entry.zone, "side": entry.side},
                    (check.day,),
                    "week",
                    nerve=True,
                )


def _loss_in(kind: str, lasting: str | None, flags: tuple[str, ...]) -> str | None:
    if kind == "numbness" and lasting in ("longer", "constant"):
        return "numb_constant" if lasting == "constant" else "numb_longer"
    if kind == "weakness":
        return "weakness"
    return next((f for f in ("loss_of_control", "locked", "swelling") if f in flags), None) if flags else None


def strong_pain(e: Evidence) -> Findings:
    """Row 3: pain of 5 or more in 24 hours, tightness or stiffness of 7 or more, or stage 4 and above."""
    r = rules()
    strong = [m for m in e.within_hours(r.tacet_pain_hours) if is_strong(m.entry)]
    stage = playing_stage(e)
    if not strong and stage < r.tacet_stage:
        return
    days = e.strong_days()
    book = "two_weeks" if len(days) >= 2 else ""
    if strong:
        worst = max(strong, key=lambda m: (m.entry.kind == "pain", m.entry.intensity))
        yield Finding("strong_pain", 3, TACET, {**_where(worst), "times": len(days)}, (worst.day,), book)
    if stage >= r.tacet_stage:
        soon = "week" if stage >= r.tacet_stage_week else book or "two_weeks"
        yield Finding("stage", 3, TACET, {"stage": stage}, (), soon)


def playing_stage(e: Evidence) -> int:
    """Return Fry's stage from the marks of the last seven days; 0 without pain while playing."""
    week = [m for m in e.since(7) if m.entry.kind == "pain"]
    sites = {(m.entry.zone, m.entry.side) for m in week if m.timing == "playing"}
    if not sites:
        return 0
    answers = {
        c.other_uses
        for c in e.record.checks
        if c.other_uses and e.today - timedelta(days=6) <= c.day <= e.today and not e.is_settled(c.day)
    }
    least = rules().stage_pain
    places = {m.place for m in week if m.timing == "playing" and m.entry.intensity >= least}
    away = any(
        (m.timing in ("waking", "night", "daily") or (m.timing == "after" and m.entry.lasting == "longer"))
        and (not least or (m.place in places and m.entry.intensity >= least))
        for m in week
    )
    other = next((u for u in ("all", "some") if u in answers), "none")
    return fry_grade(True, len(sites), away, other, "lost" in answers)


def nights_and_nerves(e: Evidence) -> Findings:
    """Row 4: tingling that stays or returns, numbness of unknown duration, being woken, stage 3, worse mornings."""
    r = rules()
    recent = list(e.within_hours(r.single_event_hours))
    tingling = [m for m in e.since(7) if m.entry.kind == "tingling"]
    for mark in recent:
        if mark.entry.kind == "tingling" and mark.entry.lasting in ("longer", "constant"):
            yield Finding("tingling_stays", 4, MUTED_PP, _where(mark), (mark.day,), "two_weeks", nerve=True)
            break
    unknown = [m for m in recent if m.entry.kind == "numbness" and m.entry.lasting is None]
    if unknown:
        mark = unknown[-1]
        yield Finding("numb_unknown", 4, MUTED_PP, _where(mark), (mark.day,), "two_weeks", nerve=True)
    nights = {m.night for m in tingling if m.night is not None}
    if len(nights) >= r.pp_tingling_nights:
        yield Finding(
            "tingling_nights",
            4,
            MUTED_PP,
            {**_where(tingling[-1]), "nights": len(nights)},
            tuple(sorted(m.day for m in tingling if m.night)),
            "two_weeks",
            nerve=True,
        )
    playing = set(e.playing_days(7))
    days = {m.day for m in e.since(28) if m.entry.kind == "tingling" and m.day in playing}
    if len(days) >= r.pp_tingling_playing_days:
        yield Finding(
            "tingling_playing_days",
            4,
            MUTED_PP,
            {**_where(_last_tingling(e)), "days": len(days)},
            tuple(sorted(days)),
            "two_weeks",
            nerve=True,
        )
    woken = [m for m in recent if m.timing == "night" and _wakes(m)]
    if woken:
        mark = max(woken, key=lambda m: m.entry.intensity)
        yield Finding(
            "woken",
            4,
            MUTED_PP,
            _where(mark),
            (mark.day,),
            "two_weeks",
            nerve=mark.entry.kind in SENSORY_KINDS,
        )
    if playing_stage(e) == r.pp_stage:
        yield Finding("stage", 4, MUTED_PP, {"stage": 3}, (), "two_weeks")
    yield from _worse_mornings(e)


def _last_tingling(e: Evidence) -> Mark:
    return [m for m in e.since(28) if m.entry.kind == "tingling"][-1]


def _wakes(mark: Mark) -> bool:
    """A little tightness noticed at night is no symptom that wakes."""
    return mark.entry.kind not in TIGHTNESS or mark.entry.intensity >= rules().woken_tightness


def _worse_mornings(e: Evidence) -> Findings:
    """Pain on waking two or more above the usual: the first such morning in seven, if it is mild, is row 5."""
    r = rules()
    for (region, side), by_day in e.daily_worst(("pain",), "waking").items():
        usual = e.baseline(by_day, (region, side), ("pain",))
        now = 0.0 if e.is_settled(e.today) else by_day.get(e.today, 0.0)
        if now < usual + r.pp_morning_rise:
            continue
        week = (e.today - timedelta(days=n) for n in range(1, 7))
        first = not any(by_day.get(day, 0.0) >= usual + r.pp_morning_rise for day in week)
        values: dict[str, str | float | int] = {"region": region, "side": side, "intensity": now, "usual": usual}
        values["asked"] = len(e.asked)
        if first and now < r.first_morning_pain:
            yield Finding("first_morning_pain", 5, MUTED_MP, values, (e.today,))
        else:
            yield Finding("morning_pain", 4, MUTED_PP, values, (e.today,), "two_weeks")


def moderate(e: Evidence) -> Findings:
    """Row 5: pain of 3 to 4, or one brief tingling, in 48 hours."""
    r = rules()
    recent = list(e.within_hours(r.single_event_hours))
    pains = [m for m in recent if r.mp_pain <= _pain(m) < r.tacet_pain]
    if pains:
        worst = max(pains, key=_pain)
        yield Finding("moderate_pain", 5, MUTED_MP, _where(worst), (worst.day,))
    nerve = [m for m in recent if _is_brief_nerve_sign(m.entry.kind, m.entry.lasting)]
    if nerve:
        days = {m.day for m in e.marks if _is_brief_nerve_sign(m.entry.kind, m.entry.lasting)}
        last = nerve[-1].day
        again = not r.brief_nerve_days or any(0 < (last - day).days < r.brief_nerve_days for day in days)
        yield Finding("brief_tingling", 5, MUTED_MP, _where(nerve[-1]), (last,), nerve=again)


def _is_brief_nerve_sign(kind: str, lasting: str | None) -> bool:
    """True for tingling not marked as longer, and for numbness marked brief."""
    return (kind == "tingling" and lasting in ("brief", None)) or (kind == "numbness" and lasting == "brief")


def rising_tightness(e: Evidence) -> Findings:
    """Row 6: tightness or stiffness above her usual on several logged days, or a raised sign."""
    r = rules()
    over = e.days_over_baseline
    needed = r.mp_days_with_load if over else r.mp_days_without_load
    last_logged = e.asked[-7:]
    for (region, side), by_day in e.daily_worst(TIGHTNESS).items():
        usual = e.baseline(by_day, (region, side), TIGHTNESS)
        least = max(r.mp_tightness, usual + r.mp_tightness_rise)
        days = [d for d in last_logged if not e.is_settled(d) and by_day.get(d, 0.0) >= least]
        if len(days) >= needed and _unlikely(e, by_day, len(days), len(last_logged)):
            yield Finding(
                "tightness_with_load" if over else "tightness",
                6,
                MUTED_MP,
                {
                    "region": region,
                    "side": side,
                    "days": len(days),
                    "usual": usual,
                    "highest": max(by_day[d] for d in days),
                },
                tuple(days),
            )
    yield from _early_signs(e)


def _unlikely(e: Evidence, by_day: dict[date, float], hits: int, of: int) -> bool:
    """True when so many days of the last seven would be rare under her own rate (binomial tail)."""
    r = rules()
    p = e.rate_of(by_day, r.mp_tightness)
    tail = sum(math.comb(of, k) * p**k * (1 - p) ** (of - k) for k in range(hits, of + 1))
    return tail <= r.rate_chance


def _early_signs(e: Evidence) -> Findings:
    """Row 6: a raised sign. After a heavy week it caps the day first; one she has answered is only shown."""
    r = rules()
    for sign in signs(e):
        code, row, level = ("risen", 6, MUTED_MP) if sign.speaks else ("faint", FAINT_ROW, OPEN)
        new = (e.today - sign.raised_on).days < r.sign_caps_days
        if sign.speaks and (sign.region, sign.side) in e.watched:
            code, row, level = "watched", 9, OPEN
        elif sign.speaks and _quiet(e, (sign.region, sign.side)):
            code, row, level = "risen_quiet", 9, OPEN
        elif sign.speaks and new and e.heavy_week:
            code, row, level = "risen_after_load", 9, OPEN
        values: dict[str, str | float | int] = {
            "region": sign.region,
            "side": sign.side,
            "since": sign.since.isoformat(),
            "height": round(sign.height, 2),
            "line": round(sign.threshold, 2),
            "odds": round(sign.odds, 2),
            "passed": len(sign.passed),
            "longest": max(sign.passed, default=0),
        }
        yield Finding(code, row, level, values, (sign.raised_on,))


def _quiet(e: Evidence, place: tuple[str, str]) -> bool:
    """True when the place has been quiet on the last asked days: the filter forgets a long trouble slowly."""
    r = rules()
    by_day = e.daily_worst(SYMPTOM_KINDS).get(place, {})
    last = e.asked[-r.sign_quiet_days :] if r.sign_quiet_days else []
    return len(last) == r.sign_quiet_days > 0 and all(by_day.get(day, 0.0) <= r.sign_quiet_mark for day in last)


def beside_the_places(e: Evidence) -> Findings:
    """Row 9: a series beside the places that stands out. It is shown, and neither mutes nor caps anything."""
    for b in beside(e.record, e.measured, e.today):
        values: dict[str, str | float | int] = {
            "series": b.series,
            "since": b.since.isoformat(),
            "height": round(b.height, 2),
            "line": round(b.threshold, 2),
            "now": round(b.now, 2),
            "usual": round(b.usual, 2),
        }
        yield Finding("beside", 9, OPEN, values, (b.since,))


def not_enough(e: Evidence) -> Findings:
    """Row 7: fewer than 3 of 7 days logged, or no check today. No call is invented."""
    week = {e.today - timedelta(days=n) for n in range(7)}
    logged = len(week & e.record.logged_days)
    asked_today = e.today in e.record.asked_days
    if logged < rules().enough_days or not asked_today:
        yield Finding("not_enough", 7, OPEN, {"logged": logged, "asked_today": int(asked_today)})


def return_after_gap(e: Evidence) -> Findings:
    """Row 8: after 7 days off half of usual, after 28 a quarter; then at most 10 minutes more a played day."""
    if any(c.instead for c in e.ceilings):
        return
    r = rules()
    days = [day for day, _ in e.played if day < e.today] + [e.today]
    for i in range(len(days) - 1, 0, -1):
        off, steps = (days[i] - days[i - 1]).days - 1, len(days) - 1 - i
        if off < r.off_days_half or (usual := e.median_minutes(days[i])) is None:
            continue
        share = 25 if off >= r.off_days_quarter else 50
        dose = usual * share / 100 + steps * r.return_step_min
        if dose < usual:
            values: dict[str, str | float | int] = {
                "off_days": off,
                "share": share,
                "step": steps,
                "dose_min": int(dose),
                "usual_min": round(usual),
            }
            yield Finding("return", 8, OPEN, values, ())
        return


def happened(e: Evidence) -> Findings:
    """Row 8: an operation, a cast, a fall, a fever or a medicine, and what someone licensed allowed."""
    for h in e.happened:
        values: dict[str, str | float | int] = {"happened": h.uid, "since": h.day.isoformat()}
        if h.place is not None:
            values |= {"region": h.place[0], "side": h.place[1]}
        if h.kind == FEVER and h.stops_on(e.today) and h.until is not None and h.until <= e.today:
            yield Finding("fever_rest", 8, TACET, values | {"since": h.until.isoformat()}, (h.until,))
        elif h.stops_on(e.today):
            yield Finding(f"{h.kind}_stops", 8, TACET, values, (h.day,), "week" if h.kind == "fall" else "")
        elif h.kind == FEVER:
            yield from _after_fever(e, h.until or h.day, values)
        elif h.allowed_min is not None and h.allows_on(e.today):
            yield Finding("told", 8, OPEN, values | {"dose_min": h.allowed_min}, (h.day,))
        elif h.kind == MEDICINE and h.lasts_on(e.today) and h.answer != "no":
            yield Finding("medicine", 9, OPEN, values, (h.day,), "two_weeks")
        if h.not_on and h.allows_on(e.today):
            yield Finding("told_without", 9, OPEN, values | {"without": ",".join(h.not_on)}, (h.day,))
    if "recent_operation" in e.states and not any(h.kind in ("operation", "cast") for h in e.happened):
        yield Finding("operation_stops", 8, TACET, {"happened": "", "since": ""}, ())


def _after_fever(e: Evidence, over: date, values: dict[str, str | float | int]) -> Findings:
    """Half of her usual when the fever is over, then ten minutes more each played day."""
    r = rules()
    usual = e.median_minutes(over)
    steps = sum(over < day < e.today for day, _ in e.played)
    if usual is None or (e.today - over).days > r.off_days_quarter:
        return
    dose = usual / 2 + steps * r.return_step_min
    if dose < usual:
        yield Finding("after_fever", 8, OPEN, values | {"dose_min": int(dose), "usual_min": round(usual)}, (over,))


def programme_dose(e: Evidence) -> Findings:
    """Row 8: while a programme runs, its dose is the ceiling of the day."""
    for c in e.ceilings:
        values: dict[str, str | float | int] = {"programme": c.programme, "dose_min": c.minutes, "why": c.why}
        yield Finding("programme", 8, OPEN, values | {"number": c.number}, ())


def stands_out(e: Evidence) -> Findings:
    """Row 9: only load, sleep or cold stands out: Open, capped at the usual range."""
    over = e.days_over_capping
    if over and e.capping_load is not None:
        load = e.load.on(over[-1])[1]
        yield Finding("load_high", 9, OPEN, {"load": round(load), "usual_high": round(e.capping_load.high)}, over)
    note = e.record.note(e.today)
    if note and note.sleep in ("short", "broken"):
        yield Finding("sleep", 9, OPEN, {"sleep": note.sleep}, (e.today,))
    if note and note.hands == "cold":
        yield Finding("cold", 9, OPEN, {"hands": note.hands}, (e.today,))


def often_marked(e: Evidence) -> Findings:
    """Row 9: the same place marked at 3 or more on 14 of 21 days is worth showing, whatever is usual."""
    r = rules()
    if not r.often_days:
        return
    first = e.today - timedelta(days=r.often_within - 1)
    days: dict[tuple[str, str], set[date]] = {}
    for mark in e.marks:
        if mark.day >= first and mark.entry.intensity >= r.often_mark:
            days.setdefault(mark.place, set()).add(mark.day)
    for (region, side), marked in sorted(days.items()):
        if len(marked) >= r.often_days:
            values: dict[str, str | float | int] = {"region": region, "side": side, "days": len(marked)}
            yield Finding("often_marked", 9, OPEN, values, (max(marked),), "two_weeks")


ROWS: tuple[Callable[[Evidence], Findings], ...] = (
    urgent_signs,
    loss,
    strong_pain,
    nights_and_nerves,
    moderate,
    rising_tightness,
    not_enough,
    return_after_gap,
    happened,
    programme_dose,
    stands_out,
    often_marked,
    beside_the_places,
)
#: the rows that can hear a kind of symptom marked by itself (10 = it is only named); a new kind has its line here
HEARD_IN_ROWS = {
    Kind.PAIN: (3, 4, 5, 6, 9, 10),
    Kind.TENSION: (3, 4, 6, 9, 10),
    Kind.TINGLING: (4, 5, 6, 9, 10),
    Kind.NUMBNESS: (2, 4, 5, 6, 9, 10),
    Kind.WEAKNESS: (2, 4, 6, 9, 10),
    Kind.STIFFNESS: (3, 4, 6, 9, 10),
}
#: they speak of what is above a complaint that a clinician has seen and that is stable; rows 1-3 never change for it
ROWS_ABOVE_KNOWN = frozenset({nights_and_nerves, moderate, rising_tightness, often_marked})


def _pain(mark: Mark) -> float:
    return mark.entry.intensity if mark.entry.kind == "pain" else 0.0


def _where(mark: Mark) -> dict[str, str | float | int]:
    entry = mark.entry
    return {
        "zone": entry.zone,
        "side": entry.side,
        "kind": entry.kind,
        "intensity": entry.intensity,
        "timing": mark.timing,
    }
