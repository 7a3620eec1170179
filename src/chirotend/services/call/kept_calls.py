"""The last call computed for a player, kept in memory for as long as it would come out the same."""

from dataclasses import dataclass, replace

from chirotend.core.judge.call import Call, compute_call
from chirotend.core.judge.evidence import Evidence
from chirotend.core.memos import Memo
from chirotend.services.call.inputs import CallInputs

MOST_KEPT = 100  # calls, some 300 kB each


@dataclass(frozen=True)
class ComputedCall:
    """A call with all that it was computed from."""

    inputs: CallInputs
    call: Call

    def holds_for(self, inputs: CallInputs) -> bool:
        """True when the same would be said: the same is known, and no mark has grown too old since."""
        known, then = inputs.evidence, self.inputs.evidence
        if replace(inputs, evidence=replace(known, now_utc=then.now_utc)) != self.inputs:
            return False
        return then.with_limits(now_utc=known.now_utc).marks_in_hours == then.marks_in_hours


class KeptCalls(Memo):
    """The last call of each player, of the morning and of now. Inputs are compared by value: nothing has to tell it of
    a change."""

    def __init__(self) -> None:
        super().__init__()
        self._kept: dict[tuple[int, bool], ComputedCall] = {}

    def call(self, player: int, morning: bool, inputs: CallInputs) -> tuple[Call, Evidence]:
        """Return the call of `inputs`, and their evidence with all that was worked out of it so far."""
        kept = self._kept.get((player, morning))
        if kept is not None and kept.holds_for(inputs):
            return kept.call, kept.inputs.evidence.with_limits(now_utc=inputs.evidence.now_utc)
        found = compute_call(inputs.evidence, inputs.recovery, inputs.last_day)
        if len(self._kept) >= MOST_KEPT:
            self._kept.clear()
        self._kept[player, morning] = ComputedCall(inputs, found)
        return found, inputs.evidence

    def forget(self) -> None:
        self._kept.clear()


KEPT_CALLS = KeptCalls()
