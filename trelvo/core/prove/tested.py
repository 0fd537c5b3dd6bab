"""What a setting's own runs say of its stability: failures an hour, by kind of workload, and what they have touched."""

from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.base.load_kinds import PARTS, TECHNIQUES, Load, LoadKind, techniques_to_cover
from trelvo.core.climb.stability import RateEstimate, failure_rate
from trelvo.core.registry.outcomes import FAILURES, Outcome


@dataclass(frozen=True)
class ProofRun:
    """A run at the setting. day: any number that is the same for runs of one day"""

    load: Load
    minutes: float
    outcome: Outcome
    day: int = 0


@dataclass(frozen=True)
class KindEvidence:
    """What one kind of workload has shown of a setting."""

    kind: LoadKind
    runs: int
    rate: RateEstimate


@dataclass(frozen=True)
class Breadth:
    """Which parts and techniques the setting's surviving runs have touched, and which not."""

    parts: tuple[str, ...]
    parts_missing: tuple[str, ...]
    techniques: tuple[str, ...]
    techniques_missing: tuple[str, ...]


def rate_of(runs: Sequence[ProofRun], confidence: float = 0.9) -> RateEstimate:
    """Failures an hour of the setting from its own runs."""
    failures = sum(run.outcome in FAILURES for run in runs)
    return failure_rate(sum(run.minutes for run in runs) / 60, failures, confidence)


def evidence_by_kind(runs: Sequence[ProofRun]) -> list[KindEvidence]:
    """What each kind of workload has shown: time, failures, and failures an hour with its interval."""
    kinds = sorted({run.load.kind for run in runs})
    split = {kind: [run for run in runs if run.load.kind == kind] for kind in kinds}
    return [KindEvidence(kind, len(mine), rate_of(mine)) for kind, mine in split.items()]


def breadth(runs: Sequence[ProofRun], loads: Sequence[Load]) -> Breadth:
    """Parts and techniques that runs which survived have touched. loads: what the campaign can test with"""
    held = [run.load for run in runs if run.outcome not in FAILURES and run.minutes > 0]
    parts = {part for load in held for part in load.parts}
    techniques = {technique for load in held for technique in load.techniques}
    return Breadth(
        tuple(part for part in PARTS if part in parts),
        tuple(part for part in PARTS if part not in parts),
        tuple(one for one in TECHNIQUES if one in techniques),
        tuple(one for one in techniques_to_cover(loads) if one not in techniques),
    )
