"""The six stages of a campaign: where it stands, and what blocks it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.what_counts import WISHED_RESOLUTION
from trelvo.core.message import Message, message
from trelvo.core.stats.noise import BASELINE_RUNS

StageName = Literal["Prepare", "Baseline", "Climb", "Prove", "Compare", "Keep"]
State = Literal["to do", "under way", "done", "stale"]


@dataclass(frozen=True)
class WorkloadProgress:
    """Runs that count at stock under the rig's present build and under an earlier one.

    resolved: whether they tell the difference apart that the user wishes to see
    wanted: runs at stock; one is enough where nothing but figures is measured
    """

    name: str
    stock_runs: int
    stock_runs_earlier_build: int
    resolved: bool
    wanted: int = BASELINE_RUNS


@dataclass(frozen=True)
class SettingProgress:
    """A setting above stock: its title, workloads with a run that counts, and failures."""

    title: str
    workloads_completed: int
    failures: int


@dataclass(frozen=True)
class Stage:
    """A stage's state, and what it found or what blocks it."""

    name: StageName
    state: State
    note: Message


@dataclass(frozen=True)
class Standing:
    """Where a campaign is. missing: what its description still lacks"""

    stages: tuple[Stage, ...]
    missing: tuple[Message, ...] = ()

    def state_of(self, name: StageName) -> State:
        return next(stage.state for stage in self.stages if stage.name == name)


@dataclass(frozen=True)
class Progress:
    """How far the work after the baseline has come: knobs at their hold of all, the best setting by the goal (its title and
    how it stands), how many of its conditions are open besides stability; kept: names of the kept settings."""

    knobs_done: int
    knobs: int
    best: str = ""
    best_stands: str = ""
    open_conditions: int = 0
    kept: tuple[str, ...] = ()


def stand(
    knob_count: int,
    has_build: bool,
    workloads: Sequence[WorkloadProgress],
    settings: Sequence[SettingProgress],
    wished_resolution: float = WISHED_RESOLUTION,
    enough_said: bool = False,
    proved: Sequence[str] = (),
    progress: Progress | None = None,
    passed: Sequence[str] = (),
) -> Standing:
    """State of every stage from counts alone.

    knob_count: knobs of the campaign; has_build: whether the rig is described; settings: settings other than stock
    wished_resolution: relative difference the baseline is to distinguish; enough_said: the user calls it done anyway
    proved: titles of the settings that passed a proof and are as surely stable as was asked for; passed: of those that passed one
    and are not; progress: None while the baseline is not done
    """
    prepare, missing = _prepare(knob_count, has_build, len(workloads))
    baseline = _baseline(workloads, wished_resolution, enough_said)
    ready = prepare.state == "done" and baseline.state == "done"
    climb = _climb(settings, ready, progress)
    safe = any(r.failures == 0 and workloads and r.workloads_completed == len(workloads) for r in settings)
    if proved:
        prove = Stage("Prove", "done", message("proved_as_asked", settings=tuple(proved)))
    elif passed:
        prove = Stage("Prove", "under way", message("proved_not_as_asked", settings=tuple(passed)))
    elif safe:
        prove = Stage("Prove", "under way", message("passed_every_workload_once"))
    else:
        prove = Stage("Prove", "to do", message("waits_for_every_workload"))
    return Standing(
        (prepare, baseline, climb, prove, _compare(workloads, settings, progress), _keep(progress)), missing
    )


def _compare(
    workloads: Sequence[WorkloadProgress], settings: Sequence[SettingProgress], progress: Progress | None
) -> Stage:
    compared = any(r.workloads_completed for r in settings) and any(w.stock_runs for w in workloads)
    if not compared:
        return Stage("Compare", "to do", message("waits_for_a_run"))
    if progress and progress.best and not progress.open_conditions:
        return Stage("Compare", "done", message("nothing_hangs_on_runs", setting=progress.best))
    open_ = progress.open_conditions if progress else 0
    note = message("conditions_not_shown", conditions=open_) if open_ else message("can_be_compared")
    return Stage("Compare", "under way", note)


def _keep(progress: Progress | None) -> Stage:
    if progress and progress.kept:
        return Stage("Keep", "done", message("settings_kept", names=progress.kept))
    if progress and progress.best_stands == "meets it":
        return Stage("Keep", "under way", message("setting_meets_goal", setting=progress.best))
    return Stage("Keep", "to do", message("waits_for_the_goal"))


def _prepare(knob_count: int, has_build: bool, workload_count: int) -> tuple[Stage, tuple[Message, ...]]:
    needed = {"missing_build": has_build, "missing_knob": knob_count > 0, "missing_workload": workload_count > 0}
    missing = tuple(message(code) for code, there in needed.items() if not there)
    if missing:
        return Stage("Prepare", "under way", message("still_missing", missing=missing)), missing
    return Stage("Prepare", "done", message("rig_described", knobs=knob_count, workloads=workload_count)), ()


def _baseline(workloads: Sequence[WorkloadProgress], wished: float, enough_said: bool) -> Stage:
    few = [w for w in workloads if w.stock_runs < w.wanted]
    coarse = [w for w in workloads if not w.resolved]
    aim = wished * 100
    if workloads and not coarse:
        return Stage("Baseline", "done", message("all_resolved", percent=aim))
    if workloads and enough_said and all(w.stock_runs for w in workloads):
        return Stage("Baseline", "done", message("baseline_accepted", percent=aim))
    if any(w.stock_runs_earlier_build >= w.wanted for w in few):
        return Stage("Baseline", "stale", message("build_has_changed"))
    if not any(w.stock_runs for w in workloads):
        return Stage("Baseline", "to do", message("run_baseline", runs=BASELINE_RUNS))
    if few:
        lacking = tuple(message("runs_of", workload=w.name, done=w.stock_runs, wanted=w.wanted) for w in few)
        return Stage("Baseline", "under way", message("still_short", workloads=lacking))
    names = tuple(w.name for w in coarse)
    return Stage("Baseline", "under way", message("not_resolved", percent=aim, workloads=names))


def _climb(settings: Sequence[SettingProgress], ready: bool, progress: Progress | None) -> Stage:
    tried = [r for r in settings if r.workloads_completed or r.failures]
    if not tried:
        return Stage("Climb", "to do", message("no_setting_tried" if ready else "waits_for_baseline"))
    failed = sum(bool(r.failures) for r in tried)
    if not (progress and progress.knobs):
        return Stage("Climb", "under way", message("settings_tried", settings=len(tried), failed=failed))
    done, knobs = progress.knobs_done, progress.knobs
    words = message("knobs_and_settings", done=done, knobs=knobs, settings=len(tried), failed=failed)
    return Stage("Climb", "done" if done == knobs else "under way", words)
