"""Evidence for a comparison: the runs of both sides, sorted, with the noise they are judged by."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import cast

from trelvo.core.base.instruments import Point
from trelvo.core.base.knobs import Knob, describe_setting
from trelvo.core.base.runs import RunFacts, counts
from trelvo.core.base.workloads import Measure
from trelvo.core.judge.compare_table import WorkloadFacts
from trelvo.core.judge.fairness import Conditions
from trelvo.core.measure.noise import PooledNoise, first_out_of_family
from trelvo.logbook.models import Campaign, Fitting, Run, Setting
from trelvo.logbook.rows.facts import judged_fitting, knobs_of, noise_of

# The reference's runs stand under this key, so that the same setting may be a candidate as well (another fitting, say).
REFERENCE = 0


@dataclass(frozen=True)
class Evidence:
    """groups: runs by (setting id or REFERENCE, workload id); rows: the same as kept, by setting id or REFERENCE.

    settings: the values of every setting of the campaign
    """

    campaign: Campaign
    reference: Setting
    candidates: list[Setting]
    knobs: list[Knob]
    workloads: list[WorkloadFacts]
    fitting: Fitting | None
    reference_fitting: Fitting | None
    pooled: dict[int, PooledNoise | None]
    settings: dict[int, dict[str, float]]
    groups: dict[tuple[int, int], list[RunFacts]] = field(default_factory=dict)
    rows: dict[int, list[Run]] = field(default_factory=dict)

    def title(self, setting: Setting) -> str:
        return describe_setting(self.knobs, setting.values)

    def runs(self, side: int, workload: WorkloadFacts) -> list[RunFacts]:
        return self.groups.get((side, workload.id), [])


def gather(
    campaign: Campaign, reference: Setting, candidates: Sequence[Setting], reference_fitting: Fitting | None = None
) -> Evidence:
    """Reads both sides: candidates under the fitting results are judged in, the reference under the one given, else the same."""
    fitting = judged_fitting(campaign)
    reference_fitting = reference_fitting or fitting
    evidence = Evidence(
        campaign,
        reference,
        list(candidates),
        knobs_of(campaign),
        workload_facts(campaign),
        fitting,
        reference_fitting,
        noise_of(campaign, fitting),
        {setting.pk: setting.values for setting in campaign.settings.all()},
        defaultdict(list),
        defaultdict(list),
    )
    _sort(evidence, campaign.runs.filter(setting=reference, fitting=reference_fitting), as_reference=True)
    _sort(evidence, campaign.runs.filter(setting__in=candidates, fitting=fitting), as_reference=False)
    return evidence


def _sort(evidence: Evidence, runs: Iterable[Run], *, as_reference: bool) -> None:
    for run in runs:
        side = REFERENCE if as_reference else run.setting_id
        evidence.groups[side, run.workload_id].append(run.facts())
        evidence.rows[side].append(run)


def workload_facts(campaign: Campaign) -> list[WorkloadFacts]:
    """The campaign's workloads as the core takes them, with the user's weights."""
    return [
        WorkloadFacts(
            id=workload.pk,
            name=workload.name,
            measure=cast(Measure, workload.measure),
            unit=workload.unit,
            higher_is_better=workload.higher_is_better,
            cap_fps=workload.cap_fps,
            weight=float(campaign.weights.get(str(workload.uid), 1.0)),
        )
        for workload in campaign.workloads.all()
    ]


def conditions_of(evidence: Evidence, side: int, shared: set[int]) -> Conditions:
    """Under what one side's runs were made. shared: the workloads both sides have; others are compared by nobody."""
    fitting = evidence.reference_fitting if side == REFERENCE else evidence.fitting
    counting = {
        facts.id for (key, _), group in evidence.groups.items() if key == side for facts in group if counts(facts)
    }
    kept = [run for run in evidence.rows[side] if run.workload_id in shared and run.pk in counting]
    by_workload: dict[int, list[float]] = defaultdict(list)
    for run in kept:
        by_workload[run.workload_id].append(cast(float, run.value))
    longest = max(by_workload.values(), key=len, default=[])
    parts = ", ".join(str(part) for part in fitting.parts.all()) if fitting else ""
    # within a campaign a workload's options are fixed, so both sides share them where they share the workload
    options = frozenset({"as fixed for the workload"}) if by_workload else frozenset[str]()
    return Conditions(
        drivers=_told(fitting.driver if fitting else ""),
        firmwares=_told(fitting.firmware if fitting else ""),
        systems=_told(fitting.system if fitting else ""),
        parts=_told(parts),
        enclosures=_told(fitting.enclosure if fitting else ""),
        coolings=_told(fitting.cooling if fitting else ""),
        fans=frozenset(run.fan for run in kept if run.fan),
        options=options,
        points=frozenset(cast(Point, run.power_point) for run in kept if run.power_w is not None),
        room_c=tuple(run.room_c for run in kept if run.room_c is not None),
        runs=len(longest),
        warmed_up=None if len(longest) < 3 else not any(first_out_of_family(values) for values in by_workload.values()),
    )


def _told(word: str) -> frozenset[str]:
    return frozenset({word} if word else ())
