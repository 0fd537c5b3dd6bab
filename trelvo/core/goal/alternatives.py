"""Tune, buy, or leave it: what the alternatives give against stock, and what they cost."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.runs import RunFacts, values_of
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.goal.judging import Judged

Kind = Literal["keep stock", "tune", "buy"]


@dataclass(frozen=True)
class TargetRatio:
    """A target's overall speed against stock, from the results that were told; shared: workloads it rests on."""

    name: str
    ratio: float
    price: float | None
    shared: int


@dataclass(frozen=True)
class Alternative:
    """One way to go. ratio: overall speed against stock, with its 95 % interval where it was measured; price: what it costs

    per_percent: price of each percent of speed that it adds; says: in one sentence
    """

    kind: Kind
    name: str
    setting_id: int | None
    ratio: float
    low: float | None
    high: float | None
    price: float | None
    per_percent: float | None
    says: str


def target_ratio(
    name: str,
    results: Mapping[int, float],
    price: float | None,
    stock: Mapping[int, Sequence[RunFacts]],
    workloads: Sequence[WorkloadFacts],
) -> TargetRatio | None:
    """Weighted geometric mean of a target's results over stock's means; None where they share no workload.

    results: as told, by workload id: taken as exact, since nothing is known of their noise
    """
    total, logs, shared = 0.0, 0.0, 0
    for workload in workloads:
        runs = values_of(stock.get(workload.id, ()))
        if workload.id not in results or not runs or not workload.weight:
            continue
        ratio = results[workload.id] / (sum(runs) / len(runs))
        total += workload.weight
        logs += workload.weight * math.log(ratio if workload.higher_is_better else 1 / ratio)
        shared += 1
    return TargetRatio(name, math.exp(logs / total), price, shared) if total else None


def alternatives(
    best: Judged | None, stock_id: int, targets: Sequence[TargetRatio], own_price: float | None = None
) -> list[Alternative]:
    """Keep stock, tune to the best setting so far, buy each target; dearest last.

    best: by the goal, or where none meets it the fastest that did not fail; own_price: price of the part there is, which one
    that takes its place costs only the rest
    """
    found = [
        Alternative(
            "keep stock", "Keep stock", stock_id, 1.0, None, None, 0.0, None, "Nothing to pay, nothing to prove."
        )
    ]
    if best is not None and best.setting_id != stock_id and best.speed is not None:
        speed = best.speed
        shown = speed.low is not None and speed.low > 1
        says = "Costs bench time only." if shown else "Costs bench time only; a gain is not shown yet."
        if best.standing == "does not":
            says += " It does not meet the goal."
        elif best.standing != "meets it":
            says += " It is not proved yet."
        found.append(
            Alternative(
                "tune", f"Tune: {best.title}", best.setting_id, speed.ratio, speed.low, speed.high, 0.0, None, says
            )
        )
    tuned = found[-1].ratio
    for one in sorted(targets, key=lambda target: math.inf if target.price is None else target.price):
        more = (one.ratio - tuned) * 100
        price = None if one.price is None else one.price - (own_price or 0.0)
        per = price / more if price and price > 0 and more > 0 else None
        says = f"As reported, on {one.shared} {'workload' if one.shared == 1 else 'workloads'}."
        if more <= 0:
            says += " No faster than what there is."
        elif one.price is None:
            says += " Type its price to see what each percent costs."
        if one.price is not None and own_price:
            says += f" {one.price:g}, of which the own part is worth {own_price:g}."
        found.append(Alternative("buy", f"Buy: {one.name}", None, one.ratio, None, None, price, per, says))
    return found


def worth_tuning(best: Judged | None, judged: Sequence[Judged], stock_id: int) -> Judged | None:
    """The setting that stands for tuning: the best by the goal, else the fastest of those that never failed."""
    if best is not None and best.setting_id != stock_id:
        return best
    faster = [
        one
        for one in judged
        if one.setting_id != stock_id and one.speed is not None and one.speed.ratio > 1 and not one.failures
    ]
    return max(faster, key=lambda one: one.speed.ratio if one.speed else 0.0, default=best)
