"""Posture on a picture: points set on it, angles as they move, limits beside them, earlier ones to compare."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from io import BytesIO
from math import dist
from pathlib import Path
from typing import Any

from chirotend.core.errors import MethodError
from chirotend.core.measure.angles import (
    PICTURE_ERROR_DEG,
    TURN_MAX_DEG,
    Point,
    TimeAtAngle,
    camera_turn,
    time_at_angle,
)
from chirotend.core.measure.limits import AngleLimit, beside, is_tracking_error, iso11226
from chirotend.core.measure.pictured import View, pictured
from chirotend.core.measure.rula import VERSION, Asked, scored
from chirotend.drawing.posed import bent, beside_line, figure, leaning
from chirotend.drawing.series_days import small_series
from chirotend.drawing.shapes import Shape
from chirotend.formats import picture
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.probe_data import Posture
from chirotend.library.probes import Template, TemplateAngle, templates
from chirotend.services.context import Context, FieldError
from chirotend.services.technique import probes
from chirotend.services.technique.lines import ProbeLine, never_done
from chirotend.services.technique.probes import About, File, Probe
from chirotend.services.units import decimal, maybe
from chirotend.services.words import day_words, sentence
from chirotend.store.models import MeasurementRow

METHOD = "angle."
FRAMES_MAX = 40
#: what one picture cannot show, as it is asked for a grade; the names are those of `rula.Asked`
QUESTIONS = {
    "shoulder_raised": "Shoulder raised?",
    "arm_out": "Upper arm out to the side?",
    "arm_supported": "Arm resting on something?",
    "across_middle": "Hand across the middle of the body, or far out?",
    "wrist_sideways": "Wrist bent to the thumb or the little finger?",
    "forearm_near_end": "Forearm turned nearly as far as it goes?",
    "neck_turned": "Head turned?",
    "neck_tilted": "Head tilted to one side?",
    "trunk_turned": "Trunk turned?",
    "trunk_tilted": "Trunk tilted to one side?",
    "legs_uneven": "Feet not both well on the floor?",
    "held_or_repeated": "Held for a minute, or repeated more than 4 times a minute?",
}
LEVELS = {
    1: "this rule would leave it",
    2: "this rule would look again at it",
    3: "this rule would look soon",
    4: "this rule would look now",
}


@dataclass(frozen=True)
class Choice:
    """What the form offers: templates of an instrument of hers, and what was looked at last."""

    templates: tuple[Template, ...]
    last: Probe[Posture] | None
    instrument: str


@dataclass(frozen=True)
class Angle:
    """An angle as it is shown: whole degrees with their direction, how it lies beside the limit; "" = there is none."""

    id: str
    name: str
    value: float | None
    words: str
    limit: str
    problem: str
    earlier: str


@dataclass(frozen=True)
class PosturePage:
    """A picture with its points: what is drawn over it, the angles, the grade, the clip it belongs to."""

    probe: Probe[Posture]
    template: Template
    handles: tuple[tuple[str, str, float, float], ...]
    shapes: tuple[Shape, ...]
    angles: tuple[Angle, ...]
    refused: str
    grade: str
    asked: Mapping[str, str]
    clip: tuple[tuple[str, float, bool], ...]
    times: tuple[tuple[str, TimeAtAngle, str], ...]
    earlier: tuple[tuple[str, str], ...]
    ghost: Probe[Posture] | None
    sentence: str
    next: str


def choice(context: Context, instrument: str = "") -> Choice:
    """Return what can be looked at on an instrument of hers (her first without one)."""
    chosen, fit, last = probes.offered(context, Posture, instrument, templates())
    return Choice(fit, last, chosen)


def read_picture(file: bytes) -> picture.Picture:
    """Make a picture again without what the camera wrote into it; nothing is kept. `FieldError` says what is wrong."""
    try:
        return picture.made_sandboxed(file)
    except UnreadableFile as error:
        raise FieldError("picture", str(error)) from error


def begin(context: Context, folder: Path, typed: Mapping[str, str], made: picture.Picture) -> str:
    """Keep a picture with its points where the last one had them."""
    template = templates().get(typed.get("template", ""))
    if template is None:
        raise FieldError("template", "Say what the picture shows: choose one of the list.")
    hand = template.hand or typed.get("hand", "")
    if template.needs_hand and hand not in ("left", "right"):
        raise FieldError("hand", "Say which arm is towards the camera.")
    facing = typed.get("facing", "right") or "right"
    if facing not in ("left", "right"):
        raise FieldError("facing", "Say which way you face in the picture.")
    about = replace(probes.about_of(context, {**typed, "hand": hand}), what=template.name)
    clip = typed.get("clip", "")[:64]
    at_s = maybe("at_s", "The second of a frame", typed.get("at_s", ""), 0, 86_400, "seconds")
    if clip and len(_frames(context, clip, context.today)) >= FRAMES_MAX:
        raise FieldError("picture", f"A clip has up to {FRAMES_MAX} frames.")
    data = Posture(
        template=template.id,
        width=made.width,
        height=made.height,
        facing=facing,
        mirrored=typed.get("mirrored") == "yes",
        points=_first_points(context, template, about, clip, facing),
        clip=clip,
        at_s=at_s,
    )
    name, size, _ = probes.store(context, folder, "picture", BytesIO(made.jpeg), picture.BYTES_MAX)
    return probes.begin_with_file(context, about, data, File(name, size, "image/jpeg"))


def _first_points(context: Context, template: Template, about: About, clip: str, facing: str) -> dict[str, Point]:
    """Where points begin: as in the clip's last frame, else her last picture of this kind, else the template's."""
    before = (
        _frames(context, clip, context.today)
        if clip
        else [p for p in probes.of_kind(context, Posture) if p.about == about]
    )
    same = [p for p in before if p.data.template == template.id and p.data.facing == facing]
    if same:
        return dict(same[-1].data.points)
    turned = template.hand == "" and facing == "left"
    return {p.id: (1 - p.at[0] if turned else p.at[0], p.at[1]) for p in template.points}


def _frames(context: Context, clip: str, day: date) -> list[Probe[Posture]]:
    """The frames of a clip that was taken on a day, in their order."""
    found = [p for p in probes.every(context, Posture, day) if p.data.clip == clip]
    return sorted(found, key=lambda p: p.data.at_s or 0.0)


def posture_page(context: Context, uid: str, typed: Mapping[str, str] | None = None, ghost: str = "") -> PosturePage:
    """Return a picture with its points; `typed` = points and answers as they are on the screen now."""
    found = probes.probe(context, uid, Posture)
    template = templates()[found.data.template]
    data = _with(found.data, template, typed) if typed else found.data
    values, problems = _angles(template, data, found.about.hand)
    refused = _turned(template, data)
    alike = probes.alike(context, found)
    before = _history(context, {found.uid, *(p.uid for p in alike if p.at_utc <= found.at_utc)}, template.angle)
    shown = tuple(_shown_angle(found, a, values.get(a.id), problems.get(a.id, ""), before) for a in template.angle)
    earlier = [p for p in alike if p.uid != uid and p.data.clip == ""]
    chosen = next((p for p in earlier if p.uid == ghost), None)
    clip = _frames(context, data.clip, found.day) if data.clip else []
    return PosturePage(
        replace(found, data=data),
        template,
        tuple((p.id, p.name, *data.points[p.id]) for p in template.points),
        (*_ghost(template, data, chosen), *_drawn(template, data, values)),
        shown,
        refused,
        "" if refused else _grade(template, data, values),
        QUESTIONS if template.grade else {},
        tuple((p.uid, p.data.at_s or 0.0, p.done) for p in clip),
        _times(template, clip, found.about.hand) if len(clip) > 1 else (),
        tuple((p.uid, day_words(p.day)) for p in reversed(earlier)),
        chosen,
        *_posture_in_words(shown, refused),
    )


def _with(data: Posture, template: Template, typed: Mapping[str, str]) -> Posture:
    points = dict(data.points)
    for point in template.points:
        x, y = typed.get(f"{point.id}.x", ""), typed.get(f"{point.id}.y", "")
        if x or y:
            points[point.id] = _shares(point.name, x, y)
    asked = {name: name in typed for name in QUESTIONS} if "asked" in typed else data.asked
    return data.model_copy(update={"points": points, "asked": asked})


def _shares(name: str, across: str, down: str) -> Point:
    """A point as it is typed: % of the picture's width and height; it may lie outside of it."""
    said = f"The {name}, a share of the picture"
    return decimal("points", said, across, -50, 150, "%") / 100, decimal("points", said, down, -50, 150, "%") / 100


