"""Composing a warm-up: exercises in, an ordered and timed list out, with what was left out and why. Minutes.

The order is that of the trade (common practice, no source): release, warmth and mobility, easy and soft, one hand
alone, variants, today's patterns. The same wish gives the same familiar list but for one item, which turns with the
day so that no fortnight holds the same list twice.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date

from chirotend.core.errors import check_range, check_word
from chirotend.core.plan.suits import NO_TERMS, NOTHING_SAID, Condition, Place, Terms, unsuitable

WARMING = "warmth and mobility"
STAGES = ("release", WARMING, "easy and soft", "one hand alone", "variants", "today's patterns")
OPENING = "opening"
MIN_MINUTES, MAX_MINUTES = 5.0, 90.0
SCHOOLS = ("warm first", "open first")
MANNERS = ("soft", "edge")
CALL_ORDER = ("open", "muted_mp", "muted_pp", "tacet")
#: shares of the minutes by stage (ours, common practice); the last two need 12 minutes or more
SHARES = {
    "release": 0.15,
    WARMING: 0.25,
    "easy and soft": 0.25,
    "one hand alone": 0.1,
    "variants": 0.1,
    "today's patterns": 0.15,
}
SHORT = 12.0
COLD_EXTRA = 1.5  # the warmth stage grows by half with cold hands
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


@dataclass(frozen=True)
class Wish:
    """What is asked for: minutes 5-90, the instrument ("" = not said) and its family, what today's music needs, the
    schools, the state.

    `condition`: how she is today. `done_before`: exercises she has done; under Muted no other is
    offered (empty = nothing known, then nothing is held back). `weak_hand` "" = none. `choices`: stage slots swapped
    by hand, exercise id by exercise id; `skipped`: ids she took out today; `kept`: ids that come first and never turn.
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


def compose(wish: Wish, exercises: Iterable[Exercise]) -> Warmup:
    """Return today's warm-up for `wish`; under Tacet an empty one. Nothing to choose from gives an empty one too."""
    if wish.call == "tacet":
        return Warmup((), ())
    stages = _stage_order(wish)
    offered, left_out = _offered(wish, exercises)
    minutes = _stage_minutes(wish, stages, offered)
    chosen: list[tuple[str, Exercise]] = []
    for stage in stages:
        chosen += [(stage, e) for e in _fill(stage, offered.get(stage, []), minutes.get(stage, 0.0), wish)]
    chosen, turned = _turn(wish, chosen, offered)
    if wish.swaps:
        by_id = {e.id: e for each in offered.values() for e in each}
        chosen = [(s, by_id.get(wish.swaps.get(e.id, ""), e)) for s, e in chosen]
    chosen = [(s, e) for s, e in chosen if e.id not in wish.skipped]
    return Warmup(tuple(_timed(wish, chosen, turned, minutes)), tuple(left_out))


def offered_today(wish: Wish, exercises: Iterable[Exercise]) -> dict[str, tuple[Exercise, ...]]:
    """Return what may stand in a warm-up today, by stage, best fitting first."""
    return {stage: tuple(each) for stage, each in _offered(wish, exercises)[0].items()}


def why_not(wish: Wish, exercise: Exercise) -> str:
    """Return why `exercise` is not offered today: "" = it is.

    Else a reason of `suits.unsuitable` (a marked zone, her state, what it needs), `call`, or `new`.
    """
    side = exercise.hands if exercise.hands in ("left", "right") else "both"
    if why := unsuitable(exercise.zones, exercise.terms, wish.condition, side):
        return why
    if CALL_ORDER.index(wish.call) > CALL_ORDER.index(exercise.lowest_call):
        return "call"
    if wish.call != "open" and wish.done_before and exercise.id not in wish.done_before:
        return "new"
    return ""


def _offered(wish: Wish, exercises: Iterable[Exercise]) -> tuple[dict[str, list[Exercise]], list[LeftOut]]:
    """Sort what fits this family into its stages, best first; list what a mark or the call keeps away."""
    offered: dict[str, list[Exercise]] = {}
    left_out: list[LeftOut] = []
    for exercise in exercises:
        if exercise.stage not in (*STAGES, OPENING) or not _fits(wish, exercise):
            continue
        why = why_not(wish, exercise)
        if why:
            left_out.append(LeftOut(exercise, why))
        else:
            offered.setdefault(exercise.stage, []).append(exercise)
    for each in offered.values():
        each.sort(key=lambda e: (e.id not in wish.kept, -_score(wish, e), e.id))
    return _after_warmth(wish, offered, left_out)


def _after_warmth(
    wish: Wish, offered: dict[str, list[Exercise]], left_out: list[LeftOut]
) -> tuple[dict[str, list[Exercise]], list[LeftOut]]:
    """Take out what needs warm hands where no step has warmed them before."""
    order = _stage_order(wish)
    warmed = order.index(WARMING) if offered.get(WARMING) else len(order)
    kept = {}
    for stage, each in offered.items():
        cold = stage in order and order.index(stage) < warmed
        left_out += [LeftOut(e, "warm") for e in each if cold and e.needs_warm]
        kept[stage] = [e for e in each if not (cold and e.needs_warm)]
    return kept, left_out


