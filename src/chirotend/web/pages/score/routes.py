"""E Score: the record as a part; a day's detail; the same as a table."""

from datetime import date, timedelta

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from chirotend.library.loader import background_methods
from chirotend.services.desk import Refused
from chirotend.services.review import week as review
from chirotend.services.score import loads, score_page
from chirotend.services.score.background import Answer, ask
from chirotend.web import fields
from chirotend.web.guard import offers_playing
from chirotend.web.refusals import refusing
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


@bp.get("/load")
def load() -> ResponseReturnValue:
    """The seven days that end with a day, by hand and region; without one they end yesterday, which is over."""
    today = desk().today
    last = min(fields.day("until") or today - timedelta(days=1), today)
    later = min(today, last + timedelta(weeks=1)) if last < today else None
    shown = loads.page(desk(), last)
    return render_template("score/load.html", page=shown, earlier=last - timedelta(weeks=1), later=later)


def _background(problem: Refused | None = None, code: int = 200, answer: Answer | None = None) -> ResponseReturnValue:
    methods = background_methods().values()
    return render_template("score/background.html", methods=methods, problem=problem, answer=answer), code


@bp.get("/background")
@refusing(_background)
def background() -> ResponseReturnValue:
    """Rules made for other work, asked with typed numbers; nothing is kept."""
    method = request.args.get("method")
    return _background(answer=ask(method, request.args) if method else None)


@bp.get("/<day>")
def detail(day: str) -> ResponseReturnValue:
    return render_template("score/day.html", shown=score_page.day(desk(), fields.written_day(day)))
