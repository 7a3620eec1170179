"""Ten players' warm-ups of 12 and 30 minutes on ten days, as a teacher read and signed them (docs/warmups.md).

`python -m tests.services.today.test_golden_warmups` writes the files anew: read what changed before you keep it.
"""

from dataclasses import dataclass, field
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest

from chirotend.core.plan.suits import Condition
from chirotend.core.plan.warmup import WarmupInputs, compose
from chirotend.library.loader import instruments
from tests.shipped import shipped_exercises

FOLDER = Path(__file__).parents[2] / "data/warmups"
FIRST, DAYS = date(2026, 11, 12), 10


@dataclass(frozen=True)
class Player:
    """Who warms up: what she plays in turn from day to day, and how she is."""

    title: str
    plays: tuple[str, ...]
    how: dict[str, Any] = field(default_factory=dict)


def marked(*places: tuple[str, str]) -> dict[str, Any]:
    return {"condition": Condition(marked=frozenset(places))}


PLAYERS = {
    "bassoon_with_contra": Player("Bassoon, every other day contrabassoon", ("bassoon", "contrabassoon")),
    "violin": Player("Violin", ("violin",), {"tags": ("shifts", "vibrato")}),
    "double_bass": Player("Double bass", ("double_bass",)),
    "classical_guitar_cold": Player("Classical guitar, cold hands", ("classical_guitar",), {"cold": True}),
    "flamenco_guitar": Player("Flamenco guitar", ("flamenco_guitar",), {"tags": ("rasgueado",)}),
    "pedal_harp": Player("Harp with pedals", ("pedal_harp",)),
    "contrabass_recorder": Player("Contrabass recorder", ("contrabass_recorder",)),
    "drum_kit_sore_thumb": Player("Drum kit, sore left thumb", ("drum_kit",), marked(("thumb_base_joint", "left"))),
    "piano_accordion": Player("Piano accordion", ("piano_accordion",)),
    "trumpet_tired_lip": Player(
        "Trumpet, tired lips", ("trumpet",), marked(("upper_lip", "none"), ("lower_lip", "none"))
    ),
}


def written(player: Player) -> str:
    """Return the warm-ups of a player as they are read: a line a step."""
    lines = [player.title + (f", today's music: {', '.join(player.how['tags'])}" if "tags" in player.how else "")]
    for minutes in (12, 30):
        for n in range(DAYS):
            instrument, day = player.plays[n % len(player.plays)], FIRST + timedelta(days=n)
            wish = WarmupInputs(minutes, instruments()[instrument].family, day, instrument=instrument, **player.how)
            made = compose(wish, shipped_exercises(instrument))
            lines += ["", f"{day:%a %d %B}, {instruments()[instrument].name}, {made.minutes:g} of {minutes} minutes"]
            for step in made.steps:
                hand = "" if step.hand == "both" else f", {step.hand} hand"
                lines.append(f"{step.minutes:5.1f}  {step.exercise.stage:<20} {step.exercise.name}{hand}")
    return "\n".join(lines) + "\n"


@pytest.mark.parametrize("name", PLAYERS)
def test_the_warm_ups_are_those_that_were_signed(name: str):
    assert written(PLAYERS[name]) == (FOLDER / f"{name}.txt").read_text(encoding="utf-8")


if __name__ == "__main__":
    FOLDER.mkdir(parents=True, exist_ok=True)
    for key, each in PLAYERS.items():
        (FOLDER / f"{key}.txt").write_text(written(each), encoding="utf-8")
