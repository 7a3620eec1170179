"""What a knowledge file may hold. Every field is checked; an unknown one is refused. Masses kg, lengths mm, minutes."""

from collections.abc import Collection
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from chirotend.core.body.zones import zones
from chirotend.core.judge import happened
from chirotend.core.plan.suits import NEEDS, STATES
from chirotend.core.plan.warmup import OPENING, STAGES
from chirotend.core.record.words import FLAGS, SYMPTOM_KINDS, Kind, Timing

#: stages of exercises; only those of the composer become steps of a warm-up
EXERCISE_STAGES = (*STAGES, OPENING, "relaxation", "body awareness")

#: what a programme can be asked for when it begins
PROGRAMME_ASKS = ("start_min", "aim_min", "why", "instrument", "what", "teacher", "until", "target_min", "hand")


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


def _one_of(what: str, known: Collection[str]) -> AfterValidator:
    """Refuse a word that is none of `known`; `what` says what it should have been."""

    def check(word: str) -> str:
        if word not in known:
            raise ValueError(f"“{word}” is not {what}; choose among {', '.join(known)}")
        return word

    return AfterValidator(check)


State = Annotated[str, _one_of("a state", STATES)]
Need = Annotated[str, _one_of("a need", NEEDS)]
ZoneId = Annotated[str, _one_of("a zone of the body map", zones())]
Stage = Annotated[str, _one_of("a stage", EXERCISE_STAGES)]
Id = Annotated[str, Field(pattern=r"^[a-z0-9_]{1,60}$")]
Short = Annotated[str, Field(max_length=200)]
Long = Annotated[str, Field(max_length=1000)]
Name = Annotated[str, Field(min_length=1, max_length=120)]


#: where a caution can stand; those of pages still to come wait for them
SCREENS = (
    "today",
    "stop",
    "body",
    "score",
    "play",
    "warmup",
    "technique",
    "library",
    "concert_card",
    "account",
    "help",
    "emergency",
    "report",
    "share",
    "programme",
)


class Caution(Strict):
    """A caution of at most two sentences, with the screens that show it."""

    id: str
    title: str
    text: str
    screens: tuple[Literal[SCREENS], ...]  # type: ignore[valid-type]
    when: Literal[("always", *STATES)]  # type: ignore[valid-type]
    tone: Literal["plain", "quiet", "urgent"]
    reviewed_by_clinician: bool
    source: str


class Family(Strict):
    """A family of instruments; `one_way_round` = the hands have fixed roles, so a mirrored player swaps them."""

    id: Id
    name: Name
    one_way_round: bool = True


class Carrier(Strict):
    by: str
    use: Literal["usual", "possible"]


class Mass(Strict):
    """Usual mass in kg; 0 to 0 = never carried."""

    low: Annotated[float, Field(ge=0, le=1500)]
    high: Annotated[float, Field(ge=0, le=1500)]
    note: str

    @model_validator(mode="after")
    def _in_order(self) -> "Mass":
        if self.low > self.high:
            raise ValueError("the low mass is above the high one")
        return self


class LoadedZone(Strict):
    zone: ZoneId
    why: Long


class Posture(Strict):
    asymmetry: Long
    watch: Long
    played: Literal["both", "seated", "standing"]
    turns_neck: bool = False


class Fault(Strict):
    """A fault often seen: where to look, a cue, what players do about it."""

    look: Long
    cue: Long
    remedy: Long


class RestFactor(Strict):
    value: Annotated[float, Field(ge=0.3, le=1)]
    assumed: bool


