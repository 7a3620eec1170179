"""The listed words of the record, each with the plain word the screen has for it.

A word outside its list is refused; nothing is guessed. A new kind of symptom, flag or block is one line here; what is
drawn and judged of it stands with the drawing and the rules.
"""

from enum import StrEnum


class Word(StrEnum):
    """A word as it is kept, and as it is said."""

    said: str

    def __new__(cls, kept: str, said: str = "") -> "Word":
        word = str.__new__(cls, kept)
        word._value_ = kept
        word.said = said or kept
        return word

    def __repr__(self) -> str:
        return repr(self.value)  # as it is kept


class Side(Word):
    LEFT = "left"
    RIGHT = "right"
    NONE = "none", "in the middle"


class Kind(Word):
    PAIN = "pain"
    TENSION = "tension", "tightness"
    TINGLING = "tingling"
    NUMBNESS = "numbness"
    WEAKNESS = "weakness"
    STIFFNESS = "stiffness"


class Timing(Word):
    WAKING = "waking"
    PLAYING = "playing"
    AFTER = "after"
    NIGHT = "night"
    DAILY = "daily", "daily life"


class Lasting(Word):
    """How long after stopping."""

    BRIEF = "brief", "gone within 10 minutes"
    LONGER = "longer", "longer than 10 minutes"
    CONSTANT = "constant", "all the time"


class Flag(Word):
    SWELLING = "swelling", "swollen"
    CATCHING = "catching", "catches or clicks"
    LOCKED = "locked"
    LOSS_OF_CONTROL = "loss_of_control", "will not obey"
    COLOUR = "colour", "changes colour, or cold"


class Eased(Word):
    """What eased a symptom."""

    REST = "rest"
    WARMTH = "warmth"
    MOVING = "moving", "moving it"
    SHAKING_OUT = "shaking_out", "shaking it out"
    ANOTHER_GRIP = "another_grip", "another grip"
    NOTHING = "nothing", "nothing so far"


class OtherUses(Word):
    """How much of what else the hand does hurts."""

    NONE = "none"
    SOME = "some"
    ALL = "all", "all, still possible"
    LOST = "lost", "cannot use it"


class Sleep(Word):
    SOUND = "sound"
    SHORT = "short"
    BROKEN = "broken"


class Hands(Word):
    WARM = "warm"
    COOL = "cool"
    COLD = "cold"


class BlockKind(Word):
    WARM_UP = "warm-up"
    TECHNIQUE = "technique"
    REPERTOIRE = "repertoire"
    REHEARSAL = "rehearsal"
    PERFORMANCE = "performance"
    LESSON = "lesson"
    OTHER = "other", "another use of the hands"


class Dynamic(Word):
    PP = "pp", "very soft"
    P = "p", "soft"
    MP = "mp", "rather soft"
    MF = "mf", "rather loud"
    F = "f", "loud"
    FF = "ff", "very loud"


class SignAnswer(Word):
    NOT_SO = "not_so", "not so"
    KNOWN_CAUSE = "known_cause", "a cause I know"
    ACTED_ON = "acted_on", "I have changed something"


class MatterState(Word):
    """What became of an open matter; the last two settle it."""

    OPEN = "open"
    BOOKED = "booked"
    NOT_NOW = "not_now", "not now"
    SEEN = "seen", "I was seen"
    DONE = "done"


MATTER_KINDS, MATTER_STATES = ("see", "errand"), tuple(MatterState)
SIGN_ANSWERS = tuple(SignAnswer)
SIDES, SYMPTOM_KINDS, TIMINGS, LASTING, FLAGS = (tuple(w) for w in (Side, Kind, Timing, Lasting, Flag))
EASED, OTHER_USES, SLEEP, HANDS = (tuple(w) for w in (Eased, OtherUses, Sleep, Hands))
BLOCK_KINDS, DYNAMICS = tuple(BlockKind), tuple(Dynamic)

#: kinds of sound that are served
MEDIA = ("audio/webm", "audio/ogg", "audio/wav", "audio/mp4")
#: deliberate measurements
#: what a probe keeps besides the sounds of takes: pictures made again, traces in numpy's own file
PROBE_MEDIA = (
    "image/jpeg",
    "application/x-npy",
    "text/csv",
    "application/x-edf",
    "audio/flac",
    "audio/mpeg",
    "audio/midi",
)
#: things she plays with or on
KIT_KINDS = (
    "instrument",
    "stick",
    "mallet",
    "bow",
    "strap",
    "harness",
    "rest",
    "peg",
    "support",
    "chair",
    "stand",
    "other",
)

#: what can be changed in a trial, and when a mark of it is made
TRIAL_CHANGES = (
    "grip",
    "rest",
    "strap",
    "stick",
    "chair",
    "warm-up",
    "dynamics",
    "rests",
    "fingering",
    "other",
)
TRIAL_TIMINGS = ("playing", "after", "waking")
#: whom a report is for
AUDIENCES = ("clinician", "teacher", "repairer")

INTENSITY_MAX = 10.0
EFFORT_MAX = 10.0
SESSION_MAX_MIN = 1440.0
TIGHTNESS = (Kind.TENSION, Kind.STIFFNESS)
SENSORY_KINDS = (Kind.TINGLING, Kind.NUMBNESS)
NERVE_KINDS = (*SENSORY_KINDS, Kind.WEAKNESS)
