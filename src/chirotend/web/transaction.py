"""One transaction a request: committed before anything is shown, rolled back on any refusal or error.

A request that changes something takes the player's write lock first, so that two of them never interleave. It commits
or lets go before it shows a page, and from then on only reads: nobody waits while a page is rendered. Today's call is
issued with the commit, so that it never lags behind what was written.

A page that is only read waits for nobody, and stands also when what it would have noted cannot be written. What has to
be known before a file is read is looked up at a context that holds nothing (`unlocked_context`).
"""

import logging
from datetime import datetime
from typing import Any

from flask import Flask, Response, before_render_template, current_app, g, make_response, request
from flask_login import current_user
from sqlalchemy.exc import DatabaseError

from chirotend.services.account.accounts import context_of, hold
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, NotThere
from chirotend.services.server.database import holds_the_lock, wait_for_others
from chirotend.web import assets

log = logging.getLogger(__name__)


def init_app(app: Flask) -> None:
    app.after_request(_end)
    app.teardown_request(_close)
    before_render_template.connect(_before_a_page, app)


def reads_only() -> bool:
    """Return whether this request changes nothing (any more)."""
    return request.method in ("GET", "HEAD", "OPTIONS") or bool(g.get("over"))


def committed() -> bool:
    """Return whether this request has committed what it was sent for."""
    return bool(g.get("committed"))


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


def context() -> Context:
    """Return the context of the signed-in player; a request that changes something holds her record from here on."""
    if "context" not in g:
        found = _context(writes=not reads_only())
        if found.writes:
            g.held = True
            hold(found)
            if "unlocked_context" in g:
                db().expire_all()  # what was looked up before the lock may have changed since
        g.context = found
    return g.context


# a file is read before the record is held, so that nobody waits for it: decisions 158 and 161
def unlocked_context() -> Context:
    """Return a context that reads without the write lock, also in a request that changes something later on.

    It commits what was only noted before, so that nobody waits for it.
    """
    if "context" in g or reads_only():
        return context()
    notes_kept()
    if "unlocked_context" not in g:
        g.unlocked_context = _context(writes=False)
    return g.unlocked_context


def _context(writes: bool) -> Context:
    found = context_of(db(), current_user.row, now(), writes)
    if found is None:
        raise NotThere("player")
    return found


# services only write; the call follows once, before the commit, and the page after it: decisions 160 and 171
def commit(call_changes: bool = True) -> None:
    """Commit what this request has changed, with the call that follows from it; from here on it only shows.

    `call_changes=False`: nothing a call is computed from was changed, so none is computed.
    """
    _commit(call_changes)
    g.committed = True
    only_shows()


def _commit(call_changes: bool = True) -> None:
    """Issue today's call where the record was held: whatever she changed, the call is stored with it."""
    if call_changes and g.get("held"):
        todays_call(g.context)
    db().commit()


def let_go() -> None:
    """Undo what this request has changed and not committed; from here on it only shows."""
    if "db" in g:
        g.db.rollback()
    only_shows()


def only_shows() -> None:
    """Let this request change nothing from here on: it asks something, or it has done what it was sent for."""
    notes_kept()
    g.over = True
    for name in ("held", "context", "unlocked_context"):
        g.pop(name, None)
    if "db" in g:
        wait_for_others(g.db, reads_only=True)


def notes_kept() -> None:
    """Commit what was only noted while something was looked up, so that nobody waits for what comes next."""
    if "db" not in g or not holds_the_lock(g.db):
        return
    try:
        g.db.commit()
    except DatabaseError:
        g.db.rollback()
        log.exception("not noted: %s", request.path)


def _before_a_page(_app: Flask, **_shown: Any) -> None:
    """Refuse to render a page while the record is held: whoever changed it commits or lets go first."""
    if g.get("held"):
        raise RuntimeError(f"{request.endpoint} shows a page while it holds the record: commit or let go first")
    notes_kept()


def _end(response: Response) -> Response:
    if "db" not in g or request.endpoint == assets.ENDPOINT:
        return response
    try:
        if response.status_code < 400:
            _commit()
        else:
            g.db.rollback()
    except Exception as error:
        # what fails here passes no error handler by itself
        changes = not reads_only()
        let_go()
        log.exception("not committed: %s", request.path)
        if changes:
            return make_response(current_app.handle_user_exception(error))
    return response


def _close(_error: BaseException | None) -> None:
    opened = g.pop("db", None)
    if opened is not None:
        opened.rollback()
        opened.close()
