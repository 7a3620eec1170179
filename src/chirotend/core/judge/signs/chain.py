"""What may be the matter with a place, as a chain of states: at her usual, sore in passing, or lastingly above it.

The states, moves and numbers are ours, tuned on simulated players (`sign_rules.csv`, `sign_states.csv`,
`sign_baseline.csv`). Hidden Markov chains: Rabiner 1989, Proc IEEE 77:257-286 (from memory).
"""

import math
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from chirotend.core.late import late
from chirotend.core.tables import rows, typed

special = late("scipy.special")

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class SignRules:
    """The numbers of `sign_rules.csv`; its column `meaning` says each."""

    strongest: int
    guard: float
    guard_gap_1: float
    guard_gap_2: float
    guard_gap_3: float
    nerve_prior: float
    nerve_share: float
    nerve_scale: float
    nerve_power: float
    speaks_level: float
    noise_sd: float
    silent_least: float
    silent_more: float
    silent_scale: float
    character: float
    character_most: float
    rare_share: float
    rare_days: float
    often_days: float
    passes: float
    begins_days: float
    slow_up: float
    slow_down: float
    fast_up: float
    fast_down: float
    ends: float
    baseline_weight: float
    character_weight: float
    joins_after: int
    first_days: int
    half_lasting: float
    sum_weight: float
    quiet_days: int
    since_days: int
    since_near: float
    faint_below: float
    own_threshold_from_days: int
    record_ends_days: int
    lately_days: int
    lately_asked: int
    not_so_within_days: int
    not_so_from: int
    not_so_step: float
    not_so_most: float
    threshold_watched: float

    @property
    def guards(self) -> tuple[float, ...]:
        """The power of the likelihood after 0, 1, 2, and 3 or more days that were not asked."""
        return self.guard, self.guard_gap_1, self.guard_gap_2, self.guard_gap_3


@cache
def sign_rules() -> SignRules:
    return typed(SignRules, "sign_rules")


@dataclass(frozen=True)
class Chain:
    """The states of one place, in the order: usual, passing, lasting and slow, lasting and fast.

    `levels` (states) is the excess over her usual, 0-10. `moves` (kinds of player, states, states) a day; `kinds` the
    prior of the two kinds. `seen` (strongest + 1, strongest + 1, states): the chance that a strength is observed where
    her usual day would have shown another: `seen[observed, usual, state]`. `shifts` (states, characters) is by how
    much an excess favours a character. `usual` and `characters`: the priors of both.
    """

    levels: Floats
    lasting: NDArray[np.bool_]
    kinds: Floats
    moves: Floats
    seen: Floats
    shifts: Floats
    usual: Floats
    characters: Floats

    @property
    def first_lasting(self) -> tuple[int, int]:
        """The lowest lasting states, slow and fast."""
        slow, fast = np.flatnonzero(self.lasting)[[0, int(self.lasting.sum()) // 2]]
        return int(slow), int(fast)


def observed_excess(x: float) -> Floats:
    """Return the chances that an excess of `x` (0-10) is observed as 0, 1, ... `strongest` more than usual."""
    r = sign_rules()
    upper = special.ndtr((np.arange(r.strongest) + 0.5 - x) / r.noise_sd)
    observed = np.diff(np.concatenate([[0.0], upper, [1.0]]))
    silent = r.silent_least + r.silent_more * math.exp(-x / r.silent_scale)
    observed *= 1 - silent
    observed[0] += silent
    return observed


@cache
def chain() -> Chain:
    """Return the chain of the tables."""
    r = sign_rules()
    states = rows("sign_states")
    passing = [(float(s["level"]), float(s["share"])) for s in states if s["kind"] == "passing"]
    lasting = [float(s["level"]) for s in states if s["kind"] == "lasting"]
    levels = np.array([0.0, *(level for level, _ in passing), *lasting, *lasting])
    is_lasting = np.arange(len(levels)) > len(passing)
    table = rows("sign_baseline")
    usual = np.array([float(t["prior"]) for t in table if t["of"] == "strength"])
    characters = np.array([float(t["prior"]) for t in table if t["of"] == "character"])
    weights = np.array([float(t["weight"]) for t in table if t["of"] == "character"])
    shares = np.array([share for _, share in passing])
    return Chain(
        levels,
        is_lasting,
        np.array([r.rare_share, 1 - r.rare_share]),
        np.stack([_moves(shares, len(lasting), 1 / days) for days in (r.rare_days, r.often_days)]),
        np.stack([_reporting_matrix(level) for level in levels], axis=2),
        np.exp(r.character * np.minimum(levels, r.character_most)[:, None] * weights),
        usual,
        characters,
    )


def _moves(passing_shares: Floats, lasting: int, comes: float) -> Floats:
    """The moves of a day: rows from, columns to; what goes nowhere stays."""
    r = sign_rules()
    first = 1 + len(passing_shares)
    moves = np.zeros((first + 2 * lasting, first + 2 * lasting))
    moves[0, 1:first] = comes * passing_shares
    moves[1:first, 0] = r.passes
    for start, up, down in ((first, r.slow_up, r.slow_down), (first + lasting, r.fast_up, r.fast_down)):
        moves[:first, start] = 1 / r.begins_days
        moves[start, 0] = r.ends
        for level in range(start, start + lasting - 1):
            moves[level, level + 1] = up
            moves[level + 1, level] = down
    np.fill_diagonal(moves, 1 - moves.sum(axis=1))
    return moves


def _reporting_matrix(level: float) -> Floats:
    """Matrix [reported, usual]: probability of reporting strength i when the usual strength is j."""
    most = sign_rules().strongest
    seen = np.zeros((most + 1, most + 1))
    if level == 0:
        return np.eye(most + 1)
    for more, chance in enumerate(observed_excess(level)):
        for usual in range(most + 1):
            seen[min(usual + more, most), usual] += chance
    return seen
