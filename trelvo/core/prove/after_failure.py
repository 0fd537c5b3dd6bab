"""What is known around a failed run, put before the core's triage."""

from dataclasses import dataclass, replace

from trelvo.core.base.knobs import Knob, describe_setting, fingerprint
from trelvo.core.campaign import Run, Setting
from trelvo.core.case import Case
from trelvo.core.climb.edge import EdgeModel, edge_posterior
from trelvo.core.climb_line.line import Line, line_of_last_turned
from trelvo.core.climb_line.trials import minutes_of
from trelvo.core.problems import Problem, Refused
from trelvo.core.prove.triage import Failed, Step, triage
from trelvo.core.registry.outcomes import FAILURES, OUTCOMES

# A value counts as the last that held when it ran for this long. Common practice: a short test.
HELD_MINUTES = 4.0
# A failure within seconds is judged as one within a minute: no belief tells them apart.
LEAST_MINUTES = 1.0


@dataclass(frozen=True)
class StepView:
    """A step with the setting to run it on: its title, and its id where it is on the ladder already."""

    step: Step
    setting_title: str
    setting_id: int | None


@dataclass(frozen=True)
class TriageView:
    run_id: int
    campaign_id: int
    workload_id: int
    title: str
    meaning: str
    steps: list[StepView]


def triage_view(case: Case, run_id: int, limit_c: float | None = None) -> TriageView:
    """What to do after this run. Refused for one that did not fail. limit_c: the part's own, where its bench said it"""
    run = next(run for run in case.campaign.runs if run.id == run_id)
    if run.outcome not in FAILURES:
        raise Refused(Problem("run", "run_did_not_fail"))
    setting = next(setting for setting in case.campaign.settings if setting.id == run.setting_id)
    variants = {variant.id: variant for variant in case.campaign.known_variants}
    ceilings = {
        safety_limit.channel: safety_limit.limit
        for safety_limit in case.campaign.safety_limits
        if safety_limit.kind == "voltage ceiling"
    }
    knobs = {knob.key: _below(knob, ceilings.get(knob.key)) for knob in case.campaign.knobs}
    judged = line_of_last_turned(case.campaign, case.priors, setting)
    line = judged[0] if judged else None
    minutes = minutes_of(run, variants)
    facts = case.facts([run])[0]
    failed = Failed(
        outcome=run.outcome,
        minutes=minutes,
        load=variants[run.variant_id].as_load(),
        values=setting.values,
        last=knobs[line.knob.key] if line else None,
        last_good=_last_good(line, setting) if line else None,
        chance=_chance(line, run, setting, minutes) if line else None,
        temp_max_c=facts.temp_max_c,
        limit_c=_limit_c(case, limit_c),
        new_build=_new_build(case, run),
        fails_at_stock=any(
            one.failed and one.setting_id == case.campaign.stock.id and one.build_id == run.build_id
            for one in case.campaign.runs
        ),
    )
    found = triage(failed, knobs)
    there = {one.fingerprint: one.id for one in case.campaign.settings}
    ordered = list(knobs.values())
    steps = [
        StepView(
            step,
            "" if step.values is None else describe_setting(ordered, step.values),
            None if step.values is None else there.get(fingerprint(step.values)),
        )
        for step in found.steps
    ]
    title = describe_setting(ordered, setting.values)
    return TriageView(run.id, case.campaign.id, run.variant_id, title, OUTCOMES[found.outcome].meaning, steps)


def _below(knob: Knob, ceiling: float | None) -> Knob:
    """The knob with its ceiling as the end of its range: nothing beyond a safety limit is advised."""
    return knob if ceiling is None else replace(knob, high=min(knob.high, ceiling))


def _last_good(line: Line, setting: Setting) -> float | None:
    """The furthest value nearer stock that has held and not failed; for a knob that helps the nearest one further on."""
    knob = line.knob
    if knob.turning == "helps":
        return _least_good(line, float(setting.values.get(knob.key, knob.stock)))
    here = (float(setting.values.get(knob.key, knob.stock)) - knob.stock) * knob.away
    distance = {mark: (mark.value - knob.stock) * knob.away for mark in line.marks}
    bad = min((far for mark, far in distance.items() if mark.failed), default=here)
    held = [
        mark.value
        for mark, far in distance.items()
        if not mark.failed and mark.minutes >= HELD_MINUTES and far < min(here, bad)
    ]
    return max(held, key=lambda value: value * knob.away, default=None)


def _least_good(line: Line, here: float) -> float | None:
    """Of a knob that helps, the least value beyond all that failed which has held."""
    away, here = line.knob.away, here * line.knob.away
    worst = max([here, *(mark.value * away for mark in line.marks if mark.failed)])
    held = [
        mark.value
        for mark in line.marks
        if not mark.failed and mark.minutes >= HELD_MINUTES and mark.value * away > worst
    ]
    return min(held, key=lambda value: value * away, default=None)


def _chance(line: Line, run: Run, setting: Setting, minutes: float) -> float:
    """How likely a failure within this time was, by all other trials."""
    others = [mark.trial for mark in line.marks if mark.run_id != run.id]
    belief = edge_posterior(EdgeModel.of(line.knob, line.steepness), others)
    value = float(setting.values.get(line.knob.key, line.knob.stock))
    return 1 - belief.chance_to_hold(value, max(minutes, LEAST_MINUTES))


def _limit_c(case: Case, limit_c: float | None) -> float | None:
    """The part's own limit where its bench said it, else the campaign's."""
    found = limit_c or case.campaign.temp_limit_c
    return float(found) if found is not None and found < 1000 else None


def _new_build(case: Case, run: Run) -> bool:
    """Whether the setting has completed runs, but all of them under an earlier build."""
    numbers = {build.id: build.number for build in case.campaign.builds}
    completed = [one for one in case.campaign.runs if one.setting_id == run.setting_id and one.outcome == "completed"]
    return bool(completed) and all(numbers[one.build_id] < numbers[run.build_id] for one in completed)
