"""Where the edge lies over two knobs at once: the highest clock that holds at each voltage, as one belief from all trials at all
voltages. The line is straight or gently bent, with a decade of its own; nothing here knows any silicon.

    edge(u) = a + (z - a) u + b (a - z) 4 u (1 - u)

u: how far the voltage stands from stock, as a share of its range; a: edge at stock voltage, z: at the range's end; b: bend.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.climb.edge import STOCK_HOURS, UNRELATED_LEAST, UNRELATED_PER_H, Array, failures_per_h
from trelvo.core.climb.policy import HANDLING_MINUTES
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.core.climb.steepness import Steepness, usual_steepness
from trelvo.core.climb.trials import Trial
from trelvo.core.message import Message, message
from trelvo.core.registry.goals import SURE

EDGES, DECADES = 25, 7
# Four or five failures hardly tell the decade, and one believed too short is the dear mistake, so the belief is narrower
# than a single climb's. Measured on decades over a factor of five (./run.py bench edge_plane): one as wide costs safety and gain.
NARROWER = 0.8
# Near the threshold the edge falls faster: it lies above the straight line in between. Common practice.
BENDS, BEND_WEIGHTS = (-0.05, 0.0, 0.05, 0.1, 0.15), (0.1, 0.25, 0.3, 0.25, 0.1)
# Beyond the end of the clock's range an edge's weight falls e-fold in each so many lengths of it.
FADE = 0.6
# The grid closes in on where the weight lies, so often; weight below this is left out.
PASSES, LEFT_OUT = 4, 1e-4
# A percent of voltage moves the edge by so many percent of clock. Common practice: about one, more near the threshold.
SLOPE_SHARE, SLOPE_SPREAD = 1.1, 0.45
# The most failures an hour that show: a crash takes seconds to show itself.
CAP_PER_H = 1200.0
# A test is worth proposing where it may well end either way; a short and a long one are weighed.
FAIR_CHANCE = (0.65, 0.97)
TEST_MINUTES = (10.0, 30.0)
RESTART_MINUTES, MOST_CLOCKS = 4.0, 12
# On the way to a pair that lies further past what has survived: so many largest steps at once where it nearly surely passes.
LONGER_STEPS, NEARLY_SURE, STONE_MINUTES = (1, 2, 3), 0.95, 5.0
# Lines of accepted risk known to so many steps, one deviation, are known well enough.
KNOWN_STEPS = 0.85
# An hour of tests that narrows them by less than so many steps is not worth it.
LEAST_AN_HOUR = 0.09


@dataclass(frozen=True)
class PlaneTrial:
    """A test at a pair. across: voltage knob's distance from stock, positive away from it; trial: at the clock knob's value"""

    across: float
    trial: Trial


@dataclass(frozen=True)
class EdgeAt:
    """The edge at one voltage, in the clock knob's value. hold: highest value on the grid that keeps the accepted risk with the
    sureness asked, None where not even stock does; middle, low, high: where failures reach one an hour, with its 95 % interval

    tried: whether a trial stood at this voltage; risk: by failures an hour, the value at which they are reached (middle)
    """

    voltage: float
    hold: float | None
    middle: float
    low: float
    high: float
    tried: bool
    risk: dict[float, float]


@dataclass(frozen=True)
class NextPair:
    """The pair to test next. passes: chance of it; why: one sentence"""

    voltage: float
    value: float
    minutes: float
    passes: float
    why: Message


RISKS = (1.0, 0.1, 0.01)


@dataclass(frozen=True)
class EdgePlane:
    """Belief over the edge at both ends, bend and decade as weights on a grid; distances positive away from stock."""

    clock: Knob
    voltage: Knob
    edge: Array
    end: Array
    bend: Array
    decade: Array
    weight: Array
    trials: tuple[PlaneTrial, ...]

    @cached_property
    def span(self) -> float:
        return _span(self.voltage)

    def edge_at(self, across: float) -> Array:
        u = across / self.span
        return np.asarray(self.edge + self._rise * (u - self.bend * (4 * u * (1 - u))))

    @cached_property
    def _rise(self) -> Array:
        return self.end - self.edge


def _span(voltage: Knob) -> float:
    end = voltage.high if voltage.away == 1 else voltage.low
    return max(abs(end - voltage.stock), voltage.step)


def slope_of(clock: Knob, voltage: Knob, core_mhz: float, voltage_v: float) -> tuple[float, float] | None:
    """What is believed of the slope before any trial, in the clock knob's unit for one of the voltage knob's: mean and
    deviation. None where the knobs are not in MHz and mV or V."""
    if clock.unit != "MHz" or voltage.unit not in ("mV", "V"):
        return None
    volts = voltage_v * (1000.0 if voltage.unit == "mV" else 1.0)
    return SLOPE_SHARE * core_mhz / volts, SLOPE_SPREAD * core_mhz / volts


def edge_plane(
    clock: Knob,
    voltage: Knob,
    trials: Sequence[PlaneTrial],
    slope: tuple[float, float],
    steepness: Steepness | None = None,
) -> EdgePlane:
    """The belief after all trials. slope: mean and deviation beforehand (`slope_of`), in units of clock for one of voltage

    Less voltage lowers the edge: where the voltage is turned up instead, the edge rises.
    """
    usual = steepness or usual_steepness(clock)
    reach = max(abs((clock.high if clock.away == 1 else clock.low) - clock.stock), clock.step)
    fall = slope[0] * _span(voltage) * (1.0 if voltage.away * clock.away == -1 else -1.0)
    wide = slope[1] * _span(voltage)
    first = (-4 * usual.decade, 2.0 * reach)
    last = (first[0] - max(fall, 0) - 2.2 * wide, first[1] - min(fall, 0) + 2.2 * wide)
    for _ in range(PASSES):
        axes = (np.linspace(*first, EDGES), np.linspace(*last, EDGES))
        decades = usual.decade * np.geomspace(0.25, 3.0, DECADES)
        edge, end, bend, decade = (grid.ravel() for grid in np.meshgrid(*axes, np.array(BENDS), decades, indexing="ij"))
        log = (
            -0.5 * ((edge - end - fall) / wide) ** 2
            - 0.5 * (np.log(decade / usual.decade) / (NARROWER * usual.spread)) ** 2
        )
        log = log + np.log(np.array(BEND_WEIGHTS))[np.searchsorted(BENDS, bend - 1e-9)]
        log = log - np.maximum(edge - reach, 0) / (FADE * reach)
        plane = EdgePlane(
            clock=clock,
            voltage=voltage,
            edge=edge,
            end=end,
            bend=bend,
            decade=decade,
            weight=np.ones_like(log),
            trials=tuple(trials),
        )
        log = log - failures_per_h(0.0, edge, decade, np.asarray(CAP_PER_H)) * STOCK_HOURS
        log = log + evidence(plane, trials)
        weight = np.exp(log - log.max())
        weight = weight / weight.sum()
        cube = weight.reshape(EDGES, EDGES, -1).sum(axis=2)
        nearer = _closer(axes[0], cube.sum(axis=1)), _closer(axes[1], cube.sum(axis=0))
        done = all(new[1] - new[0] > 0.7 * (old[1] - old[0]) for new, old in zip(nearer, (first, last), strict=True))
        first, last = nearer
        if done:
            break
    return replace(plane, weight=weight)


def _closer(values: Array, weights: Array) -> tuple[float, float]:
    """The range that holds nearly all weight, a place wider on both sides."""
    summed = np.cumsum(weights)
    low = max(int(np.searchsorted(summed, LEFT_OUT)) - 1, 0)
    high = min(int(np.searchsorted(summed, 1 - LEFT_OUT)) + 1, values.size - 1)
    return float(values[low]), float(values[high])


def evidence(plane: EdgePlane, trials: Iterable[PlaneTrial]) -> Array:
    """Logarithm of how likely the trials were under each place of the belief. Minutes survived at one pair add up."""
    survived: dict[tuple[float, float], float] = defaultdict(float)
    failed: dict[tuple[float, float], list[Trial]] = defaultdict(list)
    for across, trial in ((one.across, one.trial) for one in trials):
        pair = across, (trial.value - plane.clock.stock) * plane.clock.away + trial.stress
        survived[pair] += 0.0 if trial.failed else trial.minutes
        failed[pair] += [trial] if trial.failed else []
    found = np.zeros_like(plane.weight)
    for (across, along), minutes in survived.items():
        hazard = failures_per_h(along, plane.edge_at(across), plane.decade, np.asarray(CAP_PER_H)) / 60
        found -= hazard * minutes
        for trial in failed[across, along]:
            begun, ended = trial.failed_between
            until = np.exp(-hazard * begun)
            unrelated = max(UNRELATED_PER_H * (ended - begun) / 60, UNRELATED_LEAST) * until
            found += np.log(until - np.exp(-hazard * ended) + unrelated + 1e-300)
    return found


def edge_line(
    plane: EdgePlane, voltages: Sequence[float], per_h: float = ACCEPTED_PER_H, sure: float = SURE
) -> list[EdgeAt]:
    """The edge and what holds at each voltage, in the knobs' own values."""
    tried = {trial.across for trial in plane.trials}
    return [
        _edge_at(plane, voltage, (voltage - plane.voltage.stock) * plane.voltage.away, tried, per_h, sure)
        for voltage in voltages
    ]


