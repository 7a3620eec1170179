"""Each probe once, as a player would, with stand-ins for what she owns; by pedal where the hands are busy."""

import re
import shutil
import time
from io import BytesIO
from pathlib import Path

import pytest
import soundfile
from playwright.sync_api import Locator, Page, expect
from sqlalchemy import select

from chirotend.camera.worker import Worker
from chirotend.devices import camera, microphone, muscle, pedal, two_hands
from chirotend.devices.listener import hears
from chirotend.devices.plug import Plug
from chirotend.services.technique import plugged
from chirotend.store.models import ProbeRow
from tests.browser.conftest import assert_accessible
from tests.browser.steps import wait_until
from tests.reference.landmarks import landmarks_of


def test_least_pressure_by_pedal_from_f_in_two_minutes(serve, page: Page):
    """A first probe of a player who has none: two touches, then the pedal; each try is played for four seconds."""
    server = serve("steady")
    began, tries = time.monotonic(), 0
    page.goto(f"{server.url}/technique/")
    page.get_by_role("link", name="Start, three minutes").click()
    page.get_by_role("button", name="Start, 90 seconds").click()
    expect(page.locator(".search-level b")).to_be_visible()
    page.wait_for_load_state()  # the pedal is heard by a script that runs after the page is drawn
    ear = hears(72, 2, 5)
    while page.url.endswith(page.url.rpartition("/")[2]) and page.locator(".search-level b").count():
        tries += 1
        shown = page.locator("input[name=number]")
        number = shown.get_attribute("value")
        level = float(page.locator(".search-level b").inner_text())
        page.keyboard.press(pedal.KEYS["left" if ear(level) else "right"])
        page.wait_for_function(
            "(n) => document.querySelector('input[name=number]')?.value !== n"
            " && !document.querySelector('.htmx-request, .htmx-swapping, .htmx-settling')",
            arg=number,
        )
        assert tries < 45
    expect(page.get_by_role("heading", level=2).first).to_contain_text("% of your press was not needed")
    assert 18 <= tries <= 40 and tries * 4 + (time.monotonic() - began) - tries < 240
    assert_accessible(page)
    page.get_by_role("link", name="Back to Technique").click()
    expect(page.get_by_role("region", name="Posture from a picture")).to_be_visible()  # the next one, never done


def test_a_search_that_is_stopped_or_answered_wrongly(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/technique/pressure")
    page.get_by_role("button", name="Start, 90 seconds").click()
    page.get_by_role("button", name="It still speaks").click()
    expect(page.locator(".search-level b")).to_have_text("90")
    page.get_by_role("button", name="Take the last answer back").click()
    expect(page.locator(".search-level b")).to_have_text("100")
    assert_accessible(page)
    page.context.set_offline(True)
    page.keyboard.press(pedal.KEYS["left"])
    expect(page.locator("#search-said")).to_contain_text("not counted")
    page.context.set_offline(False)
    page.keyboard.press(pedal.KEYS["left"])
    expect(page.locator(".search-level b")).to_have_text("90")
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("heading", level=2).first).to_contain_text("Nothing can be told yet")


