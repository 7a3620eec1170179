"""Geometry: ends, gaps, single points, the top of the scale; nothing is drawn that was not written."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.body.zones import LEDGER_REGIONS, STAFF_REGIONS, zones
from chirotend.core.record import words
from chirotend.drawing import bodymap, score
from chirotend.drawing.pictures import drawn
from chirotend.drawing.score import DESK, HALF_YEAR, PHONE, TABLET, Remark, ScoreDay, ScoreMark
from chirotend.drawing.sign_heights import sign_heights
from chirotend.drawing.signs import call, sign_radius, symptom
from chirotend.drawing.strip import Bar, strip
from chirotend.drawing.week_snippet import week_snippet
from chirotend.library.loader import self_checks
from chirotend.services.words import SHORT_REGIONS
from chirotend.web.assets import STATIC
from chirotend.web.markup import svg

MONDAY = date(2026, 11, 2)
REGIONS = (*STAFF_REGIONS, *LEDGER_REGIONS)
marks = st.builds(
    ScoreMark,
    st.sampled_from(REGIONS),
    st.sampled_from(words.SIDES),
    st.sampled_from(words.SYMPTOM_KINDS),
    st.integers(1, 10).map(float),
    st.sampled_from(words.TIMINGS),
)


def systems(days, remarks, layout, regions):
    return [score.drawn(line) for line in score.lines(days, remarks, layout, regions)]


def day(n: int, **kw) -> ScoreDay:
    return ScoreDay(MONDAY + timedelta(days=n), **kw)


def of_class(shapes, name: str) -> list:
    return [s for s in shapes if name in str(s.attrs.get("class", "")).split()]


def test_every_zone_has_a_shape_of_its_own_inside_its_map():
    keys = {z.key for m in bodymap.maps() for z in m.zones}
    wanted = {f"{z.id}.{s}" for z in zones().values() for s in (("left", "right") if z.sided else ("none",))}
    assert keys == wanted
    for m in bodymap.maps():
        assert len({z.key for z in m.zones}) == len(m.zones)
        for z in m.zones:
            numbers = [float(n) for n in z.d[1:-1].replace("L", " ").split()]
            assert min(numbers) >= -25 and max(numbers[::2]) <= m.width + 25 and max(numbers[1::2]) <= m.height + 25
            assert max(numbers[::2]) - min(numbers[::2]) >= 5


def test_left_stays_left_on_every_map():
    for m in bodymap.maps():
        if m.kind == "hand":
            continue
        x = {z.key: sum(map(float, z.d[1:-1].replace("L", " ").split()[::2])) for z in m.zones}
        for key in x:
            if key.endswith(".left"):
                assert x[key] < x[key.replace(".left", ".right")], key


def test_the_figure_shows_the_sixty_five_zones_that_are_not_of_the_hand_alone():
    figure = [z.key for m in bodymap.maps() if m.kind != "hand" for z in m.zones]
    assert len(figure) == len(set(figure)) == 65


def test_each_self_check_has_its_drawing_and_every_line_has_a_look_of_the_style_sheet():
    assert set(drawn("self_checks")) == set(self_checks())
    styles = "".join((STATIC / f"css/{name}.css").read_text() for name in ("shared/drawn", "shared/maps", "body"))
    for picture in (*drawn("figure").values(), *drawn("self_checks").values()):
        looks = {name for shape in picture.lines for name in str(shape.attrs["class"]).split()}
        assert looks and all(f".{name}{{" in styles for name in looks), looks


def test_half_a_year_stands_on_two_screens_and_holds_every_day_and_mark():
    """1,600 units of 800-pixel screens, less the heading of the page; a busy half year: a performance and hairpins."""
    mark = ScoreMark("fingers", "left", "pain", 4.0, "waking")
    shown = [
        day(n, performance=n % 7 == 5, load=float(100 + n % 9), usual=(80.0, 104.0), asked=True, marks=(mark,))
        for n in range(26 * 7)
    ]
    found = systems(shown, (), HALF_YEAR, SHORT_REGIONS)
    assert sum(len(s.bars) for s in found) == 182
    assert sum(len(of_class(b.shapes, "stem")) for s in found for b in s.bars) == 182
    assert sum(s.height + 24 for s in found) <= 2 * 800 - 260


def test_marks_stand_in_their_zone_and_a_zero_leaves_no_mark():
    shown = {
        m.id: m
        for m in bodymap.maps([("thumb_base_joint", "left", "tension", 4.0), ("neck_back", "right", "pain", 0.0)])
    }
    assert shown["hand-left-back"].marks and not shown["hand-left-palm"].marks and not shown["body-back"].marks


@pytest.mark.parametrize("kind", words.SYMPTOM_KINDS)
def test_each_kind_has_its_own_sign_and_grows_with_intensity(kind):
    assert "nan" not in svg(symptom(kind, 10, 10, sign_radius(0))) and sign_radius(10) > sign_radius(1)
    others = {str(svg(symptom(k, 0, 0, 6))) for k in words.SYMPTOM_KINDS}
    assert len(others) == len(words.SYMPTOM_KINDS)
    with pytest.raises(KeyError):
        symptom("ache", 0, 0, 6)


def test_tacet_is_not_a_minus_and_no_call_has_no_sign():
    assert [s.tag for s in call("tacet", 0, 0, 5)] == ["path", "path", "rect"]
    assert call("not_enough", 0, 0, 5) == [] and len(call("muted_pp", 0, 0, 5)) == 1


@given(st.lists(marks, max_size=8, unique_by=lambda m: (m.region, m.side, m.kind, m.timing)))
def test_signs_keep_their_line_and_stay_in_their_bar(found):
    lines = {r: 100.0 + 16 * i for i, r in enumerate(REGIONS)}
    placed = score.placed_signs(day(0, marks=tuple(found)), 200, 65, lines)
    assert len(placed) == len(found)
    for mark, x, y, r in placed:
        assert y == lines[mark.region] and x - r >= 200 and x + r <= 265


@given(st.lists(marks, min_size=2, max_size=4, unique_by=lambda m: m.region))
def test_few_signs_never_touch(found):
    found = [ScoreMark(m.region, m.side, m.kind, min(m.intensity, 4.0), m.timing) for m in found]
    lines = {r: 100.0 + 16 * i for i, r in enumerate(REGIONS)}
    placed = score.placed_signs(day(0, marks=tuple(found)), 0, 65, lines)
    for i, (_, x, y, r) in enumerate(placed):
        for _, px, py, pr in placed[i + 1 :]:
            assert ((x - px) ** 2 + (y - py) ** 2) ** 0.5 >= r + pr


def test_what_is_not_known_is_not_drawn():
    days = [
        day(0, asked=True, load=300.0, played=True),
        day(1),
        day(2, off=True, load=0.0),
        day(3, played=True),
        day(4, future=True),
    ]
    bars = systems(days, (), DESK, SHORT_REGIONS)[0].bars
    assert len(of_class(bars[0].shapes, "staff")) == 5 and len(of_class(bars[1].shapes, "staff-unasked")) == 5
    column = of_class(bars[0].shapes, "ink-fill")
    assert column and not of_class(bars[1].shapes, "ink-fill")
    assert len(of_class(bars[2].shapes, "ink-fill")) == 1  # the whole rest
    assert of_class(bars[3].shapes, "load-unrated") and not of_class(bars[4].shapes, "staff-unasked")


def test_the_part_above_her_usual_is_a_cap_at_the_edge_of_the_ribbon():
    days = [
        day(0, load=200.0, played=True, usual=(50.0, 100.0)),
        day(1, load=100.0, played=True, usual=(50.0, 100.0)),
        day(2),
    ]
    system = systems(days, (), DESK, SHORT_REGIONS)[0]
    (cap,) = of_class(system.bars[0].shapes, "load-cap")
    assert not of_class(system.bars[1].shapes, "load-cap") and cap.attrs["height"] == pytest.approx(DESK.load / 2 - 1.5)
    (ribbon,) = of_class(system.under, "usual")
    assert ribbon.attrs["d"].count("L") == 7  # two days, then broken: no usual on the third


@pytest.mark.parametrize(
    ("loads", "runs"),
    [
        ([1, 2, 3, 4], [(0, 3, True)]),
        ([4, 3, 2, 1], [(0, 3, False)]),
        ([1, 2, 3], []),
        ([1, 2, None, 3, 4], []),
        ([1, 2, 3, 4, 3, 2, 1], [(0, 3, True), (3, 6, False)]),
        ([2, 2, 2, 2], []),
        ([], []),
    ],
)
def test_hairpins_need_three_rises_running(loads, runs):
    days = [day(i, load=None if v is None else float(v)) for i, v in enumerate(loads)]
    assert score.runs(days) == runs


def test_systems_break_by_layout_end_with_a_final_bar_and_remarks_do_not_collide():
    days = [day(n, asked=True) for n in range(28)]
    remarks = [
        Remark(MONDAY + timedelta(days=n), "left thumb: higher since 3 Nov", "wrist & thumb", (), n == 0)
        for n in (0, 1, 13)
    ]
    for layout, count in ((DESK, 2), (TABLET, 2), (PHONE, 4)):
        parts = systems(days, remarks, layout, SHORT_REGIONS)
        assert len(parts) == count
        assert of_class(parts[-1].bars[-1].shapes, "ink-fill") and not of_class(parts[0].bars[-1].shapes, "ink-fill")
        texts = [s for system in parts for s in of_class(system.over, "remark-text")]
        assert len(texts) == 3 and sum(s.text.endswith("✓") for s in texts) == 1
        for system in parts:
            ends: dict[float, float] = {}
            for s in sorted(of_class(system.over, "remark-text"), key=lambda s: s.attrs["x"]):
                assert s.attrs["x"] >= ends.get(s.attrs["y"], 0.0)
                ends[s.attrs["y"]] = s.attrs["x"] + 7.4 * len(s.text)
        assert all(0 <= s.attrs["x"] < layout.width for s in texts)


def test_area_is_load_and_a_rest_has_its_minutes():
    drawn = strip(
        [Bar(30, "a", effort=4.0), Bar(5, "", "rest"), Bar(20, "b", effort=8.0), Bar(10, "c")], 900, now_min=30
    )
    a, b = of_class(drawn.shapes, "block-done")
    assert (b.attrs["width"] + 8) / (a.attrs["width"] + 8) == pytest.approx(20 / 30, rel=1e-3)
    assert b.attrs["height"] / a.attrs["height"] == pytest.approx(2, rel=1e-2)
    assert [s.text for s in of_class(drawn.shapes, "bar-minutes")] == ["5"] and of_class(drawn.shapes, "block-unrated")
    assert of_class(drawn.shapes, "wedge") and of_class(strip([], 300).shapes, "staff")


def test_words_in_a_drawing_are_escaped():
    assert "<b>" not in str(svg(strip([Bar(60, "<b>", effort=4.0)], 600).shapes))


def test_a_snippet_rings_the_days_that_are_meant_and_tells_none_from_not_known():
    picture = week_snippet([120, None, 0, 240, 60, 60, 0], {3, 4})
    assert sum(s.attrs.get("class") == "pencil-ring" for s in picture.shapes) == 2
    assert sum(s.attrs.get("class") == "ink-fill" for s in picture.shapes) == 4
    assert sum(s.attrs.get("class") == "staff-unasked" for s in picture.shapes) == 1


def test_days_above_the_threshold_are_shaded_and_nothing_leaves_the_picture():
    days = (None, (-40.0, 1.8), (1.9, 1.8), (40.0, 1.8), (2.0, 2.2))
    picture = sign_heights(days, 350)
    shaded = [s for s in picture.shapes if s.tag == "rect"]
    assert len(shaded) == 2 and shaded[1].attrs["height"] > shaded[0].attrs["height"]
    (course,) = [s.attrs["d"] for s in picture.shapes if s.attrs.get("class") == "height-line"]
    points = [tuple(map(float, point.split())) for point in course[1:].split("L")]
    assert len(points) == 4 and all(0 <= x <= picture.width and 0 <= y <= picture.height for x, y in points)
    assert sign_heights((None, None)).shapes == ()
