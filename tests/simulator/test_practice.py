"""The chip to practise on: the same silicon as the bench's, told in one step."""

import numpy as np
import pytest

from trelvo.simulator.practice import HiddenChip


def test_failures_rise_along_the_way_and_reach_one_an_hour_at_the_edge():
    for seed in range(8):
        chip = HiddenChip.of(seed)
        rates = [chip.failures_per_h(offset) for offset in range(0, 301, 15)]
        assert rates == sorted(rates)
        edge = chip.edge_offset_mhz(300)
        assert chip.failures_per_h(edge // 15 * 15) <= 1 <= chip.failures_per_h((edge // 15 + 1) * 15)


def test_times_to_failure_are_exponential():
    chip, rng = HiddenChip.of(3), np.random.default_rng(1)
    offset = chip.edge_offset_mhz(300) // 15 * 15
    mean = 60 / chip.failures_per_h(offset)
    lasted = [chip.run(offset, 1e9, rng)[0] for _ in range(2000)]
    # mean of 2000 exponentials: within three standard errors
    assert np.mean(lasted) == pytest.approx(mean, rel=3 / np.sqrt(2000))
    held = np.mean([chip.run(offset, mean, rng)[1] is None for _ in range(2000)])
    assert held == pytest.approx(np.exp(-1), abs=0.035)


def test_far_past_the_edge_it_does_not_start():
    chip = HiddenChip.of(5)
    minutes, kind = chip.run(300, 5, np.random.default_rng(2))
    assert (minutes, kind) == (0.0, "no start")


def test_an_edge_beyond_the_range_is_none():
    chip = HiddenChip.of(5)
    assert chip.edge_offset_mhz(15) is None
