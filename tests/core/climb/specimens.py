"""Specimens to climb on, of several families, none of which the climb's own model is; used by the study of the climb.

A row says how specimens are drawn, how they depart from a plain edge, and what the climber gets to see of it.
"""

import math
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.core.climb.trials import KnownTo

CLOCK = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage")
Curve = Literal["powers of ten", "bent", "jump"]


@dataclass(frozen=True)
class Silicon:
    """A specimen: distance of its edge (one failure an hour) and its decade there, in the knob's unit, and how it departs.

    curve: "powers of ten" above and below the edge; "bent": each decade further below is a fifth shorter, above longer; "jump":
    nothing below and everything above
    tail: from a decade below the edge failures thin out so many times more slowly
    cap: most failures an hour that show; late_s: a failure shows so much later, lowest and highest
    cold: how much further it holds in the first two minutes; moves: deviation of the edge from run to run
    other_share: of tests that end for a reason of another kind within ten minutes
    lighter: how much further it holds under the load of the tests than under what is judged
    """

    edge: float
    decade: float
    curve: Curve = "powers of ten"
    tail: float = 1.0
    cap: float = 14_400.0
    late_s: tuple[float, float] = (0.0, 0.0)
    cold: float = 0.0
    moves: float = 0.0
    other_share: float = 0.0
    lighter: float = 0.0

    def rate(self, distance: float) -> float:
        """Failures an hour of the warm part under the load that is judged."""
        decades = (distance - self.edge) / self.decade
        if self.curve == "jump":
            return self.cap if decades > 0 else 1e-9
        if self.curve == "bent":
            decades = decades * 1.25 if decades < 0 else decades / (1 + 0.08 * decades)
        if decades < -1:
            decades = -1 + (decades + 1) / self.tail
        return 1 / (10 ** -min(decades, 9.0) + 1 / self.cap)

    def safe_to(self, knob: Knob) -> float:
        """The furthest distance on the knob's grid whose own rate is within the accepted one."""
        steps = round(abs((knob.high if knob.away == 1 else knob.low) - knob.stock) / knob.step)
        return max(k * knob.step for k in range(steps + 1) if k == 0 or self.rate(k * knob.step) <= ACCEPTED_PER_H)

    def fails_after(self, distance: float, rng: np.random.Generator) -> float:
        """Minutes until a test at this distance ends in a failure, of whatever cause."""
        here = distance - self.lighter + (float(rng.normal(0, self.moves)) if self.moves else 0.0)
        first = float(rng.exponential(60 / self.rate(here - self.cold)))
        if first > 2 and self.cold:
            first = 2 + float(rng.exponential(60 / self.rate(here)))
        first += float(rng.uniform(*self.late_s)) / 60
        other = float(rng.uniform(0, 10)) if rng.random() < self.other_share else math.inf
        return min(first, other)


@dataclass(frozen=True)
class Row:
    """A row of the study. edges: as shares of the knob's usual way, lowest and highest; seen: how a failure's time is noted

    told: whether the climber knows how much lighter the tests are; usual_step: what "short" is counted in
    """

    name: str
    knob: Knob = CLOCK
    edges: tuple[float, float] = (0.1, 1.0)
    departs: dict[str, object] = field(default_factory=dict)
    seen: KnownTo = "second"
    told: bool = False
    usual_step: float = 15.0
    way: float = 300.0

    def draw(self, seed: int) -> Silicon:
        rng = np.random.default_rng((seed, 7))
        edge = float(rng.uniform(*self.edges)) * self.way
        decade = self.usual_step * math.exp(rng.uniform(math.log(0.53), math.log(2.67)))
        drawn = {
            key: float(rng.uniform(*value)) if isinstance(value, tuple) and key != "late_s" else value
            for key, value in self.departs.items()
        }
        return replace(Silicon(edge, decade), **drawn)  # type: ignore[arg-type]


ROWS = (
    Row("base"),
    Row("range 4 times too wide", replace(CLOCK, high=1200)),
    Row("near stock", edges=(0.03, 0.27)),
    Row("downwards", VOLTAGE, usual_step=5.0, way=150.0),
    Row("saturating", departs={"cap": (20.0, 120.0)}),
    Row("failures show 5 to 45 s late", departs={"late_s": (5.0, 45.0)}),
    Row("times in whole minutes", seen="minute"),
    Row("no times", seen="run"),
    Row("one unrelated crash in ten tests", departs={"other_share": 0.1}),
    Row("better while cold", departs={"cold": (7.5, 22.5), "moves": 4.0}),
    Row("lighter test load, known", departs={"lighter": (7.5, 30.0)}, told=True),
    Row("bent curve", departs={"curve": "bent"}),
    Row("cliff", departs={"curve": "jump"}),
    Row("edge at or beyond the range's end", edges=(1.0, 1.6)),
    Row("grid three times finer", replace(CLOCK, step=5)),
    Row("slow tail", departs={"tail": 2.5}),
    Row("lighter test load, unknown", departs={"lighter": (0.0, 15.0)}),
)
