"""One transaction a request: committed at the edge before the answer leaves, rolled back on any refusal or error."""

from datetime import datetime
from typing import Any

from flask import Flask, Response, current_app, g, request
from flask_login import current_user

from chirotend.services.accounts import desk_of
from chirotend.services.desk import Desk


def init_app(app: Flask) -> None:
    app.after_request(_end)
    app.teardown_request(_close)


def db() -> Any:
    """Return this request's database session, opened when first asked for."""
    if "db" not in g:
        g.db = current_app.extensions["database"].open_db()
    return g.db


def now() -> datetime:
    """Return the instant of this request (one instant, however long it takes)."""
    if "now" not in g:
        g.now = current_app.extensions["clock"]()
    return g.now


def desk() -> Desk:
    """Return the desk of the signed-in player."""
    if "desk" not in g:
        g.desk = desk_of(db(), current_user.row, now())
    return g.desk


def commit() -> None:
    """Commit in the middle of a request: only before a background job that must see what was written."""
    db().commit()


def _end(response: Response) -> Response:
    if "db" in g and request.endpoint != "static":
        if response.status_code < 400:
            g.db.commit()
        else:
            g.db.rollback()
    return response


def _close(_error: BaseException | None) -> None:
    opened = g.pop("db", None)
    if opened is not None:
        opened.rollback()
        opened.close()