class Instrument(Strict):
    """What carries an instrument, what it loads (on the player's own left and right), its faults and its care."""

    id: Id
    name: Name
    family: Id
    carried_by: tuple[Carrier, ...] = ()
    typical_mass_kg: Mass = Mass(low=0, high=0, note="not said")
    left_load: tuple[LoadedZone, ...] = ()
    right_load: tuple[LoadedZone, ...] = ()
    centre_load: tuple[LoadedZone, ...] = ()
    posture: Posture = Posture(asymmetry="", watch="", played="both")
    first_faults: tuple[Fault, ...] = ()
    rest_factor: RestFactor = RestFactor(value=1.0, assumed=True)
    new_player_start_minutes: Annotated[int, Field(ge=1, le=120)] = 10
    service_months: Annotated[int, Field(ge=0, le=120)] = 12
    string_length_mm: tuple[float, ...] = ()
    #: the usual tuning as it sounds, lowest or first string first; none = not said
    open_strings: tuple[Annotated[str, Field(pattern=r"^[A-G][#b]?[0-9]$")], ...] = ()
    #: neighbouring strings apart at the bridge; None = not said. Usual fingering system of the left hand; "" = not said
    string_spacing_mm: Annotated[float, Field(ge=5, le=40)] | None = None
    fingering: Literal["", "124", "134", "123", "1234", "thumb"] = ""
    reach_note: Long = ""
    quiet_practice: tuple[Long, ...] = ()
    #: grips and supports of the library that are taken on it first of all; none = those of its family
    holds: tuple[Id, ...] = ()
    source: Short = "the player's own"

    @property
    def usual_string_mm(self) -> float:
        """The middle of its usual string lengths; only where it has stopped strings."""
        return (min(self.string_length_mm) + max(self.string_length_mm)) / 2


#: what a hold can be good for, in the order it is always said
USES = ("speed", "power", "soft", "a long day")
#: what moves first in a hold
MOTIONS = ("wrist hinge", "wrist sideways", "forearm rotation", "fingers", "arm", "none")
#: kinds of the library that are a seat or a support, and no grip of a hand
POSTURES = ("seat", "support")


class Grip(Strict):
    """A grip, hold, frame, seat or support: what moves, what it is good for, what it costs and relieves."""

    id: Id
    name: Name
    kind: Name
    hand: Literal["either", "left", "right", "both"]
    families: tuple[Id, ...]
    motion: tuple[Literal[MOTIONS], ...]  # type: ignore[valid-type]
    fulcrum: Short = ""
    holds_with: Long = ""
    uses: tuple[Literal[USES], ...] = ()  # type: ignore[valid-type]
    good_for: tuple[Short, ...] = ()
    costs: tuple[ZoneId, ...] = ()
    relieves: tuple[ZoneId, ...] = ()
    check: Long = ""
    tell_tales: tuple[Short, ...] = ()
    switch_when: Long = ""
    school: Short = ""
    source: Short = "the player's own"

    @property
    def is_posture(self) -> bool:
        return self.kind in POSTURES


class ExerciseEntry(Strict):
    """An exercise: its stage, minutes, hands, what it loads, when it may be offered.

    `only_on` and `not_on` name instruments of its families; none = it is for all of them.
    `first` = its stage begins with it, every day; `spare` = it is taken only where nothing else of its stage is left.
    A caution that can be a rule is one: `not_with` (states of hers), `needs`, `clear_zones` (unmarked beside those it
    loads), `after_operation`; `caution` says the rest.
    """

    id: Id
    name: Name
    stage: Stage
    minutes: Annotated[float, Field(gt=0, le=60)]
    families: tuple[Id, ...]
    only_on: tuple[Id, ...] = ()
    not_on: tuple[Id, ...] = ()
    first: bool = False
    spare: bool = False
    hands: Literal["both", "left", "right", "weak"]
    how: Long
    caution: Long = "-"
    zones_loaded: tuple[ZoneId, ...] = ()
    zones_from_instrument: bool = False
    needs_warm: bool = False
    not_with: tuple[State, ...] = ()
    needs: tuple[Need, ...] = ()
    clear_zones: tuple[ZoneId, ...] = ()
    after_operation: bool = False
    quiet: bool = True
    tags: tuple[Short, ...] = ()
    lowest_call: Literal["open", "muted_mp", "muted_pp"] = "muted_mp"
    progression: Long = ""
    school: Short = ""
    starting_list: bool = False
    source: Short = "the player's own"


