"""The context of a player for tests of services and the store; in a browser "context" is a word of the browser."""

from collections.abc import Iterator

import pytest
from flask import Flask

from chirotend.services.account import accounts
from chirotend.services.context import Context
from tests.conftest import Clock, add_player


@pytest.fixture
def context(app: Flask, clock: Clock) -> Iterator[Context]:
    """The context of a new player, in a transaction of its own."""
    add_player(app)
    with app.extensions["database"].open_db() as db:
        account = accounts.the_only_account(db)
        assert account is not None
        found = accounts.context_of(db, account, clock())
        assert found is not None
        yield found
        db.rollback()
