"""The simulated player and the demo diary made from her: seeded, believable, and the committed files are hers."""

from datetime import date

from tools import make_demo_csv

from chirotend.core.simulate.player import Played, Spot, live
from chirotend.demo import diary, schedule


def test_more_posture_load_makes_more_tightness_and_the_same_seed_the_same_days():
    spot = Spot("thumb_base_joint", "left", "tension", 0.5, {"bassoon": 1.0})
    days = [date.fromordinal(740_000 + n) for n in range(40)]

    def total(posture: float) -> float:
        played = {d: [Played("bassoon", 90, 5, {"thumb_base_joint": posture if d > days[19] else 1.0})] for d in days}
        felt = live(days, played, [spot], seed=3)
        assert felt == live(days, played, [spot], seed=3)
        return sum(e.intensity for f in felt[20:] for e in (*f.waking, *f.playing, *f.after))

    assert total(2.0) > total(1.0) + 20


def test_the_committed_demo_files_are_the_simulated_players(tmp_path):
    make_demo_csv.main(tmp_path)
    for made in tmp_path.rglob("*.csv"):
        committed = make_demo_csv.DATA / made.relative_to(tmp_path)
        assert committed.read_bytes() == made.read_bytes(), made.name


def test_the_demo_is_the_life_it_should_be():
    record = diary.bassoonist()
    assert (schedule.LAST - schedule.FIRST).days // 7 + 1 == 26
    contra = min(s.day for s in record.sessions for b in s.blocks if b.instrument == "contrabassoon")
    assert schedule.week_of(contra) == 15
    assert not any(schedule.FLU[0] <= d <= schedule.FLU[1] for d in record.logged_days)
    assert any(b.kind == "performance" for s in record.sessions for b in s.blocks)
    assert record.checks[-1].timing == "waking" and record.checks[-1].day == schedule.LAST
