"""The demo database: the committed diary brought in like any log, then each morning’s call said in turn."""

from dataclasses import replace
from datetime import UTC, datetime, time, timedelta
from importlib.resources import files
from pathlib import Path

from chirotend.core.days import practice_day
from chirotend.demo.kit_and_plan import set_up
from chirotend.demo.technique import measure
from chirotend.formats import csv_log
from chirotend.services.account import accounts
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.record.bring.compare import Plan
from chirotend.services.record.bring.save import save
from chirotend.services.server import database
from chirotend.services.today import matters
from chirotend.store.models import ChangeRow

#: Thursday 12 November 2026, 10:10 in Vienna
DEMO_NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)
WEEKS_OF_CALLS = 13


def make_demo(folder: Path, player: str = "bassoonist") -> None:
    """Fill an empty data folder with the demo account, its diary and the calls of its last thirteen weeks."""
    opened = database.open_database(folder, DEMO_NOW)
    with opened.open_db() as db:
        account = accounts.add_account(
            db, accounts.Passwords(cheap=True), "demo", "bars and rests", *_who(player), DEMO_NOW - timedelta(weeks=26)
        )
        context = accounts.context_of(db, account, DEMO_NOW)
        assert context is not None
        context.player.emergency_number = "0 00 00"
        bring_diary(context, player)
        say_calls(context, WEEKS_OF_CALLS)
        if player == "bassoonist":
            set_up(context)
            measure(context, opened.blobs)
            advise(context)
            todays_call(context)  # what was measured on earlier days has said some of their calls again
            context.store.repository(ChangeRow).drop_all()  # nothing of this was done by her today
        db.commit()
    # the last connection that closes folds its log into the one file: whoever copies the folder finds it whole
    opened.engine.dispose()


def advise(context: Context) -> None:
    """What her teacher asked her to see to, with its date."""
    due = (context.today + timedelta(days=16)).isoformat()
    errand = {"title": "Seat strap for the bassoon", "due": due, "advised_by": "Henrike Sundal, teacher"}
    matters.add_errand(context, errand)


def _who(player: str) -> tuple[str, str, list[str]]:
    if player == "steady":
        return "Jonas Breitwies", "Europe/Vienna", ["violin"]
    return "Ilse Varnholt", "Europe/Vienna", ["bassoon", "contrabassoon"]


def bring_diary(context: Context, player: str) -> None:
    """Read the committed CSV files of `player` and write them in."""
    draft = csv_log.Draft()
    for kind in csv_log.FILES:
        data = files("chirotend.demo").joinpath("data", player, f"{kind}.csv").read_bytes()
        csv_log.read_table(draft, kind, data, f"{kind}.csv", context.zone, practice_day(context.now, context.zone))
    if draft.bad:
        raise ValueError(str(draft.bad[0]))
    save(
        context,
        Plan(draft.sessions, list(draft.checks.values()), list(draft.notes.values())),
        lambda rows: None,
    )
    context.db.flush()


def say_calls(context: Context, weeks: int) -> None:
    """Say each morning's call in turn, from what was known that morning."""
    for back in range(7 * weeks, -1, -1):
        day = context.today - timedelta(days=back)
        at = datetime.combine(day, time(7, 52), context.zone).astimezone(UTC)
        todays_call(replace(context, now=at), morning=True)
