"""H Record, reports: one page for a clinician, a teacher, a repairer; on paper, as files, on somebody's screen."""

import csv
import io
import json
from collections.abc import Iterator
from dataclasses import replace

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.record.words import AUDIENCES
from chirotend.drawing.shapes import Shape
from chirotend.formats import fhir
from chirotend.formats.pdf import one_page
from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.report import contents, reports
from chirotend.services.report.contents import Report
from chirotend.web import assets, sheet
from chirotend.web.answers import download
from chirotend.web.field_errors import refusing
from chirotend.web.transaction import commit, context, db, now

bp = Blueprint("report", __name__)
#: when a page grows, these go first, one after another; the questions never
GOES_FIRST = ("maps", "measures", "tried", "aims", "kit")


def _list(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    d = context()
    return render_template(
        "report/index.html",
        reports=reports.reports(d),
        titles=contents.TITLES,
        audiences=AUDIENCES,
        typed=request.values,
        problem=problem,
        undo=corrections.offered(d),
    ), code


@bp.get("/record/reports/")
def index() -> ResponseReturnValue:
    return _list()


@bp.post("/record/reports/")
@refusing(_list)
def make() -> ResponseReturnValue:
    return redirect(url_for(".one", uid=reports.make(context(), request.form)))


def _one(uid: str, code: str = "") -> str:
    d = context()
    r = contents.report(d, reports.row_of(d, uid))
    return render_template("report/one.html", r=r, share=reports.shares(d, uid), code=code, undo=corrections.offered(d))


@bp.get("/record/reports/<uid>")
def one(uid: str) -> ResponseReturnValue:
    return _one(uid)


@bp.post("/record/reports/<uid>/show")
def show(uid: str) -> ResponseReturnValue:
    """A code that opens the page for ten minutes; it is said once, here."""
    code = reports.show(context(), uid)
    commit()
    return _one(uid, code)


@bp.post("/record/reports/<uid>/take-back")
def take_back(uid: str) -> ResponseReturnValue:
    reports.row_of(context(), uid)
    reports.take_back(context(), uid)
    return redirect(url_for(".one", uid=uid))


@bp.post("/record/reports/<uid>/delete")
def delete(uid: str) -> ResponseReturnValue:
    reports.delete(context(), uid)
    return redirect(url_for(".index"))


# --- the same as files


def _report(uid: str) -> Report:
    d = context()
    return contents.report(d, reports.row_of(d, uid))


def _pdf(r: Report) -> bytes:
    """The page as A4: as much of it as fits, the oldest map gone first."""
    versions = [r]
    for n in range(1, len(r.maps) + 1):
        versions.append(replace(r, maps=r.maps[n:]))
    for part in GOES_FIRST:
        versions.append(replace(versions[-1], parts=tuple(p for p in versions[-1].parts if p != part)))
    drawn = sheet.style_of(_drawn(r), ("report-map", "skin"))
    looks = assets.content("css/report.css").decode()
    pages = (render_template("report/sheet.html", r=v, drawn=drawn, fonts=sheet.fonts(), looks=looks) for v in versions)
    return one_page(pages, assets.content)


def _drawn(r: Report) -> Iterator[Shape]:
    for part in r.maps:
        for each in part.maps:
            yield from (*each.lines, *each.marks)
    if r.weeks is not None:
        yield from r.weeks.shapes


@bp.get("/record/reports/<uid>/page.pdf")
def as_pdf(uid: str) -> ResponseReturnValue:
    return download(_pdf(_report(uid)), "application/pdf", "report.pdf")


@bp.get("/record/reports/<uid>/page.json")
def as_json(uid: str) -> ResponseReturnValue:
    text = json.dumps(contents.as_values(_report(uid)), ensure_ascii=False, indent=1) + "\n"
    return download(text.encode(), "application/json", "report.json")


@bp.get("/record/reports/<uid>/page.csv")
def as_csv(uid: str) -> ResponseReturnValue:
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows(contents.as_rows(_report(uid)))
    return download(out.getvalue().encode("utf-8-sig"), "text/csv", "report.csv")


@bp.get("/record/reports/<uid>/bundle.json")
def as_fhir(uid: str) -> ResponseReturnValue:
    r = _report(uid)
    text = fhir.bundle(contents.as_values(r), now().isoformat(), _pdf(r))
    return download(text.encode(), "application/fhir+json", "report-fhir.json")


# --- on somebody else's screen, without an account


def _asks(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return render_template("report/shown.html", problem=problem, r=None), code


@bp.get("/shown")
def ask_code() -> ResponseReturnValue:
    return _asks()


@bp.post("/shown")
@refusing(_asks)
def look() -> ResponseReturnValue:
    """A report, to whoever types its code on this network while it holds."""
    r = reports.opened(db(), request.form.get("code", ""), request.remote_addr, now())
    return render_template("report/shown.html", problem=None, r=r)
