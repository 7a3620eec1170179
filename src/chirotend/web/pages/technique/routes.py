"""F Technique: the bench, and what all probes have."""

from flask import redirect, render_template, send_file, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.record import corrections
from chirotend.services.technique import probes, probes_page
from chirotend.web.pages.technique.blueprint import bp, files_folder
from chirotend.web.transaction import context


@bp.get("/")
def index() -> ResponseReturnValue:
    undo = corrections.offered(context())
    taken_out = undo if undo and undo.action == "delete" else None
    return render_template("technique/index.html", bench=probes_page.probes_page(context()), undo=taken_out)


@bp.post("/not-today")
def not_today() -> ResponseReturnValue:
    probes_page.put_off(context())
    return redirect(url_for(".index"))


@bp.get("/file/<uid>")
def file(uid: str) -> ResponseReturnValue:
    path, media = probes.file_of(context(), files_folder(), uid)
    return send_file(path, mimetype=media, conditional=True)


@bp.post("/probe/<uid>/delete")
def delete(uid: str) -> ResponseReturnValue:
    probes.delete(context(), uid)
    return redirect(url_for(".index"))
