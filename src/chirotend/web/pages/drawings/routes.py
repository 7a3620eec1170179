"""Drawings to take away, each for itself: of a part, a programme, a trial, a report, the marks of a day."""

from flask import Blueprint, abort
from flask.typing import ResponseReturnValue

from chirotend.drawing import bodymap
from chirotend.services.body import checks
from chirotend.services.plan import parts
from chirotend.services.plan.programmes import shown as programmes
from chirotend.services.report import contents, reports
from chirotend.services.trial import shown as trials
from chirotend.web import fields, sheet
from chirotend.web.answers import download
from chirotend.web.guard import offers_later
from chirotend.web.sheet import Part
from chirotend.web.transaction import context

bp = Blueprint("drawings", __name__, url_prefix="/drawings")


@bp.get("/part/<uid>.<suffix>")
@offers_later
def part(uid: str, suffix: str) -> ResponseReturnValue:
    page = parts.part_page(context(), uid)
    return _taken(suffix, "part", page.row.title, [sheet.of_picture("Bar by bar", page.ribbon)])


@bp.get("/programme/<uid>.<suffix>")
@offers_later
def programme(uid: str, suffix: str) -> ResponseReturnValue:
    found = programmes.one(context(), uid)
    return _taken(suffix, "programme", found.headline, [sheet.of_picture(d.title, d.picture) for d in found.wide])


@bp.get("/trial/<uid>.<suffix>")
def trial(uid: str, suffix: str) -> ResponseReturnValue:
    page = trials.trials_page(context(), uid)
    drawn = [sheet.of_picture(page.measure, page.wide)]
    if page.pairs is not None:
        drawn.append(sheet.of_picture("All pairs", page.pairs))
    return _taken(suffix, "trial", page.headline, drawn)


@bp.get("/report/<uid>.<suffix>")
def report(uid: str, suffix: str) -> ResponseReturnValue:
    r = contents.report(context(), reports.row_of(context(), uid))
    drawn = [each for found in r.maps for each in sheet.of_maps(found.maps, f"{found.title}: ")]
    if r.weeks is not None:
        drawn.append(sheet.of_picture("Weeks", r.weeks))
    return _taken(suffix, "report", r.title, drawn)


@bp.get("/body/<day>.<suffix>")
def body(day: str, suffix: str) -> ResponseReturnValue:
    on = fields.written_day(day)
    marked = [(m.entry.zone, m.entry.side, m.entry.kind, m.entry.intensity) for m in checks.marked_on(context(), on)]
    return _taken(suffix, "body", f"Marked on {on:%-d %B %Y}", sheet.of_maps(bodymap.maps(marked)))


def _taken(suffix: str, name: str, title: str, drawn: list[Part]) -> ResponseReturnValue:
    if suffix == "svg":
        return download(sheet.as_svg(title, [drawn]).encode(), "image/svg+xml", f"{name}.svg")
    if suffix != "png":
        abort(404)
    return download(sheet.as_png(title, [drawn]), "image/png", f"{name}.png")
