"""What is known of the probes: what the least pressure is searched for, figures, looks at oneself, posture templates,
faults. Each file is checked against its schema once, when it is first asked for."""

import tomllib
from collections.abc import Collection
from functools import cache
from importlib.resources import files
from typing import Annotated, Literal, TypeVar

from pydantic import AfterValidator, BeforeValidator, Field, model_validator

from chirotend.core.body.zones import regions
from chirotend.core.measure.first_measure import Asks
from chirotend.core.measure.landmarks import NAMES, SIDES
from chirotend.core.measure.limits import AngleLimit, Range, angle_limit, range_of
from chirotend.core.measure.pictured import FORMULAS
from chirotend.library.loader import families
from chirotend.library.schema import Id, Long, Name, Short, Strict


class OfFamilies(Strict):
    """An entry for some families of instruments ("all" = for every one)."""

    id: Id
    name: Name
    families: Annotated[tuple[Id, ...], Field(min_length=1)]

    def fits(self, family: str) -> bool:
        return family in self.families or "all" in self.families


class PressureTask(OfFamilies):
    """Something the least pressure is searched for: the parts that may press, what is asked, what is tried next.

    `ask` and `how` are filled with what she plays and the part that presses; `high` is said from 20 % not needed on.
    """

    part: Name
    parts: Annotated[tuple[Name, ...], Field(min_length=1)]
    what: Name
    ask: Short
    how: Short
    speaks: Name
    dies: Name
    next: Long
    high: Long


class Figure(OfFamilies):
    """A figure to be played round after round: the finger or stroke of each step, and its length in equal parts."""

    steps: Annotated[tuple[Name, ...], Field(min_length=2, max_length=16)]
    lengths: tuple[float, ...] = ()

    @property
    def parts(self) -> tuple[float, ...]:
        return self.lengths or (1.0,) * len(self.steps)

    @model_validator(mode="after")
    def _a_length_a_step(self) -> "Figure":
        if self.lengths and len(self.lengths) != len(self.steps):
            raise ValueError(f"{self.id}: {len(self.lengths)} lengths for {len(self.steps)} steps")
        return self


class Look(Strict):
    """A look at herself: what to do, what may be answered, which answers count as holding on."""

    id: Id
    name: Name
    how: Long
    answers: Annotated[tuple[Name, ...], Field(min_length=2, max_length=4)]
    set: tuple[Name, ...]
    when: Literal["playing", "daily life"]
    minutes: bool = False
    next: Long

    @model_validator(mode="after")
    def _answers_are_there(self) -> "Look":
        if unknown := {*self.set} - {*self.answers}:
            raise ValueError(f"{self.id}: {sorted(unknown)} is no answer")
        return self


T = TypeVar("T", bound=Strict)


def _entries(file: str, table: str, schema: type[T]) -> dict[str, T]:
    text = files("chirotend.library").joinpath("technique", f"{file}.toml").read_text(encoding="utf-8")
    found: dict[str, T] = {}
    for each in tomllib.loads(text)[table]:
        entry = schema.model_validate(each)
        key = str(getattr(entry, "id"))  # noqa: B009  every schema here has one, the bound does not say so
        if key in found:
            raise ValueError(f"{file}.toml: {table} “{key}” stands there twice")
        if isinstance(entry, OfFamilies) and (unknown := {*entry.families} - {*families(), "all"}):
            raise ValueError(f"{file}.toml: “{key}” names unknown families {sorted(unknown)}")
        found[key] = entry
    return found


@cache
def pressure_tasks() -> dict[str, PressureTask]:
    return _entries("pressure", "task", PressureTask)


@cache
def figures() -> dict[str, Figure]:
    return _entries("figures", "figure", Figure)


@cache
def looks() -> dict[str, Look]:
    return _entries("awareness", "look", Look)


def _known_landmarks(ways: "Ways") -> "Ways":
    named = {name.format(near=near, far=far) for way in ways for name in way for near, far in (SIDES, SIDES[::-1])}
    if unknown := named - NAMES:
        raise ValueError(f"there is no landmark {sorted(unknown)}")
    return ways


#: ways to suggest a point, best first: each the landmarks whose middle it is; none = no model knows it
Ways = Annotated[tuple[Annotated[tuple[str, ...], Field(min_length=1)], ...], AfterValidator(_known_landmarks)]


class TemplatePoint(Strict):
    """A point to set on a picture, where it begins (shares of width and height), and the ways to suggest it."""

    id: Id
    name: Name
    at: tuple[float, float]
    marks: Ways = ()


