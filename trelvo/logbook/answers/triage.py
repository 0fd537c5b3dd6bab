"""What is known around a failed run, put before the core's triage."""

from dataclasses import dataclass, replace

from trelvo.core.base.knobs import Knob, describe_setting, fingerprint
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.runs import FAILURES
from trelvo.core.climb.stability import EdgeModel, edge_posterior
from trelvo.core.prove.triage import Failed, Step, triage
from trelvo.logbook.answers.climb import Line, line_of, minutes_of, turned_last
from trelvo.logbook.models import Campaign, Run, Setting
from trelvo.logbook.rows.facts import knobs_of, rails_of

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


def triage_view(run: Run) -> TriageView:
    """What to do after this run. Refused for one that did not fail."""
    if run.outcome not in FAILURES:
        raise Refused(Problem("run", "This run did not fail.", "Open one that did."))
    campaign, setting = run.campaign, run.setting
    ceilings = {rail.channel: rail.limit for rail in rails_of(campaign) if rail.kind == "voltage ceiling"}
    knobs = {knob.key: _below(knob, ceilings.get(knob.key)) for knob in knobs_of(campaign)}
    line = line_of(campaign, turned_last(list(knobs), setting), setting.pk) if setting.values else None
    minutes = minutes_of(run)
    failed = Failed(
        outcome=run.outcome,
        minutes=minutes,
        load=run.workload.as_load(),
        values=setting.values,
        last=line.knob if line else None,
        last_good=_last_good(line, setting) if line else None,
        chance=_chance(line, run, minutes) if line else None,
        temp_max_c=run.temp_max_c,
        limit_c=_limit_c(run),
        new_fitting=_new_fitting(run),
        fails_at_stock=_fails_at_stock(campaign, run),
    )
    found = triage(failed, knobs)
    there = {one.fingerprint: one.pk for one in campaign.settings.all()}
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
    return TriageView(run.pk, campaign.pk, run.workload_id, title, found.meaning, steps)


def _below(knob: Knob, ceiling: float | None) -> Knob:
    """The knob with its ceiling as the end of its range: nothing beyond a guard rail is advised."""
    return knob if ceiling is None else replace(knob, high=min(knob.high, ceiling))


def _last_good(line: Line, setting: Setting) -> float | None:
    """The furthest value nearer stock that has held and not failed."""
    knob = line.knob
    here = (float(setting.values.get(knob.key, knob.stock)) - knob.stock) * knob.away
    distance = {mark: (mark.value - knob.stock) * knob.away for mark in line.marks}
    bad = min((far for mark, far in distance.items() if mark.failed), default=here)
    held = [
        mark.value
        for mark, far in distance.items()
        if not mark.failed and mark.minutes >= HELD_MINUTES and far < min(here, bad)
    ]
    return max(held, key=lambda value: value * knob.away, default=None)


def _chance(line: Line, run: Run, minutes: float) -> float:
    """How likely a failure within this time was, by all other trials."""
    others = [mark.trial for mark in line.marks if mark.run_id != run.pk]
    belief = edge_posterior(EdgeModel.of(line.knob), others)
    value = float(run.setting.values.get(line.knob.key, line.knob.stock))
    return 1 - belief.chance_to_hold(value, max(minutes, LEAST_MINUTES))


def _limit_c(run: Run) -> float | None:
    """The part's own limit where its bench said it, else the campaign's."""
    limits = run.live.limits if hasattr(run, "live") else {}
    found = limits.get("temp_c") or run.campaign.temp_limit_c
    return float(found) if found is not None and found < 1000 else None


def _new_fitting(run: Run) -> bool:
    """Whether the setting has completed runs, but all of them under an earlier fitting."""
    numbers = run.campaign.runs.filter(setting=run.setting, outcome="completed").values_list(
        "fitting__number", flat=True
    )
    return bool(numbers) and all(number < run.fitting.number for number in numbers)


def _fails_at_stock(campaign: Campaign, run: Run) -> bool:
    stock = campaign.runs.filter(setting__fingerprint="", fitting=run.fitting, outcome__in=FAILURES)
    return stock.filter(set_aside_at__isnull=True).exists()
