"""Composing a warm-up: exercises in, an ordered and timed list out, with what was left out and why. Minutes.

The order is that of the trade (common practice, no source): release, warmth and mobility, easy and soft, one hand
alone, technique drills, variants, today's patterns; sound comes within the first third. Familiar, yet not dull: what
the first three stages begin with stays a week; the rest moves on by one every second day, half of the stages today and
half tomorrow (in a short one each of them every day), so that no fortnight holds the same list twice.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta

from chirotend.core.errors import check_range, check_word
from chirotend.core.plan.suits import NO_TERMS, NOTHING_SAID, Condition, Place, Terms, unsuitable

WARMING = "warmth and mobility"
DRILLS = "technique drill"
STAGES = ("release", WARMING, "easy and soft", "one hand alone", DRILLS, "variants", "today's patterns")
#: stages whose first exercise stays for a week (in a short warm-up only in the last of them)
SETTLED = STAGES[:3]
OPENING = "opening"
MIN_MINUTES, MAX_MINUTES = 5.0, 90.0
SCHOOLS = ("warm first", "open first")
LONG_ON_STICKS = "long warm-up on sticks"
MANNERS = ("soft", "edge")
CALL_ORDER = ("open", "muted_mp", "muted_pp", "tacet")
#: shares of the minutes by stage (ours, common practice); what is before the first sound takes a third of it at most
SHARES = {
    "release": 0.1,
    WARMING: 0.22,
    "easy and soft": 0.22,
    "one hand alone": 0.08,
    DRILLS: 0.15,
    "variants": 0.08,
    "today's patterns": 0.15,
}
BEFORE_SOUND = 1 / 3
SILENT = frozenset({"release", OPENING, WARMING})
SHORT = 12.0
COLD_EXTRA = 1.5  # the warmth stage grows by half with cold hands, at the cost of release
#: a step of a long warm-up is longer, so that it does not fall into crumbs: one of so many of the whole at least
CRUMBS = 15
#: no step takes more than so many times what it is meant to: a warm-up with little left to offer is shorter
STRETCH = 2.0
#: nor less than this part of it, where something shorter is there
LEAST_PART = 0.5
#: exercises this much worse than the best one still take their turn
NEAR_BEST, SPARE = 1.0, 100.0
EDGE_TAGS = frozenset({"fast tempo", "accents", "leaps"})


@dataclass(frozen=True)
class Exercise:
    """What the composer has to know of an exercise; the zones it loads, by side ("both", "left", "right")."""

    id: str
    name: str
    stage: str
    minutes: float
    families: tuple[str, ...]
    hands: str
    zones: tuple[Place, ...]
    needs_warm: bool
    lowest_call: str
    tags: tuple[str, ...] = ()
    school: str = ""
    terms: Terms = NO_TERMS
    only_on: tuple[str, ...] = ()
    not_on: tuple[str, ...] = ()
    first: bool = False
    spare: bool = False


@dataclass(frozen=True)
class WarmupInputs:
    """What is asked for: minutes 5-90, the instrument ("" = not said) and its family, what today's music needs, the
    schools, the state.

    `condition`: how she is today. `done_before`: exercises she has done; under Muted no other is
    offered (empty = nothing known, then nothing is held back). `weak_hand` "" = none. `choices`: stage slots swapped
    by hand, exercise id by exercise id; `skipped`: ids she took out today; `kept`: ids that come first and never turn.
    `left_min`: minutes the day's limit leaves (None = no limit).
    """

    minutes: float
    family: str
    day: date
    tags: tuple[str, ...] = ()
    school: str = "warm first"
    manner: str = "soft"
    call: str = "open"
    condition: Condition = NOTHING_SAID
    cold: bool = False
    weak_hand: str = ""
    long_sticks: bool = False
    done_before: frozenset[str] = frozenset()
    skipped: frozenset[str] = frozenset()
    kept: frozenset[str] = frozenset()
    instrument: str = ""
    swaps: Mapping[str, str] | None = None
    left_min: float | None = None

    def __post_init__(self) -> None:
        check_range("minutes", self.minutes, MIN_MINUTES, MAX_MINUTES, "min")
        check_word("school", self.school, SCHOOLS)
        check_word("manner", self.manner, MANNERS)
        check_word("call", self.call, CALL_ORDER)
        check_word("weak_hand", self.weak_hand, ("", "left", "right"))


@dataclass(frozen=True)
class Step:
    """One step of the warm-up: the exercise, its minutes today, which hand, whether it is the one that turned."""

    exercise: Exercise
    minutes: float
    hand: str
    turned: bool = False
    note: str = ""


@dataclass(frozen=True)
class LeftOut:
    """An exercise that would have stood here, and why it does not."""

    exercise: Exercise
    why: str


@dataclass(frozen=True)
class Warmup:
    """The steps in order and what was left out. `minutes` is their sum."""

    steps: tuple[Step, ...]
    left_out: tuple[LeftOut, ...]

    @property
    def minutes(self) -> float:
        return sum(s.minutes for s in self.steps)

    @property
    def ids(self) -> tuple[str, ...]:
        return tuple(s.exercise.id for s in self.steps)


def minutes_within(asked_min: float, left_min: float | None) -> float:
    """Return the minutes of a warm-up: as asked for, at most half of what the day's limit leaves (None = no limit),
    and never less than the shortest one takes. Ours, no source."""
    return asked_min if left_min is None else min(asked_min, max(MIN_MINUTES, left_min // 2))


def compose(inputs: WarmupInputs, exercises: Iterable[Exercise]) -> Warmup:
    """Return today's warm-up: an empty one under Tacet, where nothing is to choose from, or where the day's limit
    leaves less than the shortest one takes."""
    if inputs.call == "tacet" or (inputs.left_min is not None and inputs.left_min < MIN_MINUTES):
        return Warmup((), ())
    stages = _stage_order(inputs)
    offered, left_out = _offered(inputs, exercises)
    minutes = _stage_minutes(inputs, stages, offered)
    chosen: list[tuple[str, Exercise]] = []
    turned: set[str] = set()
    for stage in stages:
        here = _fill(stage, offered.get(stage, []), minutes.get(stage, 0.0), inputs)
        before = _fill(stage, offered.get(stage, []), minutes.get(stage, 0.0), _day_before(inputs))
        chosen += [(stage, e) for e in here]
        turned |= {e.id for e in here} - {e.id for e in before}
    if inputs.swaps:
        by_id = {e.id: e for each in offered.values() for e in each}
        chosen = [(s, by_id.get(inputs.swaps.get(e.id, ""), e)) for s, e in chosen]
    chosen = [(s, e) for s, e in chosen if e.id not in inputs.skipped]
    return Warmup(tuple(_timed(inputs, chosen, turned, minutes)), tuple(left_out))


def offered_today(inputs: WarmupInputs, exercises: Iterable[Exercise]) -> dict[str, tuple[Exercise, ...]]:
    """Return what may stand in a warm-up today, by stage, best fitting first."""
    return {stage: tuple(each) for stage, each in _offered(inputs, exercises)[0].items()}


def why_not(inputs: WarmupInputs, exercise: Exercise) -> str:
    """Return why `exercise` is not offered today: "" = it is.

    Else a reason of `suits.unsuitable` (a marked zone, her state, what it needs), `call`, or `new`.
    """
    side = exercise.hands if exercise.hands in ("left", "right") else "both"
    if why := unsuitable(exercise.zones, exercise.terms, inputs.condition, side):
        return why
    if CALL_ORDER.index(inputs.call) > CALL_ORDER.index(exercise.lowest_call):
        return "call"
    if inputs.call != "open" and inputs.done_before and exercise.id not in inputs.done_before:
        return "new"
    return ""


def _offered(inputs: WarmupInputs, exercises: Iterable[Exercise]) -> tuple[dict[str, list[Exercise]], list[LeftOut]]:
    """Sort what fits this family into its stages, best first; list what a mark or the call keeps away."""
    offered: dict[str, list[Exercise]] = {}
    left_out: list[LeftOut] = []
    for exercise in exercises:
        if exercise.stage not in (*STAGES, OPENING) or not _fits(inputs, exercise):
            continue
        why = why_not(inputs, exercise)
        if why:
            left_out.append(LeftOut(exercise, why))
        else:
            offered.setdefault(exercise.stage, []).append(exercise)
    for each in offered.values():
        each.sort(key=lambda e: (e.id not in inputs.kept, -_score(inputs, e)))  # ties stay as the library has them
    return _after_warmth(inputs, offered, left_out)


def _after_warmth(
    inputs: WarmupInputs, offered: dict[str, list[Exercise]], left_out: list[LeftOut]
) -> tuple[dict[str, list[Exercise]], list[LeftOut]]:
    """Take out what needs warm hands where no step has warmed them before."""
    order = _stage_order(inputs)
    warmed = order.index(WARMING) if offered.get(WARMING) else len(order)
    kept = {}
    for stage, each in offered.items():
        cold = stage in order and order.index(stage) < warmed
        left_out += [LeftOut(e, "warm") for e in each if cold and e.needs_warm]
        kept[stage] = [e for e in each if not (cold and e.needs_warm)]
    return kept, left_out


def _fits(inputs: WarmupInputs, exercise: Exercise) -> bool:
    if "all" not in exercise.families and inputs.family not in exercise.families:
        return False
    if inputs.instrument in exercise.not_on or (exercise.only_on and inputs.instrument not in exercise.only_on):
        return False
    if exercise.school == LONG_ON_STICKS and not inputs.long_sticks:
        return False
    return exercise.stage != "one hand alone" or exercise.hands != "weak" or bool(inputs.weak_hand)


def _score(inputs: WarmupInputs, exercise: Exercise) -> float:
    score = 2.0 * len(set(exercise.tags) & set(inputs.tags))
    score += 1.0 if inputs.family in exercise.families else 0.0
    if "cold hands" in exercise.tags:
        score += 1.5 if inputs.cold else -1.5
    edge = len(EDGE_TAGS & set(exercise.tags))
    score -= SPARE if exercise.spare else 0.0
    return score + (0.5 * edge if inputs.manner == "edge" else -0.5 * edge)


def _stage_order(inputs: WarmupInputs) -> tuple[str, ...]:
    """Opening movements come second in the open-first school; otherwise they wait for the rests."""
    stages = STAGES if inputs.minutes >= SHORT else STAGES[:3]
    return (stages[0], OPENING, *stages[1:]) if inputs.school == "open first" else stages


def _stage_minutes(
    inputs: WarmupInputs, stages: tuple[str, ...], offered: Mapping[str, list[Exercise]]
) -> dict[str, float]:
    shares = {s: SHARES.get(s, 0.12) for s in stages if offered.get(s)}
    if inputs.cold and WARMING in shares:
        shares[WARMING] *= COLD_EXTRA
    sounding = set(shares) - SILENT
    silent = sum(shares[s] for s in shares if s not in sounding)
    loud = sum(shares[s] for s in sounding)
    # with sound in it, what comes before the first of it takes a third at most, however little else is left
    part = min(silent / (silent + loud), BEFORE_SOUND) if sounding else 1.0
    whole = {True: inputs.minutes * (1 - part), False: inputs.minutes * part}
    return {s: whole[s in sounding] * share / (loud if s in sounding else silent) for s, share in shares.items()}


def _fill(stage: str, offered: list[Exercise], minutes: float, inputs: WarmupInputs) -> list[Exercise]:
    """Take exercises of one stage until its minutes are full; at least one where the stage has any time."""
    taken: list[Exercise] = []
    used, least = 0.0, inputs.minutes / CRUMBS
    fits = [e for e in offered if e.minutes <= minutes / LEAST_PART]  # cut to less it is another exercise
    for exercise in _in_turn(stage, fits or offered, inputs):
        length = max(exercise.minutes, least)
        if minutes <= 0 or (taken and used + length > minutes + max(0.5, least / 2)):
            continue
        if stage == "one hand alone" and taken and exercise.hands == taken[0].hands:
            continue
        taken.append(exercise)
        used += length
    return taken


def _in_turn(stage: str, offered: list[Exercise], inputs: WarmupInputs) -> list[Exercise]:
    """The exercises of a stage as they stand today: what she keeps and what comes first every day, then the best ones
    in turn, then the others."""
    kept = [e for e in offered if e.id in inputs.kept or e.first]
    others = [e for e in offered if e not in kept]
    if not others:
        return kept
    least = max(_score(inputs, e) for e in others) - NEAR_BEST
    best = [e for e in others if _score(inputs, e) >= least]
    day = inputs.day.toordinal()
    settled = stage in (SETTLED if inputs.minutes >= SHORT else SETTLED[2:])
    place = (*STAGES, OPENING).index(stage)  # not all of them change on one day
    first = [best[(day + 2 * place) // 7 % len(best)]] if settled else []
    turn = (day + place) // (2 if inputs.minutes >= SHORT else 1) % len(best)
    in_turn = [e for e in (*best[turn:], *best[:turn]) if e not in first]
    return [*kept, *first, *in_turn, *(e for e in others if _score(inputs, e) < least)]


def _day_before(inputs: WarmupInputs) -> WarmupInputs:
    return replace(inputs, day=inputs.day - timedelta(days=1))


def _timed(
    inputs: WarmupInputs, chosen: list[tuple[str, Exercise]], turned: set[str], minutes: Mapping[str, float]
) -> list[Step]:
    """Give each step its minutes: a stage's share out by its exercises, the weak hand twice the strong one.

    What a step cannot take goes to those that can; what none can take is not played.
    """
    steps: list[tuple[str, Step]] = []
    for stage, exercise in chosen:
        hand = exercise.hands if exercise.hands != "weak" else inputs.weak_hand
        step = Step(exercise, exercise.minutes, hand, exercise.id in turned)
        if stage == "one hand alone" and hand == "both" and inputs.weak_hand:
            strong = "left" if inputs.weak_hand == "right" else "right"
            steps.append((stage, replace(step, hand=strong, minutes=exercise.minutes / 2)))
            steps.append((stage, replace(step, hand=inputs.weak_hand, minutes=exercise.minutes)))
        else:
            factor = 1.0 if stage != "one hand alone" or not inputs.weak_hand or hand == inputs.weak_hand else 0.5
            steps.append((stage, replace(step, minutes=exercise.minutes * factor)))
    if not steps:
        return []
    whole = {stage: sum(s.minutes for other, s in steps if other == stage) for stage, _ in steps}
    most = [STRETCH * max(s.minutes, inputs.minutes / CRUMBS) for _, s in steps]
    wanted = [s.minutes / whole[stage] * minutes[stage] for stage, s in steps]
    silent = sum(stage in SILENT for stage, _ in steps)  # they come first
    # what the one cannot take is not for the other: sound comes in time
    shares = [*_within(wanted[:silent], most[:silent]), *_within(wanted[silent:], most[silent:])]
    timed = zip(steps, _halves(shares, min(inputs.minutes, sum(shares))), strict=True)
    return [replace(step, minutes=m) for (_, step), m in timed]


def _within(shares: list[float], most: list[float]) -> list[float]:
    """Share out again what is more than a step may take, among those that may take more."""
    for _ in shares:
        over = sum(max(0.0, s - m) for s, m in zip(shares, most, strict=True))
        shares = [min(s, m) for s, m in zip(shares, most, strict=True)]
        room = sum(s for s, m in zip(shares, most, strict=True) if s < m)
        if over < 1e-9 or not room:
            break
        shares = [s + over * s / room if s < m else s for s, m in zip(shares, most, strict=True)]
    return [min(s, m) for s, m in zip(shares, most, strict=True)]


def _halves(shares: list[float], minutes: float) -> list[float]:
    """Share `minutes` out in half minutes as the shares say, at least a half each, by largest remainder."""
    halves = round(minutes * 2)
    exact = [max(1.0, s / sum(shares) * halves) for s in shares]
    found = [int(e) for e in exact]
    order = sorted(range(len(exact)), key=lambda i: (-(exact[i] - found[i]), i))
    for i in order[: max(0, halves - sum(found))]:
        found[i] += 1
    while sum(found) > max(halves, len(found)):
        found[max(range(len(found)), key=found.__getitem__)] -= 1
    return [n / 2 for n in found]