def _fits(wish: Wish, exercise: Exercise) -> bool:
    if "all" not in exercise.families and wish.family not in exercise.families:
        return False
    if wish.instrument in exercise.not_on or (exercise.only_on and wish.instrument not in exercise.only_on):
        return False
    if exercise.school == "long warm-up on sticks" and not wish.long_sticks:
        return False
    return exercise.stage != "one hand alone" or exercise.hands != "weak" or bool(wish.weak_hand)


def _score(wish: Wish, exercise: Exercise) -> float:
    score = 2.0 * len(set(exercise.tags) & set(wish.tags))
    score += 1.0 if wish.family in exercise.families else 0.0
    score += 1.5 if wish.cold and "cold hands" in exercise.tags else 0.0
    edge = len(EDGE_TAGS & set(exercise.tags))
    return score + (0.5 * edge if wish.manner == "edge" else -0.5 * edge)


def _stage_order(wish: Wish) -> tuple[str, ...]:
    """Opening movements come second in the open-first school; otherwise they wait for the rests."""
    stages = STAGES if wish.minutes >= SHORT else STAGES[:3]
    return (stages[0], OPENING, *stages[1:]) if wish.school == "open first" else stages


def _stage_minutes(wish: Wish, stages: tuple[str, ...], offered: Mapping[str, list[Exercise]]) -> dict[str, float]:
    shares = {s: SHARES.get(s, 0.12) for s in stages if offered.get(s)}
    if wish.cold and WARMING in shares:
        shares[WARMING] *= COLD_EXTRA
    total = sum(shares.values())
    return {s: wish.minutes * share / total for s, share in shares.items()}


def _fill(stage: str, offered: list[Exercise], minutes: float, wish: Wish) -> list[Exercise]:
    """Take exercises of one stage until its minutes are full; at least one where the stage has any time."""
    taken: list[Exercise] = []
    used = 0.0
    for exercise in offered:
        if minutes <= 0 or (taken and used + exercise.minutes > minutes + 0.5):
            continue
        if stage == "one hand alone" and taken and exercise.hands == taken[0].hands:
            continue
        taken.append(exercise)
        used += exercise.minutes
    return taken


def _turn(
    wish: Wish, chosen: list[tuple[str, Exercise]], offered: Mapping[str, list[Exercise]]
) -> tuple[list[tuple[str, Exercise]], str]:
    """Put one other item in the place of one of the list: which, and for which, follows from the day alone."""
    here = {e.id for _, e in chosen}
    turns = [
        (i, e)
        for i, (stage, old) in enumerate(chosen)
        if old.id not in wish.kept
        for e in offered[stage]
        if e.id not in here
    ]
    if not turns:
        return chosen, ""
    # a step coprime to the number of turns walks through all of them before one comes again, and spreads over stages
    step = next(s for s in range(max(1, int(len(turns) * 0.382)), len(turns) + 2) if _coprime(s, len(turns)))
    place, other = turns[wish.day.toordinal() * step % len(turns)]
    turned = list(chosen)
    turned[place] = (chosen[place][0], other)
    return turned, other.id


def _coprime(a: int, b: int) -> bool:
    while b:
        a, b = b, a % b
    return a == 1


def _timed(wish: Wish, chosen: list[tuple[str, Exercise]], turned: str, minutes: Mapping[str, float]) -> list[Step]:
    """Give each step its minutes: a stage's share out by its exercises, the weak hand twice the strong one."""
    steps: list[tuple[str, Step]] = []
    for stage, exercise in chosen:
        hand = exercise.hands if exercise.hands != "weak" else wish.weak_hand
        step = Step(exercise, exercise.minutes, hand, exercise.id == turned)
        if stage == "one hand alone" and hand == "both" and wish.weak_hand:
            strong = "left" if wish.weak_hand == "right" else "right"
            steps.append((stage, replace(step, hand=strong, minutes=exercise.minutes / 2)))
            steps.append((stage, replace(step, hand=wish.weak_hand, minutes=exercise.minutes)))
        else:
            factor = 1.0 if stage != "one hand alone" or not wish.weak_hand or hand == wish.weak_hand else 0.5
            steps.append((stage, replace(step, minutes=exercise.minutes * factor)))
    if not steps:
        return []
    whole = {stage: sum(s.minutes for other, s in steps if other == stage) for stage, _ in steps}
    shares = [s.minutes / whole[stage] * minutes[stage] for stage, s in steps]
    timed = zip(steps, _halves(shares, wish.minutes), strict=True)
    return [replace(step, minutes=m) for (_, step), m in timed]


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
