"""Who is here: the signed-in account, and the demo's own way in on loopback."""

from flask import Flask, current_app, redirect, request, url_for
from flask_login import LoginManager, UserMixin, current_user, login_user

from chirotend.services import accounts
from chirotend.web.transaction import db

OPEN_PAGES = {
    "static",
    "account.sign_in_page",
    "account.first_run",
    "help.urgent_offline",
    "help.service_worker",
    "help.health",
}
LOOPBACK = {"127.0.0.1", "::1"}
LOCAL_HOSTS = {"127.0.0.1", "localhost", "::1"}


class Visitor(UserMixin):
    """An account as Flask-Login wants it; its id changes with the password, so old cookies stop working."""

    def __init__(self, row: object) -> None:
        self.row = row

    def get_id(self) -> str:
        return f"{self.row.id}:{self.row.stamp}"


def init_app(app: Flask) -> None:
    manager = LoginManager(app)
    manager.login_view = "account.sign_in_page"

    @manager.user_loader
    def load(cookie: str) -> Visitor | None:
        account_id, _, stamp = cookie.partition(":")
        row = accounts.account_of(db(), int(account_id)) if account_id.isdigit() else None
        return Visitor(row) if row is not None and row.stamp == stamp else None

    @app.before_request
    def must_sign_in():  # type: ignore[no-untyped-def]
        if request.endpoint is None or request.endpoint in OPEN_PAGES or current_user.is_authenticated:
            return None
        if _demo_on_loopback():
            row = accounts.the_only_account(db())
            if row is not None:
                login_user(Visitor(row))
                return None
        return redirect(url_for("account.sign_in_page", next=request.full_path if request.method == "GET" else None))


def _demo_on_loopback() -> bool:
    host = request.host.rsplit(":", 1)[0].strip("[]")
    return current_app.config["DEMO"] and request.remote_addr in LOOPBACK and host in LOCAL_HOSTS
