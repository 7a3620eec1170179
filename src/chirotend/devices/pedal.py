"""A page-turner pedal: it types two keys, as such pedals do; held down it holds the key."""

from typing import Literal

KEYS: dict[Literal["left", "right"], str] = {"left": "PageUp", "right": "PageDown"}
#: a pedal held so long (ms) is a hold and no turn; the stand waits a little less
HELD_MS = 1100
