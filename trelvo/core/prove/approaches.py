"""Proving a setting by four approaches: what each asks for, what is missing, and what a pass would say.

A failure at the setting ends every proof until it is set aside for another cause. Trelvo takes no side between the approachs;
each verdict names its own and says what it cannot tell.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal, cast

from trelvo.core.base.figures import Part as FigurePart
from trelvo.core.base.load_kinds import PARTS, Load, LoadKind, Technique, heaviest, loads_for, techniques_to_cover
from trelvo.core.base.presets import PresetLoad
from trelvo.core.climb.edge import EdgePosterior
from trelvo.core.climb.stability import ACCEPTED_PER_H, fewer_than, hours_to_show, passes
from trelvo.core.message import Message, message
from trelvo.core.prove.tested import ProofRun, breadth, rate_of
from trelvo.core.registry.approaches import Approach
from trelvo.core.registry.goals import SURE
from trelvo.core.registry.outcomes import FAILURES

ItemState = Literal["done", "under way", "missing", "failed", "no workload"]
ProofState = Literal["proved", "under way", "not begun", "failed"]

# What each approach asks for, in minutes. Common practice.
WORST_MINUTES = 240.0
USED_MINUTES, USED_DAYS = 120.0, 3
MIXED_SEE, MIXED_BELIEVE, MIXED_WHOLE = 15.0, 60.0, 30.0
# A longer stretch is made of several runs, so that one crash does not cost all of it.
MOST_RUN_MINUTES = 120.0
MOST_RUNS = 20
USED_KINDS: tuple[LoadKind, ...] = ("title", "everyday")
HARD_TECHNIQUES = ("ray tracing", "upscaling", "frame generation")


@dataclass(frozen=True)
class Item:
    """One part of a test suite. needed, done: minutes, or days where `unit` says so; load_id: the workload to do it with

    runs: how many runs of the workload would finish it; run_minutes: how long each is to last, None where it ends by itself
    wants: where no workload does it, one that would
    """

    key: str
    title: Message
    why: Message
    unit: Literal["min", "days", ""]
    needed: float
    done: float
    state: ItemState
    load_id: int | None = None
    runs: int = 1
    run_minutes: float | None = None
    in_one_go: bool = False
    wants: PresetLoad | None = None

    @property
    def minutes_left(self) -> float:
        if self.unit != "min" or self.state == "no workload" or self.needed <= self.done:
            return 0.0
        return self.needed if self.in_one_go else self.needed - self.done


@dataclass(frozen=True)
class Proof:
    """A setting's proof by one approach. verdict: what it says so far."""

    approach: Approach
    state: ProofState
    items: tuple[Item, ...]
    verdict: Message
    minutes_left: float


def prove(
    approach: Approach,
    runs: Sequence[ProofRun],
    loads: Sequence[Load],
    per_h: float = ACCEPTED_PER_H,
    sure: float = SURE,
    belief: EdgePosterior | None = None,
    value: float | None = None,
    *,
    part: FigurePart | None = None,
    cautious: bool = False,
) -> Proof:
    """A setting's proof by an approach.

    runs: all runs at the setting that were not set aside; loads: what the campaign can test with
    per_h, sure: accepted failures an hour, and how sure to be (statistical approach only)
    belief, value, part, cautious: what is believed of a knob, where the setting stands on it, the part it turns, and how
    carefully it
    is read (statistical approach only)
    """
    if approach == "statistical":
        return _statistical(runs, loads_for([part] if part else [], loads), per_h, sure, belief, value, cautious)
    items = {"worst case": _worst_case, "as used": _as_used, "mixed load": _mixed}[approach](runs, loads)
    failed = [run for run in runs if run.outcome in FAILURES]
    survived = sum(run.minutes for run in runs if run.outcome not in FAILURES and _is_of(approach, run.load))
    missing = [item for item in items if item.state in ("missing", "under way", "no workload")]
    state: ProofState = "failed" if failed else "under way" if missing else "proved"
    if state == "under way" and survived < 1:
        state = "not begun"
    verdict = _verdict(approach, state, runs, survived)
    return Proof(approach, state, tuple(items), verdict, sum(item.minutes_left for item in items))


