"""Calm pages for what went wrong; details go to the log only, under the reference shown.

What she typed stays on the page, with a button that sends it again: nothing typed is lost to a busy disk or a session
that ended.
"""

import logging
from typing import Any
from uuid import uuid4

from flask import Flask, Response, redirect, render_template, request
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFError
from sqlalchemy.exc import DatabaseError, IntegrityError
from werkzeug.exceptions import HTTPException

from chirotend.formats.pdf import NoPdf
from chirotend.services.context import NotThere
from chirotend.services.server.database import trouble
from chirotend.web import fields
from chirotend.web.transaction import committed, let_go

log = logging.getLogger(__name__)
STALE_HEADER = "X-Stale-Token"
SENTENCES = {
    400: ("That did not arrive whole", "Go back, reload the page and try again."),
    401: (
        "You are signed out here",
        "Nothing was saved. Sign in in another tab, then send it again from here: it is kept on this page.",
    ),
    403: ("Not for this account", "Sign in with the account this belongs to."),
    404: ("Nothing here", "This page or entry is not in your record. It may have been deleted."),
    405: ("Not this way", "Open the page from the letters in the margin."),
    409: ("Two answers crossed", "The other one was kept. Look at the page again, and repeat yours if it is missing."),
    413: (
        "Too large",
        "A diary may have up to 32 MB, a picture 25, a recording or trace 200. Cut it and bring the parts one by one.",
    ),
    414: ("Too long", "This address is longer than any of ours. Open the page from the letters in the margin."),
    415: ("Not understood", "The page sent something this server does not read. Reload it and try again."),
    429: ("Too many tries", "Wait a minute, then try again."),
    500: ("Something went wrong here", ""),
    503: ("Not now", ""),
}
#: a page failed after what it was sent for was committed
KEPT = "What you sent was saved; only the page after it could not be shown. Open it again to see it."
#: fields that are never shown again
SECRETS = {"csrf_token", "password", "old_password", "new_password", "again"}


def init_app(app: Flask) -> None:
    @app.errorhandler(NotThere)
    def not_there(_error: NotThere) -> ResponseReturnValue:
        return page(404)

    @app.errorhandler(NoPdf)
    def no_pdf(_error: NoPdf) -> ResponseReturnValue:
        let_go()
        return render_template("errors/no_pdf.html"), 501

    @app.errorhandler(CSRFError)
    def stale(_error: CSRFError) -> ResponseReturnValue:
        words = "This page was open for long, or cookies are off. Nothing was changed; what you typed is still here."
        return page(400, words, {STALE_HEADER: "yes"})

    @app.errorhandler(IntegrityError)
    def crossed(_error: IntegrityError) -> ResponseReturnValue:
        """Two requests wrote the same row: a page is simply read again, an answer is not guessed at."""
        let_go()
        return redirect(request.full_path) if request.method != "POST" else page(409)

    @app.errorhandler(DatabaseError)
    def no_database(error: DatabaseError) -> ResponseReturnValue:
        found = trouble(error)
        if found is None:
            return crash(error)
        log.error("%s: %s", request.path, found.title)
        return page(503, KEPT if committed() else found.sentence, {"Retry-After": "10"}, found.title)

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> ResponseReturnValue:
        return page(error.code or 500) if (error.code or 500) >= 400 else error

    @app.errorhandler(Exception)
    def crash(_error: Exception) -> ResponseReturnValue:
        reference = uuid4().hex[:8]
        log.exception("reference %s at %s", reference, request.path)
        changed = KEPT if committed() else "Nothing was changed."
        return page(500, f"{changed} If it happens again, note the reference {reference}.")


def page(code: int, sentence: str = "", headers: dict[str, str] | None = None, title: str = "") -> Any:
    """Let go of what was changed, and answer what went wrong: a page for a person, a sentence for a script."""
    let_go()
    usual = SENTENCES.get(code, SENTENCES[500])
    words = sentence or usual[1]
    if fields.is_script():
        return {"problem": words}, code, headers or {}
    text = render_template("errors/error.html", title=title or usual[0], sentence=words, typed=_typed(code), code=code)
    return Response(text, code, headers or {})


def _typed(code: int) -> list[tuple[str, str]]:
    """What she typed, to be sent again where that can help."""
    if request.method != "POST" or committed() or code not in (400, 401, 409, 500, 503):
        return []
    return [(k, v) for k, values in request.form.lists() for v in values if k not in SECRETS]
