"""Machines that share one budget, made otherwise than the law has them: idle watts, parts in turn or at once, one part idle."""

import numpy as np

from trelvo.core.laws.power_split import SplitPlace

# how sharply the slower part decides; "idle": the second part does nothing
KINDS = {"in turn": 1.0, "overlapping": 5.0, "the slower alone": 20.0, "starved": 5.0, "idle": 1.0}


class Shared:
    """One machine: its speed at watts of both parts, and who gets what at a limit."""

    def __init__(self, kind, rng):
        self.kind, self.sharp, self.rng = kind, KINDS[kind], rng
        self.power, self.idle_w = rng.uniform(0.33, 0.7, 2), rng.uniform(0.2, 1.5, 2)
        self.fixed = 0.0 if kind == "idle" else rng.uniform(0, 0.1)
        self.share = rng.uniform(0.15, 0.25) if kind == "starved" else rng.uniform(0.3, 0.7)
        self.work, self.tilt = rng.uniform(0.15, 0.85), rng.uniform(-0.1, 0.1)

    def split(self, limit_w, moved=0.0):
        """Watts of both at a limit; moved: the share of the first part's that is taken away (below zero: given)."""
        if self.kind == "idle":
            second = 1.2 + 0.05 * limit_w * self.rng.uniform(0.9, 1.1)
            return limit_w - second, second
        share = np.clip((self.share + self.tilt * (limit_w - 25) / 15) * (1 - moved), 0.08, 0.92)
        return share * limit_w, (1 - share) * limit_w

    def speed(self, first_w, second_w):
        first = self._time(first_w, 0, self.share)
        if self.kind == "idle":
            return 1 / first
        second = self._time(second_w, 1, 1 - self.share)
        both = self.work * first**self.sharp + (1 - self.work) * second**self.sharp
        return 1 / (both ** (1 / self.sharp) + self.fixed)

    def _time(self, watts, part, share):
        usual = share * 25 - self.idle_w[part]
        return (usual / max(watts - self.idle_w[part], 0.02)) ** self.power[part]

    def places(self, plan):
        """Runs at (limit, share moved), as instruments that are half a percent off read them."""
        found = []
        for number, (limit_w, moved) in enumerate(plan):
            first, second = self.split(limit_w, moved)
            log_speed = np.log(self.speed(first, second)) + self.rng.normal(0, 0.004)
            first, second = first * self.rng.normal(1, 0.005), second * self.rng.normal(1, 0.005)
            found.append(SplitPlace(number, first, second, log_speed, 0.004))
        return found
