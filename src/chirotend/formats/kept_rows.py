"""The tables that are kept as they are, described: what each field of a row in the JSON record may be.

Used when a record is brought, before anything is saved, and when a database is checked. Lengths mm, masses g, minutes,
effort 0-10; days and instants as ISO 8601 text. A field that may be null means "not said" by it.
"""

from collections.abc import Mapping
from datetime import date, datetime, timedelta
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, AwareDatetime, BaseModel, ConfigDict, Field, ValidationError, model_validator

from chirotend.core.body.zones import regions, zones
from chirotend.core.days import FIRST_DAY, LAST_DAY, is_sensible
from chirotend.core.judge import happened
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.known import DAY_TIMINGS, KNOWN_KINDS, LEVEL_MAX, REVIEW_DAYS
from chirotend.core.judge.recovery import Cause, Recovery
from chirotend.core.judge.rules import LEVELS, NOT_ENOUGH, Dose
from chirotend.core.plan.warmup import MAX_MINUTES, MIN_MINUTES
from chirotend.core.plan.week import ENGAGEMENT_KINDS, LAID_BY
from chirotend.core.record.words import (
    AUDIENCES,
    KIT_KINDS,
    MATTER_KINDS,
    MATTER_STATES,
    MEDIA,
    PROBE_MEDIA,
    SIDES,
    SIGN_ANSWERS,
    TRIAL_CHANGES,
    TRIAL_TIMINGS,
)
from chirotend.core.session.events import EVENT_KINDS
from chirotend.core.texts import can_be_kept
from chirotend.core.trial.effect import BETTER
from chirotend.core.trial.order import DAYS_MAX, DAYS_MIN, LEAST, ORDERS, STRETCHES, check_order
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.probe_data import DATA_OF_KIND, probe_data
from chirotend.library.loader import programmes, wordings

WHOLE_MAX = 2**31 - 1


def _text(value: str) -> str:
    if not can_be_kept(value):
        raise ValueError("holds characters that no text file can hold")
    return value


def _one_word(value: str) -> str:
    if value.split() != [value]:
        raise ValueError("an id has no spaces")
    return value


def _sensible_day(value: date) -> date:
    if not is_sensible(value):
        raise ValueError(f"a day lies between {FIRST_DAY.year} and {LAST_DAY.year}")
    return value


def _sensible_instant(value: datetime) -> datetime:
    if not is_sensible(value):
        raise ValueError(f"an instant lies between {FIRST_DAY.year} and {LAST_DAY.year}")
    return value


Text = Annotated[str, AfterValidator(_text)]
Words = Annotated[Text, Field(max_length=20_000)]
Name = Annotated[Text, Field(max_length=80)]
Id = Annotated[Text, Field(min_length=1, max_length=64), AfterValidator(_one_word)]
MaybeId = Annotated[Text, Field(max_length=64)]
Day = Annotated[date, AfterValidator(_sensible_day)]
Instant = Annotated[AwareDatetime, AfterValidator(_sensible_instant)]
Whole = Annotated[int, Field(ge=0, le=WHOLE_MAX)]
Effort = Annotated[float, Field(ge=0, le=10)]
Minutes = Annotated[float, Field(ge=0, le=1440)]
Mm = Annotated[float, Field(ge=0, le=6000)]


