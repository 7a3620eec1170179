"""The last call worked out for a player, kept in memory for as long as it would come out the same."""

from dataclasses import dataclass, replace
from datetime import date

from chirotend.core.judge.call import Call, todays_call
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.recovery import Recovery
from chirotend.core.memos import Memo

MOST_KEPT = 100  # calls, some 300 kB each


@dataclass(frozen=True)
class Judged:
    """A call with all that it was worked out from."""

    evidence: Evidence
    before: Recovery
    last_day: date | None
    call: Call

    def holds_for(self, evidence: Evidence, before: Recovery, last_day: date | None) -> bool:
        """True when the same would be said: the same is known, and no mark has grown too old since."""
        if (self.before, self.last_day) != (before, last_day):
            return False
        if replace(evidence, now_utc=self.evidence.now_utc) != self.evidence:
            return False
        return self.evidence.with_limits(now_utc=evidence.now_utc).marks_in_hours == self.evidence.marks_in_hours


class KeptCalls(Memo):
    """The last `Judged` of each player, of the morning and of now. It is compared by value: nothing has to tell it of a
    change."""

    def __init__(self) -> None:
        super().__init__()
        self._kept: dict[tuple[int, bool], Judged] = {}

    def call(
        self, player: int, morning: bool, evidence: Evidence, before: Recovery, last_day: date | None
    ) -> tuple[Call, Evidence]:
        """Return the call for `evidence`, and the evidence with all that was worked out of it so far."""
        kept = self._kept.get((player, morning))
        if kept is not None and kept.holds_for(evidence, before, last_day):
            return kept.call, kept.evidence.with_limits(now_utc=evidence.now_utc)
        found = todays_call(evidence, before, last_day)
        if len(self._kept) >= MOST_KEPT:
            self._kept.clear()
        self._kept[player, morning] = Judged(evidence, before, last_day, found)
        return found, evidence

    def forget(self) -> None:
        self._kept.clear()


KEPT_CALLS = KeptCalls()
