"""The listed words of the record. A word outside its list is refused; nothing is guessed."""

SIDES = ("left", "right", "none")
KINDS = ("pain", "tension", "tingling", "numbness", "weakness", "stiffness")
TIMINGS = ("waking", "playing", "after", "night", "daily")
LASTING = ("brief", "longer", "constant")
FLAGS = ("swelling", "catching", "locked", "loss_of_control", "colour")
#: what eased a symptom
EASED = ("rest", "warmth", "moving", "shaking_out", "another_grip", "nothing")
OTHER_USES = ("none", "some", "all", "lost")
SLEEP = ("sound", "short", "broken")
HANDS = ("warm", "cool", "cold")
BLOCK_KINDS = ("warm-up", "technique", "repertoire", "rehearsal", "performance", "lesson", "other")
DYNAMICS = ("pp", "p", "mp", "mf", "f", "ff")

INTENSITY_MAX = 10.0
EFFORT_MAX = 10.0
SESSION_MAX_MIN = 1440.0
NERVE_KINDS = ("tingling", "numbness", "weakness")
