"""How steep a knob usually is, and what earlier climbs teach: by value, and on specimens of another kind."""

import math

import numpy as np
import pytest

from tests.core.climb.specimens import CLOCK, Silicon
from trelvo.core.base.knobs import Knob
from trelvo.core.climb.edge import EdgeModel, edge_posterior
from trelvo.core.climb.steepness import Seen, learnt_steepness, usual_steepness
from trelvo.core.climb.trials import Trial


def test_the_usual_decade_is_a_fact_of_the_trade_and_its_unit():
    # common practice: five steps of 15 MHz for three and a half powers of ten
    assert usual_steepness(CLOCK).decade == pytest.approx(75 / 3.5)
    volts = Knob("v", "Voltage", "V", 1.05, 0.005, 0.8, 1.05, -1, "voltage")
    millivolts = Knob("v", "Voltage", "mV", 0, 5, -250, 0, -1, "voltage")
    assert usual_steepness(volts).decade == pytest.approx(usual_steepness(millivolts).decade / 1000)
    plain = Knob("c", "Clock", "GHz", 4.0, 0.1, 4.0, 5.0, 1)
    assert usual_steepness(plain).decade == pytest.approx(0.075 / 3.5)


def test_of_an_unknown_knob_little_is_claimed():
    notches = Knob("n", "Notches", "", 0, 1, 0, 40, 1)
    found = usual_steepness(notches)
    assert found.decade == pytest.approx(2.0)
    assert found.spread > 1 > usual_steepness(CLOCK).spread


def test_earlier_climbs_are_weighed_by_what_they_show():
    usual = usual_steepness(CLOCK)
    assert learnt_steepness(usual, []) == usual
    twice = learnt_steepness(usual, [Seen(40.0, 0.2)] * 2)
    # by hand: precisions 1 / 0.35² and twice 1 / (0.2² + 0.35²)
    own, weight = 1 / 0.1225, 2 / 0.1625
    expected = (math.log(usual.decade) * own + math.log(40.0) * weight) / (own + weight)
    assert math.log(twice.decade) == pytest.approx(expected)
    assert twice.off == pytest.approx((own + weight) ** -0.5)
    vague = learnt_steepness(usual, [Seen(40.0, 3.0)])
    assert usual.decade < vague.decade < twice.decade
    assert twice.climbs == 2


def test_climbs_of_steep_silicon_teach_that_the_next_is_steep():
    rng, seen = np.random.default_rng(4), []
    for edge in (140.0, 200.0, 170.0, 230.0):
        silicon, trials = Silicon(edge, 5.0), []
        for value in (*range(60, 300, 15), 150, 165, 180):
            at = silicon.fails_after(value, rng)
            trials.append(Trial(value, min(at, 15.0), at < 15))
        belief = edge_posterior(EdgeModel.of(CLOCK), trials)
        assert belief.seen is not None
        seen.append(belief.seen)
    learnt = learnt_steepness(usual_steepness(CLOCK), seen)
    assert learnt.decade < 0.7 * usual_steepness(CLOCK).decade
    assert learnt.spread < usual_steepness(CLOCK).spread


def test_a_climb_that_showed_nothing_teaches_nothing():
    assert edge_posterior(EdgeModel.of(CLOCK), []).seen is None
    assert edge_posterior(EdgeModel.of(CLOCK), [Trial(15, 2, False)]).seen is None