def _is_of(approach: Approach, load: Load) -> bool:
    """Whether a load's time counts for an approach: its verdict speaks of nothing else."""
    if approach == "worst case":
        return load.kind == "stress test"
    if approach == "as used":
        return load.kind in USED_KINDS
    return _is_both(load) or _is_whole(load)


def _is_both(load: Load) -> bool:
    return {"graphics", "processor"} <= load.parts


def _is_whole(load: Load) -> bool:
    return load.parts >= {"memory", "storage"} and load.kind != "stress test"


def _verdict(approach: Approach, state: ProofState, runs: Sequence[ProofRun], survived: float) -> Message:
    if state == "failed":
        first = next(run for run in runs if run.outcome in FAILURES)
        return message(
            "proof_failed", approach=approach, workload=first.load.name, outcome=first.outcome, minutes=first.minutes
        )
    if state == "not begun":
        return message("proof_not_begun", approach=approach)
    hours = survived / 60
    return message(
        "proof_passed" if state == "proved" else "proof_not_complete",
        approach=approach,
        minutes=survived,
        fewer_than=fewer_than(hours),
        passed=passes(0.2, hours) * 100,
    )


def _item(
    key: str,
    title: Message,
    why: Message,
    needed: float,
    mine: Sequence[ProofRun],
    load: Load | None,
    longest: bool = False,
) -> Item:
    """An item counted in minutes survived; with `longest` in one go."""
    held = [run.minutes for run in mine if run.outcome not in FAILURES]
    done = max(held, default=0.0) if longest else sum(held)
    state: ItemState = "done" if done >= needed - 1e-6 else "under way" if done else "missing"
    if load is None:
        state = "no workload"
    if any(run.outcome in FAILURES for run in mine):
        state = "failed"
    return _with_runs(Item(key, title, why, "min", needed, done, state, in_one_go=longest), load)


def _with_runs(item: Item, load: Load | None) -> Item:
    """The item with the workload to finish it: one run as long as it takes, or as many as it needs."""
    if load is None:
        return replace(item, wants=_wanted(item.key))
    left = item.minutes_left or load.minutes
    minutes = None if load.by_itself else min(left, MOST_RUN_MINUTES)
    return replace(item, load_id=load.id, runs=min(load.runs_for(left), MOST_RUNS), run_minutes=minutes)


def _wanted(key: str) -> PresetLoad | None:
    """A workload that would do an item of a test suite, under a name that says what it is for."""
    if key in PARTS:
        return PresetLoad(f"A {key} stress test", "score", "points", 30, "stress test", (key,))
    if key in ("heaviest", "see", "believe"):
        return PresetLoad("A stress test of both", "score", "points", 30, "stress test", ("graphics", "processor"))
    if key == "whole":
        return PresetLoad("A whole-system test", "score", "points", 30, "everyday", ("memory", "storage", "processor"))
    if key == "own":
        return PresetLoad("What I do all day", "score", "points", 10, "everyday", ("processor",))
    if key.startswith("technique-"):
        technique = cast(Technique, key.removeprefix("technique-"))
        return PresetLoad(f"A title with {technique}", "score", "points", 5, "title", ("graphics",), (technique,))
    return None


def _worst_case(runs: Sequence[ProofRun], loads: Sequence[Load]) -> list[Item]:
    stress = [load for load in loads if load.kind == "stress test"]
    items = []
    for part in PARTS[:3]:
        touching = [load for load in stress if part in load.parts]
        if not touching and not any(part in load.parts for load in loads):
            continue
        load = heaviest(touching)
        ids = {one.id for one in touching}
        why = message("hours_on_part", hours=WORST_MINUTES / 60, part=part)
        mine = [run for run in runs if run.load.id in ids]
        items.append(_item(part, message("heaviest_on_part", part=part), why, WORST_MINUTES, mine, load))
    if not items:
        title = message("heaviest_load")
        items.append(_item("heaviest", title, message("hours_of_heaviest"), WORST_MINUTES, [], None))
    return items


