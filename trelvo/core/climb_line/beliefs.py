"""What trials say of a knob, kept by value: after another run, most knobs' trials are the same as before."""

from collections.abc import Mapping, Sequence
from functools import lru_cache

from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import Load
from trelvo.core.climb.edge import EdgeModel, EdgePosterior, edge_posterior
from trelvo.core.climb.policy import Advice, Policy
from trelvo.core.climb.score_top import ScoreAt
from trelvo.core.climb.steepness import Seen, Steepness, usual_steepness
from trelvo.core.climb.strategies import advise
from trelvo.core.climb.stress import GRID as COARSE
from trelvo.core.climb.stress import Offset, Stress, estimate_stress
from trelvo.core.climb.trials import Trial


@lru_cache(maxsize=256)
def believed(knob: Knob, trials: tuple[Trial, ...], steepness: Steepness) -> EdgePosterior:
    """The belief after these trials."""
    return edge_posterior(EdgeModel.of(knob, steepness), trials)


@lru_cache(maxsize=256)
def advised(
    knob: Knob, trials: tuple[Trial, ...], policy: Policy, loads: tuple[Load, ...], scores: tuple[ScoreAt, ...]
) -> Advice:
    """The next step after these trials."""
    belief = believed(knob, trials, policy.steepness or usual_steepness(knob))
    return advise(knob, trials, policy, loads, scores, belief)


@lru_cache(maxsize=256)
def seen_in(knob: Knob, trials: tuple[Trial, ...]) -> Seen | None:
    """What these trials show of the knob's steepness; None where they say nothing."""
    return edge_posterior(EdgeModel.of(knob, grid=COARSE), trials).seen


def stresses_after(
    model: EdgeModel,
    trials: Mapping[int, Sequence[Trial]],
    expected: Mapping[int, float],
    before: Mapping[int, Offset],
) -> Mapping[int, Stress]:
    """The workloads' stresses after these trials, by variant: many lines share them."""
    frozen = tuple((pk, tuple(some)) for pk, some in trials.items())
    return _stresses_after(model, frozen, tuple(expected.items()), tuple(before.items()))


@lru_cache(maxsize=256)
def _stresses_after(
    model: EdgeModel,
    trials: tuple[tuple[int, tuple[Trial, ...]], ...],
    expected: tuple[tuple[int, float], ...],
    before: tuple[tuple[int, Offset], ...],
) -> Mapping[int, Stress]:
    return estimate_stress(model, dict(trials), dict(expected), dict(before))
