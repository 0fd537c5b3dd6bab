"""Tune, buy, or leave it: what the alternatives give against stock, and what they cost."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.runs import RunFacts, values_of
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.goal.judging import Judged
from trelvo.core.message import Message, message

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

    per_percent: price of each percent of speed that it adds; says: what it costs and what is known of it
    """

    kind: Kind
    name: Message
    setting_id: int | None
    ratio: float
    low: float | None
    high: float | None
    price: float | None
    per_percent: float | None
    says: Message


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
            kind="keep stock",
            name=message("keep_stock"),
            setting_id=stock_id,
            ratio=1.0,
            low=None,
            high=None,
            price=0.0,
            per_percent=None,
            says=message("nothing_to_pay"),
        )
    ]
    if best is not None and best.setting_id != stock_id and best.speed is not None:
        speed = best.speed
        shown = speed.low is not None and speed.low > 1
        says = message("bench_time_only" if shown else "bench_time_gain_not_shown")
        if best.standing != "meets it":
            says = says.then(message("tuned_misses_goal" if best.standing == "does not" else "tuned_not_proved"))
        name = message("tune_to", setting=best.title)
        found.append(
            Alternative(
                kind="tune",
                name=name,
                setting_id=best.setting_id,
                ratio=speed.ratio,
                low=speed.low,
                high=speed.high,
                price=0.0,
                per_percent=None,
                says=says,
            )
        )
    tuned = found[-1].ratio
    for one in sorted(targets, key=lambda target: math.inf if target.price is None else target.price):
        more = (one.ratio - tuned) * 100
        price = None if one.price is None else one.price - (own_price or 0.0)
        per = price / more if price and price > 0 and more > 0 else None
        says = message("as_reported", workloads=one.shared)
        if more <= 0:
            says = says.then(message("no_faster"))
        elif one.price is None:
            says = says.then(message("type_its_price"))
        if one.price is not None and own_price:
            says = says.then(message("price_less_own", price=one.price, own_price=own_price))
        found.append(
            Alternative(
                kind="buy",
                name=message("buy_target", target=one.name),
                setting_id=None,
                ratio=one.ratio,
                low=None,
                high=None,
                price=price,
                per_percent=per,
                says=says,
            )
        )
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
