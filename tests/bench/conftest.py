"""Benchmarks at their smallest size: that they run is checked, what they measure says nothing yet."""

import pytest

from tests.bench.sizes import SMALLEST

# Whose assertions judge shares and means over many specimens: over two of them they may come out either way.
JUDGED_IN_FULL = frozenset({
    "test_calibration.py", "test_climb.py", "test_edge_plane.py", "test_goals.py", "test_heat.py", "test_stress.py",
    "test_verdict.py", "test_scale.py", "test_speed.py", "test_handed_on.py", "test_every_goal.py",
})  # fmt: skip


@pytest.hookimpl(wrapper=True)
def pytest_pyfunc_call(pyfuncitem):
    try:
        return (yield)
    except AssertionError:
        if SMALLEST and pyfuncitem.path.name in JUDGED_IN_FULL:
            return True
        raise
