"""The edge over clock and voltage as one belief: safe, short, and at what bench time; ./run.py bench edge_plane."""

import math
import sys

import numpy as np
import pytest

from tests.core.climb.test_edge_plane import CLOCK, SLOPE, VOLT, VOLTAGES, edge_of, parameters, silicon
from trelvo.core.climb.edge_plane import EdgePlane, PlaneTrial, Steps, edge_line, edge_plane, evidence, next_pair
from trelvo.core.climb.trials import Trial

# what a climb of each knob by itself takes as its largest steps
STEPS = Steps(30.0, 8.75)
SPECIMENS, BUDGET_MINUTES, RESTART_MINUTES = 100, 240, 4


def widely(rng):
    """A specimen of a wider family: decades over a factor of five."""
    threshold, alpha, margin, _ = parameters(rng)
    return lambda mv: edge_of(threshold, alpha, margin, mv), 15 * math.exp(rng.uniform(math.log(0.53), math.log(2.67)))


def play(seed, drawn=silicon, sureness=(0.95,)):
    """Follows the advice for the minutes there are. How many steps short at each voltage, a row for each sureness; whether the
    edge is in its interval; minutes used; failures."""
    rng = np.random.default_rng(seed)
    edge, decade = drawn(rng)
    trials, used, failures = [], 0.0, 0
    while True:
        plane = edge_plane(CLOCK, VOLT, trials, SLOPE)
        wanted = next_pair(plane, VOLTAGES, steps=STEPS)
        if wanted is None or used >= BUDGET_MINUTES:
            break
        fails_after = rng.exponential(60 / 10 ** ((wanted.value - edge(wanted.voltage)) / decade))
        failed = fails_after < wanted.minutes
        used += min(fails_after, wanted.minutes) + 1 + RESTART_MINUTES * failed
        failures += failed
        trials.append(PlaneTrial(-wanted.voltage, Trial(wanted.value, min(fails_after, wanted.minutes), failed)))
    best = [math.floor((edge(voltage) + decade * math.log10(1 / 50)) / 15) * 15 for voltage in VOLTAGES]
    short = []
    for sure in sureness:
        line = edge_line(plane, VOLTAGES, sure=sure)
        # where nothing in the range is sure to hold, all of it is given away
        short.append(
            [
                (truth - (CLOCK.low if one.hold is None else one.hold)) / 15
                for truth, one in zip(best, line, strict=True)
            ]
        )
    held = [one.low <= edge(one.voltage) <= one.high for one in line]
    return short, held, used, failures


@pytest.mark.parametrize("drawn", [silicon, widely])
def test_five_voltages_in_four_hours(benchmark, drawn):
    found = benchmark.pedantic(lambda: [play(seed, drawn) for seed in range(SPECIMENS)], rounds=1)
    short = np.array([one[0][0] for one in found])
    held = np.array([one[1] for one in found])
    print(
        f"edge plane, {drawn.__name__}: safe {np.mean(short >= 0):.1%}, within two steps {np.mean(short <= 2):.1%}, "
        f"short {short.mean():.2f} steps, coverage of the edge {held.mean():.1%}, {np.mean([one[2] for one in found]):.0f} min, "
        f"{np.mean([one[3] for one in found]):.1f} failures"
    )
    # three standard errors of a share of 95 % of a hundred specimens, whose five voltages are nearly one
    assert np.mean(short >= 0) >= 0.95 - 0.05
    assert np.mean(short <= 2) >= 0.75
    assert held.mean() >= 0.9


# Specimens of the very kind that is played, and what each would be: a belief that nothing can beat.
KNOWN, CHANCE, KNOWN_PLAYED = (40_000, 1e-7, 60)


class Generator(EdgePlane):
    """The belief of whoever knows the generator: drawn specimens, weighed by the trials. edge: numbers of specimens"""

    def edge_at(self, across):
        threshold, alpha, margin = (DRAWN[name][self.edge.astype(int)] for name in ("threshold", "alpha", "margin"))
        return edge_of(threshold, alpha, margin, -across)


def drawn():
    rng = np.random.default_rng(999)
    names = ("threshold", "alpha", "margin", "decade")
    return dict(zip(names, zip(*(parameters(rng) for _ in range(KNOWN)), strict=True), strict=True))


DRAWN = {}


def known_plane(clock, voltage, trials, slope):
    if not DRAWN:
        DRAWN.update({name: np.array(values) for name, values in drawn().items()})
    every = np.arange(KNOWN, dtype=float)
    plane = Generator(clock, voltage, every, every, every, DRAWN["decade"], np.ones(KNOWN), tuple(trials))
    log = evidence(plane, trials)
    weight = np.exp(log - log.max())
    kept = weight > CHANCE
    weight = weight[kept] / weight[kept].sum()
    numbers = every[kept]
    return Generator(clock, voltage, numbers, numbers, numbers, DRAWN["decade"][kept], weight, tuple(trials))


def test_with_the_generator_known(benchmark, monkeypatch):
    """What the same choice of pairs comes to for whoever knows which specimens there are, to the end of the same minutes."""
    monkeypatch.setattr(sys.modules[__name__], "edge_plane", known_plane)
    monkeypatch.setattr("trelvo.core.climb.edge_plane.KNOWN_STEPS", 0.4)
    monkeypatch.setattr("trelvo.core.climb.edge_plane.LEAST_AN_HOUR", 0.02)
    sureness = (0.85, 0.9, 0.95)
    found = benchmark.pedantic(lambda: [play(seed, sureness=sureness) for seed in range(KNOWN_PLAYED)], rounds=1)
    for sure, short in zip(sureness, np.array([one[0] for one in found]).swapaxes(0, 1), strict=True):
        print(
            f"edge plane, generator known, {sure:.0%} sure: safe {np.mean(short >= 0):.1%}, within two steps "
            f"{np.mean(short <= 2):.1%}, short {short.mean():.2f} steps, {np.mean([one[2] for one in found]):.0f} min"
        )
        # two standard errors of a share of so many specimens, whose five voltages are nearly one
        assert np.mean(short >= 0) >= sure - 2 * math.sqrt(sure * (1 - sure) / KNOWN_PLAYED)
