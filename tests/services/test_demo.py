"""The demo and its second player, end to end: the growing thumb is caught, the steady player is not muted."""

from chirotend.demo.scenario import DEMO_NOW, make_demo
from chirotend.demo.schedule import STRAP_TORN
from chirotend.services.account import accounts
from chirotend.services.score import score_page
from chirotend.services.server import database, health
from chirotend.services.today.today_page import todays_page


def test_the_thumb_is_caught_within_its_nine_days_and_what_was_said_is_not_rewritten(tmp_path):
    make_demo(tmp_path)
    opened = database.open_database(tmp_path, DEMO_NOW)
    with opened.open_db() as db:
        context = accounts.context_of(db, accounts.the_only_account(db), DEMO_NOW)
        page = score_page.score_lines_page(context, 6, context.today)
        first = min(d.day for d in page.days if d.call == "muted_mp" and d.day >= STRAP_TORN)
        assert 0 < (first - STRAP_TORN).days <= 9
        said = todays_page(context).issued
        assert said.call == "muted_mp" and "left wrist and thumb" in said.reasons[0].sentence
        assert any(r.region == "wrist & thumb" and not r.settled for r in page.remarks)
    assert health.faults(tmp_path, DEMO_NOW) == []
    opened.engine.dispose()


def test_the_steady_player_stays_open(tmp_path):
    make_demo(tmp_path, "steady")
    opened = database.open_database(tmp_path, DEMO_NOW)
    with opened.open_db() as db:
        context = accounts.context_of(db, accounts.the_only_account(db), DEMO_NOW)
        calls = [row.call for row in context.store.calls(context.store.first_day(), context.today).values()]
        assert calls.count("open") / len(calls) > 0.8 and "tacet" not in calls
    opened.engine.dispose()
