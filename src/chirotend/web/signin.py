"""Who is here: the signed-in account, and the demo's own way in on loopback.

A cookie holds a secret of its own; the server keeps which secrets are signed in, so signing out ends it there.
"""

import logging
from typing import Any

from flask import Flask, current_app, g, redirect, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from sqlalchemy.exc import DatabaseError

from chirotend.services.account import accounts
from chirotend.web import assets, errors, fields
from chirotend.web.transaction import db, let_go, now, reads_only

log = logging.getLogger(__name__)
OPEN_PAGES = {
    assets.ENDPOINT,
    "account.sign_in_page",
    "account.first_run",
    "help.urgent",
    "help.urgent_offline",
    "help.service_worker",
    "help.manifest",
    "help.health",
    "report.ask_code",
    "report.look",
}
LOOPBACK = {"127.0.0.1", "::1"}
LOCAL_HOSTS = {"127.0.0.1", "localhost"}


class Visitor(UserMixin):
    """An account as Flask-Login wants it; its id is the secret of this browser's cookie."""

    def __init__(self, row: object, cookie: str) -> None:
        self.row, self.cookie = row, cookie

    def get_id(self) -> str:
        return self.cookie


def sign_in(row: Any) -> None:
    """Sign this browser in to an account, in a session of its own."""
    if current_user.is_authenticated:
        accounts.sign_out(db(), current_user.row, current_user.cookie)
    session.clear()
    session.permanent = True
    login_user(Visitor(row, accounts.open_browser(db(), row, request.user_agent.string, now())))


def sign_out() -> None:
    """End this browser's session, here and on the server."""
    if current_user.is_authenticated:
        accounts.sign_out(db(), current_user.row, current_user.cookie)
    logout_user()
    session.clear()


def init_app(app: Flask) -> None:
    manager = LoginManager(app)
    manager.login_view = "account.sign_in_page"

    @manager.user_loader
    def load(cookie: str) -> Visitor | None:
        try:
            row = accounts.account_of_browser(db(), cookie, now())
        except DatabaseError:
            let_go()
            # the open pages stand without it, and so does the page that says what is wrong
            if request.endpoint not in OPEN_PAGES and not g.get("without_database"):
                g.without_database = True
                raise
            log.exception("the database does not answer")
            return None
        return Visitor(row, cookie) if row is not None else None

    @app.before_request
    def must_sign_in() -> ResponseReturnValue | None:
        if request.endpoint is None or request.endpoint in OPEN_PAGES:
            return None
        if current_user.is_authenticated:
            if request.method == "POST":
                accounts.browser_was_here(db(), current_user.cookie, now())
            return None
        if _demo_on_loopback():
            row = accounts.the_only_account(db())
            if row is not None:
                sign_in(row)
                return None
        if fields.is_script() or not reads_only():
            return errors.page(401)
        return redirect(url_for("account.sign_in_page", next=request.full_path))


def _demo_on_loopback() -> bool:
    host = request.host.rsplit(":", 1)[0]
    return current_app.config["DEMO"] and request.remote_addr in LOOPBACK and host in LOCAL_HOSTS