class CarrySupport(Strict):
    """A support of a layout: where along the axis from the lower end (mm), how it pushes, whether it can be moved.

    A strap pulls up, `off_vertical_deg` to the left of the drawing (negative: to the right).
    """

    id: Id
    name: Name
    at_mm: Annotated[float, Field(ge=0, le=3000)]
    way: Literal["up", "sideways", "square", "square back", "strap"]
    off_vertical_deg: Annotated[float, Field(ge=-80, le=80)] = 0.0
    off_axis_mm: Annotated[float, Field(ge=-300, le=300)] = 0.0
    moves_from_mm: float | None = None
    moves_to_mm: float | None = None


class CarryLayout(Strict):
    """How an instrument is carried, to start the bench from. The geometry is to be measured on the player.

    With `tension_N` all forces are vertical and the support called "strap" pulls with that tension; the mouth is the
    support called "mouth". Without it the three lines of action settle everything.
    """

    id: Id
    instrument: Id
    name: Name
    mass_kg: Annotated[float, Field(gt=0, le=40)]
    length_mm: Annotated[float, Field(gt=0, le=3000)]
    balance_mm: Annotated[float, Field(gt=0, le=3000)]
    lean_deg: Annotated[float, Field(ge=0, le=90)]
    supports: tuple[CarrySupport, CarrySupport, CarrySupport]
    tension_N: Annotated[float, Field(ge=0, le=200)] | None = None
    spare: CarrySupport | None = None
    watched: Id
    lever_mm: Annotated[float, Field(gt=0, le=120)] = 55.0
    who: Name = "A repairer sets the point; measure again after a week."
    note: Long = ""
    source: Short

    @model_validator(mode="after")
    def _watched_is_there(self) -> "CarryLayout":
        if self.watched not in {s.id for s in self.supports}:
            raise ValueError(f"{self.id}: watched “{self.watched}” is not one of its supports")
        return self


class HoleEntry(Strict):
    finger: Literal["T", "1", "2", "3", "4"]
    along_mm: Annotated[float, Field(ge=0, le=600)]
    across_mm: Annotated[float, Field(ge=-100, le=100)] = 0.0


class HoleLayout(Strict):
    """Where the fingers of one hand land on an instrument; to be measured on the player's own."""

    id: Id
    instrument: Id
    hand: Literal["left", "right"]
    name: Name
    holes: Annotated[tuple[HoleEntry, ...], Field(min_length=2, max_length=4)]
    travel_mm: Annotated[float, Field(ge=0, le=20)] = 3.0
    force_N: Annotated[float, Field(ge=0, le=20)] = 1.0
    source: Short


class ProgrammeEntry(Strict):
    """A programme: what it is for, how it goes, how long, what it is asked for, what cannot run beside it.

    `weeks`: share of her usual minutes (-1 = as otherwise), share of the new way, 1 = easy material only. `school` and
    `costs`: of the two schools of changing a hold for good. `days`: its length where it has no weeks; minutes a day.
    `nothing_new`: nothing new and hard is laid while it runs. `note_a_step`: each step is one note wider, too.
    """

    id: Id
    name: Name
    rule: Literal["steps", "weeks", "season", "daily", "hand"]
    for_what: Short
    how: Long
    calendar: Short
    review: Short
    asks: tuple[Literal[PROGRAMME_ASKS], ...]  # type: ignore[valid-type]
    excludes: tuple[Id, ...] = ()
    school: Literal["", "stop", "beside"] = ""
    costs: Long = ""
    weeks: tuple[tuple[float, float, int], ...] = ()
    days: Annotated[int, Field(ge=0, le=180)] = 0
    floor_min: Annotated[float, Field(ge=0, le=120)] = 0
    bad_day_min: Annotated[float, Field(ge=0, le=120)] = 0
    nothing_new: bool = False
    note_a_step: bool = False
    source: Short

    @model_validator(mode="after")
    def _of_its_rule(self) -> "ProgrammeEntry":
        if (self.rule == "weeks") != bool(self.weeks):
            raise ValueError("a programme of weeks says what each of them is, and no other does")
        if any(not (share == -1 or 0 < share <= 2) or not 0 <= new <= 1 for share, new, _ in self.weeks):
            raise ValueError("a week is -1 or up to 2 of the usual minutes, and 0 to 1 of the new way")
        if (self.rule in ("daily", "hand")) != bool(self.days):
            raise ValueError("a programme of days says how many, and no other does")
        return self