def _pixels(data: Posture) -> dict[str, Point]:
    return {name: (x * data.width, y * data.height) for name, (x, y) in data.points.items()}


def _angles(template: Template, data: Posture, hand: str) -> tuple[dict[str, float], dict[str, str]]:
    at, view = _pixels(data), View(data.facing, hand, data.mirrored)
    values, problems = {}, {}
    for angle in template.angle:
        try:
            value = pictured(angle.formula, [at[p] for p in angle.points], view)
            if angle.range and is_tracking_error(*angle.range, abs(value)):
                problems[angle.id] = "further than a joint goes: a point must be in the wrong place"
            else:
                values[angle.id] = value
        except MethodError as error:
            problems[angle.id] = str(error).partition(": ")[2]
    return values, problems


def angles_of(template: Template, found: Probe[Posture]) -> dict[str, float]:
    """Return the angles (degrees) of a picture as its points make them, by their ids; what cannot be is not there."""
    return _angles(template, found.data, found.about.hand)[0]


def _turned(template: Template, data: Posture) -> str:
    """Why this picture is not graded: the camera was turned too far; "" = it was not."""
    if not template.turn:
        return ""
    at = _pixels(data)
    try:
        turn = camera_turn(*(at[p] for p in template.turn))
    except MethodError:
        return ""
    if turn <= TURN_MAX_DEG:
        return ""
    return sentence("technique", "camera_turned", turn=f"{turn:.0f}", most=f"{TURN_MAX_DEG:.0f}")


