"""What an invented player marked, as a record: sessions, and checks with their marks."""

from datetime import date, timedelta

from chirotend.core.record import Block, Check, Entry, Record, Session
from chirotend.core.simulate.cohort import Life
from chirotend.core.simulate.one import Spot, marks_of_a_day

FIRST_DAY = date(2026, 1, 5)
#: the four places of a player
SPOTS = (
    Spot("thumb_base_joint", "left"),
    Spot("forearm_outer_high", "right"),
    Spot("neck_back", "right"),
    Spot("wrist_back_mid", "left"),
)


class Diary:
    """The record of one player of a life, day by day."""

    def __init__(self, life: Life, player: int) -> None:
        self.life, self.player = life, player
        self.sessions: list[Session] = []
        self.checks: list[Check] = []
        self.on_waking: tuple[Entry, ...] | None = None

    def morning(self, day: date) -> Record:
        """Return what is known on the morning of `day`, with its waking check if she answered it."""
        if self.on_waking is not None:
            self.checks.append(Check(f"w{day}", day, "waking", self.on_waking))
        return Record(tuple(self.sessions), tuple(self.checks))

    def evening(self, day: date) -> None:
        """Write in what the simulation has just done."""
        minutes, effort, excess, strength, character, nerve, asked = (
            column[self.player] for column in self.life.days_done[-1]
        )
        if minutes > 0:
            self.sessions.append(Session(f"s{day}", day, (Block(float(minutes)),), float(effort)))
        self.on_waking = None
        if not asked:
            return
        marked = marks_of_a_day(SPOTS, strength, character, excess, nerve)
        for timing in ("playing", "night"):
            if marked[timing]:
                self.checks.append(Check(f"{timing}{day}", day, timing, tuple(marked[timing])))
        self.checks.append(Check(f"a{day}", day, "after", tuple(marked["after"])))
        self.on_waking = tuple(marked["waking"])


def day_of(number: int) -> date:
    return FIRST_DAY + timedelta(days=number)
