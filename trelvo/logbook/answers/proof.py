"""What has been run at a setting, put before every school; and what fits into the time one has."""

import math
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import cast

from trelvo.core.base.knobs import describe_setting
from trelvo.core.climb.planning import Activity, Fitted, fit, with_overheads
from trelvo.core.climb.stability import RateEstimate
from trelvo.core.decide.goals import Terms
from trelvo.core.prove.rate_belief import RateBelief
from trelvo.core.prove.schools import Item, Proof, prove, taught_by
from trelvo.core.prove.tested import Breadth, KindEvidence, ProofRun, breadth, evidence_by_kind, rate_of
from trelvo.core.registry.approaches import SCHOOLS, School
from trelvo.logbook.answers.climb_line import minutes_of, stability_line
from trelvo.logbook.models import Setting, Variant
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.run_rows import RunRow

RESTART_MINUTES = 4.0
# No school asks for less, all its items together.
FEWEST_MINUTES = 60.0


@dataclass(frozen=True)
class Provable:
    """A setting that could be proved: survived time and failures of its own; proved_by: schools it has passed."""

    setting_id: int
    title: str
    hours: float
    failures: int
    proved_by: list[School]


@dataclass(frozen=True)
class FailureMark:
    run_id: int
    workload: str
    outcome: str
    minutes: float


@dataclass(frozen=True)
class Expected:
    """Failures an hour by the numbers: middle, 90 % interval, and the chance that it is within the accepted rate."""

    per_h: float
    low: float
    high: float
    within: float


@dataclass(frozen=True)
class SchoolView:
    """A school's proof, and what of it fits into the time there is (all of it where no time was given)."""

    proof: Proof
    fitted: Fitted


@dataclass(frozen=True)
class ProofView:
    """A setting's proof by every school. own: failures an hour from its own runs; expected: from all trials of its knob."""

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
    schools: list[SchoolView]
    candidates: list[Provable]


def proof_view(
    data: CampaignData, setting_id: int | None, per_h: float, sure: float, minutes: float | None = None
) -> ProofView:
    """The proof of a setting; where none is named, of the one tested longest. minutes: bench time there is"""
    settings = {setting.pk: setting for setting in data.settings}
    variants = {one.pk: one for one in data.known_variants}
    runs, every = _runs_by_setting(data), _proof_runs(data)
    loads = [workload.as_load() for workload in data.testable]
    passed = _passed(data)
    rates = {pk: rate_of(every.get(pk, [])) for pk in settings}
    candidates = [
        Provable(
            pk,
            describe_setting(data.knobs, setting.values),
            rates[pk].hours,
            rates[pk].failures,
            list(passed.get(pk, ())),
        )
        for pk, setting in settings.items()
    ]
    setting = settings.get(setting_id or 0) or _tested_longest(settings, runs, variants)
    ran = every.get(setting.pk, [])
    belief, value, part, expected, name, wary = None, None, None, None, "", is_wary(data)
    if judged := stability_line(data, setting, per_h, wary=wary):
        line, value = judged
        belief, name, part = line.belief(), line.knob.name, line.knob.part
        expected = Expected(*belief.rate(value), belief.chance_stable(value, per_h, wary=wary))
    own = rate_of(ran)
    schools = []
    for school in SCHOOLS:
        proof = prove(school, ran, loads, per_h, sure, belief, value, part=part, wary=wary)
        todo = [_activity(item, expected.per_h if expected else 0.0) for item in proof.items if item.minutes_left]
        schools.append(SchoolView(proof, fit(todo, math.inf if minutes is None else minutes)))
    failed = [run for run in runs[setting.pk] if run.failed]
    return ProofView(
        setting_id=setting.pk,
        title=describe_setting(data.knobs, setting.values),
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
        schools=schools,
        candidates=candidates,
    )


def is_wary(data: CampaignData) -> bool:
    """Whether the campaign reads its beliefs for the wary."""
    return bool(cast(Mapping[str, object], data.campaign.way).get("wary", False))


def proved_by(data: CampaignData) -> dict[int, tuple[School, ...]]:
    """By setting other than stock, the schools whose proof it has passed; those that have passed none are left out."""
    return {pk: schools for pk, schools in _passed(data).items() if pk != data.stock.pk}


