"""Conditions of a goal: each shown, not shown yet, or broken, with the chance that it holds and what would show it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from scipy import special

from trelvo.core.message import Message, message
from trelvo.core.stats.comparison import MOST_DF, POWER, Comparison
from trelvo.core.stats.noise import PooledNoise, logs

ConditionState = Literal["shown", "not shown yet", "broken"]
Key = Literal[
    "measured", "improves", "speed", "lows", "power", "temperature", "frame rate", "target", "stability", "noise"
]
Lacks = Literal["", "stock", "setting"]
# Further runs that nobody makes are not told as a number.
MOST_TOLD_RUNS = 40


@dataclass(frozen=True)
class Condition:
    """One condition of a goal at one setting.

    name: what is asked for; chance: that it holds, by the data, None where nothing is known; says: what is known of it
    more_runs: further runs (of each side, where it is against stock) that would probably show it; None where none can be told
    workload_id: where those runs are wanted, None: in every workload; against_stock: whether stock's runs count as well
    lacks: the side that must be run, where only one lacks what the condition is read from
    """

    key: Key
    name: Message
    state: ConditionState
    chance: float | None
    says: Message
    more_runs: int | None = None
    workload_id: int | None = None
    against_stock: bool = False
    lacks: Lacks = ""


def in_full(condition: Condition) -> Message:
    """A condition with its state and what is known of it."""
    return message("condition_in_full", name=condition.name, state=condition.state).then(condition.says)


def state_of(chance: float | None, shown: float) -> ConditionState:
    """By the chance that a condition holds; the same sureness is asked for calling it broken."""
    if chance is None:
        return "not shown yet"
    return "shown" if chance >= shown else "broken" if chance <= 1 - shown else "not shown yet"


def chance_at_least(comparison: Comparison, floor: float) -> float | None:
    """Chance by the data that the true ratio is at least `floor`: one side of a non-inferiority test.

    Source: one-sided t test on ln(ratio) against ln(floor); checked against statsmodels' ttost_ind.
    """
    if comparison.error_log is None or comparison.df is None:
        return None
    apart = math.log(comparison.ratio / floor)
    if comparison.error_log == 0:
        return 1.0 if apart >= 0 else 0.0
    return float(special.stdtr(comparison.df, apart / comparison.error_log))


def runs_to_show(comparison: Comparison, floor: float, shown: float) -> int | None:
    """Further runs on each side that would show the ratio to be at least `floor` with an 80 % chance, if it is what it looks like
    now; None where it looks worse, nothing is known of noise, or more than anyone makes would be needed."""
    return None if comparison.ratio <= floor else runs_to_tell(comparison, floor, shown)


def runs_to_tell(comparison: Comparison, bound: float, shown: float) -> int | None:
    """Further runs on each side that would probably show on which side of `bound` the ratio lies; None as in `runs_to_show`."""
    apart = abs(math.log(comparison.ratio / bound))
    if not apart or not comparison.sd_log:
        return None
    wanted = (apart / float(special.ndtri(shown) + special.ndtri(POWER))) ** 2
    for more in range(1, MOST_TOLD_RUNS + 1):
        sides = 1 / (comparison.n_reference + more) + 1 / (comparison.n_candidate + more)
        if comparison.sd_log**2 * sides + comparison.unsure_log**2 <= wanted:
            return more
    return None


def chance_of_mean(
    values: Sequence[float], limit: float, pooled: PooledNoise | None, *, at_least: bool, unsure_log: float = 0.0
) -> float | None:
    """Chance by the data that the true mean of some repeats is at least (or at most) a limit; None while nothing was repeated.

    values: above zero, in the limit's unit; pooled: their noise on ln(value), from all settings
    unsure_log: deviation of ln(mean) that all of them share, because their instrument's correction is not known exactly
    Source: one-sample t test on logarithms with the pooled deviation, any textbook; variances of the two kinds add.
    """
    if not values or limit <= 0:
        return None
    array = logs(values, "runs")
    if pooled is None or pooled.sd_log == 0:
        return None
    apart = float(array.mean()) - math.log(limit)
    by_runs = pooled.sd_log**2 / array.size
    variance = by_runs + unsure_log**2
    t, df = apart / math.sqrt(variance), min(pooled.df * (variance / by_runs) ** 2, MOST_DF)
    return float(special.stdtr(df, t if at_least else -t))


def runs_for_mean(
    values: Sequence[float],
    limit: float,
    pooled: PooledNoise | None,
    shown: float,
    *,
    at_least: bool,
    unsure_log: float = 0.0,
) -> int | None:
    """Further runs that would show the mean to be within the limit with an 80 % chance; None as in `runs_to_show`, and where the
    instrument alone is too unsure for any number of runs."""
    if not values or pooled is None:
        return None
    apart = (float(logs(values, "runs").mean()) - math.log(limit)) * (1 if at_least else -1)
    if apart <= 0:
        return None
    left = (apart / float(special.ndtri(shown) + special.ndtri(POWER))) ** 2 - unsure_log**2
    if left <= 0:
        return None
    needed = pooled.sd_log**2 / left
    more = max(1, math.ceil(needed) - len(values))
    return more if more <= MOST_TOLD_RUNS else None


def how_sure(chance: float | None, state: ConditionState, more: int | None) -> Message:
    """How sure it is that a condition holds, and what would show it."""
    if chance is None:
        return message("nothing_repeated")
    if state == "broken":
        return message("sure_that_not", chance=1 - chance)
    if state == "shown" or not more:
        return message("sure", chance=chance)
    return message("sure_after_more_runs", chance=chance, more_runs=more)


def kept_share(key: Key, what: Message, comparison: Comparison | None, floor: float, shown: float) -> Condition:
    """Whether a setting keeps a share of what stock reaches. floor: the share; shown: how sure it has to be"""
    name = message("share_of_stock", share=floor * 100, what=what)
    if comparison is None:
        return Condition(key, name, "not shown yet", None, message("both_sides_need", what=what), 1)
    chance = chance_at_least(comparison, floor)
    state = state_of(chance, shown)
    more = runs_to_show(comparison, floor, shown) if state == "not shown yet" else None
    says = message("percent", percent=comparison.ratio * 100).then(how_sure(chance, state, more))
    return Condition(key, name, state, chance, says, more, against_stock=True)


def stability(
    failures: int,
    holds: float | None,
    proved_by: Sequence[str],
    hours: float,
    sure: float,
    *,
    as_stock: bool = False,
    in_use: int = 0,
) -> Condition:
    """Whether the setting holds as wished.

    failures: at this setting, not set aside; holds: chance that it fails no more than once in `hours`
    proved_by: approaches whose proof it has passed, told besides: what is believed after all runs decides
    as_stock: whether nothing is turned that could make it less stable than stock
    in_use: failures in use of this setting, or of kept ones that ask no more of any part
    """
    name = message("one_failure_in", hours=hours)
    if failures:
        return Condition("stability", name, "broken", holds, message("it_failed", failures=failures))
    if in_use:
        return Condition("stability", name, "broken", holds, message("failed_in_use"))
    if as_stock:
        return Condition("stability", name, "shown", None, message("as_stable_as_stock"))
    passed = message("passed_proofs", approaches=tuple(proved_by)) if proved_by else None
    if holds is None:
        says = message("not_run_long_enough").then(passed)
        return Condition("stability", name, "not shown yet", None, says)
    says = message("sure_of_wished", chance=holds, wished=sure * 100).then(passed)
    if holds >= sure:
        return Condition("stability", name, "shown", holds, says)
    return Condition("stability", name, "broken" if holds <= 1 - sure else "not shown yet", holds, says)
