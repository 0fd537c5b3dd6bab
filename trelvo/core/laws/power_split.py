"""One workload on two parts that share their watts: how its speed follows what each of them gets.

A piece of work has a share that each part does, at a pace that goes with a power of its watts beyond idling; the shares overlap
more or less: t = (q a^(-n) + (1 - q) b^(-n))^(1/n), with a = ((p1 - i1) / (r1 - i1))^k and b likewise; from adding both (n = 1)
to the slower alone deciding (large n).
Source: clock against watts under a limit as a power law, and the slower of two parts deciding, common practice; fitted with
beliefs beforehand; interval by a normal about each explanation, weighed (Laplace's method), Bishop 2006, section 4.4, from
memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy.optimize import least_squares
from scipy.special import expit

from trelvo.core.laws.heat import SURE, Interval
from trelvo.core.problems import Problem, Refused

Numbers = npt.NDArray[np.float64]
LEAST_PLACES = 3
# Watts of at least one part must have moved by this share before anything can be told of what they bring.
LEAST_MOVE = 0.08
# Beliefs beforehand (mean, deviation), common practice. Pace for watts beyond idling: between a cube root (voltage follows the
# clock) and nearly in proportion (lowest voltage reached), or next to nothing under a frame cap.
LOG_POWER = (np.log(0.4), 0.5)
# Nothing becomes faster than in proportion to its watts by much, and a part that counts counts a little.
LOG_POWERS = (np.log(0.02), np.log(1.5))
# Logit of what idles, as a share of the least that a part was seen to draw.
LOGIT_IDLE = (0.0, 1.0)
MOST_IDLE = 0.95
# Logit of the share that the first part decides, for a factor of e in watts: who draws more does more; and its deviation.
LOGIT_FOR_WATTS, LOGIT_DEVIATION = 2.0, 1.2
# How sharply the slower part decides: each of these is as likely as the others.
SHARPS = (1.0, 3.0, 9.0, 27.0)
# What a setting's speed is at least uncertain by, in ln: what the formula does not describe of real parts.
LEAST_DEVIATION = 0.008
PRIOR_PLACES = 3.0
DRAWS = 400
# A law whose places stray further than this from it, as a share of the speed, does not describe the workload.
MISFIT = 0.03


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

    drawn: DRAWS by 7 from what is believed: ln of speed at the reference, logit of the first part's share, ln of both powers,
    logits of what idles of both, ln of the sharpness; first_w, second_w: the reference
    first_seen, second_seen: lowest and highest watts of each part; misfit: root mean square in ln of speed
    """

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
        return interval_of(expit(self.drawn[:, 1]))

    def change(self, before: tuple[float, float], after: tuple[float, float]) -> Numbers:
        """ln of speed gained by other watts (first, second), one a draw."""
        return self._log_speed(*after) - self._log_speed(*before)

    def moved(self, first_w: float, second_w: float, watts: float) -> Interval | None:
        """Speed as a ratio when so many watts go from the first part to the second (below zero: the other way); None beyond what
        either was seen to draw."""
        there = (first_w - watts, second_w + watts)
        seen = zip(there, (self.first_seen, self.second_seen), strict=True)
        if not all(low <= one <= high for one, (low, high) in seen):
            return None
        return interval_of(np.exp(self.change((first_w, second_w), there)))

    def _log_speed(self, first_w: float, second_w: float) -> Numbers:
        # below what it was seen to draw a part is taken to do no less; nothing is told from there
        watts = (max(first_w, self.first_seen[0]), max(second_w, self.second_seen[0]))
        first, second = (
            _paces(self.drawn[:, 4 + k], np.array([watts[k]]), (self.first_w, self.second_w)[k], least[0])[:, 0]
            for k, least in enumerate((self.first_seen, self.second_seen))
        )
        return _log_speeds(self.drawn, first, second)


def interval_of(drawn: Numbers) -> Interval:
    """The middle of some draws and the interval that holds them with SURE."""
    low, middle, high = np.quantile(drawn, [(1 - SURE) / 2, 0.5, (1 + SURE) / 2])
    return Interval(float(middle), float(low), float(high))


def _paces(logits: Numbers, watts: Numbers, reference_w: float, least_w: float) -> Numbers:
    """ln of watts beyond idling against the reference. logits: m, of what idles; watts: n; m by n"""
    idle = (MOST_IDLE * expit(logits) * least_w)[:, None]
    return np.asarray(np.log((watts[None, :] - idle) / (reference_w - idle)), dtype=np.float64)


def _log_speeds(of: Numbers, first: Numbers, second: Numbers) -> Numbers:
    """of: m by 7 with m of each pace, or 7 with n of each; first, second: ln of watts beyond idling against the reference"""
    level, logit, sharp = of[..., 0], of[..., 1], np.exp(of[..., 6])
    own, other = -np.logaddexp(0, -logit), -np.logaddexp(0, logit)
    slow = np.logaddexp(own - sharp * np.exp(of[..., 2]) * first, other - sharp * np.exp(of[..., 3]) * second)
    return np.asarray(level - slow / sharp, dtype=np.float64)


