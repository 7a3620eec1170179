"""What a probe is made of, by its kind: checked when it is written, when a record is brought, and by `check`.

Levels in % of her usual press, forces N, points as shares of a picture's width and height from its top left, onsets in
seconds, loudness in dB of full scale.
"""

from collections.abc import Mapping, Sized
from typing import Annotated, Any, ClassVar, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from chirotend.core.measure.traces import CHANNEL_KINDS
from chirotend.core.texts import can_be_kept


def _text(value: str) -> str:
    if not can_be_kept(value):
        raise ValueError("holds characters that no text file can hold")
    return value


Name = Annotated[str, Field(max_length=80), AfterValidator(_text)]
Share = Annotated[float, Field(ge=-0.5, le=1.5)]
Second = Annotated[float, Field(ge=0, le=86_400)]
Db = Annotated[float, Field(ge=-200, le=60)]
Force = Annotated[float, Field(ge=0, le=5_000)]
ONSETS_MAX = 40_000
#: frames of a clip: a minute of two a second
CLIP_FRAMES_MAX = 120
#: what a range can be read by
RANGE_BY = ("level", "picture", "protractor")
Facing = Annotated[str, Field(pattern="^(left|right)$")]
Side = Annotated[str, Field(pattern="^(left|right|)$")]
Way = Annotated[str, Field(pattern="^(free|choked|)$")]