def _edge_at(plane: EdgePlane, voltage: float, across: float, tried: set[float], per_h: float, sure: float) -> EdgeAt:
    edge = plane.edge_at(across)
    order = np.argsort(edge)
    summed = np.cumsum(plane.weight[order])

    def quantile(share: float) -> float:
        return float(edge[order][min(int(np.searchsorted(summed, share)), edge.size - 1)])

    middle_decade = float(plane.weight @ plane.decade)
    middle = quantile(0.5)

    def value(along: float) -> float:
        return plane.clock.stock + plane.clock.away * along

    return EdgeAt(
        voltage,
        _hold(plane, across, per_h, sure),
        value(middle),
        value(quantile(0.025)),
        value(quantile(0.975)),
        any(abs(one - across) < 1e-9 for one in tried),
        {risk: value(middle + middle_decade * math.log10(risk)) for risk in RISKS},
    )


def _hold(plane: EdgePlane, across: float, per_h: float, sure: float) -> float | None:
    """The highest clock on the grid and in range that keeps the risk; below stock, too, where the range allows it."""
    line = plane.edge_at(across) + plane.decade * math.log10(per_h)
    order = np.argsort(line)
    summed = np.cumsum(plane.weight[order])
    along = float(line[order][int(np.searchsorted(summed, 1 - sure))])
    knob = plane.clock
    steps = math.floor(along / knob.step + 1e-9)
    most = round(abs((knob.high if knob.away == 1 else knob.low) - knob.stock) / knob.step)
    least = -round(abs((knob.low if knob.away == 1 else knob.high) - knob.stock) / knob.step)
    if steps < least:
        return None
    return round(knob.stock + knob.away * min(steps, most) * knob.step, 9)


