"""Styles, scripts and fonts under a name that changes with their content: a browser asks for each once and keeps it."""

import hashlib
import mimetypes
from functools import cache
from pathlib import Path

import brotli
from flask import Flask, Response, abort, before_render_template, request
from flask.sessions import SecureCookieSessionInterface, SessionMixin
from flask.typing import ResponseReturnValue
from jinja2 import Template

from chirotend.web import styles

STATIC = Path(__file__).parent / "static"
#: the one style sheet of the pages
BUNDLE = "css/chirotend.css"
#: the endpoint that serves what ships, and nothing of a player
ENDPOINT = "asset"
KEEP = "public, max-age=31536000, immutable"
TEXTS = ("text/", "application/javascript", "image/svg+xml")


class SessionOfPages(SecureCookieSessionInterface):
    """The session of a browser, sent with pages alone: an answer that any cache may keep holds nobody's cookie."""

    def save_session(self, app: Flask, session: SessionMixin, response: Response) -> None:
        if request.endpoint != ENDPOINT:
            super().save_session(app, session, response)


def init_app(app: Flask) -> None:
    app.session_interface = SessionOfPages()
    app.add_url_rule("/assets/<digest>/<path:name>", ENDPOINT, serve)
    app.jinja_env.globals["asset"] = url
    before_render_template.connect(_name_the_subject, app)
    for warm in (BUNDLE, "vendor/htmx.min.js"):
        compressed(warm)


def _name_the_subject(_app: Flask, template: Template, context: dict[str, object]) -> None:
    """Let a page say which subject it is of: the folder of its template."""
    context["subject"] = str(template.name).partition("/")[0]


def url(name: str) -> str:
    """Return the address of a file of `static/`, or of the bundle."""
    return f"/assets/{version()}/{name}"


@cache
def version() -> str:
    """Return what names every file at once: a digest of all that ships."""
    found = hashlib.sha256()
    for path in sorted(STATIC.rglob("*")):
        if path.is_file():
            found.update(str(path.relative_to(STATIC)).encode() + path.read_bytes())
    return found.hexdigest()[:12]


@cache
def names() -> frozenset[str]:
    """Return what is served: the files that ship, and the bundle."""
    return frozenset({BUNDLE, *(str(p.relative_to(STATIC)) for p in STATIC.rglob("*") if p.is_file())})


@cache
def content(name: str) -> bytes:
    """Return a file that ships, or the bundle; FileNotFoundError for any other name."""
    if name not in names():
        raise FileNotFoundError(name)
    if name == BUNDLE:
        return styles.bundle(STATIC).encode()
    return (STATIC / name).read_bytes()


@cache
def compressed(name: str) -> bytes:
    return brotli.compress(content(name), quality=11)


def serve(digest: str, name: str) -> ResponseReturnValue:
    """Answer with a file; under an old digest (a page from before an update) with today's, to be asked for again."""
    if name not in names():
        abort(404)
    kind = mimetypes.guess_type(name)[0] or "application/octet-stream"
    small = kind.startswith(TEXTS) and request.accept_encodings["br"] > 0
    answer = Response(compressed(name) if small else content(name), mimetype=kind)
    if small:
        answer.headers["Content-Encoding"] = "br"
    answer.vary.add("Accept-Encoding")
    answer.headers["Cache-Control"] = KEEP if digest == version() else "no-cache"
    return answer
