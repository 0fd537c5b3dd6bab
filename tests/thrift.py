"""What a simulator's card could save at best, asked of the simulator itself: what a campaign found is held against it."""

import math
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property

import numpy as np

from trelvo.simulator.bench import Bench, true_edge_mhz
from trelvo.simulator.rigs import draw_rig
from trelvo.simulator.silicon import hazard_per_h

WARM_C, LEAST_SPEED = 64.0, 0.99
# At each voltage so many of the highest clocks that hold are looked at.
CLOCKS = 5

Values = Mapping[str, float]


class Card:
    """A specimen of the dome's card under some workloads, the last of them the heaviest."""

    def __init__(self, seed: int, workloads: Sequence[str], hours: float) -> None:
        self.seed, self.workloads, self.hours = seed, workloads, hours
        self.rig = draw_rig("dome", seed)

    def run(self, values: Values) -> list[tuple[float, float]] | None:
        """Result and watts of each workload, warm; None where the setting fails."""
        bench = Bench(draw_rig("dome", self.seed), 24.0, np.random.default_rng(1), step_s=0.5)
        power = [one.name for one in bench.channels()].index("power")
        bench.start(values, self.workloads[0], 3)
        bench.advance(180)
        found = []
        for workload in self.workloads:
            bench.start(values, workload, 3)
            seen = bench.advance(180)
            if seen.ending is None or seen.ending.outcome != "completed" or seen.ending.value is None:
                return None
            found.append((seen.ending.value, float(seen.values[120:, power].mean())))
        return found

    @cached_property
    def stock(self) -> list[tuple[float, float]]:
        found = self.run({})
        assert found is not None
        return found

    def against_stock(self, values: Values) -> tuple[float, float]:
        """Speed and power as ratios to stock's, geometric means over the workloads."""
        found = self.run(values)
        if found is None:
            return math.nan, math.nan
        pairs = list(zip(found, self.stock, strict=True))
        return (
            math.exp(np.mean([math.log(ours[0] / theirs[0]) for ours, theirs in pairs])),
            math.exp(np.mean([math.log(ours[1] / theirs[1]) for ours, theirs in pairs])),
        )

    def holds(self, values: Values, failures: float = 1.0) -> bool:
        """Whether it fails no more than so often in the hours that were asked for, warm, under the heaviest workload."""
        edge = true_edge_mhz(self.rig, values, self.rig.design.loads[self.workloads[-1]], WARM_C)
        return hazard_per_h(edge, self.rig.chip.decade_mhz) <= failures / self.hours

    def failures_per_h(self, values: Values) -> float:
        """As it is run, power limit and all: warm, under the heaviest workload."""
        bench = Bench(draw_rig("dome", self.seed), 24.0, np.random.default_rng(1), step_s=0.5)
        bench.start({}, self.workloads[-1], 10)
        bench.advance(600)
        bench.start(values, self.workloads[-1], 3)
        rates = []
        for _ in range(60):
            if bench.advance(1).ending is not None:
                break
            rates.append(bench.hazards()[0])
        return float(np.mean(rates)) if rates else math.inf

    def least_power(self, lowest_mv: int, caps: Sequence[int] = (100,)) -> float:
        """The least power of all settings that keep speed and risk. caps: power limits in percent, falling"""
        least = math.inf
        for values in self._holding(lowest_mv):
            for cap in caps:
                setting = {**values, "power": cap} if cap != 100 else values
                speed, power = self.against_stock(setting)
                if not speed >= LEAST_SPEED:
                    # a lower limit is slower still
                    break
                least = min(least, power)
        return least

    def _holding(self, lowest_mv: int) -> Iterator[dict[str, float]]:
        for voltage in range(lowest_mv, 1, 10):
            clocks = [core for core in range(-300, 301, 15) if self.holds({"voltage": voltage, "core": core})]
            for core in clocks[-CLOCKS:]:
                yield {"voltage": float(voltage), "core": float(core)}
