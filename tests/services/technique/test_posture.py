"""Posture on a picture: a posed figure with known angles, a turned camera, clips, what no picture can be made of."""

from io import BytesIO
from pathlib import Path

import pytest
from PIL import Image

from chirotend.devices import camera
from chirotend.formats.probe_data import Posture
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import measured
from chirotend.services.technique import posture, probes

FORM = {"template": "side", "hand": "right", "facing": "right", "instrument": "bassoon", "kit": "seat strap"}


def typed_points(pose: camera.Pose) -> dict[str, str]:
    found: dict[str, str] = {}
    for name, (x, y) in camera.shares_of(pose).items():
        found |= {f"{name}.x": f"{100 * x:.4f}", f"{name}.y": f"{100 * y:.4f}"}
    return found


def taken(context: Context, folder: Path, pose: camera.Pose, **typed: str) -> str:
    uid = posture.begin(context, folder, {**FORM, **typed}, posture.read_picture(camera.picture(pose)))
    posture.set_points(context, uid, typed_points(pose))
    return uid


@pytest.mark.parametrize(
    "pose",
    [
        camera.Pose(),
        camera.Pose(trunk=-4, head=35, arm=40, elbow=70, wrist_back=-20),
        camera.Pose(trunk=22, head=5, arm=2, elbow=120, wrist_back=55, turned=20),
    ],
)
def test_known_angles_are_found(context: Context, folder: Path, pose: camera.Pose):
    uid = taken(context, folder, pose)
    values = {r.method: r.value for r in probes.values_of(context, uid)}
    expected = {"head_forward": pose.head, "trunk_forward": pose.trunk, "arm_raised": pose.arm}
    expected |= {"elbow_bend": pose.elbow, "wrist_extension": pose.wrist_back}
    assert values == pytest.approx({f"angle.{k}": v for k, v in expected.items()}, abs=0.05)
    assert {r.hand for r in probes.values_of(context, uid)} == {"right"}


def test_limits_stand_beside_with_what_a_picture_can_tell(context: Context, folder: Path):
    page = posture.posture_page(context, taken(context, folder, camera.Pose(wrist_back=34, head=28)))
    shown = {a.id: a for a in page.angles}
    assert shown["wrist_extension"].limit.startswith("near 32.7°") and shown["wrist_extension"].words == "bent back"
    assert "that rule would hold it" in shown["head_forward"].limit
    assert page.refused == "" and page.grade.startswith(("3 of 7", "4 of 7"))
    later = posture.posture_page(context, taken(context, folder, camera.Pose(wrist_back=45, head=28)))
    again = {a.id: a for a in later.angles}
    assert again["wrist_extension"].earlier.startswith("11° more than on Thursday 12 November")
    assert again["head_forward"].earlier.startswith("as on")
    assert again["wrist_extension"].limit.startswith("past 32.7°")
    other = posture.posture_page(context, taken(context, folder, camera.Pose(wrist_back=20), kit="another strap"))
    assert {a.earlier for a in other.angles} == {""}, "another support is joined to none"
    ghost = posture.posture_page(context, later.probe.uid, ghost=page.probe.uid)
    assert ghost.ghost is not None and any(s.attrs["class"] == "pose-ghost" for s in ghost.shapes)


def test_a_camera_turned_too_far_is_refused_and_nothing_is_kept(context: Context, folder: Path):
    pose = camera.Pose(turned=40)
    uid = posture.begin(context, folder, FORM, posture.read_picture(camera.picture(pose)))
    with pytest.raises(FieldError, match="40° turned"):
        posture.set_points(context, uid, typed_points(pose))
    assert measured.kept(context, "angle.*") == [] and not probes.probe(context, uid, Posture).done
    assert posture.posture_page(context, uid, typed_points(pose)).refused


