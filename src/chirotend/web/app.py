"""The one place that wires the application together."""

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from flask import Flask
from flask_compress import Compress
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_wtf import CSRFProtect

from chirotend.services.accounts import Passwords
from chirotend.services.database import open_database, secret_key
from chirotend.services.worker import Worker
from chirotend.web import errors, filters, security, signin, transaction
from chirotend.web.pages import account, body, curtain, help, kit, plan, play, record, score, today

UPLOAD_MAX = 32 * 1024 * 1024
PAGES = (today, plan, play, body, score, kit, record, curtain, account, help)


def real_clock() -> datetime:
    return datetime.now(UTC)


def create_app(
    folder: Path,
    clock: Callable[[], datetime] = real_clock,
    demo: bool = False,
    testing: bool = False,
    trusted_hosts: list[str] | None = None,
    limit_tries: bool = True,
    secure: bool = False,
) -> Flask:
    """Return the application over the database in `folder`; `clock` gives the instant everything happens at.

    `demo` signs the only account in by itself, on loopback alone. `testing` runs jobs at once, in the request.
    `limit_tries` allows twelve tries a minute to sign in. `secure` sends cookies over https alone.
    """
    app = Flask("chirotend.web", static_folder="static", template_folder="templates")
    app.config.update(
        SECRET_KEY=secret_key(folder) if folder.exists() else b"",
        MAX_CONTENT_LENGTH=UPLOAD_MAX,
        MAX_FORM_MEMORY_SIZE=2 * 1024 * 1024,
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SECURE=secure,
        REMEMBER_COOKIE_SECURE=secure,
        SESSION_COOKIE_SAMESITE="Lax",
        REMEMBER_COOKIE_HTTPONLY=True,
        REMEMBER_COOKIE_SAMESITE="Lax",
        TESTING=testing,
        RATELIMIT_ENABLED=limit_tries,
        WTF_CSRF_TIME_LIMIT=None,
        SEND_FILE_MAX_AGE_DEFAULT=3600,
        DEMO=demo,
        COMPRESS_MIN_SIZE=500,
        TRUSTED_HOSTS=trusted_hosts,
        TEMPLATES_AUTO_RELOAD=False,
    )
    database = open_database(folder, clock())
    app.config["SECRET_KEY"] = secret_key(folder)
    app.extensions["database"], app.extensions["clock"] = database, clock
    app.extensions["passwords"] = Passwords(cheap=testing)
    worker = app.extensions["worker"] = Worker(database.open_db, clock, database.uploads)
    if not testing:
        worker.start()
    CSRFProtect(app)
    Compress(app)
    # kept by the application: the decorated views only hold it weakly
    limiter = app.extensions["tries"] = Limiter(get_remote_address, app=app, storage_uri="memory://")
    transaction.init_app(app)
    signin.init_app(app)
    security.init_app(app)
    filters.init_app(app)
    errors.init_app(app)
    for page in PAGES:
        app.register_blueprint(page.bp)
    for guessed in ("account.sign_in_page", "account.first_run"):
        limit = limiter.limit("12 per minute", methods=["POST"])
        app.view_functions[guessed] = limit(app.view_functions[guessed])
    return app
