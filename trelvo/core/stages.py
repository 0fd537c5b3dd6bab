"""The six stages of a campaign: where it stands, and what blocks it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.what_counts import WISHED_RESOLUTION
from trelvo.core.measure.baseline import BASELINE_RUNS

StageName = Literal["Prepare", "Baseline", "Climb", "Prove", "Compare", "Keep"]
State = Literal["to do", "under way", "done", "stale"]


@dataclass(frozen=True)
class WorkloadProgress:
    """Runs that count at stock under the rig's present fitting and under an earlier one.

    resolved: whether they tell the difference apart that the user wishes to see
    wanted: runs at stock; one is enough where nothing but figures is measured
    """

    name: str
    stock_runs: int
    stock_runs_earlier_fitting: int
    resolved: bool
    wanted: int = BASELINE_RUNS


@dataclass(frozen=True)
class RungProgress:
    """A rung above stock: its title, workloads with a run that counts, and failures."""

    title: str
    workloads_completed: int
    failures: int


@dataclass(frozen=True)
class Stage:
    """A stage's state, and in one sentence what it found or what blocks it."""

    name: StageName
    state: State
    note: str


@dataclass(frozen=True)
class Standing:
    """Where a campaign is. missing: what its description still lacks"""

    stages: tuple[Stage, ...]
    missing: tuple[str, ...] = ()

    def state_of(self, name: StageName) -> State:
        return next(stage.state for stage in self.stages if stage.name == name)


@dataclass(frozen=True)
class Progress:
    """How far the work after the baseline has come: knobs at their hold of all, the best setting by the goal (its title and
    how it stands), how many of its conditions are open besides stability; kept: names of the keepers."""

    knobs_done: int
    knobs: int
    best: str = ""
    best_stands: str = ""
    open_conditions: int = 0
    kept: tuple[str, ...] = ()


def stand(
    knob_count: int,
    has_fitting: bool,
    workloads: Sequence[WorkloadProgress],
    rungs: Sequence[RungProgress],
    wished_resolution: float = WISHED_RESOLUTION,
    enough_said: bool = False,
    proved: Sequence[str] = (),
    progress: Progress | None = None,
    passed: Sequence[str] = (),
) -> Standing:
    """State of every stage from counts alone.

    knob_count: knobs of the campaign; has_fitting: whether the rig is described; rungs: settings other than stock
    wished_resolution: relative difference the baseline is to tell apart; enough_said: the user calls it done anyway
    proved: titles of the settings that passed a proof and are as surely stable as was asked for; passed: of those that passed one
    and are not; progress: None while the baseline is not done
    """
    prepare, missing = _prepare(knob_count, has_fitting, len(workloads))
    baseline = _baseline(workloads, wished_resolution, enough_said)
    ready = prepare.state == "done" and baseline.state == "done"
    climb = _climb(rungs, ready, progress)
    safe = any(r.failures == 0 and workloads and r.workloads_completed == len(workloads) for r in rungs)
    if proved:
        prove = Stage("Prove", "done", f"Proved, and as surely stable as you asked: {'; '.join(proved)}.")
    elif passed:
        note = f"Passed a proof, but not yet as surely stable as you asked: {'; '.join(passed)}."
        prove = Stage("Prove", "under way", note)
    else:
        prove = Stage("Prove", "under way" if safe else "to do", _READY_TO_PROVE if safe else _NOT_READY)
    return Standing((prepare, baseline, climb, prove, _compare(workloads, rungs, progress), _keep(progress)), missing)


def _compare(workloads: Sequence[WorkloadProgress], rungs: Sequence[RungProgress], progress: Progress | None) -> Stage:
    compared = any(r.workloads_completed for r in rungs) and any(w.stock_runs for w in workloads)
    if not compared:
        return Stage("Compare", "to do", "Waits for a rung with a completed run.")
    if progress and progress.best and not progress.open_conditions:
        return Stage("Compare", "done", f"{progress.best}: nothing hangs on further runs.")
    open_ = progress.open_conditions if progress else 0
    return Stage(
        "Compare", "under way", f"{_count(open_, 'condition')} not shown yet." if open_ else "Can be compared."
    )


def _keep(progress: Progress | None) -> Stage:
    if progress and progress.kept:
        return Stage("Keep", "done", f"Kept: {', '.join(progress.kept)}.")
    if progress and progress.best_stands == "meets it":
        return Stage("Keep", "under way", f"{progress.best} meets the goal.")
    return Stage("Keep", "to do", "Ready when a setting meets the goal.")


_READY_TO_PROVE = "A rung has passed every workload once; that is no proof yet."
_NOT_READY = "Ready when a rung has passed every workload."


def _prepare(knob_count: int, has_fitting: bool, workload_count: int) -> tuple[Stage, tuple[str, ...]]:
    needed = {"the rig's fitting": has_fitting, "a knob": knob_count > 0, "a workload": workload_count > 0}
    missing = tuple(word for word, there in needed.items() if not there)
    if missing:
        return Stage("Prepare", "under way", f"Still missing: {', '.join(missing)}."), missing
    words = f"{_count(knob_count, 'knob')}, {_count(workload_count, 'workload')}, rig described."
    return Stage("Prepare", "done", words), ()


def _baseline(workloads: Sequence[WorkloadProgress], wished: float, enough_said: bool) -> Stage:
    few = [w for w in workloads if w.stock_runs < w.wanted]
    coarse = [w for w in workloads if not w.resolved]
    aim = f"{wished * 100:g} %"
    if workloads and not coarse:
        return Stage("Baseline", "done", f"Every workload tells {aim} apart.")
    if workloads and enough_said and all(w.stock_runs for w in workloads):
        return Stage("Baseline", "done", f"Accepted, although not every workload tells {aim} apart.")
    if any(w.stock_runs_earlier_fitting >= w.wanted for w in few):
        return Stage("Baseline", "stale", "The rig's fitting has changed since stock was measured; measure it again.")
    if not any(w.stock_runs for w in workloads):
        return Stage("Baseline", "to do", f"Run every workload {BASELINE_RUNS} times at stock.")
    if few:
        lacking = ", ".join(f"{w.name} ({w.stock_runs} of {w.wanted})" for w in few)
        return Stage("Baseline", "under way", f"Still short: {lacking}.")
    return Stage("Baseline", "under way", f"Cannot tell {aim} apart yet: {', '.join(w.name for w in coarse)}.")


def _climb(rungs: Sequence[RungProgress], ready: bool, progress: Progress | None) -> Stage:
    tried = [r for r in rungs if r.workloads_completed or r.failures]
    if not tried:
        return Stage("Climb", "to do", "No setting tried yet." if ready else "Waits for the baseline.")
    failed = sum(bool(r.failures) for r in tried)
    words = f"{_count(len(tried), 'setting')} tried, {failed or 'none'} failed."
    if progress and progress.knobs:
        words = f"{progress.knobs_done} of {_count(progress.knobs, 'knob')} at the hold; {words}"
        if progress.knobs_done == progress.knobs:
            return Stage("Climb", "done", words)
    return Stage("Climb", "under way", words)


def _count(number: int, word: str) -> str:
    return f"{number} {word if number == 1 else word + 's'}"
