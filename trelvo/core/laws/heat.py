"""Where a part's temperature will settle, told from the first minutes of a run; and what its cooler is worth in °C/W."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr, ndtri

from trelvo.core.laws.heat_fit import Belief, Weighed, belief_of, weigh
from trelvo.core.laws.heat_model import FAN_POWER, FAN_POWER_SD, Bins, Fitted, Numbers, air_of, in_bins
from trelvo.core.problems import Problem, Refused

LEAST_S = 60.0
LEAST_READINGS = 20
# A part that has warmed by less says nothing of what it warms to.
LEAST_RISE_C = 3.0
SURE = 0.95
# Stretches further from the fit than this, root mean square in °C, and strayed so much further than the readings' own noise
# explains (squared), are not the warming of two stores by the power read.
MISFIT_C, MISFIT_STRAYED = 0.2, 2.5
# The model's own coarseness, °C a stretch.
TOLERANCE_C = 0.03
# A fan's further way is not a straight line: so much of its effect, and °C besides, stay open.
FAN_CURVE_SHARE, FAN_CURVE_C = 0.3, 0.15
# What a fan that has moved at all leaves open, °C: how its speed cools is common practice, not measured.
FAN_MOVED_C = 0.1
# What no length of log makes surer, °C.
STEADY_C = 0.01
# Readings that stray so much (squared, in their noise) with what earlier runs taught, and so many times less without, unlearn it.
CONFLICT = 1.6
AHEAD_S = np.concatenate([np.arange(0, 3600, 30.0), np.arange(3600, 4 * 3600 + 1, 300.0)])
DRAWN_AHEAD_S = 1800.0
WITHIN_C = 0.5


@dataclass(frozen=True)
class Trace:
    """A part's log while it warms up.

    time_s: n, from the start of the load, not falling; temp_c: n, NaN where not read; power_w, fan_percent: n or None
    where not read;
    room_c: the air that goes in, None where not known
    """

    time_s: Numbers
    temp_c: Numbers
    power_w: Numbers | None = None
    fan_percent: Numbers | None = None
    room_c: float | None = None


@dataclass(frozen=True)
class Interval:
    """A value with the interval that holds it with SURE."""

    value: float
    low: float
    high: float


@dataclass(frozen=True)
class Way:
    """How the temperature goes, for drawing: fitted up to the log's end, predicted beyond (low and high apart there).
    time_s, temp_c,
    low_c, high_c: n"""

    time_s: Numbers
    temp_c: Numbers
    low_c: Numbers
    high_c: Numbers


@dataclass(frozen=True)
class HeatForecast:
    """What a trace says.

    settles_c: where the temperature will settle at the last minute's power; more_s: seconds more until it will be within
    WITHIN_C of
    that, 0 when it is; slow_s: time constant of the cooler
    resistance: part to room in °C/W, None without power or room; at_reference: the same with the fan at FAN_REFERENCE,
    None where the fan was not read either
    fits: whether the readings are the warming of two heat stores; misfit_c: how far off, root mean square
    """

    settles_c: Interval
    more_s: float
    slow_s: Interval
    resistance: Interval | None
    at_reference: Interval | None
    fits: bool
    misfit_c: float
    power_w: float | None
    belief: Belief
    way: Way


@dataclass(frozen=True)
class _Read:
    bins: Bins
    variance: Numbers
    steady: float
    power_w: float | None


def forecast(trace: Trace, before: Belief | None = None) -> HeatForecast:
    """Where the temperature settles, by a normal mixture over the pairs of time constants.

    before: what earlier runs of the same build have taught (`after_runs`); None for a rig never seen
    Refused when the log is too short, has too few temperatures, or the part has not warmed up.
    """
    read = _read(trace)
    weighed = weigh(read.bins, read.variance, trace.room_c, before, read.power_w or 1.0)
    if before is not None and weighed.strayed > CONFLICT:
        # what earlier runs taught may not hold for this one: another mounting, dust, a door open
        alone = weigh(read.bins, read.variance, trace.room_c, None, read.power_w or 1.0)
        weighed = alone if alone.strayed < weighed.strayed / CONFLICT else weighed
    fitted, misfit_c = weighed.fitted, weighed.fitted.misfit_c
    power = _recent(read.bins.power, read.bins)
    air, bend, fan_sd = _settled_air(trace, read, fitted, power)
    ends = np.stack(
        [np.ones(fitted.weights.size), np.full(fitted.weights.size, power), np.full(fitted.weights.size, power / air)],
        1,
    )
    mean = np.einsum("pk,pk->p", ends, fitted.means[:, :3])
    spread = (
        np.sqrt(np.einsum("pi,pij,pj->p", ends, fitted.covariances[:, :3, :3], ends) + read.steady + fan_sd**2) / bend
    )
    settles = _mixture(fitted.weights, mean, spread)
    resistance = at_reference = None
    if read.power_w is not None and trace.room_c is not None:
        resistance = _scaled(_resistance(fitted, air, 0.0), 1 / read.power_w)
        if _usable(trace.fan_percent) is not None:
            # what another fan would do is common practice, not measured: the further away, the less sure
            unsure = FAN_POWER_SD / FAN_POWER * abs(float(np.log(air))) * float(fitted.weights @ fitted.means[:, 2])
            at_reference = _scaled(_resistance(fitted, 1.0, unsure), 1 / read.power_w)
    gap = _gap(weighed, read, power, air)
    return HeatForecast(
        settles_c=settles,
        more_s=float(AHEAD_S[np.argmax(gap <= WITHIN_C)] if (gap <= WITHIN_C).any() else AHEAD_S[-1]),
        slow_s=_weighted(weighed.grid.slow_s, weighed.grid.marginals(fitted.weights)[1]),
        resistance=resistance,
        at_reference=at_reference,
        fits=not (misfit_c > MISFIT_C and weighed.strayed > MISFIT_STRAYED),
        misfit_c=misfit_c,
        power_w=None if read.power_w is None else power * read.power_w,
        belief=belief_of(weighed, read.power_w or 1.0),
        way=_way(weighed, read, settles, gap),
    )


def after_runs(
    traces: Sequence[Trace], tell: Callable[[Trace, Belief | None], HeatForecast] = forecast
) -> Belief | None:
    """What runs of one build have taught, one after the other; those that cannot be read or do not fit are left out.

    tell: what forecasts a trace knowing the earlier ones, where answers are remembered
    """
    belief: Belief | None = None
    for trace in traces:
        try:
            found = tell(trace, belief)
        except Refused:
            continue
        if found.fits:
            belief = found.belief
    return belief


def _read(trace: Trace) -> _Read:
    time_s, temp_c = np.asarray(trace.time_s, dtype=np.float64), np.asarray(trace.temp_c, dtype=np.float64)
    if time_s.shape != temp_c.shape or time_s.ndim != 1:
        raise Refused(Problem("temperature", "temperatures_do_not_match_times"))
    present = np.isfinite(temp_c) & np.isfinite(time_s)
    if present.sum() < LEAST_READINGS:
        raise Refused(Problem("temperature", "too_few_temperatures"))
    if (np.diff(time_s) < 0).any():
        raise Refused(Problem("time", "time_runs_backwards"))
    lasts = float(time_s[-1])
    if lasts < LEAST_S:
        raise Refused(Problem("time", "too_short_for_heat", {"lasts_s": lasts, "least_s": LEAST_S}))
    temps = temp_c[present]
    if float(np.quantile(temps[-max(5, temps.size // 10) :], 0.5)) - float(temps[0]) < LEAST_RISE_C:
        raise Refused(Problem("temperature", "did_not_warm_up"))
    power = _usable(trace.power_w)
    fan = _usable(trace.fan_percent)
    late = time_s >= lasts * 2 / 3
    power_w = float(np.nanmean(power[late])) if power is not None else None
    if power is not None and power_w is not None and not power_w > 0:
        raise Refused(Problem("power", "power_reads_zero"))
    scaled = power / power_w if power is not None and power_w else None
    # a reading stands for the time until the next one
    bins = in_bins(time_s + float(np.median(np.diff(time_s))) / 2, temp_c, scaled, fan)
    variance, steady = _variance(temps, bins)
    return _Read(bins, variance, steady, power_w)


def _usable(values: Numbers | None) -> Numbers | None:
    """A channel that covers the log's end, or nothing."""
    if values is None:
        return None
    read = np.asarray(values, dtype=np.float64)
    return read if np.isfinite(read[-max(5, read.size // 3) :]).any() else None


def _variance(temps: Numbers, bins: Bins) -> tuple[Numbers, float]:
    """What each stretch's mean is off by, squared: noise told by neighbouring readings, steps of the display,
    coarseness. Then what does not average out over the whole log.

    Steps of the display average out where noise is larger than a third of them, and do not where it is not: what is
    left of their error is q² / (2 π²) e^(-(2 π s / q)²). Source: Widrow and Kollár 2008 on dither, from memory.
    """
    moves = np.diff(temps)
    noise = float(np.mean(np.square(moves - np.median(moves)))) / 2 if moves.size else 0.0
    changed = np.abs(moves[moves != 0])
    step = float(changed.min()) if changed.size else 0.0
    under = max(noise - step**2 / 12, 0.0)
    left = step**2 / (2 * np.pi**2) * np.exp(-((2 * np.pi) ** 2) * under / step**2) if step else 0.0
    with np.errstate(divide="ignore"):
        return (noise + 0.01) / bins.readings + left + TOLERANCE_C**2, float(left + STEADY_C**2)


def _recent(values: Numbers, bins: Bins) -> float:
    """Mean over the last minute."""
    end = bins.start_s[-1] + bins.width_s[-1]
    late = bins.start_s + bins.width_s > end - 60.0
    return float(np.average(values[late], weights=bins.width_s[late]))


def _settled_air(trace: Trace, read: _Read, fitted: Fitted, power: float) -> tuple[float, float, float]:
    """The air when settled; by how much a fan that follows the temperature damps what is not known of it; what the fan
    itself leaves open, °C.

    A fan that rose with the temperature in the log's second half is taken to go on in a straight line, to at most full
    speed.
    """
    fan = _usable(trace.fan_percent)
    now = _recent(read.bins.air, read.bins)
    moved = FAN_MOVED_C if fan is not None and float(np.nanstd(fan)) > 1 else 0.0
    if fan is None:
        return now, 1.0, moved
    half = (trace.time_s >= trace.time_s[-1] / 2) & np.isfinite(fan) & np.isfinite(trace.temp_c)
    temps, percent = trace.temp_c[half], fan[half]
    if temps.size < 10 or np.std(percent) < 0.5 or np.std(temps) < 0.3:
        return now, 1.0, moved
    slope = float(np.cov(temps, percent)[0, 1] / np.var(temps, ddof=1))
    if slope <= 0:
        return now, 1.0, moved
    middle_t, middle_p = float(temps.mean()), float(percent.mean())
    room, quick, slow = (float(fitted.weights @ fitted.means[:, k]) for k in range(3))

    def settled(temp_c: float) -> float:
        percent = np.clip(middle_p + slope * (temp_c - middle_t), 0.0, 100.0)
        return float(room + power * quick + power * slow / air_of(float(percent)))

    at = float(temps[-1])
    for _ in range(40):
        at += 0.5 * (settled(at) - at)
    bend = 1.0 - (settled(at + 0.5) - settled(at - 0.5))
    percent_then = float(np.clip(middle_p + slope * (at - middle_t), 0.0, 100.0))
    then = float(air_of(percent_then))
    return then, max(bend, 1.0), FAN_CURVE_C + FAN_CURVE_SHARE * abs(power * slow * (1 / now - 1 / then))


def _resistance(fitted: Fitted, air: float, besides: float) -> Interval:
    """Both stores together at an air, in °C at the power read. besides: a deviation that the fit does not know"""
    share = np.array([1.0, 1 / air])
    value = fitted.means[:, 1:3] @ share
    wide = np.sqrt(np.einsum("i,pij,j->p", share, fitted.covariances[:, 1:3, 1:3], share) + besides**2)
    return _mixture(fitted.weights, value, wide)


def _gap(weighed: Weighed, read: _Read, power: float, air: float) -> Numbers:
    """How far the temperature will still be from its end at each of AHEAD_S, °C."""
    fast, slow = weighed.grid.pairs()
    fitted = weighed.fitted
    kept = fitted.weights > 1e-4
    bins, means, columns = read.bins, fitted.means[kept], weighed.columns[kept, -1]
    # where each store is at the end of the log, by the last stretch's columns
    quick = columns[:, 1] * means[:, 1] + columns[:, 3] * means[:, 3]
    cooler = columns[:, 2] * means[:, 2] + columns[:, 4] * means[:, 4]
    to_quick, to_cooler = power * means[:, 1] - quick, power / air * means[:, 2] - cooler
    since = AHEAD_S[:, None] + bins.width_s[-1] / 2
    gap = to_quick * np.exp(-since / fast[kept]) + to_cooler * np.exp(-since * air / slow[kept])
    return np.asarray(np.abs(gap) @ (fitted.weights[kept] / fitted.weights[kept].sum()), dtype=np.float64)


def _way(weighed: Weighed, read: _Read, settles: Interval, gap: Numbers) -> Way:
    """What is predicted opens in the measure in which it nears its end; close to the last reading it is as sure as that."""
    bins, fitted = read.bins, weighed.fitted
    past = np.einsum("p,pnk,pk->n", fitted.weights, weighed.columns, fitted.means)
    settled = float(AHEAD_S[np.argmax(gap <= WITHIN_C)]) if (gap <= WITHIN_C).any() else DRAWN_AHEAD_S
    ahead = (AHEAD_S > 0) & (min(1.3 * settled + 120.0, DRAWN_AHEAD_S) >= AHEAD_S)
    share = 1 - gap[ahead] / max(float(gap[0]), 1e-9)
    rising = settles.value >= past[-1]
    then = settles.value - gap[ahead] if rising else settles.value + gap[ahead]
    end = bins.start_s[-1] + bins.width_s[-1]
    return Way(
        np.append(bins.start_s + bins.width_s / 2, end + AHEAD_S[ahead]),
        np.append(past, then),
        np.append(past, then - share * (settles.value - settles.low)),
        np.append(past, then + share * (settles.high - settles.value)),
    )


def _mixture(weights: Numbers, means: Numbers, spreads: Numbers) -> Interval:
    """Mean and interval of a mixture of normals, by bisection."""

    def below(value: float) -> float:
        return float(weights @ ndtr((value - means) / spreads))

    def quantile(share: float) -> float:
        kept = weights > 1e-9
        edge = float(ndtri(1 - 1e-9))
        low, high = float((means - edge * spreads)[kept].min()), float((means + edge * spreads)[kept].max())
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if below(middle) < share else (low, middle)
        return (low + high) / 2

    return Interval(quantile(0.5), quantile((1 - SURE) / 2), quantile((1 + SURE) / 2))


def _weighted(values: Numbers, weights: Numbers) -> Interval:
    """Mean in logarithms and interval of a quantity known on a grid."""
    summed = np.cumsum(weights)
    low, high = (
        float(values[min(int(np.searchsorted(summed, q)), values.size - 1)]) for q in ((1 - SURE) / 2, (1 + SURE) / 2)
    )
    return Interval(float(np.exp(weights @ np.log(values))), low, high)


def _scaled(one: Interval, factor: float) -> Interval:
    return Interval(one.value * factor, one.low * factor, one.high * factor)
