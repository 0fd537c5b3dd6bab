"""How a part warms up: two heat stores between it and the room, each with a time constant and a share of the thermal
resistance.

    T(t) = room + R1 g1(t) + R2 g2(t) + x1 d1(t) + x2 d2(t)

g: the power through a first-order filter of that time constant; d: what is left of the heat with which the run began.
The second
store, cooler to air, loses heat faster with more fan. For given time constants this is linear in room, R1, R2, x1 and
x2, so all are found at once for every pair of time constants on a grid, and the pairs weighed by how well they explain
the readings.
Source: lumped heat capacities, any heat transfer textbook; Bayesian linear regression, Bishop 2006, section 3.3, from
memory.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Numbers = npt.NDArray[np.float64]

# Seconds, the whole range. Chip to cooler settles in seconds, cooler to room in minutes; a large case or a radiator in
# up to an hour.
FAST_S = (1.5, 40.0)
SLOW_S = (60.0, 3600.0)
# Cooler to air: resistance falls with the fan's speed to this power (forced flow, between 0.5 and 0.8). Common practice.
FAN_POWER, FAN_POWER_SD = 0.6, 0.1
# The fan at which a build's resistance is held, % of full speed, so that runs at different fans say the same of it.
FAN_REFERENCE = 50.0
COLUMNS = 5
# (from, seconds a bin): the start changes fast
BINS = ((0.0, 2.0), (60.0, 5.0), (180.0, 15.0), (1800.0, 60.0))


@dataclass(frozen=True)
class Bins:
    """Readings in stretches of time. start_s, width_s, power (1 where not known), air (fan relative to FAN_REFERENCE, to
    FAN_POWER): n;
    temp_c: n, NaN where nothing was read; readings: how many stand behind it"""

    start_s: Numbers
    width_s: Numbers
    temp_c: Numbers
    readings: Numbers
    power: Numbers
    air: Numbers


@dataclass(frozen=True)
class Grid:
    """Time constants to weigh, s: each fast one with each slow one."""

    fast_s: Numbers
    slow_s: Numbers

    def pairs(self) -> tuple[Numbers, Numbers]:
        fast, slow = np.meshgrid(self.fast_s, self.slow_s, indexing="ij")
        return fast.ravel(), slow.ravel()

    def marginals(self, weights: Numbers) -> tuple[Numbers, Numbers]:
        """Weights of the fast and of the slow ones alone."""
        grid = weights.reshape(self.fast_s.size, self.slow_s.size)
        return grid.sum(axis=1), grid.sum(axis=0)


def edges_of(lasts_s: float) -> Numbers:
    """Where the stretches begin and end, s."""
    edges: list[Numbers] = []
    for (begin, width), end in zip(BINS, [*(one for one, _ in BINS[1:]), np.inf], strict=True):
        if lasts_s <= begin:
            break
        edges.append(np.arange(begin, min(end, lasts_s), width))
    return np.append(np.concatenate(edges), lasts_s)


def in_bins(time_s: Numbers, temp_c: Numbers, power: Numbers | None, fan: Numbers | None) -> Bins:
    """A log's readings put into stretches. Power and fan are carried over gaps; a fan that stands still still lets air
    pass."""
    edges = edges_of(float(time_s[-1]))
    place = np.clip(np.searchsorted(edges, time_s, side="right") - 1, 0, edges.size - 2)
    middle = (edges[:-1] + edges[1:]) / 2

    def means(values: Numbers) -> tuple[Numbers, Numbers]:
        present = np.isfinite(values)
        counted = np.bincount(place[present], minlength=middle.size).astype(np.float64)
        summed = np.bincount(place[present], values[present], minlength=middle.size)
        with np.errstate(invalid="ignore"):
            return np.where(counted > 0, summed / counted, np.nan), counted

    def carried(values: Numbers | None) -> Numbers | None:
        if values is None:
            return None
        found, counted = means(values)
        there = counted > 0
        return np.interp(middle, middle[there], found[there]) if there.any() else None

    temps, counted = means(temp_c)
    watts, percent = carried(power), carried(fan)
    return Bins(
        edges[:-1],
        np.diff(edges),
        temps,
        counted,
        np.ones(middle.size) if watts is None else watts,
        np.ones(middle.size) if percent is None else air_of(percent),
    )


def air_of(fan: Numbers | float) -> Numbers:
    """How much better heat leaves the cooler than at FAN_REFERENCE; never below a tenth, since air rises by itself."""
    return np.asarray(
        np.maximum(np.asarray(fan, dtype=np.float64) / FAN_REFERENCE, 0.02) ** FAN_POWER, dtype=np.float64
    )


def columns_of(bins: Bins, grid: Grid) -> Numbers:
    """The five columns (room, R1, R2, x1, x2) of every pair of time constants, each stretch's mean: pairs, n, 5."""
    still = np.ones(bins.air.size)
    g1, d1 = _store(grid.fast_s, bins.power, still, bins.width_s)
    g2, d2 = _store(grid.slow_s, bins.power, bins.air, bins.width_s)
    fast, slow = grid.fast_s.size, grid.slow_s.size
    columns = np.ones((fast, slow, bins.power.size, COLUMNS))
    columns[..., 1], columns[..., 3] = g1[:, None], d1[:, None]
    columns[..., 2], columns[..., 4] = g2[None], d2[None]
    return columns.reshape(fast * slow, bins.power.size, COLUMNS)


