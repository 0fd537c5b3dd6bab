"""What has been run at a setting, put before every approach; and what fits into the time one has."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from trelvo.core.base.knobs import describe_setting
from trelvo.core.campaign import CampaignSnapshot, Run, Setting, Variant
from trelvo.core.case import Case
from trelvo.core.climb.planning import Activity, Fitted, fit, with_overheads
from trelvo.core.climb.stability import RateEstimate
from trelvo.core.climb_line.line import stability_line
from trelvo.core.climb_line.trials import minutes_of
from trelvo.core.memo import on_snapshot
from trelvo.core.prove.approaches import Item, Proof, prove, taught_by
from trelvo.core.prove.rate_belief import RateBelief
from trelvo.core.prove.tested import Breadth, KindEvidence, ProofRun, breadth, evidence_by_kind, rate_of
from trelvo.core.registry.approaches import APPROACHES, Approach
from trelvo.core.terms import Terms

RESTART_MINUTES = 4.0
# No approach asks for less, all its items together.
FEWEST_MINUTES = 60.0


@dataclass(frozen=True)
class Provable:
    """A setting that could be proved: survived time and failures of its own; proved_by: approaches it has passed."""

    setting_id: int
    title: str
    hours: float
    failures: int
    proved_by: list[Approach]


@dataclass(frozen=True)
class FailureMark:
    run_id: int
    workload: str
    outcome: str
    minutes: float


@dataclass(frozen=True)
class Expected:
    """Failures per hour: middle, 90 % interval, and the chance that it is within the accepted rate."""

    per_h: float
    low: float
    high: float
    within: float


@dataclass(frozen=True)
class ApproachView:
    """A approach's proof, and what of it fits into the time there is (all of it where no time was given)."""

    proof: Proof
    fitted: Fitted


@dataclass(frozen=True)
class ProofView:
    """A setting's proof by every approach. own: failures an hour from its own runs; expected: from all trials of its knob."""

    setting_id: int
    title: str
    knob_name: str
    accepted_per_h: float
    sure: float
    own: RateEstimate
    expected: Expected | None
    evidence: list[KindEvidence]
    breadth: Breadth
    failures: list[FailureMark]
    approaches: list[ApproachView]
    candidates: list[Provable]


def proof_view(
    case: Case, setting_id: int | None, per_h: float, sure: float, minutes: float | None = None
) -> ProofView:
    """The proof of a setting; where none is named, of the one tested longest. minutes: bench time there is"""
    settings = {setting.id: setting for setting in case.campaign.settings}
    variants = case.campaign.variants
    runs, every = _runs_by_setting(case.campaign), _proof_runs(case.campaign)
    loads = [workload.as_load() for workload in case.campaign.testable]
    passed = _passed(case.campaign)
    rates = {pk: rate_of(every.get(pk, ())) for pk in settings}
    candidates = [
        Provable(
            pk,
            describe_setting(case.campaign.knobs, setting.values),
            rates[pk].hours,
            rates[pk].failures,
            list(passed.get(pk, ())),
        )
        for pk, setting in settings.items()
    ]
    setting = settings.get(setting_id or 0) or _tested_longest(settings, runs, variants)
    ran = every.get(setting.id, ())
    belief, value, part, expected, name, cautious = None, None, None, None, "", case.way.cautious
    if judged := stability_line(case.campaign, case.priors, setting, per_h, cautious=cautious):
        line, value = judged
        belief, name, part = line.belief, line.knob.name, line.knob.part
        expected = Expected(*belief.rate(value), belief.chance_stable(value, per_h, cautious=cautious))
    own = rate_of(ran)
    approaches = []
    for approach in APPROACHES:
        proof = prove(approach, ran, loads, per_h, sure, belief, value, part=part, cautious=cautious)
        todo = [_activity(item, expected.per_h if expected else 0.0) for item in proof.items if item.minutes_left]
        approaches.append(ApproachView(proof, fit(todo, math.inf if minutes is None else minutes)))
    failed = [run for run in runs.get(setting.id, ()) if run.failed]
    return ProofView(
        setting_id=setting.id,
        title=describe_setting(case.campaign.knobs, setting.values),
        knob_name=name,
        accepted_per_h=per_h,
        sure=sure,
        own=own,
        expected=expected,
        evidence=evidence_by_kind(ran),
        breadth=breadth(ran, loads),
        failures=[
            FailureMark(run.id, variants[run.variant_id].name, run.outcome, minutes_of(run, variants)) for run in failed
        ],
        approaches=approaches,
        candidates=candidates,
    )