def test_points_are_dragged_nudged_and_kept(serve, page: Page):
    server = serve("bassoonist")
    pose = camera.Pose(trunk=8, head=24, arm=20, elbow=90, wrist_back=38)
    page.goto(f"{server.url}/technique/posture")
    assert_accessible(page)
    page.get_by_label("With which support").fill("a new strap")
    page.set_input_files("#picture", {"name": "me.png", "mimeType": "image/png", "buffer": camera.picture(pose)})
    page.get_by_role("button", name="Set the points").click()
    box = page.locator("#posed-box")
    page.locator("#posed-frame").evaluate("(f) => { f.style.maxHeight = 'none' }")
    page.set_viewport_size({"width": 1280, "height": 1500})
    for name, (x, y) in camera.shares_of(pose).items():
        handle, frame = page.locator(f'[data-point="{name}"]'), box.bounding_box()
        handle.hover()
        page.mouse.down()
        page.mouse.move(frame["x"] + x * frame["width"], frame["y"] + y * frame["height"], steps=3)
        page.mouse.up()
    wrist = page.locator(".angles tr", has_text="Wrist").locator(".angle")
    wait_until(lambda: abs(float(wrist.inner_text().rstrip("°")) - 38) <= 1)
    before = float(page.locator('[data-point="knuckle"]').get_attribute("data-y"))
    page.locator('[data-point="knuckle"]').focus()
    for _ in range(4):
        page.keyboard.press("ArrowUp")
    assert float(page.locator('[data-point="knuckle"]').get_attribute("data-y")) == pytest.approx(before - 1)
    wait_until(lambda: float(wrist.inner_text().rstrip("°")) > 40)
    for _ in range(4):
        page.keyboard.press("ArrowDown")
    expect(wrist).to_have_text("38°")
    assert_accessible(page)
    page.get_by_role("button", name="Keep these points").click()
    expect(page.get_by_role("button", name="Undo")).to_be_visible()
    expect(page.locator(".angles tr", has_text="Wrist")).to_contain_text("past 32.7°")
    page.goto(f"{server.url}/technique/")
    expect(page.locator("#posture")).to_contain_text("38°")