class TemplateAngle(Strict):
    """An angle of a template: its formula and points, what its sign says, the limit beside it, the joint's range."""

    id: Id
    name: Name
    formula: Literal[FORMULAS]  # type: ignore[valid-type]
    points: Annotated[tuple[Id, ...], Field(min_length=2, max_length=4)]
    plus: Name
    minus: Annotated[str, Field(max_length=60)] = ""
    of_hand: bool = False
    better: Literal["down", "neither"] = "down"
    limit: Annotated[AngleLimit, BeforeValidator(angle_limit)] | None = None
    range: tuple[str, str] | None = None


class Template(OfFamilies):
    """Points on a picture and the angles they make; `hand` "" = she says which, or it is no hand at all.

    `turn` = the points that tell how far the camera is turned; `grade` = a whole posture can be graded from it.
    """

    how: Long
    hand: Literal["", "left", "right"] = ""
    points: Annotated[tuple[TemplatePoint, ...], Field(min_length=3, max_length=24)]
    turn: tuple[Id, ...] = ()
    grade: bool = False
    lines: tuple[tuple[Id, ...], ...]
    angle: Annotated[tuple[TemplateAngle, ...], Field(min_length=1)]

    @model_validator(mode="after")
    def _points_are_there(self) -> "Template":
        known = {p.id for p in self.points}
        named = {*self.turn, *(p for each in self.lines for p in each), *(p for a in self.angle for p in a.points)}
        if unknown := named - known:
            raise ValueError(f"{self.id}: there is no point {sorted(unknown)}")
        return self

    @property
    def needs_hand(self) -> bool:
        return not self.hand and any(a.of_hand for a in self.angle)


@cache
def templates() -> dict[str, Template]:
    return _entries("templates", "template", Template)


class WristView(Strict):
    """How both wrists are looked at over a clip: where the camera stands, the points of an arm with the ways to find
    each, the angle they make."""

    id: Id
    name: Name
    how: Long
    marks: dict[Id, Ways]
    angle: TemplateAngle

    @property
    def limit(self) -> AngleLimit:
        """The published angle it lies beside."""
        if self.angle.limit is None:
            raise ValueError(f"{self.id}: its angle names no limit")
        return self.angle.limit

    @property
    def edges(self) -> tuple[float, float]:
        """The published angle above 0 and below it, degrees."""
        if self.limit.minus is None:
            raise ValueError(f"{self.id}: its limit has one edge alone")
        return self.limit.plus, self.limit.minus

    @model_validator(mode="after")
    def _its_points_and_edges_are_there(self) -> "WristView":
        if unknown := {*self.angle.points} - {*self.marks}:
            raise ValueError(f"{self.id}: there is no point {sorted(unknown)}")
        _ = self.edges
        return self


@cache
def wrist_views() -> dict[str, WristView]:
    return _entries("wrists", "view", WristView)


class Movement(Strict):
    """A movement whose range is followed: what most people reach (joint and movement of the core's table), how to read
    it, and the angle of a picture that shows it ("" = none does) with the side of 0 it lies on."""

    id: Id
    name: Name
    range: tuple[str, str]
    angle: str = ""
    sign: Literal[1, -1] = 1
    how: Long

    @property
    def usual(self) -> Range:
        """What most people reach."""
        return range_of(*self.range)

    @model_validator(mode="after")
    def _its_range_is_known(self) -> "Movement":
        range_of(*self.range)
        return self


@cache
def movements() -> dict[str, Movement]:
    return _entries("ranges", "movement", Movement)


class OfferedMeasure(Strict):
    """A measure that can be offered first: what it asks of her, whom it suits, the regions it belongs to, when it is
    due again (days), whether it needs a device; what she needs for it, in words."""

    id: Id
    needs: Long
    asks: Asks
    families: Annotated[tuple[Id, ...], Field(min_length=1)]
    regions: tuple[str, ...]
    again: Annotated[int, Field(ge=1, le=366)]
    device: bool = False

    @model_validator(mode="after")
    def _its_regions_are_known(self) -> "OfferedMeasure":
        if unknown := {*self.regions} - {*regions()}:
            raise ValueError(f"{self.id}: there is no region {sorted(unknown)}")
        if unknown := {*self.families} - {*families(), "all"}:
            raise ValueError(f"{self.id}: unknown families {sorted(unknown)}")
        return self

    def suits(self, her_families: Collection[str]) -> bool:
        """Whether it suits one of the families of instruments she plays; who has said none is offered all."""
        return "all" in self.families or not her_families or not {*self.families}.isdisjoint(her_families)


@cache
def offered_measures() -> dict[str, OfferedMeasure]:
    return _entries("first", "measure", OfferedMeasure)


class FaultLook(OfFamilies):
    """A fault to look for in a mirror or on a video: the part, a cue (yes is the good answer), what to do else."""

    part: Name
    cue: Long
    remedy: Long


@cache
def fault_looks() -> dict[str, FaultLook]:
    return _entries("faults", "fault", FaultLook)
