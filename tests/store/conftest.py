"""What the tests of the store share."""

from tests.player_context import context as context
