"""One budget of watts for two parts: the split that pays, the limit on one part that makes it, the shared limit for a goal.

Nothing is told beyond what a part was seen to draw, and a gain only where it is sure. Source: the law of `split_law`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.laws.heat import SURE, Interval
from trelvo.core.laws.power_split import Numbers, SplitLaw, interval_of

# A setting and a workload.
Place = tuple[int, int]
# Less than this, in ln of speed, is no gain worth naming.
LEAST_GAIN = 0.001
# A run this close to the most that any drew for its limit is held by it. Common practice: controllers stay just below.
AT_LIMIT = 0.94
# Splits that are looked at between the ends.
SPLITS = 61


def _surest(gains: Sequence[Numbers]) -> int | None:
    """Which of some gains (ln, by draw) is surely the largest: by the lower end of its interval; None where none surely gains."""
    ends = [float(np.quantile(gain, (1 - SURE) / 2)) for gain in gains]
    best = int(np.argmax(ends)) if ends else None
    return best if best is not None and ends[best] > LEAST_GAIN else None


@dataclass(frozen=True)
class Split:
    """Watts of both parts, and the speed against what they get now, as a ratio."""

    first_w: float
    second_w: float
    gain: Interval


def best_split(law: SplitLaw, first_w: float, second_w: float) -> Split:
    """How the same watts would best be split, looked for only where each part was seen to run: at most what it has drawn, and
    at least. As it is where no other split is surely better."""
    total = first_w + second_w
    low = max(law.first_seen[0], total - law.second_seen[1])
    high = min(law.first_seen[1], total - law.second_seen[0])
    choices = [float(one) for one in np.linspace(low, high, SPLITS)] if low < high else []
    gains = [law.change((first_w, second_w), (choice, total - choice)) for choice in choices]
    best = _surest(gains)
    if best is None:
        return Split(first_w, second_w, Interval(1.0, 1.0, 1.0))
    return Split(choices[best], total - choices[best], interval_of(np.exp(gains[best])))


@dataclass(frozen=True)
class Use:
    """A workload at one power limit: its law, what both parts get now, its weight, and whether the limit holds it back.

    log_ratio: ln of its speed now against stock's
    """

    law: SplitLaw
    first_w: float
    second_w: float
    weight: float
    held: bool
    log_ratio: float = 0.0


@dataclass(frozen=True)
class Ceiling:
    """A limit on one part by itself. part: 1 or 2, 0: none surely pays

    gain: overall speed against what the same limit gives now; ratio: against stock
    """

    part: int
    watts: float
    gain: Interval
    ratio: Interval


def best_ceiling(uses: Sequence[Use], step_w: float = 1.0) -> Ceiling:
    """The one limit on one of the two parts that brings most over all workloads, at the package limit that they share.

    What the limited part gives up, the other takes where the package limit holds it back, up to the most it was seen to draw.
    """
    choices: list[tuple[int, float]] = []
    for part, now, seen in (
        (1, [use.first_w for use in uses], [use.law.first_seen for use in uses]),
        (2, [use.second_w for use in uses], [use.law.second_seen for use in uses]),
    ):
        # no lower than every workload was seen to run with; what lies above all of them limits nothing
        floor, top = max(min(low, own) for (low, _), own in zip(seen, now, strict=True)), max(now)
        first = np.ceil(floor / step_w) * step_w
        choices += [(part, float(one)) for one in np.arange(first, top, step_w)]
    total = sum(use.weight for use in uses)
    gains = [
        np.sum(
            [
                use.weight / total * use.law.change((use.first_w, use.second_w), _limited(use, part, watts))
                for use in uses
            ],
            axis=0,
        )
        for part, watts in choices
    ]
    before = sum(use.weight * use.log_ratio for use in uses) / total
    best = _surest(gains)
    if best is None:
        ratio = float(np.exp(before))
        return Ceiling(0, 0.0, Interval(1.0, 1.0, 1.0), Interval(ratio, ratio, ratio))
    return Ceiling(*choices[best], interval_of(np.exp(gains[best])), interval_of(np.exp(before + gains[best])))


def _limited(use: Use, part: int, watts: float) -> tuple[float, float]:
    if part == 1 and use.first_w > watts:
        freed = use.first_w - watts if use.held else 0.0
        return watts, max(use.second_w, min(use.second_w + freed, use.law.second_seen[1]))
    if part == 2 and use.second_w > watts:
        freed = use.second_w - watts if use.held else 0.0
        return max(use.first_w, min(use.first_w + freed, use.law.first_seen[1])), watts
    return use.first_w, use.second_w


def held_back(read: Mapping[Place, tuple[float, float]]) -> frozenset[Place]:
    """The places whose watts the shared limit holds back; none where it was never seen to hold.

    read: by place, the limit as it was set (in any unit) and the watts of all together. The limit is seen to hold where at two
    values of it, or more, the same share of it was drawn
    """
    shares = {at: watts / limit for at, (limit, watts) in read.items() if limit > 0}
    most = max(shares.values(), default=0.0)
    held = frozenset(at for at, share in shares.items() if share >= AT_LIMIT * most)
    return held if len({read[at][0] for at in held}) > 1 else frozenset()


@dataclass(frozen=True)
class LimitPlan:
    """A shared limit with the best split at it. watts: the most that any workload draws there; frames: the least frame rate
    there now, None where the goal asks for none"""

    setting_id: int
    watts: float
    ceiling: Ceiling
    frames: float | None = None


def best_limit(
    plans: Sequence[LimitPlan], faster: bool, least_speed: float | None, most_w: float | None, frames: float | None
) -> LimitPlan | None:
    """The limit that a goal asks for: the fastest within its watts, or the least watts that keep its speed; None where none does.

    faster: whether speed is what the goal improves; else watts are; least_speed: as a ratio; frames: to be held everywhere
    """
    fit = [
        plan
        for plan in plans
        if (most_w is None or plan.watts <= most_w)
        and (least_speed is None or plan.ceiling.ratio.value >= least_speed)
        and (frames is None or (plan.frames is not None and plan.frames * plan.ceiling.gain.value >= frames))
    ]
    if faster:
        return max(fit, key=lambda one: (one.ceiling.ratio.value, -one.watts), default=None)
    return min(fit, key=lambda one: (one.watts, -one.ceiling.ratio.value), default=None)