def _shown_angle(
    found: Probe[Posture], angle: TemplateAngle, value: float | None, problem: str, before: list[Any]
) -> Angle:
    if value is None:
        return Angle(angle.id, angle.name, None, "", "", problem, "")
    way = angle.plus if value >= 0 or not angle.minus else angle.minus
    return Angle(angle.id, angle.name, value, way, _beside(angle, value), "", _earlier(found, angle, value, before))


def _beside(angle: TemplateAngle, value: float) -> str:
    limit = angle.limit
    if limit is None or (edge := limit.edge(value)) is None:
        return ""
    words = f"{beside(abs(value), edge)} {edge:g}°, published ({limit.name})"
    if limit.held and value > edge and (hold := iso11226(limit.held, value).max_hold_min) is not None:
        words += f"; that rule would hold it {hold:.1f} min"
    return words


def _earlier(found: Probe[Posture], angle: TemplateAngle, value: float, before: list[Any]) -> str:
    """How it lies to the last picture that compares; one picture can be 5° out, so less than that is no change."""
    rows = [r for r in before if r.method == METHOD + angle.id and r.probe != found.uid]
    if not rows:
        return ""
    last, change = rows[-1], value - rows[-1].value
    if abs(change) <= PICTURE_ERROR_DEG:
        return f"as on {day_words(last.day)}, within {PICTURE_ERROR_DEG:.0f}°"
    return f"{abs(change):.0f}° {'more' if change > 0 else 'less'} than on {day_words(last.day)}"


def _history(context: Context, pictures: Collection[str], angles: Sequence[TemplateAngle]) -> list[Any]:
    """Angles (day, method, value, probe) of some pictures, by their ids, oldest first."""
    return context.store.repository(MeasurementRow).some(
        ("day", "method", "value", "probe"),
        MeasurementRow.probe.in_(pictures),
        MeasurementRow.method.in_([METHOD + angle.id for angle in angles]),
        order=(MeasurementRow.at_utc,),
    )


def _drawn(template: Template, data: Posture, values: Mapping[str, float]) -> list[Shape]:
    at, size = _pixels(data), float(max(data.width, data.height))
    shapes = figure(at, template.lines)
    for angle in template.angle:
        if angle.id not in values:
            continue
        points, text = [at[p] for p in angle.points], f"{abs(values[angle.id]):.0f}°"
        if angle.formula in ("lean", "raised"):
            shapes += leaning(points[0], points[1], text, size, down=angle.formula == "raised")
        elif angle.formula in ("bend", "back", "towards", "sideways"):
            shapes += bent(points[0], points[1], points[2], text, size)
        else:
            shapes += beside_line(points[-2], points[-1], text, size)
    return shapes


def _ghost(template: Template, data: Posture, earlier: Probe[Posture] | None) -> list[Shape]:
    """An earlier figure laid over this one: same size and place, by the two points that lie furthest apart now."""
    if earlier is None:
        return []
    now = _pixels(data)
    then = {n: (x * earlier.data.width, y * earlier.data.height) for n, (x, y) in earlier.data.points.items()}
    names = [n for n in now if n in then]
    a, b = max(((p, q) for p in names for q in names if p < q), key=lambda pq: dist(now[pq[0]], now[pq[1]]))
    was = dist(then[a], then[b])
    scale = dist(now[a], now[b]) / was if was else 1.0
    moved = {
        n: (now[a][0] + (x - then[a][0]) * scale, now[a][1] + (y - then[a][1]) * scale) for n, (x, y) in then.items()
    }
    return figure(moved, template.lines, ghost=True)


def _grade(template: Template, data: Posture, values: Mapping[str, float]) -> str:
    needed = ("arm_raised", "elbow_bend", "wrist_extension", "head_forward", "trunk_forward")
    if not template.grade or any(n not in values for n in needed):
        return ""
    asked = Asked(**{k: v for k, v in data.asked.items() if k in QUESTIONS})
    arm, elbow, wrist, head, trunk = (values[n] for n in needed)
    found = scored(arm, max(0.0, elbow), wrist, head - trunk, trunk, asked)
    return sentence("technique", "grade", grand=found.grand, version=VERSION, level=LEVELS[found.action_level])


