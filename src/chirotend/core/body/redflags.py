"""Signs that come before everything else. A clinician must sign the table before release."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange
from chirotend.core.tables import rows

TIERS = ("none", "routine", "prompt", "same_day", "emergency")


@dataclass(frozen=True)
class RedFlag:
    """One sign: its tier, the row of the call table it belongs to (0 = only an appointment), its sentence.

    `state`: it is asked only while she has said so of herself ("" = of everyone).
    """

    code: str
    tier: str
    row: int
    sentence: str
    state: str = ""


@cache
def red_flags() -> dict[str, RedFlag]:
    return {
        r["code"]: RedFlag(r["code"], r["tier"], int(r["row"]), r["sentence"], r["state"]) for r in rows("red_flags")
    }


def flags_for(states: Collection[str]) -> list[RedFlag]:
    """Return the signs that are asked of someone who has said `states` of herself, in the order of the table."""
    return [flag for flag in red_flags().values() if not flag.state or flag.state in states]


@dataclass(frozen=True)
class Pair:
    """Signs that count for more together than each alone."""

    codes: frozenset[str]
    tier: str


@cache
def red_flag_pairs() -> tuple[Pair, ...]:
    return tuple(Pair(frozenset(r["codes"].split()), r["tier"]) for r in rows("red_flag_pairs"))


def red_flag(code: str) -> RedFlag:
    """Return the sign called `code`; `OutOfRange` if there is none."""
    try:
        return red_flags()[code]
    except KeyError:
        raise OutOfRange("flags", code, words=("a listed red-flag code",)) from None


def redflag_tier(flags: Iterable[str]) -> str:
    """Return the highest tier among `flags`, pairs counted: none, routine, prompt, same_day or emergency.

    Clinical consensus, no single source; from memory. Unknown code: `OutOfRange`.
    """
    codes = set(flags)
    alone = [red_flag(code).tier for code in codes]
    together = [pair.tier for pair in red_flag_pairs() if pair.codes <= codes]
    return max((*alone, *together), key=TIERS.index, default="none")


def tier_beside(code: str, others: Collection[str]) -> str:
    """Return the tier of `code` when it is answered together with `others`."""
    raised = [pair.tier for pair in red_flag_pairs() if code in pair.codes and pair.codes <= {code, *others}]
    return max((red_flag(code).tier, *raised), key=TIERS.index)