def _store(tau_s: Numbers, power: Numbers, air: Numbers, width_s: Numbers) -> tuple[Numbers, Numbers]:
    """One heat store at R = 1: warmed by the power, and what is left of one degree at the start; stretch means, taus by n.

    Within a stretch power and air are constant, so that the step is exact: g -> p/a + (g - p/a) e^(-a w / tau).
    """
    warmed, left = np.empty((tau_s.size, power.size)), np.empty((tau_s.size, power.size))
    g, d = np.zeros(tau_s.size), np.ones(tau_s.size)
    for i, (p, a, width) in enumerate(zip(power, air, width_s, strict=True)):
        spans = a * width / tau_s
        kept = np.exp(-spans)
        share = -np.expm1(-spans) / spans
        level = p / a
        warmed[:, i] = level + (g - level) * share
        left[:, i] = d * share
        g = level + (g - level) * kept
        d = d * kept
    return warmed, left


@dataclass(frozen=True)
class Fitted:
    """What is held after the readings: weight of each pair of time constants (p, sums to 1), and for each the
    coefficients' mean (p by 5) and covariance (p by 5 by 5); misfit_c: how far the stretches lie from the best, root
    mean square"""

    weights: Numbers
    means: Numbers
    covariances: Numbers
    misfit_c: float


def regress(
    columns: Numbers, temp_c: Numbers, variance: Numbers, log_weights: Numbers, means: Numbers, covariances: Numbers
) -> Fitted:
    """Weighs every pair and finds its coefficients: a normal prior updated by readings with known variances.

    columns: pairs, n, 5; temp_c, variance: n (°C, °C²); log_weights: pairs; means: pairs, 5; covariances: pairs, 5, 5
    """
    noise = np.sqrt(variance)
    scaled = columns / noise[:, None]
    off = temp_c / noise - (scaled @ means[:, :, None])[..., 0]
    prior = np.linalg.inv(covariances)
    turned = scaled.transpose(0, 2, 1)
    precision = prior + turned @ scaled
    after = np.linalg.inv(precision)
    moved = (after @ (turned @ off[:, :, None]))[..., 0]
    left = off - (scaled @ moved[:, :, None])[..., 0]
    cost = (left**2).sum(axis=1) + (moved * (prior @ moved[:, :, None])[..., 0]).sum(axis=1)
    log = log_weights - 0.5 * (cost + np.linalg.slogdet(precision)[1] - np.linalg.slogdet(prior)[1])
    weights = np.exp(log - log.max())
    misfit = left[int(np.argmax(log))] * noise
    return Fitted(
        weights / weights.sum(), np.asarray(means + moved), np.asarray(after), float(np.sqrt(np.mean(misfit**2)))
    )
