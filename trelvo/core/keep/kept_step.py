"""What a setting that is in use asks for: the cause of a failure, a step down, or its proof checked again."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from trelvo.core.prove.staleness import CheckItem
from trelvo.core.stages import Stage, Standing
from trelvo.core.task import Act, Task, times

# A step down is kept by what it gains: so many runs of each workload say it. Common practice.
LOWER_RUNS = 2
_ACTS: Mapping[str, Act] = {"control": "run", "hold": "prove", "gain": "compare"}


@dataclass(frozen=True)
class KeptNow:
    """A kept setting in use.

    failed: in use, the cause not found yet; lower: the values to keep instead where the tuning was to blame, None where it was
    not, with their title and their setting, 0 where there is none yet
    probe_minutes: how long the next test of the search for that cause takes
    check: the shortest that brings the proof back; empty while it stands; settled: whether one does; changed: why, in words
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
    changed: Sequence[str] = field(default_factory=tuple)
    stale: bool = True


def standing_in_use(standing: Standing, kept: Sequence[KeptNow]) -> Standing:
    """The same; its last stage is stale while a kept setting in use asks for something, under way while it was not shown yet."""
    asking = [one for one in kept if one.failed or one.lower is not None or one.check or not one.settled]
    if not asking:
        return standing
    stale = any(one.failed or one.lower is not None or one.stale for one in asking)
    keep = Stage("Keep", "stale" if stale else "under way", " ".join(_asks(one) for one in asking))
    stages = (keep if one.name == "Keep" else one for one in standing.stages)
    return Standing(tuple(stages), standing.missing)


def _asks(kept: KeptNow) -> str:
    if kept.failed:
        return f"“{kept.name}” failed in use."
    if kept.stale or kept.lower is not None:
        return f"The proof of “{kept.name}” no longer stands."
    return f"“{kept.name}” is not shown to be stable yet."


def check_title(name: str, check: Sequence[CheckItem], title: str, *, stale: bool) -> str:
    """Say what a kept setting asks to be run. name: as it is kept, empty where it stands beside it; title: of the setting"""
    items = ", then ".join(said(one, title) for one in check)
    named = f" “{name}”" if name else ""
    return f"Check{named} again: {items}." if stale else f"Prove{named}: {items}."


def less_instead(title: str, name: str, *, stale: bool) -> tuple[str, str]:
    """What to do, and why, where no test of any length would show that a kept setting is stable."""
    why = f"No test of any length makes {name or 'it'} as sure as {'it was' if stale else 'was asked for'}."
    return f"Keep less than {title}, or stock.", why


def kept_task(
    kept: KeptNow, stock_id: int, loads: Mapping[str, int], workloads: Mapping[int, str],
    runs_at: Mapping[tuple[int, int], int],
) -> Task | None:  # fmt: skip
    """The one thing that it asks for; None while it only has to be used.

    loads: ids by name of what a run can be made with; workloads: what is measured, by id; runs_at: by setting and workload
    A control run at stock comes first, then the time at the setting, then runs of what is new. Common practice.
    """
    if kept.failed:
        why = "It failed in use. Whether the tuning is to blame decides whether it stays."
        return Task("answer", "Keep", f"Find out why “{kept.name}” failed.", why, runs=0)
    if kept.lower is not None:
        return _step_down(kept, kept.lower, workloads, runs_at)
    if not kept.settled:
        title, why = less_instead(kept.title, f"“{kept.name}”", stale=kept.stale)
        return Task("keep", "Keep", title, why, runs=0)
    if not kept.check:
        return None
    first, rest = kept.check[0], kept.check[1:]
    # a proof is also missing what was never there: then nothing has changed
    more = len(kept.changed) - 1
    also = f"; and {more} more change{'s' if more > 1 else ''}" if more > 0 else ""
    changed = f"{_capital(kept.changed[0])}{also}. " if kept.changed else ""
    then = f" Then: {', then '.join(said(one, kept.title) for one in rest)}." if rest else ""
    if first.workload not in loads:
        # what the rig is used with may belong to another campaign: never another workload in its place
        to = f"check “{kept.name}” again" if kept.stale else f"prove “{kept.name}”"
        title = f"Add {first.workload} to what this campaign runs, to {to}."
        return Task(
            "describe", "Prepare", title, f"{changed}The check needs it: {said(first, kept.title)}.{then}", runs=0
        )
    return Task(
        _ACTS[first.act],
        "Keep",
        check_title(kept.name, [first], kept.title, stale=kept.stale),
        f"{changed}{first.why}{then}",
        "Whether it can stay in use as it is." if kept.stale else "Whether it is as stable as asked for.",
        stock_id if first.act == "control" else kept.setting_id,
        {} if first.act == "control" else None,
        loads[first.workload],
        first.runs,
        first.minutes if first.act == "hold" and first.runs == 1 else None,
    )


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def said(item: CheckItem, title: str) -> str:
    """One item of a check: "Kiln at stock, once", "35 min of Kiln at +45 MHz"."""
    if item.act == "control":
        return f"{item.workload} at stock, {times(item.runs)}"
    if item.act == "gain" or item.runs > 1:
        return f"{item.workload} at {title}, {times(item.runs)}"
    return f"{item.minutes:.0f} min of {item.workload} at {title}"


def _step_down(
    kept: KeptNow, lower: Mapping[str, float], workloads: Mapping[int, str], runs_at: Mapping[tuple[int, int], int]
) -> Task:
    why = f"The tuning was to blame when “{kept.name}” failed."
    lacks = [pk for pk in workloads if runs_at.get((kept.lower_id, pk), 0) < LOWER_RUNS] if lower else []
    if not lacks:
        return Task("keep", "Keep", f"Keep {kept.lower_title} instead.", why, setting_id=kept.lower_id or None, runs=0)
    what = "every workload" if len(lacks) == len(workloads) > 1 else ", ".join(workloads[pk] for pk in lacks)
    return Task(
        "run",
        "Keep",
        f"Step down to {kept.lower_title}: run {what}, {times(LOWER_RUNS)}.",
        f"{why} What is left of the gain there is not known yet.",
        "What may be kept instead.",
        kept.lower_id or None,
        lower,
        lacks[0],
        LOWER_RUNS,
        None,
        workload_ids=tuple(lacks),
    )