def test_frames_of_a_clip_are_taken_in_the_page(serve, page: Page):
    """Only the frames she takes are sent; a clip without pictures is said to be none."""
    server = serve("bassoonist")
    page.goto(f"{server.url}/technique/posture")
    page.set_input_files("#clip-file", {"name": "me.webm", "mimeType": "video/webm", "buffer": b"\x1aE\xdf\xa3"})
    expect(page.locator("#clip-say")).to_contain_text("cannot be read")
    film = camera.clip([camera.Pose(wrist_back=20 + 5 * n) for n in range(10)])
    page.set_input_files("#clip-file", {"name": "me.webm", "mimeType": "video/webm", "buffer": film})
    expect(page.locator("#clip-video")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Take this frame").click()
    expect(page.locator("#clip-say")).to_contain_text("1 taken")
    for _ in range(4):
        page.get_by_role("button", name="On ›").click()
    wait_until(lambda: page.evaluate("() => document.getElementById('clip-video').currentTime") > 0.7)
    page.get_by_role("button", name="Take this frame").click()
    expect(page.locator("#clip-say")).to_contain_text("2 taken")
    page.get_by_role("button", name="Send the frames").click()
    expect(page.get_by_role("navigation", name="Frames of this clip").get_by_role("link")).to_have_count(2)
    page.get_by_role("button", name="Keep these points").click()
    expect(page.get_by_role("navigation", name="Frames of this clip")).not_to_contain_text("0.0 s, waits")
    page.get_by_role("button", name="Keep these points").click()
    expect(page.get_by_text("of the frames; middle").first).to_be_visible()


def test_both_wrists_of_a_clip_are_read_frame_by_frame(serve, page: Page):
    """The page takes two frames a second, the server makes the angles, and nothing but the angles is kept."""
    server = serve("steady")
    page.goto(f"{server.url}/technique/posture")
    page.get_by_role("link", name="Both wrists over a minute of a clip").click()
    expect(page.get_by_text("needs its camera worker")).to_be_visible()
    eye = Worker(plugged.folder_of(server.app.extensions["database"].blobs), two_hands.eye).in_background()
    page.reload()
    film = two_hands.clip([(0.0, 0.0)] * 120)
    page.set_input_files("#clip-file", {"name": "me.webm", "mimeType": "video/webm", "buffer": film})
    expect(page.locator("#clip-video")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Read the wrists").click()
    page.get_by_role("button", name="Stop").click()
    expect(page.locator("#clip-say")).to_have_text("Stopped. Nothing is kept.")
    film = two_hands.clip([(0.0, -30.0)] * 9 + [(40.0, -30.0)] * 3)
    page.set_input_files("#clip-file", {"name": "me.webm", "mimeType": "video/webm", "buffer": film})
    expect(page.locator("#clip-say")).to_have_text("")
    page.get_by_role("button", name="Read the wrists").click()
    expect(page.get_by_role("heading", name=re.compile("^Left wrist: 25 % of the time"))).to_be_visible(timeout=30_000)
    expect(page.get_by_role("heading", name=re.compile("^Right wrist: 100 % of the time"))).to_be_visible()
    assert_accessible(page)
    eye.stop()
    page.set_input_files("#clip-file", {"name": "me.webm", "mimeType": "video/webm", "buffer": film})
    page.get_by_role("button", name="Read the wrists").click()
    expect(page.locator("#clip-say")).to_contain_text("No points come from it")
    with server.app.extensions["database"].open_db() as db:
        assert not any(row.blob for row in db.scalars(select(ProbeRow).where(ProbeRow.kind == "wrists")))


def test_a_figure_is_recorded_from_the_microphone(serve, playwright, tmp_path: Path):
    """Chromium plays a file where the microphone would be: the figure goes in at one end, the finger comes out."""
    server = serve("bassoonist")
    onsets = microphone.figure(12, 6, 0.2, {3: 0.035})
    soundfile.write(tmp_path / "played.wav", microphone.played("plucked", onsets), microphone.RATE_HZ)
    flags = "--no-sandbox --disable-gpu --use-fake-device-for-media-stream --use-fake-ui-for-media-stream"
    args = [*flags.split(), f"--use-file-for-fake-audio-capture={tmp_path / 'played.wav'}%noloop"]
    browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=args)
    page = browser.new_page()
    page.goto(f"{server.url}/technique/evenness")
    page.locator("#record").evaluate("(b) => { b.dataset.seconds = '13' }")
    page.get_by_role("button", name="Record 40 seconds").click()
    expect(page.get_by_text("Recording. Nothing sounds")).to_be_visible()
    expect(page.locator(".finger-label").first).to_be_visible(timeout=60_000)
    expect(page.get_by_role("heading", level=2).first).to_contain_text(re.compile("left ring.* early"))
    assert_accessible(page)
    page.get_by_role("link", name="Before").click()
    expect(page.get_by_role("heading", name=re.compile("^Rounds "))).to_be_visible()
    page.get_by_role("button", name="Save this as my p").click()
    expect(page.get_by_text("above your p")).to_be_visible()
    browser.close()


def _head(picture: Locator) -> float:
    """Where the play-head stands in a picture once it has moved, in its own units."""
    head = picture.locator(".play-head")
    expect(head).to_have_attribute("transform", re.compile("translate"))
    found: float = head.evaluate("(h) => h.getBBox().x + h.transform.baseVal.consolidate().matrix.e")
    return found


def test_a_file_that_is_no_recording_says_so_at_its_field(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/technique/evenness")
    page.get_by_text("Bring a recording, a take or MIDI").click()
    page.set_input_files("#sound", {"name": "low F.wav", "mimeType": "audio/wav", "buffer": b"RIFF, but not much"})
    page.get_by_role("button", name="Hear it").click()
    expect(page.locator("#complaint")).to_contain_text("broken")
    out = BytesIO()
    soundfile.write(out, microphone.played("plucked", microphone.figure(6, 6, 0.2, {})), 44_100, format="WAV")
    page.set_input_files("#sound", {"name": "six.wav", "mimeType": "audio/wav", "buffer": out.getvalue()})
    page.get_by_role("button", name="Hear it").click()
    expect(page.get_by_role("heading", name="Every finger is on time")).to_be_visible()
    page.goto(f"{page.url}?round=1")
    whole, rounds = page.locator("svg[data-stops]").nth(0), page.locator("svg[data-stops]").nth(1)
    marks = [m.get_attribute("x") for m in rounds.locator(".ink-fill").all()]
    begins_again = float(marks[6] or 0) + 5  # the second round, 1.7 s from the beginning
    page.locator("audio").evaluate("(a) => { a.currentTime = 1.7 }")
    assert _head(rounds) == pytest.approx(begins_again, abs=4)
    assert (_head(whole) - 128) / (1052 - 128) == pytest.approx(1.7 / (0.5 + 36 * 0.2 + 1.8), abs=0.02)
    page.locator("audio").evaluate("(a) => { a.currentTime = 6 }")
    expect(rounds.locator(".play-head")).to_have_attribute("data-away", "")  # these rounds are over
    whole.click(position={"x": 300, "y": 60})
    expect(rounds.locator(".play-head")).not_to_have_attribute("data-away", "")
    page.get_by_role("button", name="Half speed").click()
    assert page.locator("audio").evaluate("(a) => a.playbackRate") == 0.5
    page.get_by_label("This holds if your first note was the").select_option("left ring")
    page.get_by_role("button", name="Count from it").click()
    expect(page.get_by_label("You said that the first note was the")).to_have_value("3")
    assert_accessible(page)


def test_a_pad(serve, page: Page):
    """The band is read from its plug, described, looked at closely; strokes are typed beside it."""
    server = serve("bassoonist")
    blobs = server.app.extensions["database"].blobs
    samples = muscle.muscle([(0.0, 2.0), (3.0, 5.0)], 8, strength=0.2)
    plug = Plug(plugged.folder_of(blobs), "band", lambda: muscle.readings("left-arm", "mV", samples), paced=False)
    plug.in_background()
    page.goto(f"{server.url}/technique/trace")
    page.get_by_label("Read for").fill("6")
    page.get_by_role("button", name="Read the device").click()
    expect(page.get_by_text("Say what each channel is")).to_be_visible()
    assert_accessible(page)
    page.get_by_label("strongest effort").fill("0.5")
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_role("heading", level=2).first).to_contain_text("left-arm lets go")
    page.get_by_label("From", exact=True).fill("1.5")
    page.get_by_label("to second", exact=True).fill("3.5")
    page.get_by_role("button", name="Closer").click()
    expect(page.locator("svg.drawn").first).to_contain_text("1.5 s")
    assert_accessible(page)
    plug.pull()
    held = muscle.press([2.0, 7.0], 4)
    pad = Plug(plugged.folder_of(blobs), "pad", lambda: muscle.readings("pad", "N", held), paced=False)
    pad.in_background()
    page.goto(f"{server.url}/technique/trace")
    page.get_by_label("Read for").fill("8")
    page.get_by_role("button", name="Read the device").click()
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_role("heading", level=2).first).to_contain_text("A press cannot be told from rest")
    assert_accessible(page)
    page.get_by_label("Hands off from second").fill("0.5")
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_role("heading", level=2).first).to_contain_text("never lets go in 4 s")
    pad.pull()
    pad = Plug(
        plugged.folder_of(blobs), "pad", lambda: muscle.readings("pad", "N", muscle.press([5.0], 2)), paced=False
    )
    pad.in_background()
    page.goto(f"{server.url}/technique/pressure")
    page.get_by_label("Plugged in").select_option("pad")
    page.get_by_role("button", name="Start, 90 seconds").click()
    expect(page.get_by_text("the pad is read for half a second")).to_be_visible()
    page.wait_for_load_state()  # the pedal is heard once the page’s scripts are there
    page.keyboard.press(pedal.KEYS["left"])
    expect(page.get_by_text("5.0 N just now")).to_be_visible()
    assert_accessible(page)
    pad.pull()
    page.goto(f"{server.url}/technique/strokes")
    page.get_by_label("Stick, mallet or key").fill("low D")
    page.get_by_label("Peaks, typed").fill("2.2 2.5")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("#complaint")).to_contain_text("at least 3 strokes")
    expect(page.get_by_label("Stick, mallet or key")).to_have_value("low D")
    page.get_by_label("Peaks, typed").fill("2.2 2.5 2.4")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("tbody tr").first).to_contain_text("2.4 N")
    assert_accessible(page)