def _times(template: Template, clip: list[Probe[Posture]], hand: str) -> tuple[tuple[str, TimeAtAngle, str], ...]:
    """How much of a clip lies past each limit, over the frames whose points were set."""
    found = []
    for angle in template.angle:
        values = [v for p in clip if p.done and (v := _angles(template, p.data, hand)[0].get(angle.id)) is not None]
        if angle.limit and len(values) > 1:
            time = time_at_angle(values, angle.limit.plus, angle.limit.minus)
            found.append((angle.name, time, edges_in_words(angle, angle.limit)))
    return tuple(found)


def edges_in_words(angle: TemplateAngle, limit: AngleLimit) -> str:
    """Return the limit of an angle in words, both ways where there are two."""
    if limit.minus is None:
        return f"{limit.plus:g}°"
    return f"{limit.plus:g}° {angle.plus} or {limit.minus:g}° {angle.minus}"


def _posture_in_words(shown: tuple[Angle, ...], refused: str) -> tuple[str, str]:
    if refused:
        return sentence("technique", "not_kept"), refused
    known = [a for a in shown if a.value is not None]
    if not known:
        return sentence("technique", "no_angle"), sentence("technique", "no_angle_do")
    past = [a for a in known if a.limit.startswith("past")] or [a for a in known if a.limit.startswith("near")]
    if not past:
        return sentence("technique", "no_angle_past"), sentence("technique", "no_angle_past_do")
    most = past[0]
    degrees, limit = f"{abs(most.value or 0):.0f}", most.limit.partition(",")[0]
    past_words = sentence("technique", "angle_past", name=most.name, degrees=degrees, words=most.words, limit=limit)
    return past_words, sentence("technique", "angle_past_do")


def set_points(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Keep the points with the angles they make; `FieldError` while the camera was turned too far."""
    found = probes.probe(context, uid, Posture)
    template = templates()[found.data.template]
    data = _with(found.data, template, typed)
    if refused := _turned(template, data):
        raise FieldError("points", refused)
    values, _ = _angles(template, data, found.about.hand)
    if not values:
        raise FieldError("points", "No angle can be made of these points: two of them lie on one another.")
    probes.finish(context, uid, data, {METHOD + k: max(-180.0, min(180.0, v)) for k, v in values.items()})


def next_frame(context: Context, uid: str) -> str:
    """Return the next frame of the clip that waits for its points; this one again when none does."""
    found = probes.probe(context, uid, Posture)
    waiting = [p.uid for p in (_frames(context, found.data.clip, found.day) if found.data.clip else []) if not p.done]
    return waiting[0] if waiting else uid


def line(context: Context) -> ProbeLine:
    """Return the posture line of the bench: the wrist of the newest picture, else its first angle."""
    done = probes.of_kind(context, Posture, most=1)
    if not done:
        return never_done(
            Posture.kind,
            "Posture from a picture",
            sentence("technique", "first_picture"),
            "New picture",
            "technique.posture",
        )
    last = done[-1]
    template = templates()[last.data.template]
    values, _ = _angles(template, last.data, last.about.hand)
    wanted = next((a for a in template.angle if a.id == "wrist_extension" and a.id in values), None)
    wanted = wanted or next((a for a in template.angle if a.id in values), template.angle[0])
    value = values.get(wanted.id, 0.0)
    rows = _history(context, probes.ids_alike(context, last), [wanted])
    shown = _shown_angle(last, wanted, value, "", rows)
    edge = wanted.limit.plus if wanted.limit and value >= 0 else None
    side = f"{last.about.hand} " if wanted.of_hand and last.about.hand else ""
    trend = _trend([r.value for r in rows])
    return ProbeLine(
        Posture.kind,
        "Posture from a picture",
        last.day,
        f"{abs(value):.0f}°",
        f"{side}{wanted.name.lower()}, {shown.words}",
        small_series([(r.day, r.value) for r in rows][-12:], edge, "°"),
        f"{trend} {sentence('technique', 'picture_error', degrees=f'{PICTURE_ERROR_DEG:.0f}')}".strip(),
        "New picture",
        "technique.posture",
    )


def _trend(values: list[float]) -> str:
    if len(values) < 2 or abs(values[-1] - values[0]) <= PICTURE_ERROR_DEG:
        return ""
    change = values[-1] - values[0]
    degrees = f"{abs(change):.0f}"
    if change > 0:
        return sentence("technique", "more_than_first", degrees=degrees)
    return sentence("technique", "less_than_first", degrees=degrees)
