"""The one place that wires the application together."""

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from flask import Flask, Response, request
from flask_compress import Compress
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_wtf import CSRFProtect

from chirotend.core.names import name_key
from chirotend.services.account.accounts import IDLE_FOR, Passwords
from chirotend.services.server.database import open_database, secret_key
from chirotend.services.server.readers import load_in_background
from chirotend.services.server.worker import Worker
from chirotend.web import assets, errors, filters, security, signin, transaction
from chirotend.web.incoming import CleanRequest
from chirotend.web.pages import (
    account,
    body,
    concert_card,
    drawings,
    happened,
    help,
    kit,
    matters,
    offline,
    parts,
    plan,
    play,
    programmes,
    record,
    report,
    score,
    technique,
    today,
    trials,
)

#: the most a request may bring, in bytes: little, but where files are brought
BODY_MAX = 1024 * 1024
UPLOADS = {
    "record.begin_import": 32 * 1024 * 1024,
    "play.record_take": 31 * 1024 * 1024,
    "plan.bring_calendar": 3 * 1024 * 1024,
    "parts.bring": 9 * 1024 * 1024,
    "technique.bring_picture": 26 * 1024 * 1024,
    "technique.look_at_frame": 3 * 1024 * 1024,
    "technique.bring_sound": 201 * 1024 * 1024,
    "technique.bring_trace": 201 * 1024 * 1024,
    "technique.bring_strokes": 201 * 1024 * 1024,
}
UPLOAD_MAX = max(UPLOADS.values())
PAGES = (
    *(today, plan, programmes, parts, play, body, score, trials),
    *(technique, kit, record, matters, happened, report, drawings, concert_card, offline, account, help),
)


def real_clock() -> datetime:
    return datetime.now(UTC)


def _name_tried() -> str:
    return f"name {name_key(request.form.get('name', ''))}"


def _any_code() -> str:
    return "codes"


#: wrong answers that may be given, by address, and of names and codes wherever they come from
BY_ADDRESS = ("12 per minute", get_remote_address)
GUESSED: dict[str, tuple[tuple[str, Callable[[], str]], ...]] = {
    "account.sign_in_page": (BY_ADDRESS, ("40 per hour", _name_tried)),
    "account.first_run": (BY_ADDRESS,),
    "account.change_password": (BY_ADDRESS,),
    "report.ask_code": (BY_ADDRESS, ("120 per hour", _any_code)),
    "report.look": (BY_ADDRESS, ("120 per hour", _any_code)),
}


def create_app(
    folder: Path,
    clock: Callable[[], datetime] = real_clock,
    demo: bool = False,
    testing: bool = False,
    trusted_hosts: list[str] | None = None,
    limit_tries: bool = True,
    secure: bool = False,
    port: int = 0,
) -> Flask:
    """Return the application over the database in `folder`; `clock` gives the instant everything happens at.

    `demo` signs the only account in by itself, on loopback alone. `testing` runs jobs at once, in the request.
    `limit_tries` allows twelve tries a minute to sign in. `secure` sends cookies over https alone. `port` is part of
    the cookie's name, since browsers share cookies between the ports of a host.
    """
    app = Flask("chirotend.web", static_folder=None, template_folder="templates")
    app.request_class = CleanRequest
    app.config.update(
        MAX_CONTENT_LENGTH=BODY_MAX,
        MAX_FORM_MEMORY_SIZE=BODY_MAX,
        SESSION_COOKIE_NAME=f"chirotend-{port}",
        PERMANENT_SESSION_LIFETIME=IDLE_FOR,
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SECURE=secure,
        SESSION_COOKIE_SAMESITE="Lax",
        TESTING=testing,
        RATELIMIT_ENABLED=limit_tries,
        WTF_CSRF_TIME_LIMIT=None,
        DEMO=demo,
        COMPRESS_MIN_SIZE=500,
        TRUSTED_HOSTS=trusted_hosts,
        TEMPLATES_AUTO_RELOAD=False,
    )
    open_record(app, folder, clock)
    if not testing:
        load_in_background()
    app.before_request(_allow_uploads)  # before the token is looked for in the body
    CSRFProtect(app)
    Compress(app)
    # kept by the application: the decorated views only hold it weakly
    limiter = app.extensions["tries"] = Limiter(get_remote_address, app=app, storage_uri="memory://")
    transaction.init_app(app)
    signin.init_app(app)
    security.init_app(app)
    filters.init_app(app)
    assets.init_app(app)
    errors.init_app(app)
    for page in PAGES:
        app.register_blueprint(page.bp)
    for guessed, limits in GUESSED.items():
        for often, key in limits:
            limit = limiter.limit(often, key_func=key, methods=["POST"], deduct_when=_was_wrong)
            page_function: Any = app.view_functions[guessed]
            app.view_functions[guessed] = limit(page_function)
    return app


def open_record(app: Flask, folder: Path, clock: Callable[[], datetime]) -> None:
    """Let `app` serve the database in `folder` by `clock` from now on.

    Tests do so again and again with one application, which keeps its templates.
    """
    database = open_database(folder, clock())
    app.config["SECRET_KEY"] = secret_key(folder)
    app.extensions["database"], app.extensions["clock"] = database, clock
    app.extensions["passwords"] = Passwords(cheap=app.testing)
    worker = app.extensions["worker"] = Worker(database.open_db, clock, database.uploads, database.blobs)
    if not app.testing:
        worker.start()


def _was_wrong(response: Response) -> bool:
    return response.status_code == 422


def _allow_uploads() -> None:
    request.max_content_length = UPLOADS.get(request.endpoint or "", BODY_MAX)
