"""The six stages of a campaign: where it stands, what blocks it, and the next step."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.measure.baseline import BASELINE_RUNS, WISHED_RESOLUTION

StageName = Literal["Prepare", "Baseline", "Climb", "Prove", "Compare", "Keep"]
State = Literal["to do", "under way", "done", "stale"]


@dataclass(frozen=True)
class WorkloadProgress:
    """Runs that count at stock under the rig's present fitting and under an earlier one.

    resolved: whether they tell the difference apart that the user wishes to see
    """

    name: str
    stock_runs: int
    stock_runs_earlier_fitting: int
    resolved: bool


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
    """The answers to: where am I, what did I gain, what do I do next."""

    stages: tuple[Stage, ...]
    current: StageName
    next_step: str


def stand(
    knob_count: int,
    has_fitting: bool,
    workloads: Sequence[WorkloadProgress],
    rungs: Sequence[RungProgress],
    wished_resolution: float = WISHED_RESOLUTION,
    enough_said: bool = False,
    proved: Sequence[str] = (),
) -> Standing:
    """State of every stage from counts alone.

    knob_count: knobs of the campaign; has_fitting: whether the rig is described; rungs: settings other than stock
    wished_resolution: relative difference the baseline is to tell apart; enough_said: the user calls it done anyway
    proved: titles of the settings that have passed a school's proof
    """
    prepare = _prepare(knob_count, has_fitting, len(workloads))
    baseline = _baseline(workloads, wished_resolution, enough_said)
    ready = prepare.state == "done" and baseline.state == "done"
    climb = _climb(rungs, ready)
    safe = any(r.failures == 0 and workloads and r.workloads_completed == len(workloads) for r in rungs)
    if proved:
        prove = Stage("Prove", "done", f"Proved by a school: {'; '.join(proved)}.")
    else:
        prove = Stage("Prove", "under way" if safe else "to do", _READY_TO_PROVE if safe else _NOT_READY)
    compared = any(r.workloads_completed for r in rungs) and any(w.stock_runs for w in workloads)
    words = "Stock and a rung can be compared." if compared else "Waits for a rung with a completed run."
    compare = Stage("Compare", "under way" if compared else "to do", words)
    keep = Stage("Keep", "to do", "Ready when a setting has been proved and compared.")
    stages = (prepare, baseline, climb, prove, compare, keep)
    current: StageName = next((s.name for s in stages[:2] if s.state != "done"), "Climb")
    return Standing(stages, current, _next_step(prepare, workloads, baseline, rungs))


_READY_TO_PROVE = "A rung has passed every workload once; that is no proof yet."
_NOT_READY = "Ready when a rung has passed every workload."


def _prepare(knob_count: int, has_fitting: bool, workload_count: int) -> Stage:
    needed = {"the rig's fitting": has_fitting, "a knob": knob_count > 0, "a workload": workload_count > 0}
    missing = [word for word, there in needed.items() if not there]
    if missing:
        return Stage("Prepare", "under way", f"Still missing: {', '.join(missing)}.")
    return Stage(
        "Prepare", "done", f"{_count(knob_count, 'knob')}, {_count(workload_count, 'workload')}, rig described."
    )


def _baseline(workloads: Sequence[WorkloadProgress], wished: float, enough_said: bool) -> Stage:
    few = [w for w in workloads if w.stock_runs < BASELINE_RUNS]
    coarse = [w for w in workloads if not w.resolved]
    aim = f"{wished * 100:g} %"
    if workloads and not coarse:
        return Stage("Baseline", "done", f"Every workload tells {aim} apart.")
    if workloads and enough_said and all(w.stock_runs for w in workloads):
        return Stage("Baseline", "done", f"Called enough, although not every workload tells {aim} apart.")
    if any(w.stock_runs_earlier_fitting >= BASELINE_RUNS for w in few):
        return Stage("Baseline", "stale", "The rig's fitting has changed since stock was measured; measure it again.")
    if not any(w.stock_runs for w in workloads):
        return Stage("Baseline", "to do", f"Run every workload {BASELINE_RUNS} times at stock.")
    if few:
        lacking = ", ".join(f"{w.name} ({w.stock_runs} of {BASELINE_RUNS})" for w in few)
        return Stage("Baseline", "under way", f"Still short: {lacking}.")
    return Stage("Baseline", "under way", f"Cannot tell {aim} apart yet: {', '.join(w.name for w in coarse)}.")


def _climb(rungs: Sequence[RungProgress], ready: bool) -> Stage:
    tried = [r for r in rungs if r.workloads_completed or r.failures]
    if not tried:
        return Stage("Climb", "to do", "No rung tried yet." if ready else "Waits for the baseline.")
    failed = [r for r in tried if r.failures]
    words = f"{_count(len(tried), 'rung')} tried, {_count(len(failed), 'of them failed', plural='of them failed')}."
    return Stage("Climb", "under way", words)


def _next_step(
    prepare: Stage, workloads: Sequence[WorkloadProgress], baseline: Stage, rungs: Sequence[RungProgress]
) -> str:
    if prepare.state != "done":
        return "Finish the description: " + prepare.note[0].lower() + prepare.note[1:]
    if baseline.state != "done":
        target = min((w for w in workloads if not w.resolved), key=lambda w: w.stock_runs)
        more = max(1, BASELINE_RUNS - target.stock_runs)
        return f"Log {_count(more, 'more run' if target.stock_runs else 'run')} of {target.name} at stock."
    untried = [r for r in rungs if not r.workloads_completed and not r.failures]
    if untried:
        return f"Test {untried[0].title}: one run of each workload."
    part = [r for r in rungs if not r.failures and 0 < r.workloads_completed < len(workloads)]
    if part:
        return f"Run the remaining workloads at {part[-1].title}."
    return "Follow the advice on the climb, or prove the last rung that held."


def _count(number: int, word: str, plural: str | None = None) -> str:
    return f"{number} {word if number == 1 else plural or word + 's'}"
