"""Both wrists over a clip: angles of frames with known wrists, what is kept of them, and what is refused."""

from dataclasses import replace
from datetime import timedelta
from io import BytesIO
from pathlib import Path

import pytest

from chirotend.camera.worker import Worker
from chirotend.devices import two_hands
from chirotend.formats.probe_data import CLIP_FRAMES_MAX, WristClip
from chirotend.services.context import FieldError
from chirotend.services.record import corrections, measured
from chirotend.services.technique import probes, wrists
from chirotend.services.technique.plugged import folder_of

FRAME = {"view": "backs", "width": str(two_hands.WIDTH), "height": str(two_hands.HEIGHT)}
FORM = {"view": "backs", "instrument": "bassoon"}


def jpeg(seen: two_hands.Wrists) -> bytes:
    out = BytesIO()
    two_hands.drawn(seen).save(out, "JPEG", quality=90)
    return out.getvalue()


def frames(left: list[float | None], right: list[float | None]) -> str:
    rows = enumerate(zip(left, right, strict=True))
    return "\n".join(f"{n / 2} " + " ".join("-" if d is None else f"{d}" for d in both) for n, both in rows)


@pytest.mark.parametrize("seen", [(0, 0), (12, -25), (-8.5, 31), (20, None), (None, None)])
def test_each_wrist_of_a_frame_has_its_angle_and_its_sign(folder: Path, seen: two_hands.Wrists):
    with pytest.raises(FieldError, match="Start it again"):
        wrists.look_at_frame(folder, FRAME, jpeg(seen))
    eye = Worker(folder_of(folder), two_hands.eye).in_background()
    found = wrists.look_at_frame(folder, FRAME, jpeg(seen))
    mirrored = wrists.look_at_frame(folder, {**FRAME, "mirrored": "yes"}, jpeg(seen))
    eye.stop()
    for hand, other, deg in (("left", "right", seen[0]), ("right", "left", seen[1])):
        assert found[hand] == (None if deg is None else pytest.approx(deg, abs=1))
        assert mirrored[other] == (None if deg is None else pytest.approx(deg, abs=1))


def test_an_angle_no_wrist_makes_is_left_out(folder: Path):
    eye = Worker(folder_of(folder), two_hands.eye).in_background()
    assert wrists.look_at_frame(folder, FRAME, jpeg((85, 10)))["left"] is None
    eye.stop()


def test_the_share_past_the_angle_is_kept_a_wrist_and_compared_with_the_clip_before(context):
    assert wrists.wrists_page(context).wrists == ()
    wrists.keep(context, {**FORM, "frames": frames([0.0] * 15 + [30.0] * 5, [None] * 15 + [10.0] * 5)})
    left, right = wrists.wrists_page(context).wrists
    assert left.headline == "Left wrist: 25 % of the time past the published angle."
    assert left.wide and left.beside == ""
    assert right.headline.startswith("The right hand is seen in 5 of 20 frames: too few") and right.wide is None
    assert [(row.value, row.hand) for row in measured.kept(context, "wrist.past")] == [(25, "left")]
    later = replace(context, now=context.now + timedelta(days=14), worked_out={})
    wrists.keep(later, {**FORM, "frames": frames([0.0] * 20, [0.0] * 20)})
    page = wrists.wrists_page(later)
    assert page.wrists[0].headline.startswith("Left wrist: 0 %")
    assert page.wrists[0].beside == "On Thursday 12 November it was 25 %." and "On" not in page.wrists[1].beside
    assert [row.share for row in page.rows] == ["0 %", "0 %", "cannot tell", "25 %"], "right before left, newest first"
    offered = corrections.offered(later)
    assert offered is not None
    corrections.undo(later, offered.number)
    assert len(probes.of_kind(later, WristClip)) == 2, "both wrists of a clip are one deed"


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"view": "the ceiling"}, "view"),
        ({"frames": ""}, "clip-file"),
        ({"frames": frames([None] * 12, [None] * 12)}, "clip-file"),
        ({"frames": "0 4"}, "clip-file"),
        ({"frames": "0 4 181"}, "clip-file"),
        ({"frames": "1 4 4\n0 4 4"}, "clip-file"),
        ({"frames": frames([1.0] * (CLIP_FRAMES_MAX + 1), [1.0] * (CLIP_FRAMES_MAX + 1))}, "clip-file"),
        ({"instrument": "kazoo of the moon"}, "instrument"),
    ],
)
def test_what_is_missing_is_asked_for_at_its_field(context, typed, field):
    with pytest.raises(FieldError) as refused:
        wrists.keep(context, {**FORM, "frames": frames([0.0] * 20, [0.0] * 20), **typed})
    assert refused.value.field == field
    assert probes.of_kind(context, WristClip) == []
