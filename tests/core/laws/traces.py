"""Made traces of warming parts: sums of exponentials, written without the program's own model."""

from dataclasses import dataclass

import numpy as np

from trelvo.core.laws.heat import Trace


@dataclass(frozen=True)
class Truth:
    """Rises in °C and time constants in s of chip and cooler."""

    fast_c: float = 15.0
    slow_c: float = 30.0
    fast_s: float = 6.0
    slow_s: float = 300.0


def draw_truth(rng):
    """A rig never seen: slow time constants from 2 to 10 minutes."""
    return Truth(
        rng.uniform(6, 25),
        rng.uniform(15, 50),
        float(np.exp(rng.uniform(np.log(2), np.log(20)))),
        rng.uniform(120, 600),
    )


def warming(truth, minutes, rng, room=23.0, power=None, noise=0.4, step=1.0, run_to_run=0.0, started_c=(0.0, 0.0)):
    """A trace once a second, and where it ends. power: (now, the watts at which the rises hold)"""
    t = np.arange(0, minutes * 60 + 1, 1.0)
    ratio = (power[0] / power[1] if power else 1.0) * (1 + rng.normal(0, run_to_run))
    fast, slow = np.exp(-t / truth.fast_s), np.exp(-t / truth.slow_s)
    rise = ratio * (truth.fast_c * (1 - fast) + truth.slow_c * (1 - slow)) + started_c[0] * fast + started_c[1] * slow
    read = room + rise + rng.normal(0, noise, t.size)
    if step:
        read = np.round(read / step) * step
    watts = np.full(t.size, power[0]) if power else None
    return Trace(t, read, watts, None, room), room + ratio * (truth.fast_c + truth.slow_c)