def test_range_and_what_she_can_do(serve, page: Page):
    """A hand that is spared is refused, the other is read, taken back; three things are rated again."""
    server = serve("bassoonist")
    page.goto(f"{server.url}/technique/ranges")
    expect(page.get_by_label("Side", exact=True)).to_have_value("right")  # her left is spared today
    page.get_by_label("Side", exact=True).select_option("left")
    page.get_by_label("Degrees", exact=True).fill("52")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("#complaint")).to_contain_text("is spared on a Muted day")
    page.get_by_label("Side", exact=True).select_option("right")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", level=2).first).to_have_text("Right wrist bent back: 52°.")
    expect(page.locator(".lead-line")).to_contain_text("16° less than on Sunday 1 November")
    assert_accessible(page)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("tbody tr").first).to_contain_text("Sunday 1 November")
    page.goto(f"{server.url}/technique/activities")
    for number, rating in ((1, "8"), (2, "9")):
        group = page.get_by_role("group", name=f"How well can you do activity {number}?")
        group.get_by_label(rating, exact=True).check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("#complaint")).to_contain_text("0 to 10")
    page.get_by_role("group", name="How well can you do activity 3?").get_by_label("8", exact=True).check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", level=2).first).to_have_text("You can do 8.3 of 10, on average.")
    expect(page.locator(".lead-line")).to_contain_text("You can do more than on Sunday 18 October")
    assert_accessible(page)


