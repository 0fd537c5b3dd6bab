"""How far a setting is in a goal's own measure: ratios, degrees over room, dB(A), best results, workloads that hold a rate."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from scipy import special

from trelvo.core.base.runs import RunFacts, mean_of, values_of
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.goal.ran import Ran
from trelvo.core.stats.comparison import Comparison
from trelvo.core.stats.noise import CONFIDENCE
from trelvo.core.stats.same_instrument import DEGREES, LOUD, read_on_both

Groups = Mapping[int, Sequence[RunFacts]]
Unit = Literal["ratio", "°C", "dB(A)", "of"]


@dataclass(frozen=True)
class GoalMeasure:
    """How far a setting is in the goal's own measure, with its 95 % interval where one is known.

    unit: "ratio" (against stock), "°C" (degrees over room less stock's), "dB(A)" (less stock's), "of" (workloads that hold, of
    `asked`); watts: mean power less stock's, where it is about power
    score: for ranking, higher is better; side: shown to be better or worse than stock by the interval, else empty
    """

    unit: Unit
    value: float
    low: float | None
    high: float | None
    score: float
    asked: int = 0
    watts: float | None = None
    side: Literal["better", "worse", ""] = ""


def as_ratio(comparison: Comparison) -> GoalMeasure:
    """A ratio of which more is better."""
    low, high = comparison.low, comparison.high
    side = _side(low, high, 1.0, more_is_better=True)
    return GoalMeasure("ratio", comparison.ratio, low, high, math.log(comparison.ratio), side=side)


def as_power(less: Comparison, watts: float | None = None) -> GoalMeasure:
    """Power against stock as people say it: below 1 where it draws less. less: above 1 where it draws less"""
    low = None if less.high is None else 1 / less.high
    high = None if less.low is None else 1 / less.low
    side = _side(low, high, 1.0, more_is_better=False)
    return GoalMeasure("ratio", 1 / less.ratio, low, high, math.log(less.ratio), watts=watts, side=side)


def _side(
    low: float | None, high: float | None, none: float, *, more_is_better: bool
) -> Literal["better", "worse", ""]:
    if low is None or high is None or low <= none <= high:
        return ""
    return "better" if (low > none) is more_is_better else "worse"


@dataclass(frozen=True)
class Level:
    """What is read of a run: a figure by its word, over another one where that is named."""

    figure: Literal["temp_max_c", "noise_dba"]
    over: Literal["room_c"] | None = None

    @property
    def words(self) -> tuple[str, ...]:
        return (self.figure, self.over) if self.over else (self.figure,)

    def of(self, run: RunFacts) -> float:
        """In the figure's unit; of a run in which all of it was read."""
        own: float = getattr(run, self.figure)
        beneath: float = getattr(run, self.over) if self.over else 0.0
        return own - beneath

    def unsure(self, before: Sequence[RunFacts], after: Sequence[RunFacts]) -> float:
        """Variance of the one side's mean less the other's, by what is not known of the corrections of the instruments that read
        both."""
        found = 0.0
        for word in self.words:
            doubt = next((run.doubts[word] for run in after if word in run.doubts), None)
            if doubt is None:
                continue
            first, second = (mean_of(getattr(run, word) for run in side) for side in (before, after))
            if first is not None and second is not None:
                found += doubt.of_difference(first, second) ** 2
        return found


OVER_ROOM, LOUDNESS = Level(*DEGREES), Level(*LOUD)


def difference(
    stock: Ran,
    one: Ran,
    workloads: Sequence[WorkloadFacts],
    level: Level,
    unit: Literal["°C", "dB(A)"],
) -> GoalMeasure | None:
    """A reading less stock's, less being better: means by workload, weighted; their deviation pooled over both sides.

    None where no workload was read on both sides by the same instruments.
    Source: two-sample t with pooled deviation, any textbook.
    """
    parts: list[tuple[float, list[float], list[float], float]] = []
    for workload in workloads:
        sides = [side.read(level.words, workload.id) for side in (stock, one)]
        readers = read_on_both(*sides)
        if readers is not None and workload.weight:
            alike = [side[readers] for side in sides]
            before, after = ([level.of(run) for run in runs] for runs in alike)
            parts.append((workload.weight, before, after, math.sqrt(level.unsure(*alike))))
    if not parts:
        return None
    total = sum(weight for weight, *_ in parts)
    # what is not known of a correction is one error for all workloads
    unsure = sum(weight / total * part for weight, _, _, part in parts)
    squares, df, spread, found = 0.0, 0, 0.0, 0.0
    for weight, before, after, _ in parts:
        share, means = weight / total, [sum(side) / len(side) for side in (before, after)]
        found += share * (means[1] - means[0])
        spread += share**2 * (1 / len(before) + 1 / len(after))
        for side, mean in ((before, means[0]), (after, means[1])):
            squares += sum((number - mean) ** 2 for number in side)
            df += len(side) - 1
    if not df:
        return GoalMeasure(unit, found, None, None, -found)
    half = float(special.stdtrit(df, 0.5 + CONFIDENCE / 2)) * math.sqrt(squares / df * spread + unsure**2)
    low, high = found - half, found + half
    return GoalMeasure(unit, found, low, high, -found, side=_side(low, high, 0.0, more_is_better=False))


def best_single(stock: Groups, one: Groups, workloads: Sequence[WorkloadFacts]) -> GoalMeasure | None:
    """Best result against stock's best, geometric mean over the workloads both have; a single result has no interval."""
    ratios = []
    for workload in workloads:
        before, after = (values_of(side.get(workload.id, ())) for side in (stock, one))
        if before and after and workload.weight:
            up = workload.higher_is_better
            ratios.append((workload.weight, max(after) / max(before) if up else min(before) / min(after)))
    if not ratios:
        return None
    score = sum(weight * math.log(ratio) for weight, ratio in ratios) / sum(weight for weight, _ in ratios)
    return GoalMeasure("ratio", math.exp(score), None, None, score)
