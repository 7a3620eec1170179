"""E Score: the record as a part; a day's detail; the same as a table."""

from datetime import date, timedelta

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from chirotend.services.review import week as review
from chirotend.services.score import score_page
from chirotend.web import fields
from chirotend.web.guard import offers_playing
from chirotend.web.transaction import desk

bp = Blueprint("score", __name__, url_prefix="/score")


def _span() -> tuple[int, date]:
    weeks = {"2": 2, "6": 6, "26": 26}.get(request.args.get("weeks", "6"), 6)
    return weeks, min(fields.day("until") or desk().today, desk().today)


@bp.get("/")
def index() -> ResponseReturnValue:
    weeks, last = _span()
    page = score_page.page(desk(), weeks, last)
    return render_template(
        "score/index.html",
        page=page,
        weeks=weeks,
        earlier=page.first - timedelta(days=1),
        later=min(desk().today, last + timedelta(weeks=weeks)),
    )


@bp.get("/table")
def table() -> ResponseReturnValue:
    weeks, last = _span()
    return render_template("score/table.html", page=score_page.page(desk(), weeks, last), weeks=weeks)


@bp.get("/week")
@offers_playing
def week() -> ResponseReturnValue:
    """The week of a day, read back; this week without one."""
    day = min(fields.day("of") or desk().today, desk().today)
    return render_template("score/week.html", page=review.page(desk(), day))


@bp.get("/<day>")
def detail(day: str) -> ResponseReturnValue:
    return render_template("score/day.html", shown=score_page.day(desk(), fields.written_day(day)))
