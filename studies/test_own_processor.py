"""This machine's own processor, where it shows its temperature: loaded for twenty minutes, its end predicted from the first ones;
./run.py bench own_processor."""

import os
import subprocess
import sys
import time

import numpy as np
import pytest

from trelvo.agent.sensors import MachineSensors
from trelvo.core.laws.heat import Trace, forecast

MINUTES, MOST_OFF_C = 20, 2.0
BUSY = "while True: sum(i * i for i in range(10_000))"


def hottest(sensors):
    """The hottest temperature that the machine shows, C; None where it shows none."""
    return max((value for name, value in sensors.read().items() if name.startswith("temp ")), default=None)


def test_its_end_from_the_first_minutes(benchmark):
    sensors = MachineSensors()
    if hottest(sensors) is None:
        pytest.skip("this machine shows no temperature, so its own traces cannot be predicted")

    def warmed():
        busy = [subprocess.Popen([sys.executable, "-c", BUSY]) for _ in range(os.cpu_count() or 1)]
        begun, rows = time.monotonic(), []
        try:
            while (at := time.monotonic() - begun) < MINUTES * 60:
                rows.append((at, hottest(sensors)))
                time.sleep(1)
        finally:
            for one in busy:
                one.kill()
                one.wait()
        return np.array(rows, dtype=np.float64).T

    time_s, temp_c = benchmark.pedantic(warmed, rounds=1)
    end = float(np.nanmean(temp_c[time_s > (MINUTES - 2) * 60]))
    for minutes in (3, 5, 10):
        seen = time_s <= minutes * 60
        told = forecast(Trace(time_s[seen], temp_c[seen])).settles_c
        print(
            f"heat, own processor, {minutes} min: {told.value:.1f} °C ({told.low:.1f} to {told.high:.1f}), in the end {end:.1f}"
        )
        if minutes == 10:
            assert abs(told.value - end) <= MOST_OFF_C
