"""Signs that come before everything else. A clinician must sign the table before release."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange
from chirotend.core.tables import rows

TIERS = ("none", "routine", "prompt", "same_day", "emergency")
#: Together these two point at pressure in the neck: be seen today.
CORD_PAIR = frozenset({"bilateral_hand_numbness", "gait_trouble"})


@dataclass(frozen=True)
class RedFlag:
    """One sign: its tier, the row of the call table it belongs to (0 = only an appointment), its sentence."""

    code: str
    tier: str
    row: int
    sentence: str


@cache
def red_flags() -> dict[str, RedFlag]:
    return {r["code"]: RedFlag(r["code"], r["tier"], int(r["row"]), r["sentence"]) for r in rows("red_flags")}


def red_flag(code: str) -> RedFlag:
    """Return the sign called `code`; `OutOfRange` if there is none."""
    try:
        return red_flags()[code]
    except KeyError:
        raise OutOfRange("flags", code, words=("a listed red-flag code",)) from None


def redflag_tier(flags: Iterable[str]) -> str:
    """Return the highest tier among `flags`: none, routine, prompt, same_day or emergency.

    Clinical consensus, no single source; from memory. Unknown code: `OutOfRange`.
    """
    codes = set(flags)
    tier = max((red_flag(code).tier for code in codes), key=TIERS.index, default="none")
    if codes >= CORD_PAIR and TIERS.index(tier) < TIERS.index("same_day"):
        return "same_day"
    return tier
