"""What a setting that is in use asks for: the cause of a failure, a step down, or its proof checked again."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from trelvo.core.message import Message, message
from trelvo.core.prove.staleness import CheckItem
from trelvo.core.stages import Stage, Standing
from trelvo.core.task import Act, Task

# A step down is kept by what it gains: so many runs of each workload say it. Common practice.
LOWER_RUNS = 2
_ACTS: Mapping[str, Act] = {"control": "run", "hold": "prove", "gain": "compare"}


@dataclass(frozen=True)
class KeptNow:
    """A kept setting in use.

    failed: in use, the cause not found yet; lower: the values to keep instead where the tuning was to blame, None where it was
    not, with their title and their setting, 0 where there is none yet
    probe_minutes: how long the next test of the search for that cause takes
    check: the shortest that brings the proof back; empty while it stands; settled: whether one does; changed: why
    stale: whether it was shown once; else the check is what was never done
    """

    name: str
    title: str
    setting_id: int
    failed: bool = False
    probe_minutes: float = 0.0
    lower: Mapping[str, float] | None = None
    lower_title: str = ""
    lower_id: int = 0
    check: Sequence[CheckItem] = ()
    settled: bool = True
    changed: Sequence[Message] = field(default_factory=tuple)
    stale: bool = True


def standing_in_use(standing: Standing, kept: Sequence[KeptNow]) -> Standing:
    """The same; its last stage is stale while a kept setting in use asks for something, under way while it was not shown yet."""
    asking = [one for one in kept if one.failed or one.lower is not None or one.check or not one.settled]
    if not asking:
        return standing
    stale = any(one.failed or one.lower is not None or one.stale for one in asking)
    keep = Stage("Keep", "stale" if stale else "under way", _asks(asking[0]).then(*map(_asks, asking[1:])))
    stages = (keep if stage.name == "Keep" else stage for stage in standing.stages)
    return Standing(tuple(stages), standing.missing)


def _asks(kept: KeptNow) -> Message:
    if kept.failed:
        return message("kept_failed_in_use", name=kept.name)
    stale = kept.stale or kept.lower is not None
    return message("kept_proof_stale" if stale else "kept_not_shown", name=kept.name)


def check_title(name: str, check: Sequence[CheckItem], title: str, *, stale: bool) -> Message:
    """Say what a kept setting asks to be run. name: as it is kept, empty where it is next to it; title: of the setting"""
    items = tuple(said(one, title) for one in check)
    if not name:
        return message("check_again" if stale else "prove_it", items=items)
    return message("check_name_again" if stale else "prove_name", name=name, items=items)


def less_instead(title: str, name: str, *, stale: bool) -> tuple[Message, Message]:
    """What to do, and why, where no test of any length would show that a kept setting is stable. name: empty beside its own"""
    named = message("quoted", name=name) if name else message("it")
    why = message("no_test_makes_it_sure_again" if stale else "no_test_makes_it_sure", name=named)
    return message("keep_less", setting=title), why


def kept_task(
    kept: KeptNow, stock_id: int, loads: Mapping[str, int], workloads: Mapping[int, str],
    runs_at: Mapping[tuple[int, int], int],
) -> Task | None:  # fmt: skip
    """The one thing that it asks for; None while it only has to be used.

    loads: ids by name of what a run can be made with; workloads: what is measured, by id; runs_at: by setting and workload
    A control run at stock comes first, then the time at the setting, then runs of what is new. Common practice.
    """
    if kept.failed:
        return Task("answer", "Keep", message("find_out_why", name=kept.name), message("cause_decides"), runs=0)
    if kept.lower is not None:
        return _step_down(kept, kept.lower, workloads, runs_at)
    if not kept.settled:
        title, why = less_instead(kept.title, kept.name, stale=kept.stale)
        return Task("keep", "Keep", title, why, runs=0)
    if not kept.check:
        return None
    first, rest = kept.check[0], kept.check[1:]
    # a proof is also missing what was never there: then nothing has changed
    changed = [message("changed_since", change=kept.changed[0], more=len(kept.changed) - 1)] if kept.changed else []
    then = message("check_then", items=tuple(said(one, kept.title) for one in rest)) if rest else None
    if first.workload not in loads:
        # what the rig is used with may belong to another campaign: never another workload in its place
        code = "add_to_check_again" if kept.stale else "add_to_prove"
        needs = message("check_needs_it", item=said(first, kept.title))
        title = message(code, workload=first.workload, name=kept.name)
        return Task("describe", "Prepare", title, _all([*changed, needs]).then(then), runs=0)
    return Task(
        act=_ACTS[first.act],
        stage="Keep",
        title=check_title(kept.name, [first], kept.title, stale=kept.stale),
        why=_all([*changed, first.why]).then(then),
        settles=message("whether_it_can_stay" if kept.stale else "whether_stable_as_asked"),
        setting_id=stock_id if first.act == "control" else kept.setting_id,
        values={} if first.act == "control" else None,
        workload_id=loads[first.workload],
        runs=first.runs,
        minutes=first.minutes if first.act == "hold" and first.runs == 1 else None,
    )


def _all(messages: Sequence[Message]) -> Message:
    """The first with the others behind it."""
    return messages[0].then(*messages[1:])


def said(item: CheckItem, title: str) -> Message:
    """One item of a check: "Kiln at stock, once", "35 min of Kiln at +45 MHz"."""
    if item.act == "control":
        return message("item_at_stock", workload=item.workload, runs=item.runs)
    if item.act == "gain" or item.runs > 1:
        return message("item_runs", workload=item.workload, setting=title, runs=item.runs)
    return message("item_minutes", minutes=item.minutes, workload=item.workload, setting=title)


def _step_down(
    kept: KeptNow, lower: Mapping[str, float], workloads: Mapping[int, str], runs_at: Mapping[tuple[int, int], int]
) -> Task:
    why = message("tuning_was_to_blame", name=kept.name)
    lacks = [pk for pk in workloads if runs_at.get((kept.lower_id, pk), 0) < LOWER_RUNS] if lower else []
    if not lacks:
        title = message("keep_instead", setting=kept.lower_title)
        return Task("keep", "Keep", title, why, setting_id=kept.lower_id or None, runs=0)
    every = len(lacks) == len(workloads) > 1
    what = (message("every_workload"),) if every else tuple(workloads[pk] for pk in lacks)
    return Task(
        act="run",
        stage="Keep",
        title=message("step_down_to", setting=kept.lower_title, workloads=what, runs=LOWER_RUNS),
        why=why.then(message("gain_left_not_known")),
        settles=message("what_may_be_kept"),
        setting_id=kept.lower_id or None,
        values=lower,
        workload_id=lacks[0],
        runs=LOWER_RUNS,
        minutes=None,
        workload_ids=tuple(lacks),
    )
