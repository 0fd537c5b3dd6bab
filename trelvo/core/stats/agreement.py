"""Two instruments against each other: how far apart they read, how steadily, and whether that depends on the level."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
from scipy import special

from trelvo.core.base.deviations import Z
from trelvo.core.message import Message, message
from trelvo.core.problems import Problem, Refused

# Two deviations on either side hold about 95 % of the differences (Bland and Altman).
LIMITS_SD = 2.0
FEWEST_PAIRS = 3
# A difference is always about the same where the limits reach no further from it than this share of it.
STEADY = 0.25
# Logs differ among each other when chance would show it less often than this.
LOGS_DIFFER = 0.05
Finding = Literal["constant offset", "depends on the level", "no offset shown", "too few pairs"]


@dataclass(frozen=True)
class Agreement:
    """How one instrument reads against another. All in their common unit; differences are first less second.

    bias: mean difference, with its 95 % interval; sd: deviation of the differences; low, high: limits of agreement
    slope: of the first over the second, 1 where the difference does not depend on the level, with its 95 % interval
    offset: what would have to be added to the second so that it reads like the first, offset_sd: its standard deviation; None
    where no constant does
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
    offset_sd: float | None
    says: Message


def agreement(
    first: Sequence[float],
    second: Sequence[float],
    unit: str,
    first_name: str | None = None,
    second_name: str | None = None,
    groups: Sequence[int] | None = None,
) -> Agreement:
    """Agreement of two instruments that read the same thing, pair by pair. Refused for unequal numbers or nothing.

    first, second: readings in `unit`, one pair a run or moment
    groups: from which log or run each pair is, where several come from one; None: each stands by itself. Where logs differ more
    than the pairs within them allow, the interval rests on the logs
    Source: mean difference and limits of agreement at two deviations, Bland and Altman 1986 (from memory); slope by Deming
    regression with equal errors in both, its interval by the jackknife (Linnet 1993, from memory).
    """
    a, b = np.asarray(first, dtype=np.float64), np.asarray(second, dtype=np.float64)
    if a.size != b.size or a.size == 0 or not (np.isfinite(a).all() and np.isfinite(b).all()):
        raise Refused(Problem("pairs", "no_pairs"))
    difference = a - b
    n, bias = int(a.size), float(difference.mean())
    apart = _apart(bias, unit, first_name, second_name)
    if n < FEWEST_PAIRS:
        says = message("apart_in_few_pairs", apart=apart, pairs=n, fewest=FEWEST_PAIRS)
        return Agreement(
            pairs=n,
            bias=bias,
            bias_low=None,
            bias_high=None,
            sd=None,
            low=None,
            high=None,
            slope=None,
            slope_low=None,
            slope_high=None,
            finding="too few pairs",
            offset=None,
            offset_sd=None,
            says=says,
        )
    sd = float(difference.std(ddof=1))
    error, df = _error(difference, np.arange(n) if groups is None else np.asarray(groups))
    half = float(special.stdtrit(df, 0.975)) * error
    slope, slope_low, slope_high = _slope(a, b)
    depends = slope_low is not None and slope_high is not None and not slope_low <= 1 <= slope_high
    shown = abs(bias) > half
    finding: Finding = "depends on the level" if depends else "constant offset" if shown else "no offset shown"
    low, high = bias - LIMITS_SD * sd, bias + LIMITS_SD * sd
    limits = message("between_limits", low=low, high=high, unit=unit)
    if depends:
        says = message("difference_by_level", apart=apart)
    elif shown and LIMITS_SD * sd <= STEADY * abs(bias):
        says = message("always_about_the_same", apart=apart, limits=limits)
    elif shown:
        says = message("apart_on_average", apart=apart, limits=limits)
    else:
        says = message("no_steady_difference", limits=limits)
    steady = finding == "constant offset"
    return Agreement(
        pairs=n,
        bias=bias,
        bias_low=bias - half,
        bias_high=bias + half,
        sd=sd,
        low=low,
        high=high,
        slope=slope,
        slope_low=slope_low,
        slope_high=slope_high,
        finding=finding,
        offset=bias if steady else None,
        offset_sd=half / Z if steady else None,
        says=says,
    )


def _error(difference: npt.NDArray[np.float64], groups: npt.NDArray[np.int64]) -> tuple[float, float]:
    """Standard error of the mean difference and its degrees of freedom: by the pairs, or by the groups where they differ.

    Source: one-way analysis of variance with unequal groups, any textbook.
    """
    n = difference.size
    alone = float(difference.std(ddof=1)) / math.sqrt(n), float(n - 1)
    known, place = np.unique(groups, return_inverse=True)
    counts = np.bincount(place)
    if known.size < 2 or known.size == n:
        return alone
    means = np.bincount(place, difference) / counts
    within = float(((difference - means[place]) ** 2).sum()) / (n - known.size)
    between = float((counts * (means - difference.mean()) ** 2).sum()) / (known.size - 1)
    if within > 0 and between / within < float(special.fdtri(known.size - 1, n - known.size, 1 - LOGS_DIFFER)):
        return alone
    spread = float((counts**2 * (means - difference.mean()) ** 2).sum()) * known.size / (known.size - 1)
    return max(math.sqrt(spread) / n, alone[0]), float(known.size - 1)


def _apart(bias: float, unit: str, first_name: str | None, second_name: str | None) -> Message:
    first = message("the_first") if first_name is None else first_name
    second = message("the_second") if second_name is None else second_name
    return message("reads_apart", first=first, second=second, difference=bias, unit=unit)


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
