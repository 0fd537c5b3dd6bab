"""A warming part's belief: what is usual, what earlier runs of the build taught, and what the readings make of it."""

from dataclasses import dataclass

import numpy as np

from trelvo.core.laws.heat_model import FAST_S, SLOW_S, Bins, Fitted, Grid, Numbers, columns_of, regress

# The plausible slow time constants, with shoulders of half a natural logarithm. Common practice: a cooler settles in 10
# to 15 minutes.
SLOW_RANGE_S = (120.0, 600.0)
SHOULDER = 0.5
FAST_MIDDLE_S, FAST_SPREAD = 6.0, 0.9
# What is believed before any reading, in °C: how far the chip rises above its cooler and the cooler above the room, and
# what heat is left in both at the start. Wide on purpose. Common practice.
FAST_RISE_C, SLOW_RISE_C = (14.0, 12.0), (32.0, 20.0)
LEFT_FAST_C, LEFT_SLOW_C = (2.0, 5.0), (3.0, 8.0)
ROOM_KNOWN_C, ROOM_USUAL_C = 1.0, (23.0, 4.0)
# From run to run of one build resistance and time constants differ by so much (dust, draught, where the room is measured).
RUN_TO_RUN, FAST_TO_RUN, SLOW_TO_RUN = 0.01, 0.08, 0.02
SHAPE = (8, 16)
PASSES = 5
LEFT_OUT = 1e-5


@dataclass(frozen=True)
class Belief:
    """What is held of a build's heat, as one normal: natural logarithms of both time constants in s, then R1 and R2
    in °C/W (in °C where no power was read). mean: 4; covariance: 4 by 4"""

    mean: Numbers
    covariance: Numbers


@dataclass(frozen=True)
class Weighed:
    """A fit with the time constants it weighs and the stretches' columns (pairs, n, 5).

    strayed: square of what is off, in units of the readings' own noise: about 1 where the model is right
    """

    fitted: Fitted
    grid: Grid
    columns: Numbers
    strayed: float


def weigh(bins: Bins, variance: Numbers, room_c: float | None, before: Belief | None, scale_w: float) -> Weighed:
    """The belief after the readings, on a grid of time constants that closes in on where they lie.

    Where the readings scatter more than their noise explains, the noise is taken for larger: by their scatter about the
    best fit, and by how much neighbours stray together.
    variance: n, of the stretches' means, °C²; before: what earlier runs taught; scale_w: power that the bins' 1 stands for
    """
    there = bins.readings > 0
    temps, noise = bins.temp_c[there], variance[there]
    fast, slow = _first_ranges(before)
    wider = strayed = 1.0
    for last in (False, True):
        for _ in range(PASSES):
            grid = Grid(np.geomspace(*fast, SHAPE[0]), np.geomspace(*slow, SHAPE[1]))
            columns = columns_of(bins, grid)
            fitted = regress(columns[:, there], temps, noise * wider, *_prior(grid, room_c, before, scale_w))
            nearer = [
                _closer(values, weights)
                for values, weights in zip(_axes(grid), grid.marginals(fitted.weights), strict=True)
            ]
            shrunk = min(
                np.log(new[1] / new[0]) / np.log(old[1] / old[0]) for new, old in zip(nearer, (fast, slow), strict=True)
            )
            fast, slow = nearer
            if shrunk > 0.7:
                break
        if last:
            break
        best = int(np.argmax(fitted.weights))
        left = (temps - columns[best][there] @ fitted.means[best]) / np.sqrt(noise)
        strayed, wider = _scatter(left)
        if wider < 1.1:
            break
        fast, slow = _first_ranges(before)
    return Weighed(fitted, grid, columns, strayed)


def _axes(grid: Grid) -> tuple[Numbers, Numbers]:
    return grid.fast_s, grid.slow_s


def _first_ranges(before: Belief | None) -> tuple[tuple[float, float], tuple[float, float]]:
    if before is None:
        return FAST_S, SLOW_S
    wide = 4 * np.sqrt(np.diag(before.covariance)[:2] + np.square([FAST_TO_RUN, SLOW_TO_RUN]))
    low, high = np.exp(before.mean[:2] - wide), np.exp(before.mean[:2] + wide)
    return (float(low[0]), float(high[0])), (float(low[1]), float(high[1]))


