"""Compare: gathers what the core needs to judge candidates against a reference, and hands back its answer."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from trelvo.core.base.knobs import distinguish
from trelvo.core.judge.compare_table import Column, Side, TargetCell, build_column, build_target, side_of
from trelvo.core.judge.fairness import Fairness, assess
from trelvo.core.judge.traps import Trap
from trelvo.core.measure.gains import Value, value_for_money
from trelvo.core.measure.noise import PooledNoise
from trelvo.logbook.answers.compare_runs import REFERENCE, Evidence, conditions_of, gather
from trelvo.logbook.answers.trap_hunt import hunt
from trelvo.logbook.models import Campaign, Fitting, Setting, Target


@dataclass(frozen=True)
class Candidate:
    """A setting against the reference: figures and fairness. short: what sets it apart from the other candidates."""

    setting_id: int
    title: str
    short: str
    column: Column
    fairness: Fairness


@dataclass(frozen=True)
class TargetColumn:
    """A typed rival: its results against the reference, and what they cost where prices are known.

    value: price of a unit of the main workload, and of each unit more than the first candidate gives
    """

    target_id: int
    name: str
    price: float | None
    source: str
    conditions: str
    cells: list[TargetCell]
    value: Value | None


@dataclass(frozen=True)
class Versus:
    """The whole answer of the Compare stage.

    reference: one side a workload, in the campaign's order; common: what all candidates share
    """

    reference_id: int
    reference_title: str
    reference: list[Side]
    common: str
    candidates: list[Candidate]
    targets: list[TargetColumn]
    traps: list[Trap]
    noise: dict[int, PooledNoise | None]
    fitting_number: int | None
    reference_fitting_number: int | None
    smallest_gain: float
    corrected: bool


def versus_of(
    campaign: Campaign,
    reference: Setting,
    candidates: Sequence[Setting],
    now: datetime,
    *,
    correct: bool,
    reference_fitting: Fitting | None = None,
) -> Versus:
    """Candidates against the reference. correct: Holm's correction; reference_fitting: where it is to be another one."""
    evidence = gather(campaign, reference, candidates, reference_fitting)
    sides = [side_of(evidence.runs(REFERENCE, workload), workload) for workload in evidence.workloads]
    columns = [
        build_column(
            setting.pk,
            REFERENCE,
            sides,
            evidence.workloads,
            evidence.groups,
            evidence.pooled,
            smallest_gain=campaign.smallest_gain,
            correct=correct,
        )
        for setting in candidates
    ]
    common, shorts = distinguish(evidence.knobs, [setting.values for setting in candidates])
    return Versus(
        reference_id=reference.pk,
        reference_title=evidence.title(reference),
        reference=sides,
        common=common,
        candidates=[
            Candidate(setting.pk, evidence.title(setting), short, column, _fairness(evidence, setting))
            for setting, short, column in zip(candidates, shorts, columns, strict=True)
        ],
        targets=[_target(evidence, target) for target in campaign.targets.all()],
        traps=hunt(evidence, columns, now),
        noise=evidence.pooled,
        fitting_number=evidence.fitting.number if evidence.fitting else None,
        reference_fitting_number=evidence.reference_fitting.number if evidence.reference_fitting else None,
        smallest_gain=campaign.smallest_gain,
        corrected=correct,
    )


def _fairness(evidence: Evidence, setting: Setting) -> Fairness:
    shared = {run.workload_id for run in evidence.rows[REFERENCE]} & {
        run.workload_id for run in evidence.rows[setting.pk]
    }
    return assess(conditions_of(evidence, REFERENCE, shared), conditions_of(evidence, setting.pk, shared))


def _target(evidence: Evidence, target: Target) -> TargetColumn:
    ids = {str(uid): pk for pk, uid in evidence.campaign.workloads.values_list("pk", "uid")}
    results = {ids[uid]: float(value) for uid, value in target.results.items() if uid in ids}
    candidate_ids = [setting.pk for setting in evidence.candidates]
    cells = build_target(results, REFERENCE, candidate_ids, evidence.workloads, evidence.groups, evidence.pooled)
    return TargetColumn(
        target.pk, target.name, target.price, target.source, target.conditions, cells, _value(evidence, target, results)
    )


def _value(evidence: Evidence, target: Target, results: dict[int, float]) -> Value | None:
    """Money for the main workload: the target's price against the rig part's own, at the first candidate."""
    main, own_price = evidence.workloads[0], evidence.campaign.price
    if (
        not target.price
        or not own_price
        or main.id not in results
        or not main.higher_is_better
        or not evidence.candidates
    ):
        return None
    mine = side_of(evidence.runs(evidence.candidates[0].pk, main), main).summary
    return value_for_money(target.price, results[main.id], own_price, mine.mean) if mine else None