@dataclass(frozen=True)
class LowestVoltage:
    """The voltage furthest from stock at which a clock should hold.

    tried: whether a run survived there, at that clock or beyond
    """

    clock: float
    voltage: float
    tried: bool


def lowest_voltage(
    plane: EdgePlane, clock: float, per_h: float = ACCEPTED_PER_H, sure: float = SURE
) -> LowestVoltage | None:
    """How far the voltage may go for a clock (its knob's value), no further than a run has survived at any clock.

    None where not even stock's voltage holds it, or where the voltage is turned up.
    """
    knob, volt = plane.clock, plane.voltage
    if volt.away == knob.away:
        return None
    survived, found = _survived(plane), None
    along = (clock - knob.stock) * knob.away
    furthest = max(across for across, _ in survived)
    for k in range(math.floor(furthest / volt.step + 1e-9) + 1):
        hold = _hold(plane, k * volt.step, per_h, sure)
        if hold is None or (hold - knob.stock) * knob.away < along - 1e-9:
            break
        found = k * volt.step
    if found is None:
        return None
    tried = any(across >= found - 1e-9 and place >= along - 1e-9 for across, place in survived)
    return LowestVoltage(clock, round(volt.stock + volt.away * found, 9), tried)


@dataclass(frozen=True)
class Steps:
    """How far past what has survived a test may go with each knob, in its unit."""

    clock: float
    voltage: float