class KeptRow(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class EventEntry(KeptRow):
    uid: Id
    session_uid: Id
    device: Annotated[Text, Field(max_length=64)]
    seq: Whole
    at_utc: Instant
    monotonic_ms: Annotated[float, Field(ge=0, le=1e13)] | None
    kind: Literal[EVENT_KINDS]  # type: ignore[valid-type]
    payload: Annotated[dict[Name, Annotated[Text, Field(max_length=100_000)]], Field(max_length=20)]


class CallEntry(KeptRow):
    day: Day
    number: Annotated[int, Field(ge=1, le=WHOLE_MAX)]
    issued_utc: Instant
    version: Annotated[int, Field(ge=1, le=10_000)]
    call: Literal[(*LEVELS, NOT_ENOUGH)]  # type: ignore[valid-type]
    row: Annotated[int, Field(ge=0, le=10)]
    findings: Annotated[list[dict[str, Any]], Field(max_length=200)]
    dose: dict[str, Any]
    standing: dict[str, Any]
    overrule: Literal["open", "tacet"] | None
    reason: Annotated[Text, Field(max_length=500)]

    @model_validator(mode="after")
    def _can_be_said(self) -> "CallEntry":
        for each in self.findings:
            finding = finding_from(each)
            if finding.code != "faint" and finding.code not in wordings():
                raise ValueError(f"there is no finding “{finding.code}”")
        dose_from(self.dose)
        recovery_from(self.standing)
        return self


class ClearanceEntry(KeptRow):
    at_utc: Instant
    start_dose_min: Annotated[float, Field(ge=1, le=240)]


class ChangeEntry(KeptRow):
    number: Annotated[int, Field(ge=1, le=WHOLE_MAX)]
    at_utc: Instant
    act: Whole = 0
    action: Literal["new", "edit", "delete"]
    subject: Annotated[Text, Field(max_length=12)]
    key: Name
    before: dict[str, Any] | None


class ProfileEntry(KeptRow):
    data: dict[str, Any]


class MeasurementEntry(KeptRow):
    uid: Annotated[Text, Field(min_length=1, max_length=64)]
    day: Day
    at_utc: Instant
    method: Annotated[Text, Field(min_length=1, max_length=40)]
    version: Annotated[int, Field(ge=1, le=10_000)]
    instrument: Name
    hand: Literal["", "left", "right"]
    value: Annotated[float, Field(ge=-1e9, le=1e9)]
    unit: Annotated[Text, Field(max_length=8)]
    what: Name = ""
    probe: MaybeId = ""


class KitEntry(KeptRow):
    uid: Id
    kind: Literal[KIT_KINDS]  # type: ignore[valid-type]
    name: Annotated[Text, Field(min_length=1, max_length=120)]
    instrument: Name
    mass_g: Annotated[float, Field(ge=0, le=600_000)] | None
    length_mm: Mm | None
    balance_mm: Mm | None
    setting_mm: Mm | None
    service_on: Day | None
    service_months: Annotated[int, Field(ge=1, le=120)] | None
    back_on: Day | None
    note: Words


class OwnItemEntry(KeptRow):
    kind: Literal["instrument", "grip", "exercise"]
    uid: Annotated[Text, Field(pattern=r"^own_[a-z0-9_]{1,56}$")]
    document: dict[str, Any]


class WarmupWish(KeptRow):
    instrument: Name
    minutes: Annotated[float, Field(ge=MIN_MINUTES, le=MAX_MINUTES)]
    tags: Annotated[list[Name], Field(max_length=12)]
    skipped: Annotated[list[Annotated[Text, Field(max_length=64)]], Field(max_length=200)]
    swaps: Annotated[list[Annotated[list[Name], Field(min_length=2, max_length=2)]], Field(max_length=200)]


class WarmupStep(KeptRow):
    id: Annotated[Text, Field(max_length=64)]
    name: Annotated[Text, Field(max_length=120)]
    minutes: Annotated[float, Field(ge=0, le=MAX_MINUTES)]
    hand: Literal["both", "left", "right"]


class WarmupEntry(KeptRow):
    day: Day
    wish: WarmupWish
    steps: Annotated[list[WarmupStep], Field(max_length=200)]


class EngagementEntry(KeptRow):
    uid: Id
    day: Day
    start_utc: Instant
    end_utc: Instant
    kind: Literal[ENGAGEMENT_KINDS]  # type: ignore[valid-type]
    title: Annotated[Text, Field(min_length=1, max_length=200)]
    instrument: Name
    minutes: Minutes
    effort: Effort
    source: Annotated[Text, Field(max_length=400)]
    import_uid: MaybeId
    reason: Words
    session_uid: MaybeId

    @model_validator(mode="after")
    def _in_order(self) -> "EngagementEntry":
        if self.end_utc <= self.start_utc:
            raise ValueError("it ends before it begins")
        return self


class AimEntry(KeptRow):
    uid: Id
    week: Day
    title: Annotated[Text, Field(min_length=1, max_length=120)]
    minutes: Annotated[float, Field(ge=0, le=3000)]
    effort: Effort
    instrument: Name
    new_hard: bool
    manner: Literal["soft", "edge"]
    grip: MaybeId = ""
    posture: MaybeId = ""
    weight: Annotated[float, Field(ge=0.1, le=10)]
    unlaid: Words
    done: bool


class PlannedEntry(KeptRow):
    uid: Id
    day: Day
    start_utc: Instant
    minutes: Annotated[float, Field(ge=1, le=600)]
    aim_uid: MaybeId
    title: Annotated[Text, Field(max_length=120)]
    instrument: Name
    effort: Effort
    laid_by: Literal[LAID_BY]  # type: ignore[valid-type]


class TakeEntry(KeptRow):
    """A recording; `blob` is 64 hexadecimal digits and nothing else, since a file is served by that name."""

    uid: Id
    day: Day
    at_utc: Instant
    title: Annotated[Text, Field(max_length=120)]
    instrument: Name
    seconds: Annotated[float, Field(gt=0, le=1000)]
    bytes: Whole
    blob: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    media: Literal[MEDIA]  # type: ignore[valid-type]
    kept: bool


class KnownEntry(KeptRow):
    uid: Id
    region: Literal[regions()]  # type: ignore[valid-type]
    side: Literal[tuple(SIDES)]  # type: ignore[valid-type]
    kind: Literal[KNOWN_KINDS]  # type: ignore[valid-type]
    level: Annotated[float, Field(ge=1, le=LEVEL_MAX)]
    seen_on: Day
    since: Day
    review: Day
    lasts: bool
    at_night: bool
    timings: Annotated[Text, Field(max_length=60)] = " ".join(DAY_TIMINGS)

    @model_validator(mode="after")
    def _timings_are_words(self) -> "KnownEntry":
        if set(self.timings.split()) - set(DAY_TIMINGS):
            raise ValueError(f"its timings are of {', '.join(DAY_TIMINGS)}")
        return self

    @model_validator(mode="after")
    def _reviewed_in_time(self) -> "KnownEntry":
        if not self.seen_on <= self.since <= self.review <= self.since + timedelta(days=REVIEW_DAYS):
            raise ValueError(
                f"its review lies at most {REVIEW_DAYS} days after it began, and that not before she was seen"
            )
        return self


class SignAnswerEntry(KeptRow):
    uid: Id
    region: Literal[regions()]  # type: ignore[valid-type]
    side: Literal[tuple(SIDES)]  # type: ignore[valid-type]
    day: Day
    answer: Literal[SIGN_ANSWERS]  # type: ignore[valid-type]
    note: Annotated[Text, Field(max_length=500)]
    ended: Day | None = None


class HappeningEntry(KeptRow):
    uid: Id
    kind: Literal[happened.HAPPENING_KINDS]  # type: ignore[valid-type]
    day: Day
    until: Day | None
    answer: Literal[happened.ANSWERS]  # type: ignore[valid-type]
    zone: Literal[("", *zones())]  # type: ignore[valid-type]
    side: Literal[("", *SIDES)]  # type: ignore[valid-type]
    allowed_min: Annotated[float, Field(ge=0, le=600)] | None
    allowed_from: Day | None
    allowed_until: Day | None
    not_on: Annotated[list[Name], Field(max_length=20)]
    said_by: Annotated[Text, Field(max_length=120)]
    words: Annotated[Text, Field(max_length=500)]

    @model_validator(mode="after")
    def _ends_after_it_begins(self) -> "HappeningEntry":
        if self.until is not None and self.until < self.day:
            raise ValueError("it ends before it begins")
        limits = self.allowed_min is not None or self.not_on
        if self.answer == happened.MINUTES and not (limits and self.allowed_from):
            raise ValueError("a limit needs its minutes, or instruments it rules out, and its first day")
        return self


class MatterEntry(KeptRow):
    uid: Id
    kind: Literal[MATTER_KINDS]  # type: ignore[valid-type]
    code: Annotated[Text, Field(max_length=24)]
    region: Literal[("", *regions())]  # type: ignore[valid-type]
    side: Literal[("", *SIDES)]  # type: ignore[valid-type]
    title: Annotated[Text, Field(max_length=120)]
    advised_by: Annotated[Text, Field(max_length=120)]
    first_day: Day
    due: Day
    state: Literal[MATTER_STATES]  # type: ignore[valid-type]
    booked_for: Day | None
    settled_on: Day | None
    history: Annotated[list[tuple[Day, Name, Annotated[Text, Field(max_length=500)]]], Field(max_length=500)]


class ProbeEntry(KeptRow):
    """A probe; its `blob` is 64 hexadecimal digits and nothing else, its `data` what its kind is made of."""

    uid: Id
    day: Day
    at_utc: Instant
    kind: Literal[tuple(DATA_OF_KIND)]  # type: ignore[valid-type]
    instrument: Name
    hand: Literal["", "left", "right"]
    what: Name
    kit: Name
    state: Literal["open", "done"]
    data: dict[str, Any]
    blob: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")]
    media: Literal[("", *MEDIA, *PROBE_MEDIA)]  # type: ignore[valid-type]
    bytes: Whole

    @model_validator(mode="after")
    def _can_be_worked_out_again(self) -> "ProbeEntry":
        probe_data(self.kind, self.data)
        return self


class HabitEntry(KeptRow):
    """How she keeps her diary: her words, or the columns of a first line; `document` is checked as its page does."""

    key: Annotated[Text, Field(min_length=1, max_length=60)]
    document: dict[str, Any]


class ProgrammeData(KeptRow):
    """What a programme was begun with, in minutes a day (`usual_week_min`, `target_min` a week); "", null = not asked.

    `usual_min`: her usual day when it began. `given`: doses named by whoever she asked, by day.
    """

    why: Literal["", "layoff", "illness", "operation"] = ""
    by_clinician: bool = False
    start_min: Annotated[float, Field(ge=1, le=240)] | None = None
    aim_min: Annotated[float, Field(ge=1, le=600)] | None = None
    instrument: Name = ""
    what: Annotated[Text, Field(max_length=120)] = ""
    teacher: Annotated[Text, Field(max_length=120)] = ""
    until: Day | None = None
    target_min: Annotated[float, Field(ge=60, le=4200)] | None = None
    hand: Literal["", "left", "right"] = ""
    usual_min: Annotated[float, Field(ge=0, le=1440)] | None = None
    usual_week_min: Annotated[float, Field(ge=0, le=10_080)] | None = None
    given: Annotated[dict[Day, Annotated[float, Field(ge=1, le=240)]], Field(max_length=100)] = {}

    @model_validator(mode="after")
    def _climbs(self) -> "ProgrammeData":
        if self.start_min is not None and (self.aim_min is None or self.aim_min < self.start_min):
            raise ValueError("its aim is not under its start")
        return self


class ProgrammeEntry(KeptRow):
    uid: Id
    programme: Literal[tuple(programmes())]  # type: ignore[valid-type]
    first: Day
    ended: Day | None
    data: ProgrammeData
    note: Words


class TrialMeasure(KeptRow):
    """What a trial is measured by: a mark of a place at a timing, effort at equal load, or a measure by its key."""

    kind: Literal["mark", "effort", "measure"]
    region: Literal[("", *regions())] = ""  # type: ignore[valid-type]
    side: Literal[("", *SIDES)] = ""  # type: ignore[valid-type]
    timing: Literal[("", *TRIAL_TIMINGS)] = ""  # type: ignore[valid-type]
    key: Annotated[Text, Field(max_length=300)] = ""

    @model_validator(mode="after")
    def _says_what(self) -> "TrialMeasure":
        if (self.kind == "mark") != bool(self.region and self.side and self.timing):
            raise ValueError("a mark has its place and timing, and nothing else has")
        if (self.kind == "measure") != bool(self.key):
            raise ValueError("a measure has its key, and nothing else has")
        return self


class TrialData(KeptRow):
    """A trial as it was begun; `letters`: A (without) or B (with) for each day, as drawn or laid.

    `thing`, `hold`: what of her kit or of the grip book it is about; "" = neither. `detects`: the change that such a
    trial would show four times in five, in the measure's unit; null = none looked at, or nothing known before.
    `lot_days`: its days when the lot was drawn; more may have been added since.
    """

    change: Literal[TRIAL_CHANGES]  # type: ignore[valid-type]
    what: Annotated[Text, Field(min_length=1, max_length=100)]
    instrument: Name = ""
    thing: MaybeId = ""
    hold: MaybeId = ""
    measure: TrialMeasure
    better: Literal[BETTER]  # type: ignore[valid-type]
    order: Literal[ORDERS]  # type: ignore[valid-type]
    least: Annotated[int, Field(ge=LEAST, le=DAYS_MAX)]
    letters: Annotated[str, Field(pattern=rf"^[AB]{{{DAYS_MIN},{DAYS_MAX}}}$")]
    detects: Annotated[float, Field(ge=0, le=1e9)] | None = None
    lot_days: Annotated[int, Field(ge=DAYS_MIN, le=DAYS_MAX)]

    @model_validator(mode="after")
    def _in_its_order(self) -> "TrialData":
        check_order(self.order, self.lot_days, self.least)
        if self.lot_days > len(self.letters):
            raise ValueError("days are added to a trial, never taken")
        turns = sum(a != b for a, b in pairwise(self.letters))
        if self.order in STRETCHES and (self.letters[0] != "A" or turns >= STRETCHES[self.order]):
            raise ValueError("stretches begin without it, and are as many as their order has")
        return self


class TrialEntry(KeptRow):
    uid: Id
    title: Annotated[Text, Field(min_length=1, max_length=120)]
    first: Day
    last: Day
    ended: Day | None
    outcome: Literal["", "kept", "back"]
    data: TrialData

    @model_validator(mode="after")
    def _days(self) -> "TrialEntry":
        if (self.last - self.first).days + 1 != len(self.data.letters):
            raise ValueError("its days are as many as its letters")
        return self


class ReportData(KeptRow):
    """What she typed for a report; `named`: her name stands on it."""

    why: Annotated[Text, Field(max_length=400)] = ""
    questions: Annotated[list[Annotated[Text, Field(min_length=1, max_length=160)]], Field(max_length=3)] = []
    medicines: Annotated[Text, Field(max_length=200)] = ""
    named: bool = False


class ReportEntry(KeptRow):
    uid: Id
    audience: Literal[AUDIENCES]  # type: ignore[valid-type]
    first: Day
    last: Day
    made_utc: Instant
    data: ReportData

    @model_validator(mode="after")
    def _in_order(self) -> "ReportEntry":
        if self.last < self.first:
            raise ValueError("it ends before it begins")
        return self


Quarters = Annotated[float, Field(ge=0, le=1e6)]


class PartData(KeptRow):
    """A part: notes as (onset, length in quarters, MIDI pitch as it sounds or null, loud), bars as (number, from, to,
    quarters a minute), and the aims that were made of it.

    `staves`: of each note (none = all on one); `played`: the bars in the order they are played, places from 0 (none =
    straight through); `followed`: False = its repeats make no sense and are not played.
    """

    notes: Annotated[
        list[tuple[Quarters, Quarters, Annotated[int, Field(ge=0, le=127)] | None, bool]], Field(max_length=60_000)
    ]
    bars: Annotated[
        list[
            tuple[Annotated[int, Field(ge=0, le=100_000)], Quarters, Quarters, Annotated[float, Field(ge=20, le=400)]]
        ],
        Field(min_length=1, max_length=2000),
    ]
    has_tempo: bool
    aims: Annotated[list[Id], Field(max_length=200)] = []
    staves: Annotated[list[Annotated[int, Field(ge=1, le=20)]], Field(max_length=60_000)] = []
    played: Annotated[list[Annotated[int, Field(ge=0)]], Field(max_length=8000)] = []
    followed: bool = True

    @model_validator(mode="after")
    def _whole(self) -> "PartData":
        if any(ends <= begins for _, begins, ends, _ in self.bars):
            raise ValueError("a bar ends after it begins")
        if self.staves and len(self.staves) != len(self.notes):
            raise ValueError("each note has a staff, or none has")
        if any(n >= len(self.bars) for n in self.played):
            raise ValueError("what is played are bars of the part")
        return self


class PartEntry(KeptRow):
    uid: Id
    title: Annotated[Text, Field(min_length=1, max_length=120)]
    instrument: Name
    day: Day
    pace: Annotated[float, Field(ge=0.3, le=2)]
    data: PartData


#: the shapes by the name of their table; one that has none here may hold what its columns can
ENTRIES: dict[str, type[KeptRow]] = {
    "events": EventEntry,
    "calls": CallEntry,
    "clearances": ClearanceEntry,
    "changes": ChangeEntry,
    "profile": ProfileEntry,
    "measurements": MeasurementEntry,
    "kit": KitEntry,
    "own_items": OwnItemEntry,
    "warmups": WarmupEntry,
    "engagements": EngagementEntry,
    "aims": AimEntry,
    "planned": PlannedEntry,
    "takes": TakeEntry,
    "known": KnownEntry,
    "sign_answers": SignAnswerEntry,
    "probes": ProbeEntry,
    "habits": HabitEntry,
    "programmes": ProgrammeEntry,
    "trials": TrialEntry,
    "reports": ReportEntry,
    "parts": PartEntry,
    "happenings": HappeningEntry,
    "matters": MatterEntry,
}


def check(document: object, shape: type[KeptRow]) -> None:
    """Raise `UnreadableFile` with a sentence when `document` is no such row: which field, and what is wrong."""
    if not isinstance(document, Mapping):
        raise UnreadableFile("is not an object")
    try:
        shape.model_validate(dict(document))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the row"
        raise UnreadableFile(f"{where}: {first['msg'].removeprefix('Value error, ')}") from error


def finding_from(d: Mapping[str, Any]) -> Finding:
    """Return a stored finding; `ValueError` when it is none."""
    try:
        found = Finding(**{**d, "days": tuple(_sensible_day(date.fromisoformat(x)) for x in d["days"])})
        numbers = (found.row, found.level)
        if not all(isinstance(n, int) and 0 <= n <= 10 for n in numbers) or not isinstance(found.code, str):
            raise ValueError("its row or level is out of range")
        if not all(isinstance(v, str | int | float) for v in found.values.values()):
            raise ValueError("its values are no numbers or words")
        _ = found.place
    except (TypeError, KeyError, AttributeError) as error:
        raise ValueError(f"a finding cannot be read ({error})") from error
    return found


def dose_from(d: Mapping[str, Any]) -> Dose:
    """Return a stored dose; `ValueError` when it is none."""
    try:
        found = Dose(**d)
    except TypeError as error:
        raise ValueError(f"the dose cannot be read ({error})") from error
    numbers = (found.block_min, found.rest_min, found.tempo_pct, found.minutes or 0.0)
    if not all(isinstance(n, int | float) and 0 <= n <= 1440 for n in numbers) or not isinstance(found.dynamic, str):
        raise ValueError("the dose is out of range")
    return found


RECOVERY_DAYS = ("settled_until", "since", "overruled_until")


def _maybe_day(text: str | None) -> date | None:
    return _sensible_day(date.fromisoformat(text)) if text else None


def _causes(d: dict[str, Any]) -> tuple[Cause, ...]:
    """Return what brought a level; rules up to version 6 kept its places only, which are taken out of `d`."""
    places = [(*place, "", 0.0) for place in d.pop("places", ())]
    causes = ((str(r), str(s), str(k), float(x)) for r, s, k, x in d.get("causes", places))
    return tuple(causes)


def recovery_from(stored: Mapping[str, Any]) -> Recovery:
    """Return a stored recovery; `ValueError` when it is none."""
    d = dict(stored)
    try:
        causes = _causes(d)
        found = Recovery(**{**d, **{name: _maybe_day(d.get(name)) for name in RECOVERY_DAYS}, "causes": causes})
        if not (found.level in range(len(LEVELS)) and 0 <= found.clear <= WHOLE_MAX):
            raise ValueError("the recovery is out of range")
        for minutes in (found.start_dose_min, found.usual_min, found.limit_min):
            if minutes is not None and not 0 <= minutes <= 1440:
                raise ValueError("the minutes are out of range")
    except (TypeError, KeyError) as error:
        raise ValueError(f"the recovery cannot be read ({error})") from error
    return found
