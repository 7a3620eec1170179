"""Both wrists over a clip: frames are looked at one after another, then the angles are kept."""

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import suggested, wrists
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, files_folder, probe_page
from chirotend.web.transaction import context, only_shows


@bp.get("/wrists", endpoint="wrists")
def wrists_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return probe_page(
        "wrists",
        page=wrists.wrists_page(context(), request.values.get("instrument", "")),
        eye=suggested.plugged_in(files_folder()),
        problem=problem,
        undo=corrections.offered(context()),
    ), code


@bp.post("/wrists/frame")
@refusing(wrists_form, in_script=True)
def look_at_frame() -> ResponseReturnValue:
    """The angles of one frame; neither it nor they are kept."""
    only_shows()
    found = request.files.get("frame")
    return wrists.look_at_frame(files_folder(), request.form, found.read() if found else b""), 200


@bp.post("/wrists")
@refusing(wrists_form)
def keep_wrists() -> ResponseReturnValue:
    wrists.keep(context(), request.form)
    return redirect(url_for(".wrists"))
