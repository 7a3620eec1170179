"""What the tests share: a clock that can be moved, a server over an empty or a demo record."""

import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient
from hypothesis import settings

from chirotend.services.account import accounts
from chirotend.web.app import create_app, open_record
from tests.strict_templates import strict

# how fast a busy machine is says nothing about a rule
settings.register_profile("untimed", parent=settings.default, deadline=None)
settings.load_profile("untimed")

NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)  # Thursday, 10:10 in Vienna


class Clock:
    """The application's clock: `clock()` reads it, `clock.to(...)` and `clock.on(...)` move it."""

    def __init__(self, now: datetime = NOW) -> None:
        self.now = now

    def __call__(self) -> datetime:
        return self.now

    def on(self, **step: float) -> None:
        self.now += timedelta(**step)


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture(scope="session")
def empty_record(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with nothing in it but the newest tables: every test gets a copy instead of all migrations."""
    folder = tmp_path_factory.mktemp("empty") / "data"
    app = create_app(folder, clock=Clock(), testing=True)
    app.extensions["database"].engine.dispose()
    return folder


@pytest.fixture(scope="session")
def one_app(tmp_path_factory: pytest.TempPathFactory, empty_record: Path) -> Flask:
    """One application for all tests of a worker: putting it together and its templates cost more than most tests."""
    folder = tmp_path_factory.mktemp("one") / "data"
    shutil.copytree(empty_record, folder)
    app = strict(create_app(folder, clock=Clock(), testing=True, limit_tries=False))
    app.extensions["database"].engine.dispose()
    return app


@contextmanager
def over_record(app: Flask, folder: Path, clock: Clock, **config: object) -> Iterator[Flask]:
    """Let the application serve another record; its configuration is restored afterwards."""
    before = dict(app.config)
    open_record(app, folder, clock)
    app.config.update(config)
    yield app
    app.extensions["database"].engine.dispose()
    app.config.clear()
    app.config.update(before)


@pytest.fixture
def app(tmp_path: Path, clock: Clock, empty_record: Path, one_app: Flask) -> Iterator[Flask]:
    shutil.copytree(empty_record, tmp_path / "data")
    with over_record(one_app, tmp_path / "data", clock, WTF_CSRF_ENABLED=False) as app:
        yield app


def add_player(app: Flask, name: str = "ilse", instruments: tuple[str, ...] = ("bassoon", "contrabassoon")) -> None:
    with app.extensions["database"].open_db() as db:
        accounts.add_account(
            db,
            app.extensions["passwords"],
            name,
            "bars and rests",
            name.title(),
            "Europe/Vienna",
            list(instruments),
            NOW,
        )
        db.commit()


def sign_in(client: FlaskClient, name: str = "ilse") -> None:
    answer = client.post("/sign-in", data={"name": name, "password": "bars and rests"})
    assert answer.status_code == 302, answer.text


@pytest.fixture
def client(app: Flask) -> FlaskClient:
    add_player(app)
    client = app.test_client()
    sign_in(client)
    return client