@dataclass(frozen=True)
class _Pair:
    """A test at a pair. across, along: distances from stock, positive away from it; gain: variance less for each minute"""

    voltage: float
    across: float
    value: float
    along: float
    minutes: float
    passes: float
    gain: float = 0.0


def next_pair(
    plane: EdgePlane,
    voltages: Sequence[float],
    per_h: float = ACCEPTED_PER_H,
    restart_minutes: float = RESTART_MINUTES,
    steps: Steps | None = None,
) -> NextPair | None:
    """The pair whose test narrows most, for its minutes, what holds at all these voltages; or a step on the way to it.

    Candidates: at each voltage the clocks that pass with a fair chance, for a short and a long test. What each would leave
    open is the variance of the lines of accepted risk after it, both ways it may end, weighed by how likely they are.
    Voltages whose line lies below the clock's range count for nothing. steps: how far past what has survived a test may go
    None once those lines are known well enough, or an hour would narrow them too little.
    """
    knob = plane.clock
    low = min((knob.low - knob.stock) * knob.away, (knob.high - knob.stock) * knob.away)
    all_across = [(one - plane.voltage.stock) * plane.voltage.away for one in voltages]
    kept = [
        (voltage, across)
        for voltage, across in zip(voltages, all_across, strict=True)
        if float(plane.weight @ plane.edge_at(across)) >= low
    ]
    if not kept:
        return None
    lines = np.stack([plane.edge_at(across) for _, across in kept]) + plane.decade * math.log10(per_h)
    now = float(_variances(lines, plane.weight).mean())
    if math.sqrt(now) <= KNOWN_STEPS * knob.step:
        return None
    pairs = sorted(_pairs(plane, kept, lines, now, restart_minutes), key=lambda one: -one.gain)
    if not pairs:
        return None
    if math.sqrt(now) - math.sqrt(max(now - 60 * pairs[0].gain, 0.0)) < LEAST_AN_HOUR * knob.step:
        return None
    best, known_steps = pairs[0], 2 * math.sqrt(now) / knob.step
    if steps is not None and not _within(plane, best, steps):
        stone = _stone(plane, best, steps)
        if stone is not None:
            why = message(
                "step_on_the_way",
                voltage=describe_value(plane.voltage, best.voltage),
                clock=describe_value(knob, best.value),
                chance=stone.passes,
                steps=known_steps,
            )
            return NextPair(stone.voltage, stone.value, stone.minutes, stone.passes, why)
        # no step leads nearer with a fair chance: what teaches most of all that is near enough
        near = next((pair for pair in pairs if _within(plane, pair, steps)), None)
        if near is None:
            return None
        best = near
    why = message("narrows_most", chance=best.passes, steps=known_steps)
    return NextPair(best.voltage, best.value, best.minutes, best.passes, why)


def _pairs(
    plane: EdgePlane, kept: Sequence[tuple[float, float]], lines: Array, now: float, restart_minutes: float
) -> Iterator[_Pair]:
    # most of the grid has no weight, and tells nothing
    told = np.flatnonzero(plane.weight > 1e-9)
    weight, decade = plane.weight[told], plane.decade[told]
    known = np.concatenate([lines[:, told], lines[:, told] ** 2, np.ones((1, told.size))]).T
    minutes = np.array(TEST_MINUTES)

    def open_after(weights: Array) -> Array:
        """What is left open: the lines' mean variance under weights, n by grid."""
        means, squares, whole = np.split(weights @ known, [len(lines), 2 * len(lines)], axis=1)
        whole = np.maximum(whole, 1e-300)
        return np.asarray((squares / whole - (means / whole) ** 2).mean(axis=1))

    for voltage, across in kept:
        edge = plane.edge_at(across)[told]
        for value, along in _clocks(plane, across):
            hazard = failures_per_h(along, edge, decade, np.asarray(CAP_PER_H))
            survives = np.exp(-np.outer(minutes, hazard) / 60)
            passes = survives @ weight
            after = open_after(weight * survives) * passes + open_after(weight * (1 - survives)) * (1 - passes)
            costs = minutes + HANDLING_MINUTES + (1 - passes) * restart_minutes
            gains = (now - after) / costs
            for one, chance, gain in zip(TEST_MINUTES, passes.tolist(), gains.tolist(), strict=True):
                if FAIR_CHANCE[0] <= chance <= FAIR_CHANCE[1]:
                    yield _Pair(voltage, across, value, along, one, chance, gain)