def _as_used(runs: Sequence[ProofRun], loads: Sequence[Load]) -> list[Item]:
    own = [load for load in loads if load.kind in USED_KINDS]
    items = [
        _item(
            f"load-{load.id}", message("load_itself", workload=load.name),
            message("hours_of_use", hours=USED_MINUTES / 60), USED_MINUTES,
            [run for run in runs if run.load.id == load.id], load,
        )
        for load in own
    ]  # fmt: skip
    if not own:
        items.append(_item("own", message("your_own_use"), message("what_the_rig_is_for"), USED_MINUTES, [], None))
    seen = breadth(runs, loads)
    to_cover = techniques_to_cover(loads)
    for technique in (one for one in HARD_TECHNIQUES if one in to_cover):
        having = next((load for load in loads if technique in load.techniques), None)
        state: ItemState = "done" if technique in seen.techniques else "missing" if having else "no workload"
        title, why = message("with_technique", technique=technique), message("each_finds_faults")
        item = Item(f"technique-{technique}", title, why, "", 1, float(state == "done"), state)
        items.append(_with_runs(item, having))
    days = len({run.day for run in runs if run.load.kind in USED_KINDS and run.outcome not in FAILURES})
    day_state: ItemState = "done" if days >= USED_DAYS else "under way" if days else "missing"
    title, why = message("on_several_days"), message("another_day")
    items.append(Item("days", title, why, "days", USED_DAYS, days, day_state))
    return items


def _mixed(runs: Sequence[ProofRun], loads: Sequence[Load]) -> list[Item]:
    both = [load for load in loads if _is_both(load)]
    # memory and storage are what this item adds: a load of graphics and processor alone is none of it
    whole = [load for load in loads if _is_whole(load)]
    both_ids, whole_ids = {load.id for load in both}, {load.id for load in whole}
    together = [run for run in runs if run.load.id in both_ids]
    return [
        _item(
            "see", message("both_to_see"), message("minutes_in_one_go", minutes=MIXED_SEE), MIXED_SEE,
            together, heaviest(both), True,
        ),
        _item(
            "believe", message("both_to_believe"), message("half_is_a_start", minutes=MIXED_BELIEVE), MIXED_BELIEVE,
            together, heaviest(both),
        ),
        _item(
            "whole", message("whole_system"), message("minutes_with_memory", minutes=MIXED_WHOLE), MIXED_WHOLE,
            [run for run in runs if run.load.id in whole_ids], heaviest(whole, "storage"),
        ),
    ]  # fmt: skip


def _statistical(
    runs: Sequence[ProofRun],
    loads: Sequence[Load],
    per_h: float,
    sure: float,
    belief: EdgePosterior | None,
    value: float | None,
    cautious: bool,
) -> Proof:
    load = heaviest(loads)
    rate = rate_of(runs)
    hours = 1 / per_h
    if belief is None or value is None:
        left = max(0.0, hours_to_show(per_h, sure, rate.failures) - rate.hours) * 60
        held = left <= 0
        says = message("stock_by_its_own_time")
        if rate.hours and not rate.failures:
            rare = message("fewer_failures_than", fewer_than=fewer_than(rate.hours, sure), sure=sure * 100)
            says = says.then(rare)
    else:
        chance = belief.chance_stable(value, per_h, cautious=cautious)
        left = belief.minutes_to_believe(value, per_h, sure, cautious=cautious)
        held = chance >= sure
        middle, low, high = belief.rate(value)
        says = message(
            "fails_by_all_trials",
            per_h=middle, low_per_h=low, high_per_h=high, chance=chance, hours=hours, sure=sure * 100,
        )  # fmt: skip
    verdict = message("holds_statistically" if held else "not_shown_statistically").then(says)
    if math.isinf(left):
        verdict = verdict.then(message("no_time_would_show"))
    state: ProofState = "proved" if held else "under way" if rate.hours else "not begun"
    item_state: ItemState = (
        "done" if held else "failed" if math.isinf(left) else "under way" if rate.hours else "missing"
    )
    done, more = rate.hours * 60, 0.0 if math.isinf(left) else left
    title, why = message("no_more_than_one_in", hours=hours), message("sure_from_trials", sure=sure * 100)
    item = _with_runs(Item("numbers", title, why, "min", done + more, done, item_state), load)
    return Proof("statistical", state, (item,), verdict, more)


def taught_by(item: Item) -> float:
    """How much finishing an item adds: by how many e-folds its bound on failures falls, ten minutes taken as known before.

    What has not been begun counts once more: breadth finds what depth does not. Common practice.
    """
    fallen = math.log((item.done + item.minutes_left + 10) / (item.done + 10))
    return fallen * (2.0 if item.done == 0 else 1.0)
