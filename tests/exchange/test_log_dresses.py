"""Logs from a known truth in every dress: never silently wrong, and nearly always right without help."""

import numpy as np
import pytest

from tests.exchange.log_dresses import TIMES, UNITS, Dress, judge, make_truth, tried, write
from trelvo.exchange.logs.guess import About

DRESSES = 60


def test_a_dressed_log_is_right_or_asked_about_and_rarely_needs_help():
    told, wrong = tried(range(DRESSES))
    assert wrong == []
    assert told["right", False] >= 0.93 * (told["right", False] + told["asked", False])


@pytest.mark.parametrize("time", TIMES)
def test_every_way_to_write_the_time(time):
    for seed in (1, 2, 3):
        rng = np.random.default_rng(seed)
        truth = make_truth(rng)
        dress = Dress(time, "point", UNITS[0], "none", (), ";", "utf-8", "\n", "plain", {})
        verdict, why = judge(truth, dress, write(truth, dress, rng), About(None, float(truth.time_s[-1])))
        assert verdict == "right", (seed, why)
