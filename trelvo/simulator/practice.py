"""A chip to practise on: how it ends after so long at an offset, at a settled temperature, told in one step.

The same silicon as the bench's, without the bench: no heating up, no power limit, no instruments.
"""

import math
from dataclasses import dataclass

import numpy as np

from trelvo.simulator.bench import true_edge_mhz
from trelvo.simulator.rigs import SimulatorRig, draw_rig
from trelvo.simulator.silicon import Failure, failure_kind, hazard_per_h

RIG, KNOB, LOAD = "dome", "core", "Kiln"
SETTLED_C = 72.0


@dataclass(frozen=True)
class HiddenChip:
    """A specimen by its seed."""

    rig: SimulatorRig

    @classmethod
    def of(cls, seed: int) -> "HiddenChip":
        return cls(draw_rig(RIG, seed))

    def past_edge_mhz(self, offset_mhz: float) -> float:
        """How far an offset stands past the edge, under the heaviest load, warm."""
        return true_edge_mhz(self.rig, {KNOB: offset_mhz}, self.rig.design.loads[LOAD], SETTLED_C)

    def failures_per_h(self, offset_mhz: float) -> float:
        return hazard_per_h(self.past_edge_mhz(offset_mhz), self.rig.chip.decade_mhz)

    def edge_offset_mhz(self, most_mhz: float) -> float | None:
        """The offset at which failures reach one an hour, between the steps too; None where it is beyond most_mhz."""
        step = self.rig.design.main.grid_mhz
        below = 0.0
        while below + step <= most_mhz:
            first, second = self.past_edge_mhz(below), self.past_edge_mhz(below + step)
            if first <= 0 < second:
                return below - step * first / (second - first)
            below += step
        return None

    def run(self, offset_mhz: float, minutes: float, rng: np.random.Generator) -> tuple[float, Failure | None]:
        """Minutes that it lasted, and how it failed, None where it held."""
        rate = self.failures_per_h(offset_mhz)
        lasted = -60 * math.log1p(-float(rng.random())) / rate
        kind = failure_kind(self.past_edge_mhz(offset_mhz), self.rig.chip.decade_mhz, float(rng.random()))
        if kind == "no start":
            return 0.0, kind
        return (lasted, kind) if lasted < minutes else (minutes, None)