class OtherComplaint(Strict):
    """A complaint that is not of the hands: whom to see, and what must not wait. Nothing else is said of it."""

    id: Id
    name: Name
    see: Annotated[tuple[Short, ...], Field(min_length=1)]
    sooner: Short
    source: Short


class HelpQuestion(Strict):
    """A question as a player asks it, its answer, further words it is found by, the page it is about ("" = none)."""

    id: Id
    ask: Short
    answer: Annotated[tuple[Short, ...], Field(min_length=1)]
    words: Short
    page: str = ""
    page_name: str = ""
    #: what the page of Help adds to the answer
    part: Literal["", "whom", "format", "cautions", "clock"] = ""


class StickModel(Strict):
    id: Id
    name: Name
    mass_g: Annotated[float, Field(gt=0, le=2000)]
    length_mm: Annotated[float, Field(gt=0, le=1500)]
    source: Short


class OtherUse(Strict):
    """Another use of the hands, logged in two taps: its usual effort, the minutes offered, what it loads."""

    id: Id
    name: Name
    effort: Annotated[float, Field(ge=0, le=10)]
    minutes: tuple[int, ...]
    loads: Annotated[tuple[ZoneId, ...], Field(min_length=1)]


class KindWords(Strict):
    """Words in the title of a calendar entry that tell its kind; the share of its time the hands work."""

    kind: Literal["rehearsal", "performance", "lesson", "travel", "appointment", "other"]
    words: tuple[str, ...]
    hands_share: Annotated[float, Field(ge=0, le=1)]
    effort: Annotated[float, Field(ge=0, le=10)]


class Wording(Strict):
    """What is said for one finding code."""

    sentence: str
    rule: str
    do: str
    source: str


class PartWording(Strict):
    """What a bar of a part asks, and what to try."""

    asks: Short
    tries: Annotated[str, Field(max_length=200, alias="try")]


class FirstDaysStep(Strict):
    """What a new player is told to expect, when, and what must be there for it: a count, and the rule it must reach."""

    id: Id
    when: Short
    what: Short
    needs: dict[
        Literal["written", "usual", "asked", "age"], Literal["enough_days", "usual_days", "sign_days", "range_days"]
    ] = Field(default_factory=dict)


class DiaryColumn(Strict):
    """What the first line of a diary calls a column, in small letters without accents and dots."""

    meaning: Id
    words: list[Short]


class DiaryWord(Strict):
    """Words that cells of a diary say, of one list, and the word here that they mean."""

    of: Literal[
        "kind",
        "off",
        "total",
        "side",
        "symptom",
        "timing",
        "nothing",
        "empty",
        "sleep",
        "effort",
        "strength",
        "zone",
        "instrument",
        "month",
    ]
    to: Short
    words: list[Short]


class LooksLike(Strict):
    words: Long
    kinds: tuple[Literal[tuple(kind.said for kind in Kind)], ...]  # type: ignore[valid-type]
    flags: tuple[Literal["swelling", "catching or locking", "loss of control", "colour or cold"], ...] = ()
    zones: tuple[ZoneId, ...]
    sides: Literal["one", "both", "one or both"]
    timings: tuple[Literal[tuple(timing.said for timing in Timing)], ...]  # type: ignore[valid-type]


Tier = Literal["routine", "prompt", "same_day", "emergency"]


class Sooner(Strict):
    code: str
    tier: Tier


class Together(Strict):
    codes: tuple[str, ...]
    tier: Tier