def _survives(plane: EdgePlane, across: float, along: float, minutes: float) -> Array:
    hazard = failures_per_h(along, plane.edge_at(across), plane.decade, np.asarray(CAP_PER_H))
    return np.asarray(np.exp(-hazard * minutes / 60))


def _survived(plane: EdgePlane) -> list[tuple[float, float]]:
    """Pairs that have survived a test, and stock."""
    knob = plane.clock
    ran = [
        (trial.across, (trial.trial.value - knob.stock) * knob.away) for trial in plane.trials if not trial.trial.failed
    ]
    return [(0.0, 0.0), *ran]


def _within(plane: EdgePlane, pair: _Pair, steps: Steps) -> bool:
    return any(
        pair.across <= across + steps.voltage + 1e-9 and pair.along <= along + steps.clock + 1e-9
        for across, along in _survived(plane)
    )


def _stone(plane: EdgePlane, best: _Pair, steps: Steps) -> _Pair | None:
    """The step that comes nearest to a pair: further than the largest step only where it nearly surely passes; None where none
    comes nearer than what has survived."""
    knob, volt = plane.clock, plane.voltage

    def left(across: float, along: float) -> float:
        return max((best.across - across) / steps.voltage, (best.along - along) / steps.clock, 0.0)

    found: list[tuple[float, _Pair]] = []
    ran = _survived(plane)
    nearest = min(left(*one) for one in ran)
    for across, along in ran:
        for times in LONGER_STEPS:
            u = min(best.across, across + times * steps.voltage)
            c = min(best.along, along + times * steps.clock)
            u = math.floor(u / volt.step + 1e-9) * volt.step
            c = max(math.floor(c / knob.step + 1e-9) * knob.step, min(best.along, along))
            passes = float(plane.weight @ _survives(plane, u, c, STONE_MINUTES))
            if passes < (FAIR_CHANCE[0] if times == 1 else NEARLY_SURE) or left(u, c) >= nearest - 1e-9:
                continue
            voltage = round(volt.stock + volt.away * u, 9)
            value = round(knob.stock + knob.away * c, 9)
            found.append((left(u, c), _Pair(voltage, u, value, c, STONE_MINUTES, passes)))
    return min(found, key=lambda one: (one[0], -one[1].passes))[1] if found else None


def _variances(lines: Array, weight: Array) -> Array:
    """Variance of each line under some weights. lines: voltages by grid"""
    share = weight / max(float(weight.sum()), 1e-300)
    mean = lines @ share
    return np.asarray((lines**2) @ share - mean**2)


def _clocks(plane: EdgePlane, across: float) -> list[tuple[float, float]]:
    """Values of the clock's range near the edge at a voltage, with their distances: within three decades either way."""
    knob = plane.clock
    edge, decade = float(plane.weight @ plane.edge_at(across)), float(plane.weight @ plane.decade)
    low, high = sorted(((knob.low - knob.stock) * knob.away, (knob.high - knob.stock) * knob.away))
    first, last = (
        math.ceil(max(edge - 4 * decade, low) / knob.step),
        math.floor(min(edge + 3 * decade, high) / knob.step),
    )
    every = max(1, (last - first) // MOST_CLOCKS + 1)
    return [(round(knob.stock + knob.away * k * knob.step, 9), k * knob.step) for k in range(first, last + 1, every)]