def _passed(data: CampaignData) -> dict[int, tuple[School, ...]]:
    """By setting, the schools whose proof it has passed."""
    if "passed" not in data.of_rows:
        loads = [workload.as_load() for workload in data.testable]
        found = {}
        for pk, ran in _proof_runs(data).items():
            # a proof asks for more than an hour in all
            if sum(run.minutes for run in ran) < FEWEST_MINUTES:
                continue
            schools = tuple(school for school in list(SCHOOLS)[:3] if prove(school, ran, loads).state == "proved")
            if schools:
                found[pk] = schools
        data.of_rows["passed"] = found
    return cast(dict[int, tuple[School, ...]], data.of_rows["passed"])


def proof_by(data: CampaignData, setting: Setting, school: School, terms: Terms) -> Proof:
    """A setting's proof by one school."""
    loads = [workload.as_load() for workload in data.testable]
    ran = _proof_runs(data).get(setting.pk, [])
    belief, value, part = None, None, None
    if judged := stability_line(data, setting, 1 / terms.hours, wary=is_wary(data)):
        belief, value, part = judged[0].belief(), judged[1], judged[0].knob.part
    return prove(school, ran, loads, 1 / terms.hours, terms.sure, belief, value, part=part, wary=is_wary(data))


def climb_belief(data: CampaignData, setting: Setting, per_h: float) -> RateBelief | None:
    """What the climb believes of a setting's failures now: its chance of at most `per_h` failures an hour is the one that every
    screen shows. None where no knob that it turned can be judged."""
    judged = stability_line(data, setting, per_h, wary=is_wary(data))
    return RateBelief.from_edge(judged[0].belief(), judged[1], per_h, wary=is_wary(data)) if judged else None


def hours_of(data: CampaignData, setting: Setting) -> float:
    """How long a setting was run in all, under the fitting that results are judged in."""
    variants = {one.pk: one for one in data.known_variants}
    return sum(minutes_of(run, variants) for run in data.runs_at(setting, data.judged_fitting)) / 60


def _runs_by_setting(data: CampaignData) -> dict[int, list[RunRow]]:
    """Runs that say something about stability, under the fitting that results are judged in."""
    if "stability runs" not in data.of_rows:
        found: dict[int, list[RunRow]] = defaultdict(list)
        known = {one.pk for one in data.known_variants}
        fitting_id = data.judged_fitting.pk if data.judged_fitting else None
        for run in data.runs:
            if run.fitting_id == fitting_id and run.shows_stability and run.variant_id in known:
                found[run.setting_id].append(run)
        data.of_rows["stability runs"] = found
    return cast(dict[int, list[RunRow]], data.of_rows["stability runs"])


def _proof_runs(data: CampaignData) -> dict[int, list[ProofRun]]:
    """The same as the core's proofs take them."""
    if "proof runs" not in data.of_rows:
        variants = {one.pk: one for one in data.known_variants}
        loads = {pk: one.as_load() for pk, one in variants.items()}
        minutes = {pk: one.minutes for pk, one in variants.items()}
        # the same object as before where nothing of it has changed, so that it need not be compared for every setting
        known = data.made_of_runs("loads", (loads, minutes), lambda: object())

        def proof_runs(some: list[RunRow]) -> list[ProofRun]:
            return [
                ProofRun(loads[run.variant_id], minutes_of(run, variants), run.outcome, run.started_at.toordinal())
                for run in some
            ]

        data.of_rows["proof runs"] = {
            pk: data.made_of_runs(("proof runs", pk), (known, some), partial(proof_runs, some))
            for pk, some in _runs_by_setting(data).items()
        }
    return cast(dict[int, list[ProofRun]], data.of_rows["proof runs"])


def _tested_longest(
    settings: dict[int, Setting], runs: dict[int, list[RunRow]], variants: Mapping[int, Variant]
) -> Setting:
    """The setting that has been tested longest, stock left aside; stock where nothing else has been run."""
    ran = [setting for pk, setting in settings.items() if setting.values and runs[pk]]
    tested = {setting.pk: sum(minutes_of(run, variants) for run in runs[setting.pk]) for setting in ran}
    return max(ran, key=lambda one: tested[one.pk], default=next(iter(settings.values())))


def _activity(item: Item, per_h: float) -> Activity:
    return Activity(
        item.key, with_overheads(item.minutes_left, item.runs, min(per_h, 2.0), RESTART_MINUTES), taught_by(item)
    )
