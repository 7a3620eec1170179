"""E Score: the record as a part; a day's detail; the same as a table."""

from datetime import date, timedelta

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from chirotend.core.body.zones import regions
from chirotend.library.loader import background_methods
from chirotend.services.context import FieldError
from chirotend.services.record import exports
from chirotend.services.review import week as review
from chirotend.services.score import loads, only, score_page, years
from chirotend.services.score.background import Answer, ask
from chirotend.services.units import whole
from chirotend.web import fields, sheet
from chirotend.web.answers import download
from chirotend.web.field_errors import refusing
from chirotend.web.guard import offers_playing
from chirotend.web.transaction import context

bp = Blueprint("score", __name__, url_prefix="/score")


def _span() -> tuple[int, date]:
    weeks = {"2": 2, "6": 6, "26": 26}.get(request.args.get("weeks", "6"), 6)
    return weeks, min(fields.day("until") or context().today, context().today)


@bp.get("/")
def index() -> ResponseReturnValue:
    weeks, last = _span()
    page = score_page.score_lines_page(context(), weeks, last, only.read_choice(context(), request.args))
    return render_template(
        "score/index.html",
        page=page,
        headline=score_page.headline_of(context(), page),
        weeks=weeks,
        regions=regions(),
        measures=only.measures(context()),
        earlier=page.first - timedelta(days=1),
        later=min(context().today, last + timedelta(weeks=weeks)),
        is_new=exports.first_day(context()) is None,
    )


@bp.get("/table")
def table() -> ResponseReturnValue:
    weeks, last = _span()
    page = score_page.score_lines_page(context(), weeks, last, only.read_choice(context(), request.args))
    return render_template("score/table.html", page=page, weeks=weeks)


@bp.get("/week")
@offers_playing
def week() -> ResponseReturnValue:
    """The week of a day, read back; this week without one."""
    day = min(fields.day("of") or context().today, context().today)
    return render_template("score/week.html", page=review.week_review_page(context(), day))


def _until_year() -> int:
    asked = whole(request.args.get("until", ""))
    return context().today.year if asked is None else asked


def _pages() -> tuple[str, list[list[sheet.Part]]]:
    """What an address asks to take away: its title and its pages."""
    d = context()
    if request.args.get("view") == "years":
        years_page = years.years_page(d, _until_year(), years.spans_of(d, {}))
        return years_page.title, sheet.of_years(years_page)
    weeks, last = _span()
    page = score_page.score_lines_page(d, weeks, last, only.read_choice(d, request.args))
    shown = ", ".join(page.only.asked.values())
    title = f"Score, {page.first:%-d %B %Y} to {page.last:%-d %B %Y}"
    return f"{title} ({shown})" if shown else title, sheet.of_days(page)


@bp.get("/sheet.svg")
def as_svg() -> ResponseReturnValue:
    """What is shown, as a drawing for itself."""
    return download(sheet.as_svg(*_pages()).encode(), "image/svg+xml", "score.svg")


@bp.get("/sheet.png")
def as_png() -> ResponseReturnValue:
    """What is shown, as a picture."""
    return download(sheet.as_png(*_pages()), "image/png", "score.png")


@bp.get("/sheet.pdf")
def as_pdf() -> ResponseReturnValue:
    """What is shown, as pages of paper; where this machine cannot set them, the page says what can be done instead."""
    title, pages = _pages()
    return download(sheet.as_pdf(title, context().player.name, pages), "application/pdf", "score.pdf")


def _years(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    spans = years.spans_of(d, {} if problem else request.args)
    page = years.years_page(d, _until_year(), spans)
    return render_template("score/years.html", page=page, typed=request.args, problem=problem), code


@bp.get("/years")
@refusing(_years)
def five_years() -> ResponseReturnValue:
    """Five years, a line a quarter, and two spans side by side."""
    return _years()


@bp.get("/load")
def load() -> ResponseReturnValue:
    """The seven days that end with a day, by hand and region; without one they end yesterday, which is over."""
    today = context().today
    last = min(fields.day("until") or today - timedelta(days=1), today)
    later = min(today, last + timedelta(weeks=1)) if last < today else None
    shown = loads.loads_page(context(), last)
    return render_template("score/load.html", page=shown, earlier=last - timedelta(weeks=1), later=later)


def _background(
    problem: FieldError | None = None, code: int = 200, answer: Answer | None = None
) -> ResponseReturnValue:
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
    return render_template("score/day.html", shown=score_page.day(context(), fields.written_day(day)))
