"""Two instruments against each other, on published pairs and on made ones whose truth is known."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.problems import Refused
from trelvo.core.stats.agreement import agreement
from trelvo.messages.texts import text_of

LARGE = [494, 395, 516, 434, 476, 557, 413, 442, 650, 433, 417, 656, 267, 478, 178, 423, 427]
SMALL = [512, 430, 520, 428, 500, 600, 364, 380, 658, 445, 432, 626, 260, 477, 259, 350, 451]


def test_the_pairs_of_bland_and_altman():
    # Bland and Altman 1986, from memory; arithmetic checked: mean difference -2.1, deviation 38.8, limits -79.7 and 75.5
    found = agreement(LARGE, SMALL, "l/min")
    assert found.pairs == 17
    assert found.bias == pytest.approx(-2.1, abs=0.05)
    assert found.sd == pytest.approx(38.8, abs=0.05)
    assert (found.low, found.high) == (pytest.approx(-79.7, abs=0.1), pytest.approx(75.5, abs=0.1))
    assert found.finding == "no offset shown"
    assert found.offset is None


def made(levels, factor, offset, noise, seed=3):
    rng = np.random.default_rng(seed)
    second = np.asarray(levels, dtype=float)
    return second * factor + offset + rng.normal(0, noise, second.size), second + rng.normal(0, noise, second.size)


def test_a_constant_offset_is_found_and_offered():
    found = agreement(*made(np.linspace(150, 300, 20), 1.0, 27.0, 0.5), "W", "the wall less the rest", "the clamp")
    assert found.finding == "constant offset"
    assert found.offset == pytest.approx(27, abs=0.5)
    assert found.slope_low <= 1 <= found.slope_high
    assert text_of(found.says.params["apart"]) == "The wall less the rest reads 26.9 W more than the clamp"
    assert found.says.code == "always_about_the_same"


def test_a_difference_that_grows_with_the_level_offers_no_offset():
    found = agreement(*made(np.linspace(150, 300, 20), 1.11, 0.0, 0.5), "W")
    assert (found.finding, found.offset) == ("depends on the level", None)
    assert found.slope == pytest.approx(1.11, abs=0.02)


def test_levels_that_hardly_differ_tell_nothing_of_a_slope():
    assert agreement(*made([200, 200.5, 201, 200, 201, 200], 1.0, 5.0, 0.5), "W").slope is None


def test_too_few_pairs_and_none():
    assert agreement([100.0, 101.0], [90.0, 91.0], "W").finding == "too few pairs"
    for pairs in (([], []), ([1.0], [1.0, 2.0]), ([float("nan")], [1.0])):
        with pytest.raises(Refused, match="no_pairs"):
            agreement(*pairs, "W")


@given(st.lists(st.floats(1, 1000), min_size=3, max_size=30), st.floats(-50, 50))
def test_turned_round_the_bias_changes_its_sign_only(levels, offset):
    first, second = [level + offset for level in levels], levels
    one, other = agreement(first, second, "W"), agreement(second, first, "W")
    assert one.bias == pytest.approx(-other.bias)
    assert one.bias == pytest.approx(offset, abs=1e-6)