class Data(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class ProbeData(Data):
    """What a probe of one kind is made of. `works_the_hand`: it asks force or speed of it; looking asks nothing."""

    kind: ClassVar[str]
    works_the_hand: ClassVar[bool] = False


def _alike(name: str, these: Sized, those: Sized, none: bool = False) -> None:
    """Refuse lists that belong together and differ in length; with `none` there may be none of these at all."""
    if len(these) != len(those) and not (none and not len(these)):
        raise ValueError(f"{len(these)} {name} where there should be {len(those)}")


class Tried(Data):
    """One answer of a search; `newton` what a pad showed, None = no pad."""

    level: Annotated[float, Field(ge=0, le=130)]
    spoke: bool
    newton: Force | None = None


class Pressure(ProbeData):
    """A search for the least pressure: its task and every answer, in order.

    `usual_N` = her usual press on a pad; `pad` = one that is plugged in and read at every answer ("" = none).
    """

    kind: ClassVar[str] = "pressure"

    task: Name
    answers: Annotated[list[Tried], Field(max_length=60)] = []
    usual_N: Force | None = None
    pad: Name = ""
    grip: Name = ""


class Posture(ProbeData):
    """Points on a picture of so many pixels, by a template; `clip` joins the frames of one clip."""

    kind: ClassVar[str] = "posture"

    template: Name
    width: Annotated[int, Field(ge=1, le=8000)]
    height: Annotated[int, Field(ge=1, le=8000)]
    facing: Facing = "right"
    mirrored: bool = False
    points: Annotated[dict[Name, tuple[Share, Share]], Field(max_length=24)]
    asked: Annotated[dict[Name, bool], Field(max_length=24)] = {}
    clip: Name = ""
    at_s: Second | None = None
    grip: Name = ""


class WristClip(ProbeData):
    """A wrist over a clip: seconds of its frames and the angle on each, degrees (None = the wrist was not seen).

    `view` = what the camera saw; `clip` joins the two wrists of one clip.
    """

    kind: ClassVar[str] = "wrists"

    view: Name
    clip: Name
    mirrored: bool = False
    at_s: Annotated[list[Second], Field(min_length=1, max_length=CLIP_FRAMES_MAX)]
    deg: Annotated[list[Annotated[float, Field(ge=-180, le=180)] | None], Field(max_length=CLIP_FRAMES_MAX)]

    @property
    def seen(self) -> int:
        """How many frames show the wrist."""
        return sum(deg is not None for deg in self.deg)

    @model_validator(mode="after")
    def _an_angle_a_frame(self) -> "WristClip":
        _alike("angles", self.deg, self.at_s)
        return self


class StepFound(Data):
    """What was found of one finger or stroke over all rounds: as `core.measure.cycle.Step`."""

    middle_ms: float
    low_ms: float
    high_ms: float
    level_db: Db | None
    same_way: Annotated[int, Field(ge=0)]
    rounds: Annotated[int, Field(ge=0)]


class Evenness(ProbeData):
    """What was heard: onsets with their loudness (none for MIDI without it), and the figure they belong to."""

    kind: ClassVar[str] = "evenness"
    works_the_hand: ClassVar[bool] = True

    figure: Name
    lengths: Annotated[list[Annotated[float, Field(gt=0, le=100)]], Field(min_length=2, max_length=16)]
    steps: Annotated[list[Name], Field(min_length=2, max_length=16)]
    source: Name
    seconds: Second
    onsets: Annotated[list[Second], Field(max_length=ONSETS_MAX)]
    levels: Annotated[list[Db], Field(max_length=ONSETS_MAX)] = []
    #: loudness of the whole recording in steps of `step_s`
    envelope: Annotated[list[Db], Field(max_length=ONSETS_MAX)] = []
    step_s: Annotated[float, Field(gt=0, le=60)] = 0.1
    my_p_db: Db | None = None
    midi: bool = False
    #: the file says it goes on where it ends: all after that is lost
    breaks_off: bool = False
    take: Name = ""
    #: how many sounds were two or more notes at once (of MIDI)
    chords: Annotated[int, Field(ge=0)] = 0
    #: how clearly its notes begin; None = not recorded but MIDI, or heard before this was told
    clear: Annotated[float, Field(ge=0, le=1000)] | None = None
    #: the step of the first note, as she said; None = not said
    first: Annotated[int, Field(ge=0, le=15)] | None = None
    #: what was found of each step, and the spread of the whole run (0-1; None = the figure has no equal notes)
    found: Annotated[list[StepFound], Field(max_length=16)] = []
    spread: Annotated[float, Field(ge=0)] | None = None

    @model_validator(mode="after")
    def _as_many_of_each(self) -> "Evenness":
        _alike("lengths", self.lengths, self.steps)
        _alike("levels", self.levels, self.onsets, none=True)
        _alike("found", self.found, self.steps, none=True)
        return self


class Channel(Data):
    """A channel of a trace: what it is, its unit, her strongest effort in that unit; None = not given.

    `rest` is what a muscle shows at rest, `hands_off` what a force pad or scale reads with the hands off it.
    """

    name: Name
    kind: Literal[CHANNEL_KINDS]  # type: ignore[valid-type]
    unit: Annotated[str, Field(max_length=12), AfterValidator(_text)]
    side: Side = ""
    maximum: Annotated[float, Field(ge=-1e9, le=1e9)] | None = None
    rest: Annotated[float, Field(ge=0, le=1e9)] = 0.0
    hands_off: Annotated[float, Field(ge=-1e9, le=1e9)] | None = None


class Summary(Data):
    """What a channel showed: 10th, 50th and 90th percentile of its envelope (% of her strongest effort, else of its own
    loud part), bursts, rest gaps a minute, the longest time without one (s); the envelope's least and most in steps."""

    p10: float
    p50: float
    p90: float
    bursts: Annotated[int, Field(ge=0)]
    gaps_a_minute: Annotated[float, Field(ge=0)]
    gaps_pct: Annotated[float, Field(ge=0, le=100)]
    longest_s: Second
    low: Annotated[list[float], Field(max_length=2000)]
    high: Annotated[list[float], Field(max_length=2000)]
    #: what was noticed of the channel: hum_50, hum_60, envelope, upside_down, clipped, drift
    noticed: Annotated[list[Name], Field(max_length=8)] = []
    #: seconds at which the hands were off, with what a pad or scale read then, in its kind's own unit (N)
    zeros: Annotated[list[tuple[Second, float]], Field(max_length=2)] = []


class Trace(ProbeData):
    """A trace: its channels, samples a second (0 = not said yet) and length, what each channel showed; None = it cannot
    be told. `hands_off_s`: the seconds from which the hands were off for three seconds."""

    kind: ClassVar[str] = "trace"
    works_the_hand: ClassVar[bool] = True

    channels: Annotated[list[Channel], Field(max_length=16)] = []
    rate_hz: Annotated[float, Field(ge=0, le=50_000)] = 0.0
    seconds: Second = 0.0
    source: Name
    summaries: Annotated[list[Summary | None], Field(max_length=16)] = []
    hands_off_s: Annotated[list[Second], Field(max_length=2)] = []
    marks: Annotated[list[tuple[Second, Name]], Field(max_length=200)] = []
    #: a take that was recorded with it ("" = none), and the second of the trace at which it begins
    take: Name = ""
    take_at_s: Annotated[float, Field(ge=-86_400, le=86_400)] = 0.0

    @model_validator(mode="after")
    def _a_summary_a_channel(self) -> "Trace":
        _alike("summaries", self.summaries, self.channels, none=True)
        return self


class Strokes(ProbeData):
    """Strokes of one stick struck one way: peak force of each, and how loud it was where that was heard."""

    kind: ClassVar[str] = "strokes"
    works_the_hand: ClassVar[bool] = True

    stick: Name
    way: Way
    peaks_N: Annotated[list[Force], Field(min_length=3, max_length=ONSETS_MAX)]
    levels: Annotated[list[Db], Field(max_length=ONSETS_MAX)] = []
    source: Name = ""

    @model_validator(mode="after")
    def _a_level_a_stroke(self) -> "Strokes":
        _alike("levels", self.levels, self.peaks_N, none=True)
        return self


class Awareness(ProbeData):
    """One look at herself: which one, what she answered, and how long it took where that counts."""

    kind: ClassVar[str] = "awareness"
    works_the_hand: ClassVar[bool] = True

    asked: Name
    answer: Name
    seconds: Second | None = None


class Range(ProbeData):
    """How far a joint went by itself: movement, degrees, what it was read by, the picture it came from ("" = none)."""

    kind: ClassVar[str] = "range"
    works_the_hand: ClassVar[bool] = True

    movement: Name
    deg: Annotated[float, Field(ge=0, le=180)]
    by: Literal[RANGE_BY]  # type: ignore[valid-type]
    picture: Name = ""


class Activities(ProbeData):
    """Up to three activities she named, and how well she can do each: 0 = not at all, 10 = as before."""

    kind: ClassVar[str] = "activities"

    names: Annotated[list[Annotated[Name, Field(min_length=1)]], Field(min_length=1, max_length=3)]
    ratings: Annotated[list[Annotated[float, Field(ge=0, le=10)]], Field(min_length=1, max_length=3)]

    @model_validator(mode="after")
    def _a_rating_a_name(self) -> "Activities":
        _alike("ratings", self.ratings, self.names)
        return self


class Faults(ProbeData):
    """A round of the fault check: yes, no or not sure by the key of each look."""

    kind: ClassVar[str] = "faults"

    answers: Annotated[dict[Name, Literal["yes", "no", "unsure"]], Field(max_length=60)]


DATA_OF_KIND: dict[str, type[ProbeData]] = {data.kind: data for data in ProbeData.__subclasses__()}


def probe_data(kind: str, data: Mapping[str, Any]) -> Any:
    """Return what a probe of `kind` is made of; pydantic's ValidationError (a ValueError) where it cannot be."""
    return DATA_OF_KIND[kind].model_validate(dict(data))