class SymptomPattern(Strict):
    """Places, kinds and times often mentioned together; never a diagnosis. `never_say` is for whoever writes words."""

    id: Id
    plain_name: Name
    looks_like: LooksLike
    what_else_it_can_be: tuple[Long, ...]
    what_to_log_next: tuple[Long, ...]
    ease_off: tuple[Long, ...]
    see_whom: tuple[Short, ...]
    how_soon: Tier
    ask_first: tuple[str, ...]
    sooner_if: tuple[Sooner, ...]
    together_if: tuple[Together, ...] = ()
    prompt_if: tuple[Long, ...] = ()
    never_say: tuple[Long, ...]
    reviewed_by_clinician: bool
    source: Short


class SelfCheck(Strict):
    """A gentle look at both hands: how to do it, what would differ; its drawing has its id."""

    id: Id
    name: Name
    how: Long
    differs: Long
    stop: Long
    not_with: tuple[State, ...] = ()
    flag: Literal[("", *FLAGS)] = ""  # type: ignore[valid-type]
    source: Short


class CardOption(Strict):
    """Something to do tonight, with the cautions that are rules."""

    text: Long
    not_with: tuple[State, ...] = ()
    needs: tuple[Need, ...] = ()
    clear_zones: tuple[ZoneId, ...] = ()
    after_operation: bool = True


class CardProblem(Strict):
    """A problem before the curtain: where it can be, the options that need nothing, what else, when to hand over."""

    id: Id
    name: Name
    kind: Literal[SYMPTOM_KINDS]  # type: ignore[valid-type]
    places: Annotated[tuple[ZoneId, ...], Field(min_length=2)]
    hand_over: Long
    supports: bool
    sticks: Literal["", "lighter", "heavier"]
    options: tuple[CardOption, ...]


class Door(Strict):
    """A thing that can have happened: its questions, its answers, what follows of each ("" = of any)."""

    id: Literal[tuple(k for k in happened.HAPPENING_KINDS if k != happened.LIMIT)]  # type: ignore[valid-type]
    name: Name
    when: Short
    ends: Short = ""
    place: bool = False
    instrument: bool = False
    words: Short = ""
    question: Short = ""
    answers: dict[Literal[happened.ANSWERS], Short] = {}  # type: ignore[valid-type]
    allowed: bool = False
    over: Short = "It has ended"
    tacet_button: Short = ""
    programme: Short = ""
    matter: dict[str, Literal["week", "two_weeks"]] = {}
    then: dict[str, Long]

    def said_of(self, answer: str) -> str:
        """Return what follows of an answer."""
        return self.then.get(answer) or self.then.get("", "")

    @model_validator(mode="after")
    def _every_answer_is_followed(self) -> "Door":
        if unsaid := [a for a in (*self.answers, "") if not self.said_of(a) and (a or not self.answers)]:
            raise ValueError(f"nothing is said of {unsaid}")
        return self


class PromptEntry(Strict):
    """A silent question of the stand: the regions that make it hers, and the place a "tight" is marked at."""

    id: Id
    text: Short
    regions: tuple[str, ...]
    place: Id


class RestGuide(Strict):
    """What to do in a rest of at least so many minutes; `not_with`, `needs` and `clear_zones` as for an exercise."""

    id: Id
    title: Name
    least_min: Annotated[float, Field(ge=0, le=60)]
    text: tuple[Long, ...]
    not_with: tuple[State, ...] = ()
    needs: tuple[Need, ...] = ()
    clear_zones: tuple[ZoneId, ...] = ()
    after_operation: bool = True


class BackgroundInput(Strict):
    """A number, or one of some words, that a method asks for: its name, unit and range; an invented example."""

    field: Annotated[str, Field(pattern=r"^[A-Za-z][A-Za-z0-9_]{0,30}$")]
    label: Name
    unit: Short = ""
    low: float = 0.0
    high: float = 0.0
    words: tuple[Short, ...] = ()
    example: Short


class BackgroundMethod(Strict):
    """A method made for other people than players: what it was tested on, its formula, what may be said of its result.

    `says` is filled with the result's fields; `flags` adds a sentence for some values of its `zone`.
    """

    id: Id
    name: Name
    made_for: Long
    formula: Long
    inputs: Annotated[tuple[BackgroundInput, ...], Field(min_length=1)]
    says: Long
    flags: dict[str, Long] = {}
    source: Short
