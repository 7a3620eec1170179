"""A stretch of time in a recording or trace."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Stretch:
    """From one second to another."""

    start_s: float
    end_s: float

    @property
    def seconds(self) -> float:
        return self.end_s - self.start_s