@dataclass(frozen=True)
class _Seen:
    """All places at once: watts n of each part with reference, ln of speed n, deviations n; the belief beforehand (6)."""

    watts: tuple[Numbers, Numbers]
    reference_w: tuple[float, float]
    log_speed: Numbers
    sigma: Numbers
    middle: Numbers
    spread: Numbers

    def paces(self, of: Numbers) -> tuple[Numbers, Numbers]:
        one, other = (
            _paces(of[4 + k : 5 + k], self.watts[k], self.reference_w[k], float(self.watts[k].min()))[0] for k in (0, 1)
        )
        return one, other

    def strays(self, of: Numbers, sharp: float) -> Numbers:
        found = _log_speeds(np.append(of, np.log(sharp)), *self.paces(of))
        return np.concatenate([(found - self.log_speed) / self.sigma, (of - self.middle) / self.spread])

    def slopes(self, of: Numbers, sharp: float) -> Numbers:
        (x, y), share, powers = self.paces(of), expit(of[1]), np.exp(of[2:4])
        decides = expit(of[1] - sharp * powers[0] * x + sharp * powers[1] * y)
        counts = (decides * powers[0], (1 - decides) * powers[1])
        of_share = -(decides * (1 - share) - (1 - decides) * share) / sharp
        columns = [np.ones(x.size), of_share, counts[0] * x, counts[1] * y]
        for k in (0, 1):
            idles, least = expit(of[4 + k]), float(self.watts[k].min())
            idle = MOST_IDLE * idles * least
            by_idle = 1 / (self.reference_w[k] - idle) - 1 / (self.watts[k] - idle)
            columns.append(counts[k] * by_idle * idle * (1 - idles))
        return np.concatenate([np.stack(columns, axis=1) / self.sigma[:, None], np.diag(1 / self.spread)])


def fit_split(places: Sequence[SplitPlace], rng: np.random.Generator) -> SplitLaw:
    """The law of one workload from its settings. rng: for the draws

    Refused with fewer than three settings, with watts of zero, or where neither part's watts have moved.
    """
    if any(not (place.first_w > 0 and place.second_w > 0) for place in places):
        raise Refused(Problem("power", "run_without_part_power"))
    if len({place.setting_id for place in places}) < LEAST_PLACES:
        raise Refused(Problem("power", "too_few_settings_with_both", {"least": LEAST_PLACES}))
    first, second = (np.array([getattr(place, name) for place in places]) for name in ("first_w", "second_w"))
    if max(np.ptp(first) / first.mean(), np.ptp(second) / second.mean()) < LEAST_MOVE:
        raise Refused(Problem("power", "part_power_never_moves"))
    references = (float(np.exp(np.log(first).mean())), float(np.exp(np.log(second).mean())))
    log_speed = np.array([place.log_speed for place in places])
    # the part that draws more is believed to do more
    logit = LOGIT_FOR_WATTS * float(np.log(references[0] / references[1]))
    seen = _Seen(
        (first, second),
        references,
        log_speed,
        np.maximum([place.deviation for place in places], LEAST_DEVIATION),
        np.array([log_speed.mean(), logit, LOG_POWER[0], LOG_POWER[0], LOGIT_IDLE[0], LOGIT_IDLE[0]]),
        np.array([10.0, LOGIT_DEVIATION, LOG_POWER[1], LOG_POWER[1], LOGIT_IDLE[1], LOGIT_IDLE[1]]),
    )
    modes = [_mode(seen, start, sharp) for sharp in SHARPS for start in (logit, 0.0)]
    best = max(modes, key=lambda one: one.log_weight)
    ways = _apart(modes)
    weights = np.exp([way.log_weight - best.log_weight for way in ways])
    chosen = rng.choice(len(ways), DRAWS, p=weights / weights.sum())
    drawn = np.stack([ways[which].draw(rng) for which in chosen])
    ends = [(float(one.min()), float(one.max())) for one in (first, second)]
    misfit = float(np.sqrt(np.mean((_log_speeds(best.at, *seen.paces(best.at)) - log_speed) ** 2)))
    return SplitLaw(drawn, *references, ends[0], ends[1], misfit)


@dataclass(frozen=True)
class _Mode:
    """One way in which the places can be explained. at: 7; root: 6 by 6, of the covariance; free: degrees of freedom"""

    at: Numbers
    root: Numbers
    free: float
    log_weight: float

    def draw(self, rng: np.random.Generator) -> Numbers:
        made = self.at.copy()
        made[:6] += self.root @ rng.standard_normal(6) * np.sqrt(self.free / rng.chisquare(self.free))
        made[2:4] = np.clip(made[2:4], *LOG_POWERS)
        return made


def _mode(seen: _Seen, logit: float, sharp: float) -> _Mode:
    """The best explanation of one sharpness from a beginning, with its weight by Laplace's method."""
    start = seen.middle.copy()
    start[1] = logit
    found = least_squares(seen.strays, start, seen.slopes, method="lm", args=(sharp,))
    covariance = np.linalg.inv(found.jac.T @ found.jac)
    count = seen.log_speed.size
    data, away, believed = found.jac[:count], found.fun[:count], found.fun[count:]
    free = PRIOR_PLACES + max(count - float(np.trace(covariance @ data.T @ data)), 0.0)
    # what strays more than its deviations say widens everything; what strays less does not narrow it
    scale = max(1.0, float((PRIOR_PLACES + away @ away) / free))
    root = np.asarray(np.linalg.cholesky(covariance * scale), dtype=np.float64)
    # the scatter is not known, so the places weigh as by Student's t
    likely = -0.5 * (PRIOR_PLACES + count) * float(np.log(PRIOR_PLACES + away @ away))
    weight = likely - 0.5 * float(believed @ believed) + 0.5 * float(np.linalg.slogdet(covariance)[1])
    return _Mode(np.append(found.x, np.log(sharp)), root, free, weight)


def _apart(modes: Sequence[_Mode]) -> list[_Mode]:
    """Every explanation once: several beginnings may lead to the same."""
    kept: list[_Mode] = []
    for mode in modes:
        if not any(np.allclose(mode.at, other.at, atol=0.02) for other in kept):
            kept.append(mode)
    return kept
