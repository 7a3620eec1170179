"""The mean number of values until a cumulative sum alarms: to hold `core.judge.cusum` against."""

import math

import numpy as np
from scipy import special


def arl_cusum(k: float, h: float, shift: float, two_sided: bool) -> float:
    """Return the mean number of values until a cusum alarms, for normal data shifted by `shift` SD.

    Solves Page's integral equation by Gauss-Legendre quadrature; two-sided from zero start by the sum of rates.
    """
    upper = _arl_one_sided(k, h, shift)
    if not two_sided:
        return upper
    return 1.0 / (1.0 / upper + 1.0 / _arl_one_sided(k, h, -shift))


def _arl_one_sided(k: float, h: float, shift: float, points: int = 80) -> float:
    nodes, weights = np.polynomial.legendre.leggauss(points)
    u, w = (nodes + 1) * h / 2, weights * h / 2
    # L(s) = 1 + L(0) P(sum falls to 0 from s) + integral of L(t) density(t - s) dt
    start = np.concatenate([[0.0], u])
    to_zero = special.ndtr(k - start - shift)
    density = np.exp(-((u[None, :] + k - start[:, None] - shift) ** 2) / 2) / math.sqrt(2 * math.pi) * w[None, :]
    system = np.eye(points + 1) - np.column_stack([to_zero, density])
    return float(np.linalg.solve(system, np.ones(points + 1))[0])