def _closer(values: Numbers, weights: Numbers) -> tuple[float, float]:
    """The range that holds nearly all weight, a step wider on both sides."""
    summed = np.cumsum(weights)
    low = max(int(np.searchsorted(summed, LEFT_OUT)) - 1, 0)
    high = min(int(np.searchsorted(summed, 1 - LEFT_OUT)) + 1, values.size - 1)
    return float(values[low]), float(values[high])


def _scatter(left: Numbers) -> tuple[float, float]:
    """How far the readings stray, and by how much their noise must be taken for larger. left: what is off, in its noise"""
    factor = float(left @ left) / max(left.size - 7, 1)
    if factor < 1.2 or left.size < 12:
        return factor, max(factor, 1.0)
    memory = float(np.clip((left[1:] @ left[:-1]) / (left @ left), 0.0, 0.9))
    return factor, factor * (1 + memory) / (1 - memory)


def _prior(grid: Grid, room_c: float | None, before: Belief | None, scale_w: float) -> tuple[Numbers, Numbers, Numbers]:
    """Log weight, coefficients' mean and covariance of every pair before the readings."""
    fast, slow = grid.pairs()
    room, room_sd = (room_c, ROOM_KNOWN_C) if room_c is not None else ROOM_USUAL_C
    middle = np.array([room, FAST_RISE_C[0], SLOW_RISE_C[0], LEFT_FAST_C[0], LEFT_SLOW_C[0]])
    spread = np.array([room_sd, FAST_RISE_C[1], SLOW_RISE_C[1], LEFT_FAST_C[1], LEFT_SLOW_C[1]])
    means = np.tile(middle, (fast.size, 1))
    covariances = np.tile(np.diag(spread**2), (fast.size, 1, 1))
    if before is None:
        return _usual(fast, slow), means, covariances
    taus, rest = before.covariance[:2, :2] + np.diag(np.square([FAST_TO_RUN, SLOW_TO_RUN])), before.covariance[2:, :2]
    off = np.log(np.stack([fast, slow], 1)) - before.mean[:2]
    gain = rest @ np.linalg.inv(taus)
    means[:, 1:3] = scale_w * (before.mean[2:] + off @ gain.T)
    own = before.covariance[2:, 2:] - gain @ rest.T
    own[1, 1] += (RUN_TO_RUN * float(before.mean[2:].sum())) ** 2
    covariances[:, 1:3, 1:3] = scale_w**2 * own
    return -0.5 * np.einsum("pi,ij,pj->p", off, np.linalg.inv(taus), off), means, covariances


def _usual(fast: Numbers, slow: Numbers) -> Numbers:
    """Log weight of each pair before any reading."""
    low, high = np.log(SLOW_RANGE_S)
    beyond = np.maximum(np.maximum(low - np.log(slow), np.log(slow) - high), 0.0)
    quick = (np.log(fast) - np.log(FAST_MIDDLE_S)) / FAST_SPREAD
    return np.asarray(-0.5 * ((beyond / SHOULDER) ** 2 + quick**2), dtype=np.float64)


def belief_of(weighed: Weighed, scale_w: float) -> Belief:
    """The whole fit as one normal of the same mean and covariance, R in °C/W."""
    fitted = weighed.fitted
    points = np.concatenate([np.log(np.stack(weighed.grid.pairs(), 1)), fitted.means[:, 1:3] / scale_w], axis=1)
    mean = fitted.weights @ points
    off = points - mean
    covariance = (off * fitted.weights[:, None]).T @ off
    covariance[2:, 2:] += np.einsum("p,pij->ij", fitted.weights, fitted.covariances[:, 1:3, 1:3]) / scale_w**2
    # the grid's own width, so that a run known to the last digit does not fix the next one
    covariance[:2, :2] += np.diag(np.square([0.02, 0.005]))
    return Belief(mean, covariance)
