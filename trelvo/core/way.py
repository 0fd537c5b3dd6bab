"""How someone works: whose advice is followed on a climb, how far a test may go, and which approach proves."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import get_args

from trelvo.core.base.knobs import Knob
from trelvo.core.climb.policy import Policy
from trelvo.core.problems import Problem
from trelvo.core.registry.approaches import Approach, Strategy
from trelvo.core.terms import Terms


@dataclass(frozen=True)
class Way:
    """cautious: keep only what would hold even if failures thin out slowly

    largest_steps: by knob, in its unit, past what has held
    """

    strategy: Strategy = "adaptive"
    cautious: bool = False
    largest_steps: Mapping[str, float] = field(default_factory=dict, hash=False)
    approach: Approach = "mixed load"


def policy_for(way: Way, terms: Terms, knob: str | None, minutes: float | None = None) -> Policy:
    """What a climb accepts. minutes: bench time there is, without an end where left out"""
    return Policy(
        strategy=way.strategy,
        accepted_per_h=1 / terms.hours,
        sure=terms.sure,
        minutes_left=float("inf") if minutes is None else minutes,
        cautious=way.cautious,
        largest_step=way.largest_steps.get(knob or ""),
    )


def refusals_of_way(way: Way, knobs: list[Knob]) -> list[Problem]:
    """What is wrong with it, field by field."""
    problems = []
    if way.strategy not in get_args(Strategy):
        problems.append(Problem("strategy", "unknown_strategy", {"strategy": way.strategy}))
    if way.approach not in get_args(Approach):
        problems.append(Problem("approach", "unknown_approach", {"approach": way.approach}))
    known = {knob.key for knob in knobs}
    for key, step in way.largest_steps.items():
        if key not in known:
            problems.append(Problem(f"largest_steps.{key}", "no_such_knob_here"))
        elif not 0 < step <= 1e9:
            problems.append(Problem(f"largest_steps.{key}", "step_not_above_zero", {"step": step}))
    return problems
