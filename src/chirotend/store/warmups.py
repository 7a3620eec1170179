"""The warm-ups of the days before: which exercises she has done."""

import json
from datetime import date

from sqlalchemy import Text, cast, select

from chirotend.core.memos import by_value
from chirotend.store.bound import Bound
from chirotend.store.models import WarmupRow

W = WarmupRow.__table__.c


class Warmups(Bound):
    """The kept warm-ups of a player."""

    def exercises_before(self, day: date) -> frozenset[str]:
        """Return the ids of every exercise of a warm-up kept before `day`; warm-ups that are alike are read once."""
        query = select(cast(W.steps, Text)).where(W.player_id == self.player_id, W.day < day).distinct()
        return frozenset().union(*(_exercises(row[0]) for row in self.tuples(query)))


@by_value(20_000)
def _exercises(steps: str) -> frozenset[str]:
    return frozenset(step["id"] for step in json.loads(steps))