def test_points_are_suggested_and_kept_only_when_she_keeps_them(serve, page: Page):
    server, pose = serve("bassoonist"), camera.Pose(wrist_back=44)
    devices = plugged.folder_of(server.app.extensions["database"].blobs)
    eye = Worker(devices, lambda picture: landmarks_of(pose)).in_background()
    page.goto(f"{server.url}/technique/posture")
    page.set_input_files("#picture", {"name": "me.png", "mimeType": "image/png", "buffer": camera.picture(pose)})
    page.get_by_role("button", name="Set the points").click()
    page.get_by_role("button", name="Suggest points").click()
    expect(page.locator("#posed-say")).to_contain_text("8 points are suggested")
    wrist = page.locator(".angles tr", has_text="Wrist")
    expect(wrist).to_contain_text("44°")
    assert_accessible(page)
    page.reload()
    page.goto(page.url.removesuffix("/suggest"))
    expect(wrist).not_to_contain_text("44°")
    page.get_by_role("button", name="Suggest points").click()
    page.get_by_role("button", name="Keep these points").click()
    expect(wrist).to_contain_text("past 32.7°")
    eye.stop()
    page.reload()
    expect(page.get_by_role("button", name="Suggest points")).to_have_count(0)


def test_looks_holds_and_faults(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/technique/awareness")
    page.get_by_role("button", name="it fell at once").click()
    expect(page.get_by_text("Saved. Try next:")).to_be_visible()
    page.goto(f"{server.url}/technique/grips")
    page.get_by_text("Fault check").click()
    page.get_by_role("radiogroup", name="Let go with the left").get_by_role("radio", name="no", exact=True).check()
    expect(page.get_by_text("Move strap, harness or peg until it hangs by itself.")).to_be_visible()
    page.get_by_role("button", name="Save what you looked at").click()
    page.get_by_text("Fault check").click()
    expect(
        page.get_by_role("radiogroup", name="Let go with the left").get_by_role("radio", name="no", exact=True)
    ).to_be_checked()
    assert_accessible(page)


def test_a_pedal_that_is_held_changes_the_grip(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("radio", name="Repertoire").check()
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("On the rest, 15 min; then Rest off")).to_be_visible()
    page.get_by_role("button", name="On the rest").click()
    expect(page.locator(".hold.chosen-hold", has_text="On the rest")).to_be_visible()
    page.keyboard.down(pedal.KEYS["right"])
    page.wait_for_timeout(pedal.HELD_MS)
    page.keyboard.up(pedal.KEYS["right"])
    expect(page.locator(".hold.chosen-hold", has_text="Rest off")).to_be_visible()
    expect(page.locator("#stand.resting")).to_have_count(0)
    page.wait_for_load_state()
    page.keyboard.press(pedal.KEYS["right"])
    expect(page.locator("#stand.resting")).to_be_visible()
