"""Calm pages for what went wrong; details go to the log only, under the reference shown."""

import logging
from uuid import uuid4

from flask import Flask, redirect, render_template, request
from flask_wtf.csrf import CSRFError
from sqlalchemy.exc import IntegrityError
from werkzeug.exceptions import HTTPException

from chirotend.services.desk import NotThere

log = logging.getLogger(__name__)
SENTENCES = {
    400: ("That did not arrive whole", "Go back, reload the page and try again."),
    403: ("Not for this account", "Sign in with the account this belongs to."),
    404: ("Nothing here", "This page or entry is not in your record. It may have been deleted."),
    405: ("Not this way", "Open the page from the letters in the margin."),
    409: ("Two answers crossed", "The other one was kept. Look at the page again, and repeat yours if it is missing."),
    413: ("Too large", "A file may have up to 32 MB. Split the log by year and bring the parts one after another."),
    415: ("Not understood", "The page sent something this server does not read. Reload it and try again."),
    429: ("Too many tries", "Wait a minute, then try again."),
}


def init_app(app: Flask) -> None:
    @app.errorhandler(NotThere)
    def not_there(_error: NotThere):  # type: ignore[no-untyped-def]
        return page(404)

    @app.errorhandler(CSRFError)
    def stale(_error: CSRFError):  # type: ignore[no-untyped-def]
        return page(
            400, "This page was open for long, or cookies are off. Reload it and try again; nothing was changed."
        )

    @app.errorhandler(IntegrityError)
    def crossed(_error: IntegrityError):  # type: ignore[no-untyped-def]
        """Two requests wrote the same row: a page is simply read again, an answer is not guessed at."""
        return redirect(request.full_path) if request.method == "GET" else page(409)

    @app.errorhandler(HTTPException)
    def http(error: HTTPException):  # type: ignore[no-untyped-def]
        return page(error.code or 500) if (error.code or 500) >= 400 else error

    @app.errorhandler(Exception)
    def crash(_error: Exception):  # type: ignore[no-untyped-def]
        reference = uuid4().hex[:8]
        log.exception("reference %s at %s", reference, request.path)
        return page(500, f"Nothing was changed. If it happens again, note the reference {reference}.")


def page(code: int, sentence: str = "") -> tuple[str, int]:
    title, usual = SENTENCES.get(code, ("Something went wrong here", ""))
    return render_template("errors/error.html", code=code, title=title, sentence=sentence or usual), code
