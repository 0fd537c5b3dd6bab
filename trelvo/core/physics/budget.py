"""One budget of watts for two parts: how a workload's speed follows what each of them gets, and the split that pays.

A piece of work has a share that each part does, at a pace that goes with a power of its watts; the shares overlap more or less:
t = (q (p1/r1)^(-an) + (1 - q) (p2/r2)^(-bn))^(1/n), from adding both (n = 1) to the slower alone deciding (large n).
Source: clock against watts under a limit as a power law, and the slower of two parts deciding, common practice; fitted with
beliefs beforehand, interval by a normal about the best (Laplace's method), Bishop 2006, section 4.4, from memory.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy.optimize import least_squares

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.physics.heat import SURE, Interval

Numbers = npt.NDArray[np.float64]
# A setting and a workload.
Place = tuple[int, int]
LEAST_PLACES = 3
# Watts of at least one part must have moved by this share before anything can be told of what they bring.
LEAST_MOVE = 0.08
# Beliefs beforehand (mean, deviation), common practice. Speed for watts of a part that alone decides: between a cube root
# (voltage follows the clock) and nearly in proportion (lowest voltage reached), or next to nothing under a frame cap.
LOG_POWER = (np.log(0.4), 0.5)
# Logit of the share that the first part decides, for a factor of e in watts: who draws more does more; and its deviation.
LOGIT_FOR_WATTS, LOGIT_DEVIATION = 2.0, 1.2
# How sharply the slower part decides.
LOG_SHARP = (np.log(4.0), 1.0)
# What a setting's speed is at least uncertain by, in ln: what the formula does not describe of real parts.
LEAST_DEVIATION = 0.01
PRIOR_PLACES = 3.0
DRAWS = 400
# A law whose places stray further than this from it, as a share of the speed, does not describe the workload.
MISFIT = 0.03
# A run this close to the most that any drew for its limit is held by it. Common practice: controllers stay just below.
AT_LIMIT = 0.96
# Splits that are looked at between the ends.
SPLITS = 61


@dataclass(frozen=True)
class SplitPlace:
    """A setting under one workload: mean watts of both parts, mean ln of speed (in any unit), and its deviation."""

    setting_id: int
    first_w: float
    second_w: float
    log_speed: float
    deviation: float


@dataclass(frozen=True)
class SplitLaw:
    """How a workload's speed follows the watts of two parts.

    best: ln of speed at the reference, logit of the first part's share, ln of both powers, ln of the sharpness
    drawn: DRAWS by 5 from what is believed of them; first_w, second_w: the reference
    first_seen, second_seen: lowest and highest watts of each part; misfit: root mean square in ln of speed
    """

    best: Numbers
    drawn: Numbers
    first_w: float
    second_w: float
    first_seen: tuple[float, float]
    second_seen: tuple[float, float]
    misfit: float

    @property
    def fits(self) -> bool:
        return self.misfit <= MISFIT

    @cached_property
    def first_share(self) -> Interval:
        """How much of the work the first part decides at the reference: 1 it alone, 0 the second alone."""
        return _interval(1 / (1 + np.exp(-self.best[1])), 1 / (1 + np.exp(-self.drawn[:, 1])))

    def change(self, before: tuple[float, float], after: tuple[float, float]) -> tuple[float, Numbers]:
        """ln of speed gained by other watts (first, second): the best guess, and one a draw."""
        best, drawn = self.best[None, :], self.drawn
        (was_best, was), (is_best, now) = (
            (self._log_speed(best, *watts), self._log_speed(drawn, *watts)) for watts in (before, after)
        )
        return float((is_best - was_best)[0]), now - was

    def moved(self, first_w: float, second_w: float) -> Interval | None:
        """Speed as a ratio when one watt goes from the first part to the second; told by the way back where only that was
        seen, and None where neither was."""
        for watts in (1.0, -1.0):
            there = (first_w - watts, second_w + watts)
            if all(
                low <= one <= high for one, (low, high) in zip(there, (self.first_seen, self.second_seen), strict=True)
            ):
                best, drawn = self.change((first_w, second_w), there)
                return _interval(np.exp(watts * best), np.exp(watts * drawn))
        return None

    def _log_speed(self, of: Numbers, first_w: float, second_w: float) -> Numbers:
        return _log_speeds(of, np.log(max(first_w, 1e-3) / self.first_w), np.log(max(second_w, 1e-3) / self.second_w))


def _log_speeds(of: Numbers, first: Numbers | float, second: Numbers | float) -> Numbers:
    """of: m by 5; first, second: ln of watts against the reference, m or one"""
    level, logit, sharp = of[..., 0], of[..., 1], np.exp(of[..., 4])
    own, other = -np.logaddexp(0, -logit), -np.logaddexp(0, logit)
    slow = np.logaddexp(own - sharp * np.exp(of[..., 2]) * first, other - sharp * np.exp(of[..., 3]) * second)
    return np.asarray(level - slow / sharp, dtype=np.float64)


def _interval(best: float, drawn: Numbers) -> Interval:
    low, high = np.quantile(drawn, [(1 - SURE) / 2, (1 + SURE) / 2])
    return Interval(float(best), float(min(low, best)), float(max(high, best)))


def fit_split(places: Sequence[SplitPlace], rng: np.random.Generator) -> SplitLaw:
    """The law of one workload from its settings. rng: for the draws

    Refused with fewer than three settings, with watts of zero, or where neither part's watts have moved.
    """
    if any(not (one.first_w > 0 and one.second_w > 0) for one in places):
        raise Refused(Problem("power", "A run reads no power for one of the parts.", "Set it aside, or correct it."))
    if len({one.setting_id for one in places}) < LEAST_PLACES:
        what = f"Both parts' watts were read at fewer than {LEAST_PLACES} settings."
        raise Refused(Problem("power", what, "Run it at other power limits, with the watts of both parts."))
    first, second = (np.array([getattr(one, name) for one in places]) for name in ("first_w", "second_w"))
    if max(np.ptp(first) / first.mean(), np.ptp(second) / second.mean()) < LEAST_MOVE:
        what = "Neither part's watts have moved between the settings."
        raise Refused(Problem("power", what, "Run it at a lower power limit, or with a limit on one of the parts."))
    first_ref, second_ref = (float(np.exp(np.log(one).mean())) for one in (first, second))
    x, y = np.log(first / first_ref), np.log(second / second_ref)
    seen = np.array([one.log_speed for one in places])
    sigma = np.maximum([one.deviation for one in places], LEAST_DEVIATION)
    # the part that draws more is believed to do more
    share = LOGIT_FOR_WATTS * np.log(first_ref / second_ref)
    middle = np.array([seen.mean(), share, LOG_POWER[0], LOG_POWER[0], LOG_SHARP[0]])
    spread = np.array([10.0, LOGIT_DEVIATION, LOG_POWER[1], LOG_POWER[1], LOG_SHARP[1]])

    def strays(of: Numbers) -> Numbers:
        return np.concatenate([(_log_speeds(of, x, y) - seen) / sigma, (of - middle) / spread])

    # the first part may decide, or the second, or both: each is tried as a beginning
    starts = [middle + np.array([0.0, logit, 0.0, 0.0, 0.0]) for logit in (-2.0, 0.0, 2.0)]
    found = min((least_squares(strays, start) for start in starts), key=lambda one: float(one.cost))
    away = (_log_speeds(found.x, x, y) - seen) / sigma
    covariance = np.linalg.inv(found.jac.T @ found.jac)
    data = found.jac[: seen.size]
    free = PRIOR_PLACES + max(seen.size - float(np.trace(covariance @ data.T @ data)), 0.0)
    # what strays more than its deviations say widens everything; what strays less does not narrow it
    scale = max(1.0, float(np.sqrt((PRIOR_PLACES + away @ away) / free)))
    drawn = rng.multivariate_normal(np.zeros(5), covariance, DRAWS) * scale
    drawn *= np.sqrt(free / rng.chisquare(free, DRAWS))[:, None]
    ends = [(float(one.min()), float(one.max())) for one in (first, second)]
    misfit = float(np.sqrt(np.mean((away * sigma) ** 2)))
    return SplitLaw(found.x, found.x + drawn, first_ref, second_ref, ends[0], ends[1], misfit)


@dataclass(frozen=True)
class Split:
    """Watts of both parts, and the speed against what they get now, as a ratio."""

    first_w: float
    second_w: float
    gain: Interval


def best_split(law: SplitLaw, first_w: float, second_w: float) -> Split:
    """How the same watts would best be split, looked for only where each part was seen to run: at most what it has drawn, and
    at least."""
    total = first_w + second_w
    low = max(law.first_seen[0], total - law.second_seen[1])
    high = min(law.first_seen[1], total - law.second_seen[0])
    choices = [first_w, *np.linspace(low, high, SPLITS)] if low < high else [first_w]
    changes = [law.change((first_w, second_w), (one, total - one)) for one in choices]
    best = int(np.argmax([one[0] for one in changes]))
    gain = _interval(np.exp(changes[best][0]), np.exp(changes[best][1]))
    return Split(float(choices[best]), float(total - choices[best]), gain)


@dataclass(frozen=True)
class Use:
    """A workload at one power limit: its law, what both parts get now, its weight, and whether the limit holds it back.

    log_ratio: ln of its speed now against stock's
    """

    law: SplitLaw
    first_w: float
    second_w: float
    weight: float
    held: bool
    log_ratio: float = 0.0


@dataclass(frozen=True)
class Ceiling:
    """A limit on one part by itself. part: 1 or 2, 0: none pays

    gain: overall speed against what the same limit gives now; ratio: against stock
    """

    part: int
    watts: float
    gain: Interval
    ratio: Interval


def best_ceiling(uses: Sequence[Use], step_w: float = 1.0) -> Ceiling:
    """The one limit on one of the two parts that brings most over all workloads, at the package limit that they share.

    What the limited part gives up, the other takes where the package limit holds it back, up to the most it was seen to draw.
    """
    choices: list[tuple[int, float]] = [(0, 0.0)]
    for part, now, seen in (
        (1, [one.first_w for one in uses], [one.law.first_seen for one in uses]),
        (2, [one.second_w for one in uses], [one.law.second_seen for one in uses]),
    ):
        # no lower than every workload was seen to run with; what lies above all of them limits nothing
        floor, top = max(min(low, own) for (low, _), own in zip(seen, now, strict=True)), max(now)
        first = np.ceil(floor / step_w) * step_w
        choices += [(part, float(one)) for one in np.arange(first, top, step_w)]
    total = sum(one.weight for one in uses)
    found: list[tuple[float, Numbers, int, float]] = []
    for limited, at in choices:
        changes = [one.law.change((one.first_w, one.second_w), _limited(one, limited, at)) for one in uses]
        shares = [one.weight / total for one in uses]
        gained = sum(share * change[0] for share, change in zip(shares, changes, strict=True))
        by_draw = np.sum([share * change[1] for share, change in zip(shares, changes, strict=True)], axis=0)
        found.append((gained, by_draw, limited, at))
    best, drawn, part, watts = max(found, key=lambda one: one[0])
    before = sum(one.weight * one.log_ratio for one in uses) / total
    return Ceiling(
        part, watts, _interval(np.exp(best), np.exp(drawn)), _interval(np.exp(before + best), np.exp(before + drawn))
    )


def _limited(use: Use, part: int, watts: float) -> tuple[float, float]:
    if part == 1 and use.first_w > watts:
        freed = use.first_w - watts if use.held else 0.0
        return watts, max(use.second_w, min(use.second_w + freed, use.law.second_seen[1]))
    if part == 2 and use.second_w > watts:
        freed = use.second_w - watts if use.held else 0.0
        return max(use.first_w, min(use.first_w + freed, use.law.first_seen[1])), watts
    return use.first_w, use.second_w


def held_back(read: Mapping[Place, tuple[float, float]]) -> frozenset[Place]:
    """The places whose watts the shared limit holds back; none where it was never seen to hold.

    read: by place, the limit as it was set (in any unit) and the watts of all together. The limit is seen to hold where at two
    values of it, or more, the same share of it was drawn
    """
    shares = {at: watts / limit for at, (limit, watts) in read.items() if limit > 0}
    most = max(shares.values(), default=0.0)
    held = frozenset(at for at, share in shares.items() if share >= AT_LIMIT * most)
    return held if len({read[at][0] for at in held}) > 1 else frozenset()


@dataclass(frozen=True)
class LimitPlan:
    """A shared limit with the best split at it. watts: the most that any workload draws there; frames: the least frame rate
    there now, None where the goal asks for none"""

    setting_id: int
    watts: float
    ceiling: Ceiling
    frames: float | None = None


def best_limit(
    plans: Sequence[LimitPlan], faster: bool, least_speed: float | None, most_w: float | None, frames: float | None
) -> LimitPlan | None:
    """The limit that a goal asks for: the fastest within its watts, or the least watts that keep its speed; None where none does.

    faster: whether speed is what the goal improves; else watts are; least_speed: as a ratio; frames: to be held everywhere
    """
    fit = [
        one
        for one in plans
        if (most_w is None or one.watts <= most_w)
        and (least_speed is None or one.ceiling.ratio.value >= least_speed)
        and (frames is None or (one.frames is not None and one.frames * one.ceiling.gain.value >= frames))
    ]
    if faster:
        return max(fit, key=lambda one: (one.ceiling.ratio.value, -one.watts), default=None)
    return min(fit, key=lambda one: (one.watts, -one.ceiling.ratio.value), default=None)
