"""Both wrists over a clip: the browser takes frames, a worker sees points on each, and only the angles are kept."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from itertools import pairwise
from pathlib import Path
from uuid import uuid4

from chirotend.core.errors import MethodError, TooFew
from chirotend.core.measure.angles import PICTURE_ERROR_DEG
from chirotend.core.measure.clip import TimePast, time_past
from chirotend.core.measure.landmarks import SIDES, Landmark, other_side, suggested
from chirotend.core.measure.limits import is_tracking_error
from chirotend.core.measure.pictured import View, pictured
from chirotend.drawing.measured import Picture
from chirotend.drawing.wrist_band import wrist_band
from chirotend.formats.probe_data import CLIP_FRAMES_MAX, WristClip
from chirotend.library.probes import WristView, wrist_views
from chirotend.services.context import Context, FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import probes
from chirotend.services.technique.posture import edges_in_words
from chirotend.services.technique.probes import Probe
from chirotend.services.technique.suggested import landmarks
from chirotend.services.units import decimal
from chirotend.services.words import day_words, sentence

METHOD = "wrist.past"
#: the largest side of a frame, in points
SIDE_MAX = 4000


@dataclass(frozen=True)
class Wrist:
    """One wrist of a clip: what was found of it, its band drawn wide and for a telephone; none = too seldom seen."""

    hand: str
    headline: str
    beside: str
    wide: Picture | None
    phone: Picture | None


@dataclass(frozen=True)
class Row:
    """One wrist of one clip, as the list shows it."""

    uid: str
    day: date
    view: str
    hand: str
    share: str
    seen: str


@dataclass(frozen=True)
class WristsPage:
    """The form, the wrists of the newest clip, all wrists newest first."""

    views: tuple[WristView, ...]
    last: Probe[WristClip] | None
    instrument: str
    wrists: tuple[Wrist, ...]
    rows: tuple[Row, ...]
    lines: str
    invitation: str


def wrists_page(context: Context, instrument: str = "") -> WristsPage:
    """Return both wrists of the newest clip, and what a new one needs."""
    found = probes.of_kind(context, WristClip)
    last = found[-1] if found else None
    past = {p.uid: _past(p.data) for p in found}
    newest = sorted((p for p in found if last and p.data.clip == last.data.clip), key=lambda p: p.about.hand)
    return WristsPage(
        tuple(wrist_views().values()),
        last,
        probes.instrument_of(context, instrument or (last.about.instrument if last else "")),
        tuple(_wrist(p, found, past) for p in newest),
        tuple(_row(p, past[p.uid]) for p in sorted(found, key=lambda p: (p.at_utc, p.about.hand), reverse=True)),
        _lines_in_words(last) if last else "",
        sentence("technique", "clip_first"),
    )


def _lines_in_words(last: Probe[WristClip]) -> str:
    view, error = wrist_views()[last.data.view], f"{PICTURE_ERROR_DEG:.0f}"
    return sentence("technique", "clip_lines", error=error, edges=edges_in_words(view.angle, view.limit))


def _row(p: Probe[WristClip], past: TimePast | None) -> Row:
    share = f"{past.time.past_pct:.0f} %" if past else "cannot tell"
    return Row(
        p.uid, p.day, wrist_views()[p.data.view].name, p.about.hand, share, f"{p.data.seen} of {len(p.data.deg)}"
    )


def _past(data: WristClip) -> TimePast | None:
    try:
        return time_past(data.deg, *wrist_views()[data.view].edges)
    except TooFew:
        return None


def _wrist(found: Probe[WristClip], every: Sequence[Probe[WristClip]], shares: Mapping[str, TimePast | None]) -> Wrist:
    view, hand, past = wrist_views()[found.data.view], found.about.hand, shares[found.uid]
    if past is None:
        few = sentence("technique", "clip_few", hand=hand, seen=found.data.seen, frames=len(found.data.deg))
        return Wrist(hand, few, "", None, None)
    headline = sentence("technique", "clip_now", hand=hand.capitalize(), share=f"{past.time.past_pct:.0f}")
    least, most = f"{past.least_pct:.0f}", f"{past.most_pct:.0f}"
    said = [sentence("technique", "clip_between", least=least, most=most)] if least != most else []
    earlier = (p for p in every if p.about == found.about and p.at_utc < found.at_utc)
    before = [(p.day, share) for p in earlier if (share := shares[p.uid])]
    if before:
        day, was = before[-1]
        said.append(sentence("technique", "clip_before", day=day_words(day), share=f"{was.time.past_pct:.0f}"))
    angles = list(zip(found.data.at_s, found.data.deg, strict=True))
    ways = (view.angle.plus, view.angle.minus)
    wide, phone = (wrist_band(angles, *view.edges, ways, width) for width in (940.0, 350.0))
    return Wrist(hand, headline, " ".join(said), wide, phone)


def look_at_frame(blobs: Path, typed: Mapping[str, str], jpeg: bytes) -> dict[str, float | None]:
    """Return the angle of each wrist on a frame, degrees; None = it is not seen. Nothing of the frame is kept.

    `FieldError` when nobody who suggests points answers.
    """
    view = _view(typed)
    width, height = (decimal(n, f"The {n}", typed.get(n, ""), 1, SIDE_MAX, "points") for n in ("width", "height"))
    seen = landmarks(blobs, jpeg)
    return {hand: _angle(view, hand, typed.get("mirrored") == "yes", seen, (width, height)) for hand in SIDES}


def _angle(view: WristView, hand: str, mirrored: bool, seen: list[Landmark], size: tuple[float, float]) -> float | None:
    near = other_side(hand) if mirrored else hand
    points = suggested(view.marks, seen, near)
    if any(name not in points for name in view.angle.points):
        return None
    at = [(points[p][0] * size[0], points[p][1] * size[1]) for p in view.angle.points]
    try:
        deg = pictured(view.angle.formula, at, View(hand=hand, mirrored=mirrored))
    except MethodError:
        return None
    joint = view.angle.range
    return None if joint and is_tracking_error(*joint, abs(deg)) else round(deg, 1)


def keep(context: Context, typed: Mapping[str, str]) -> None:
    """Keep the angles of a clip, a probe a wrist, as one deed. `FieldError` at the field that cannot be."""
    view = _view(typed)
    about = replace(probes.about_of(context, {**typed, "hand": ""}), what=view.name)
    frames, clip = _frames(typed.get("frames", "")), uuid4().hex
    if not any(deg is not None for _, *both in frames for deg in both):
        raise FieldError("clip-file", sentence("technique", "clip_none"))
    with corrections.as_one(context):
        for n, hand in enumerate(SIDES, start=1):
            data = WristClip(
                view=view.id,
                clip=clip,
                mirrored=typed.get("mirrored") == "yes",
                at_s=[frame[0] for frame in frames],
                deg=[frame[n] for frame in frames],
            )
            values = {METHOD: past.time.past_pct} if (past := _past(data)) else {}
            probes.keep_whole(context, replace(about, hand=hand), data, values)


def _view(typed: Mapping[str, str]) -> WristView:
    view = wrist_views().get(typed.get("view", ""))
    if view is None:
        raise FieldError("view", "Say what the camera sees: choose one of the list.")
    return view


def _frames(text: str) -> list[tuple[float, float | None, float | None]]:
    """The frames as the page sends them: a line each, its second and the angles of the left and right wrist."""
    found = []
    for line in text.splitlines()[: CLIP_FRAMES_MAX + 1]:
        second, *both = [*line.split(" "), "", ""][:3]
        left, right = (None if deg == "-" else decimal("clip-file", "An angle", deg, -180, 180, "°") for deg in both)
        found.append((decimal("clip-file", "The second of a frame", second, 0, 86_400, "s"), left, right))
    if not found:
        raise FieldError("clip-file", "Choose a clip. Its frames are read on this page.")
    if len(found) > CLIP_FRAMES_MAX:
        raise FieldError("clip-file", f"A clip has up to {CLIP_FRAMES_MAX} frames.")
    if any(b[0] <= a[0] for a, b in pairwise(found)):
        raise FieldError("clip-file", "The frames are not in their order. Read the clip again.")
    return found