def proved_by(case: Case) -> dict[int, tuple[Approach, ...]]:
    """By setting other than stock, the approaches whose proof it has passed; those that have passed none are left out."""
    return {pk: approaches for pk, approaches in _passed(case.campaign).items() if pk != case.campaign.stock.id}


@on_snapshot
def _passed(campaign: CampaignSnapshot) -> Mapping[int, tuple[Approach, ...]]:
    """By setting, the approaches whose proof it has passed."""
    loads = [workload.as_load() for workload in campaign.testable]
    found = {}
    for pk, ran in _proof_runs(campaign).items():
        # a proof asks for more than an hour in all
        if sum(run.minutes for run in ran) < FEWEST_MINUTES:
            continue
        approaches = tuple(
            approach for approach in list(APPROACHES)[:3] if prove(approach, ran, loads).state == "proved"
        )
        if approaches:
            found[pk] = approaches
    return found


def proof_by(case: Case, setting: Setting, approach: Approach, terms: Terms) -> Proof:
    """A setting's proof by one approach."""
    loads = [workload.as_load() for workload in case.campaign.testable]
    ran = _proof_runs(case.campaign).get(setting.id, ())
    belief, value, part = None, None, None
    if judged := stability_line(case.campaign, case.priors, setting, 1 / terms.hours, cautious=case.way.cautious):
        belief, value, part = judged[0].belief, judged[1], judged[0].knob.part
    return prove(
        approach, ran, loads, 1 / terms.hours, terms.sure, belief, value, part=part, cautious=case.way.cautious
    )


def climb_belief(case: Case, setting: Setting, per_h: float) -> RateBelief | None:
    """What the climb believes of a setting's failures now: its chance of at most `per_h` failures an hour is the one that every
    screen shows. None where no knob that it turned can be judged."""
    judged = stability_line(case.campaign, case.priors, setting, per_h, cautious=case.way.cautious)
    return RateBelief.from_edge(judged[0].belief, judged[1], per_h, cautious=case.way.cautious) if judged else None


def hours_of(case: Case, setting: Setting) -> float:
    """How long a setting was run in all, under the build that results are judged in."""
    variants = case.campaign.variants
    return sum(minutes_of(run, variants) for run in case.campaign.runs_at(setting, case.campaign.judged_build)) / 60


@on_snapshot
def _runs_by_setting(campaign: CampaignSnapshot) -> Mapping[int, tuple[Run, ...]]:
    """Runs that say something about stability, under the build that results are judged in."""
    found: dict[int, list[Run]] = defaultdict(list)
    build_id = campaign.judged_build.id if campaign.judged_build else None
    for run in campaign.runs:
        if run.build_id == build_id and run.shows_stability and run.variant_id in campaign.variants:
            found[run.setting_id].append(run)
    return {setting_id: tuple(some) for setting_id, some in found.items()}


@on_snapshot
def _proof_runs(campaign: CampaignSnapshot) -> Mapping[int, tuple[ProofRun, ...]]:
    """The same as the core's proofs take them."""
    variants = campaign.variants
    return {
        setting_id: tuple(
            ProofRun(
                variants[run.variant_id].as_load(), minutes_of(run, variants), run.outcome, run.started_at.toordinal()
            )
            for run in some
        )
        for setting_id, some in _runs_by_setting(campaign).items()
    }


def _tested_longest(
    settings: dict[int, Setting], runs: Mapping[int, Sequence[Run]], variants: Mapping[int, Variant]
) -> Setting:
    """The setting that has been tested longest, stock left aside; stock where nothing else has been run."""
    ran = [setting for pk, setting in settings.items() if setting.values and pk in runs]
    tested = {setting.id: sum(minutes_of(run, variants) for run in runs.get(setting.id, ())) for setting in ran}
    return max(ran, key=lambda one: tested[one.id], default=next(iter(settings.values())))


def _activity(item: Item, per_h: float) -> Activity:
    return Activity(
        item.key, with_overheads(item.minutes_left, item.runs, min(per_h, 2.0), RESTART_MINUTES), taught_by(item)
    )
