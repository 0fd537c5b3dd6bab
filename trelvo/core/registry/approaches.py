"""Ways to climb and ways to prove: one typed row for each."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal

Strategy = Literal["fixed steps", "coarse then fine", "bisection", "adaptive"]
Approach = Literal["worst case", "as used", "mixed load", "statistical"]

# How many steps a coarse climb goes at once. Common practice.
COARSE_STEPS = 4


@dataclass(frozen=True)
class ApproachFacts:
    """A way to prove that a setting is stable. asks: for what; limits: what it cannot tell."""

    approach: Approach
    asks: str
    limits: str


_APPROACHES: tuple[ApproachFacts, ...] = (
    ApproachFacts(
        "worst case",
        "Hours of the heaviest load: if it passes, anything passes.",
        "Heaviest load only: it says nothing of light loads, sudden changes of load, or other techniques, and it is hotter than "
        "any use.",
    ),
    ApproachFacts(
        "as used",
        "What you really do, for days, on everything it touches.",
        "Only what you do now: the next title or driver may find what these did not.",
    ),
    ApproachFacts(
        "mixed load",
        "Processor and graphics together, then the whole system.",
        "Shared heat and supply are tested, long hours are not.",
    ),
    ApproachFacts(
        "statistical",
        "Failures an hour from all that was run, against the risk you accept.",
        "It rests on the belief that failures grow evenly along the knob; another cause is not in it.",
    ),
)
APPROACHES: Mapping[Approach, ApproachFacts] = MappingProxyType({row.approach: row for row in _APPROACHES})


@dataclass(frozen=True)
class StrategyFacts:
    """A way to climb. steps: of the knob at once on the way; None: it chooses them by what has held."""

    strategy: Strategy
    steps: int | None


_STRATEGIES: tuple[StrategyFacts, ...] = (
    StrategyFacts("fixed steps", 1),
    StrategyFacts("coarse then fine", COARSE_STEPS),
    StrategyFacts("bisection", None),
    StrategyFacts("adaptive", None),
)
STRATEGIES: Mapping[Strategy, StrategyFacts] = MappingProxyType({row.strategy: row for row in _STRATEGIES})
