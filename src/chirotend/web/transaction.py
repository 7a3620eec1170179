"""One transaction a request: committed at the edge before the answer leaves, rolled back on any refusal or error.

A request that changes something takes the player's write lock first, so that two of them never interleave. A page
that is only read waits for nobody, and stands also when what it would have noted cannot be written.
"""

import logging
from datetime import datetime
from typing import Any

from flask import Flask, Response, current_app, g, make_response, request
from flask_login import current_user
from sqlalchemy.exc import DatabaseError

from chirotend.services.account.accounts import desk_of, hold
from chirotend.services.desk import Desk, NotThere
from chirotend.web import assets

log = logging.getLogger(__name__)


def init_app(app: Flask) -> None:
    app.after_request(_end)
    app.teardown_request(_close)


def reads_only() -> bool:
    return request.method in ("GET", "HEAD", "OPTIONS")


def db() -> Any:
    """Return this request's database session, opened when first asked for."""
    if "db" not in g:
        g.db = current_app.extensions["database"].open_patient_db(reads_only())
    return g.db


def now() -> datetime:
    """Return the instant of this request (one instant, however long it takes)."""
    if "now" not in g:
        g.now = current_app.extensions["clock"]()
    return g.now


def desk() -> Desk:
    """Return the desk of the signed-in player."""
    if "desk" not in g:
        found = desk_of(db(), current_user.row, now(), not reads_only())
        if found is None:
            raise NotThere("player")
        if not reads_only():
            hold(found)
        g.desk = found
    return g.desk


def commit() -> None:
    """Commit in the middle of a request: only before a background job that must see what was written."""
    db().commit()


def let_go() -> None:
    """Undo what this request has written so far, so that its answer commits nothing of it."""
    if "db" in g:
        g.db.rollback()


def _end(response: Response) -> Response:
    if "db" not in g or request.endpoint == assets.ENDPOINT:
        return response
    try:
        if response.status_code < 400:
            g.db.commit()
        else:
            g.db.rollback()
    except DatabaseError as error:
        let_go()
        log.exception("not committed: %s", request.path)
        if not reads_only():
            return make_response(current_app.handle_user_exception(error))
    return response


def _close(_error: BaseException | None) -> None:
    opened = g.pop("db", None)
    if opened is not None:
        opened.rollback()
        opened.close()
