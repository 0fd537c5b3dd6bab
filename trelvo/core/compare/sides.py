"""The sides of a comparison: each a setting under a build, from any campaign, with its runs and its own noise."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import cast

from trelvo.core.base.instruments import POINT_MEANING
from trelvo.core.base.knobs import Knob, describe_setting
from trelvo.core.base.runs import RunFacts, figures_count
from trelvo.core.campaign import Build, Run, Setting, titles_of
from trelvo.core.case import Case
from trelvo.core.compare.fairness import AspectKey, Conditions
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.stats.noise import PooledNoise, first_out_of_family

# The reference's number among the sides; candidates follow.
REFERENCE = 0


@dataclass(frozen=True)
class Side:
    """One of the things compared. number: 0 for the reference; runs: those of its setting under its build"""

    number: int
    case: Case
    setting: Setting
    build: Build | None

    @property
    def title(self) -> str:
        return describe_setting(self.case.campaign.knobs, self.setting.values)

    def value(self, knob: Knob) -> float:
        return float(self.setting.values.get(knob.key, knob.stock))

    def like(self, other: "Side") -> bool:
        """Whether both were measured in one campaign under one build, so that their noise may be pooled."""
        return self.case.campaign.id == other.case.campaign.id and self.build == other.build

    def same_parts(self, other: "Side") -> bool:
        """Whether both ran on one machine, or on like ones, with the same parts in it."""
        mine, others = ([str(part) for part in one.build.placed] if one.build else [] for one in (self, other))
        return sorted(mine) == sorted(others) and (
            bool(mine) or self.case.campaign.rig_id == other.case.campaign.rig_id
        )

    @property
    def noise(self) -> Mapping[int, PooledNoise | None]:
        return self.case.noise(self.build)


@dataclass(frozen=True)
class Sides:
    """groups: runs by (side, workload); rows: the same as kept, by side."""

    reference: Side
    candidates: list[Side]
    workloads: list[WorkloadFacts]
    groups: dict[tuple[int, int], list[RunFacts]] = field(default_factory=dict)
    rows: dict[int, Sequence[Run]] = field(default_factory=dict)

    @property
    def all(self) -> list[Side]:
        return [self.reference, *self.candidates]

    def runs(self, side: Side, workload: WorkloadFacts) -> list[RunFacts]:
        return self.groups.get((side.number, workload.id), [])


def gather(reference: Side, candidates: Sequence[Side]) -> Sides:
    """Both sides with their runs. What the reference's campaign measures is compared; other campaigns join where they ran it."""
    sides = Sides(reference, list(candidates), workload_facts(reference.case), defaultdict(list), defaultdict(list))
    for side in sides.all:
        rows = side.case.campaign.runs_at(side.setting, side.build)
        sides.rows[side.number] = rows
        for facts in side.case.facts(rows):
            sides.groups[side.number, facts.workload_id].append(facts)
    return sides


def workload_facts(case: Case) -> list[WorkloadFacts]:
    """The campaign's workloads as the core takes them, with the user's weights."""
    titles = titles_of(case.campaign.workloads)
    return [
        WorkloadFacts(
            id=variant.id,
            name=titles[variant.id],
            measure=variant.measure,
            unit=variant.unit,
            higher_is_better=variant.higher_is_better,
            cap_fps=variant.cap_fps,
            weight=float(case.campaign.weights.get(str(variant.uid), 1.0)),
        )
        for variant in case.campaign.workloads
    ]


def side_key(side: Side) -> str:
    """How a side is named in an address: its setting, and its build where that is not the one results are judged in."""
    own = side.case.campaign.judged_build
    return str(side.setting.id) if side.build == own or not side.build else f"{side.setting.id}@{side.build.number}"


def shared_workloads(sides: Sides, side: Side) -> set[int]:
    """The workloads that both the reference and this side have runs of; others are compared by nobody."""
    return {run.variant_id for run in sides.rows[REFERENCE]} & {run.variant_id for run in sides.rows[side.number]}


def conditions_of(sides: Sides, side: Side, shared: set[int]) -> Conditions:
    """Under what one side's runs were made. shared: the workloads both sides have"""
    build = side.build
    kept = [run for run in sides.rows[side.number] if run.variant_id in shared and run.counts]
    ids = {run.id for run in kept}
    facts = [
        one for (number, _), group in sides.groups.items() if number == side.number for one in group if one.id in ids
    ]
    by_workload: dict[int, list[float]] = defaultdict(list)
    for run in kept:
        by_workload[run.variant_id].append(cast(float, run.value))
    longest = max(by_workload.values(), key=len, default=[])
    parts = ", ".join(str(part) for part in build.placed) if build else ""
    # a variant's options are fixed, so both sides share them where they share the variant
    options = frozenset({"the same variant"}) if by_workload else frozenset[str]()
    read = [one for one in facts if one.power_w is not None and figures_count(one)]
    return Conditions(
        drivers=_told(build.driver if build else ""),
        firmwares=_told(build.firmware if build else ""),
        systems=_told(build.system if build else ""),
        parts=_told(parts),
        enclosures=_told(build.enclosure if build else ""),
        coolings=_told(build.cooling if build else ""),
        fans=frozenset(run.fan for run in kept if run.fan),
        options=options,
        points=frozenset(one.power_instrument or POINT_MEANING[one.power_point] for one in read),
        room_c=tuple(one.room_c for one in facts if one.room_c is not None),
        runs=len(longest),
        warmed_up=None if len(longest) < 3 else not any(first_out_of_family(values) for values in by_workload.values()),
    )


def studied(reference: Side, side: Side) -> frozenset[AspectKey]:
    """What this comparison is about, where two machines or two builds are compared with each other."""
    if side.case.campaign.rig_id != reference.case.campaign.rig_id:
        return frozenset({"parts"})
    if side.build != reference.build and side.setting.values == reference.setting.values:
        return frozenset({"driver", "firmware", "system", "parts", "enclosure", "cooling"})
    return frozenset()


def _told(word: str) -> frozenset[str]:
    return frozenset({word} if word else ())
