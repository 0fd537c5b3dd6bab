"""Two instruments against each other: how far apart they read, how steadily, and whether that depends on the level."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import special

from trelvo.core.base.problems import Problem, Refused

# Two deviations on either side hold about 95 % of the differences (Bland and Altman).
LIMITS_SD = 2.0
FEWEST_PAIRS = 3
Finding = Literal["constant offset", "depends on the level", "no offset shown", "too few pairs"]


@dataclass(frozen=True)
class Agreement:
    """How one instrument reads against another. All in their common unit; differences are first less second.

    bias: mean difference, with its 95 % interval; sd: deviation of the differences; low, high: limits of agreement
    slope: of the first over the second, 1 where the difference does not depend on the level, with its 95 % interval
    offset: what would have to be added to the second so that it reads like the first; None where no constant does
    """

    pairs: int
    bias: float
    bias_low: float | None
    bias_high: float | None
    sd: float | None
    low: float | None
    high: float | None
    slope: float | None
    slope_low: float | None
    slope_high: float | None
    finding: Finding
    offset: float | None
    sentence: str


def agreement(
    first: Sequence[float],
    second: Sequence[float],
    unit: str,
    first_name: str = "the first",
    second_name: str = "the second",
) -> Agreement:
    """Agreement of two instruments that read the same thing, pair by pair. Refused for unequal numbers or nothing.

    first, second: readings in `unit`, one pair a run or moment
    Source: mean difference and limits of agreement at two deviations, Bland and Altman 1986 (from memory); slope by Deming
    regression with equal errors in both, its interval by the jackknife (Linnet 1993, from memory).
    """
    a, b = np.asarray(first, dtype=np.float64), np.asarray(second, dtype=np.float64)
    if a.size != b.size or a.size == 0 or not (np.isfinite(a).all() and np.isfinite(b).all()):
        raise Refused(Problem("pairs", "There are no pairs of readings.", "Log runs in which both instruments read."))
    difference = a - b
    n, bias = int(a.size), float(difference.mean())
    if n < FEWEST_PAIRS:
        sentence = f"{_apart(bias, unit, first_name, second_name)} in {n} of at least {FEWEST_PAIRS} pairs: too few to say more."
        return Agreement(n, bias, None, None, None, None, None, None, None, None, "too few pairs", None, sentence)
    sd = float(difference.std(ddof=1))
    half = float(special.stdtrit(n - 1, 0.975)) * sd / math.sqrt(n)
    slope, slope_low, slope_high = _slope(a, b)
    depends = slope_low is not None and slope_high is not None and not slope_low <= 1 <= slope_high
    shown = abs(bias) > half
    finding: Finding = "depends on the level" if depends else "constant offset" if shown else "no offset shown"
    words = _apart(bias, unit, first_name, second_name)
    limits = f"between {bias - LIMITS_SD * sd:+.3g} and {bias + LIMITS_SD * sd:+.3g} {unit}"
    if depends:
        sentence = f"{words} on average, but the difference changes with the level: no single offset corrects it."
    elif shown:
        sentence = f"{words}, always by about the same amount ({limits}): either serves for comparing with itself."
    else:
        sentence = f"No steady difference is shown; single readings differ {limits}."
    return Agreement(
        n, bias, bias - half, bias + half, sd, bias - LIMITS_SD * sd, bias + LIMITS_SD * sd, slope, slope_low, slope_high,
        finding, bias if finding == "constant offset" else None, sentence,
    )  # fmt: skip


def _apart(bias: float, unit: str, first_name: str, second_name: str) -> str:
    side = "more" if bias >= 0 else "less"
    return f"{first_name[0].upper()}{first_name[1:]} reads {abs(bias):.3g} {unit} {side} than {second_name}"


def _deming(a: np.ndarray, b: np.ndarray) -> float:
    """Slope of a over b with equal errors in both; not a number where they do not vary together."""
    saa, sbb = float(((a - a.mean()) ** 2).sum()), float(((b - b.mean()) ** 2).sum())
    sab = float(((a - a.mean()) * (b - b.mean())).sum())
    if sab == 0:
        return math.nan
    return (saa - sbb + math.sqrt((saa - sbb) ** 2 + 4 * sab**2)) / (2 * sab)


def _slope(a: np.ndarray, b: np.ndarray) -> tuple[float | None, float | None, float | None]:
    """Slope and its 95 % interval; none where the levels are too alike to tell, or the pairs too few."""
    n = a.size
    spread, scatter = float(b.std()), float((a - b).std())
    if n < 5 or spread < 3 * scatter:
        return None, None, None
    slope = _deming(a, b)
    left_out = np.array([_deming(np.delete(a, i), np.delete(b, i)) for i in range(n)])
    pseudo = n * slope - (n - 1) * left_out
    if not np.isfinite(pseudo).all():
        return None, None, None
    half = float(special.stdtrit(n - 2, 0.975)) * float(pseudo.std(ddof=1)) / math.sqrt(n)
    return slope, slope - half, slope + half