def test_points_move_without_being_kept_and_odd_ones_are_refused(context: Context, folder: Path):
    uid = posture.begin(context, folder, FORM, posture.read_picture(camera.picture(camera.Pose())))
    moved = posture.posture_page(context, uid, typed_points(camera.Pose(wrist_back=50)))
    assert next(a for a in moved.angles if a.id == "wrist_extension").value == pytest.approx(50, abs=0.05)
    assert not probes.probe(context, uid, Posture).done
    with pytest.raises(FieldError, match="number from -50 to 150 %"):
        posture.posture_page(context, uid, {"ear.x": "far", "ear.y": "3"})
    behind = typed_points(camera.Pose(wrist_back=120))
    assert (
        "wrong place"
        in next(a for a in posture.posture_page(context, uid, behind).angles if a.id == "wrist_extension").problem
    )
    one = dict.fromkeys((f"{n}.{a}" for n in camera.points_of(camera.Pose()) for a in "xy"), "50")
    with pytest.raises(FieldError, match="lie on one another"):
        posture.set_points(context, uid, one)


def test_a_clip_tells_the_share_of_time_past_a_limit(context: Context, folder: Path):
    first = ""
    for n, back in enumerate((20, 30, 40, 50)):
        uid = taken(context, folder, camera.Pose(wrist_back=back), clip="c1", at_s=str(n))
        first = first or uid
    page = posture.posture_page(context, first)
    wrist = next(t for name, t, _ in page.times if name == "Wrist")
    assert (wrist.past_pct, round(wrist.median), round(wrist.most)) == (50, 35, 50)
    assert [at for _, at, _ in page.clip] == [0, 1, 2, 3]
    assert posture.next_frame(context, first) == first  # none waits


def test_a_photo_turned_sideways_is_upright_and_says_nothing_of_its_camera(context: Context, folder: Path):
    image = Image.new("RGB", (4000, 3000), "grey")
    exif = image.getexif()
    exif[0x0112] = 6  # turned by a quarter
    exif[0x010F] = "A maker"
    out = BytesIO()
    image.save(out, "JPEG", exif=exif, comment=b"at the hall, 12 May")
    uid = posture.begin(context, folder, FORM, posture.read_picture(out.getvalue()))
    kept = Image.open(probes.file_of(context, folder, uid)[0])
    assert kept.size == (1200, 1600) and dict(kept.getexif()) == {}
    assert "comment" not in kept.info
    assert (folder / next(iter(p.name for p in folder.iterdir()))).stat().st_size < 200_000


def _png(width: int, height: int) -> bytes:
    out = BytesIO()
    Image.new("1", (width, height)).save(out, "PNG")
    return out.getvalue()


BAD = {
    "empty": (b"", "empty"),
    "heic": (b"\0\0\0\x18ftypheic" + bytes(40), "HEIC"),
    "text": (b"a picture of me", "no picture that can be read"),
    "cut off": (camera.picture(camera.Pose())[:2000], "broken or cut off"),
    "bomb": (_png(12_000, 12_000), "60 million"),
    "small": (_png(40, 40), "too small"),
}


@pytest.mark.parametrize("name", BAD)
def test_what_is_no_picture_is_said_and_nothing_is_kept(context: Context, folder: Path, name: str):
    data, words = BAD[name]
    with pytest.raises(FieldError, match=words) as refused:
        posture.read_picture(data)
    assert refused.value.field == "picture" and list(folder.iterdir()) == []


@pytest.mark.parametrize(
    ("typed", "field"), [({"template": "x"}, "template"), ({"hand": ""}, "hand"), ({"facing": "up"}, "facing")]
)
def test_what_a_picture_is_of_must_be_said(context: Context, folder: Path, typed, field):
    made = posture.read_picture(camera.picture(camera.Pose()))
    with pytest.raises(FieldError) as refused:
        posture.begin(context, folder, {**FORM, **typed}, made)
    assert refused.value.field == field
    with pytest.raises(NotThere):
        probes.file_of(context, folder, "x")
