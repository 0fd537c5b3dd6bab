"""What a campaign's runs say about one knob: trials along it, all else as in the setting it is climbed from."""

import math
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import cast

import numpy as np

from trelvo.core.base.knobs import Knob, describe_setting, fingerprint
from trelvo.core.base.loads import Load, stress_steps
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.climb.knob_order import order_knobs, why_then
from trelvo.core.climb.score_top import ScoreAt, ScoreTop, first_top, score_top
from trelvo.core.climb.stability import EdgeModel, EdgePosterior, Trial, edge_posterior
from trelvo.core.climb.strategies import (
    STRATEGIES,
    Advice,
    Policy,
    Strategy,
    advise,
    below_top,
    highest_hold,
    values_of,
)
from trelvo.core.decide.stages import State
from trelvo.logbook.models import Fitting, Setting, Variant
from trelvo.logbook.rows.campaign_data import CampaignData, RunRow

# Run-to-run deviation taken where no repeats have shown it. Common practice: 0.5 to 1 % on a good bench.
USUAL_NOISE = 0.01
MOST_CURVE_POINTS = 200


@dataclass(frozen=True)
class CurvePoint:
    """A value of the knob: chance that it fails no more often than accepted, failures an hour with their 90 % interval,
    and the setting that has this value, where there is one."""

    value: float
    holds: float
    per_h: float
    low_per_h: float
    high_per_h: float
    setting_id: int | None


@dataclass(frozen=True)
class TrialMark:
    """A run along the knob, as drawn. run_id is 0 where no run is kept (practice).

    timed: whether the moment of a failure is known; where it is not, it failed somewhere within the minutes
    """

    run_id: int
    value: float
    minutes: float
    failed: bool
    outcome: str
    stress: float = 0.0
    timed: bool = True

    @property
    def trial(self) -> Trial:
        return Trial(self.value, self.minutes, self.failed, self.stress, self.timed)


@dataclass(frozen=True)
class NextStep:
    """What a strategy would do next."""

    strategy: Strategy
    advice: Advice
    setting_id: int | None


@dataclass(frozen=True)
class KnobTurn:
    """A knob in the order of turning: from which setting it is climbed, its trials, where it holds to (None: untried)."""

    key: str
    why: str
    state: State
    base: dict[str, float]
    base_title: str
    trials: int
    hold: float | None


@dataclass(frozen=True)
class ClimbView:
    """One knob's climb. base: what all other knobs stand at; hold: the furthest value that holds by the numbers

    edge_near, edge_far: between these failures reach one an hour, 90 % sure; top: where the score has passed its top
    settings: rungs of this climb, from stock away
    """

    knob: Knob
    base: dict[str, float]
    base_title: str
    hold: float
    edge_near: float
    edge_far: float
    accepted_per_h: float
    sure: float
    trials: list[TrialMark]
    curve: list[CurvePoint]
    steps: list[NextStep]
    tested_to: float
    top: ScoreTop | None
    settings: list[int]


@dataclass(frozen=True)
class Line:
    """The settings along one knob, and what was run on them."""

    knob: Knob
    base: dict[str, float]
    along: dict[float, Setting]
    fitting: Fitting | None
    marks: list[TrialMark]

    @property
    def trials(self) -> list[Trial]:
        return [mark.trial for mark in self.marks]

    def belief(self) -> EdgePosterior:
        return edge_posterior(EdgeModel.of(self.knob), self.trials)


def climb_view(data: CampaignData, knob_key: str | None, base_id: int | None, policy: Policy) -> ClimbView:
    """The climb of a knob, all others standing as in a setting.

    Where none is named: for a knob, where it has been run most; else the newest setting that turned something.
    """
    line = line_of(data, knob_key, base_id)
    scores = first_top(line.knob, scores_along(data, line))
    loads = [workload.as_load() for workload in data.testable]
    policy = replace(policy, limit=ceiling_of(data, line.knob))
    settings = {value: setting.pk for value, setting in line.along.items()}
    title = describe_setting(data.knobs, line.base)
    return view_of(line.knob, line.base, title, line.marks, settings, policy, loads, scores)


def view_of(
    knob: Knob,
    base: dict[str, float],
    base_title: str,
    marks: list[TrialMark],
    settings: dict[float, int],
    policy: Policy,
    loads: Sequence[Load] = (),
    scores: Sequence[ScoreAt] = (),
) -> ClimbView:
    """A climb as drawn, from its trials. settings: ids of the rungs that are there, by value"""
    trials = [mark.trial for mark in marks]
    belief = edge_posterior(EdgeModel.of(knob), trials)
    values = values_of(knob, policy)
    stride = math.ceil(len(values) / MOST_CURVE_POINTS)
    curve = []
    for place, value in enumerate(values):
        # a long grid is drawn through some of its values; those that have a rung, and the end, are always among them
        if place % stride and value not in settings and place != len(values) - 1:
            continue
        middle, low, high = belief.rate(value)
        holds = belief.chance_within(value, policy.accepted_per_h)
        curve.append(CurvePoint(value, holds, middle, low, high, settings.get(value)))
    steps = []
    for strategy in STRATEGIES:
        advice = advise(knob, trials, replace(policy, strategy=strategy), loads, scores, belief)
        steps.append(NextStep(strategy, advice, settings.get(advice.value)))
    return ClimbView(
        knob=knob,
        base=base,
        base_title=base_title,
        hold=highest_hold(belief, policy, values_of(knob, below_top(knob, policy, score_top(knob, scores)))),
        edge_near=belief.edge_at(0.05),
        edge_far=belief.edge_at(0.95),
        accepted_per_h=policy.accepted_per_h,
        sure=policy.sure,
        trials=marks,
        curve=curve,
        steps=steps,
        tested_to=knob.stock + knob.away * belief.tested_to,
        top=score_top(knob, scores),
        settings=[settings[value] for value in sorted(settings, key=lambda value: value * knob.away)],
    )


def line_of(data: CampaignData, knob_key: str | None, base_id: int | None) -> Line:
    """The settings along a knob and their runs; see `climb_view` for what is taken where nothing is named."""
    knobs = {knob.key: knob for knob in data.knobs}
    settings = data.settings
    newest = next((setting for setting in reversed(settings) if setting.values), settings[0])
    base = next((setting for setting in settings if setting.pk == base_id), None)
    if base is None:
        base = _run_most(data, settings, knob_key) if knob_key else newest
    turned = [key for key, knob in knobs.items() if not knob.retired] or list(knobs)
    key = knob_key or turned_last(turned, base)
    if key not in knobs:
        raise Refused(Problem("knob", f"This campaign has no knob {key}.", f"Its knobs are: {', '.join(knobs)}."))
    knob, others = knobs[key], _without(base, key)
    along = {
        float(setting.values.get(key, knob.stock)): setting for setting in settings if _without(setting, key) == others
    }
    places = {setting.pk: value for value, setting in along.items()}
    return Line(knob, others, along, data.judged_fitting, _marks(data, knob, places))


def knob_turns(data: CampaignData, policy: Policy) -> list[KnobTurn]:
    """The campaign's knobs in the order of turning, each with how far its climb has come."""
    turns = []
    for knob in order_knobs(data.knobs, data.campaign.goal):
        line = line_of(data, knob.key, None)
        tried = [trial for trial in line.trials if trial.value != knob.stock]
        state: State = "to do"
        hold = None
        if tried:
            own = replace(policy, limit=ceiling_of(data, knob))
            scores = first_top(knob, scores_along(data, line))
            belief = line.belief()
            advice = advise(knob, line.trials, own, scores=scores, belief=belief)
            state = "done" if advice.act == "hold" else "under way"
            own = below_top(knob, own, score_top(knob, scores))
            hold = highest_hold(belief, own, values_of(knob, own))
        title = describe_setting(data.knobs, line.base)
        turns.append(KnobTurn(knob.key, why_then(knob, data.campaign.goal), state, line.base, title, len(tried), hold))
    return turns


def ceiling_of(data: CampaignData, knob: Knob) -> float | None:
    """A guard rail's ceiling for the knob, where there is one that the climb could reach."""
    ceilings = [rail.limit for rail in data.rails if rail.kind == "voltage ceiling" and rail.channel == knob.key]
    return min(ceilings) if ceilings and knob.away == 1 else None


def scores_along(data: CampaignData, line: Line) -> list[list[ScoreAt]]:
    """For each workload its performance along a knob that is turned up, against the value nearest stock."""
    if line.knob.away != 1 or line.fitting is None:
        return []
    noise = data.noise(line.fitting)
    places = {setting.pk: value for value, setting in line.along.items()}
    found: dict[int, dict[float, list[float]]] = defaultdict(lambda: defaultdict(list))
    for run in data.runs:
        if run.counts and run.fitting_id == line.fitting.pk and run.setting_id in places:
            found[run.variant_id][places[run.setting_id]].append(cast(float, run.value))
    scores = []
    for workload in data.workloads:
        by_value = found[workload.pk]
        if len(by_value) < 2:
            continue
        pooled = noise.get(workload.pk)
        deviation = pooled.sd_log if pooled else USUAL_NOISE
        first = by_value[min(by_value)]
        sign = 1 if workload.higher_is_better else -1
        scores.append(
            [
                ScoreAt(value, ratio, ratio * deviation * float(np.sqrt(1 / len(ran) + 1 / len(first))))
                for value, ran in by_value.items()
                for ratio in [float((np.mean(ran) / np.mean(first)) ** sign)]
            ]
        )
    return scores


def turned_last(keys: list[str], setting: Setting) -> str:
    """The last of the knobs that the setting has turned; the first where it has turned none."""
    return next((key for key in reversed(keys) if key in setting.values), keys[0])


def minutes_of(run: RunRow, variants: Mapping[int, Variant]) -> float:
    """How long it lasted; a completed run without its time lasted as long as its workload does."""
    if run.duration_s is not None:
        return run.duration_s / 60
    variant = variants.get(run.variant_id)
    return variant.minutes if variant and run.outcome == "completed" else 0.0


def _without(setting: Setting, key: str) -> dict[str, float]:
    return {name: value for name, value in setting.values.items() if name != key}


def _run_most(data: CampaignData, settings: list[Setting], key: str) -> Setting:
    """A setting of the line along which the knob has been run at the most values, then most often; the newest of equals."""
    counts = Counter(run.setting_id for run in data.runs)
    values: dict[str, int] = defaultdict(int)
    runs: dict[str, int] = defaultdict(int)
    marks = {setting.pk: fingerprint(_without(setting, key)) for setting in settings}
    for setting in settings:
        if key in setting.values and setting.pk in counts:
            values[marks[setting.pk]] += 1
            runs[marks[setting.pk]] += counts[setting.pk]
    return max(settings, key=lambda setting: (values[marks[setting.pk]], runs[marks[setting.pk]], setting.pk))


def _marks(data: CampaignData, knob: Knob, values: dict[int, float]) -> list[TrialMark]:
    """Runs that say something about stability, on the way from stock outward; those set aside say nothing."""
    fitting_id = data.judged_fitting.pk if data.judged_fitting else None
    variants = {one.pk: one for one in data.known_variants}
    kinds = [workload.kind for workload in data.testable]
    marks = []
    for run in data.runs:
        if run.setting_id not in values or run.fitting_id != fitting_id or not run.shows_stability:
            continue
        value, failed, minutes = values[run.setting_id], run.failed, minutes_of(run, variants)
        variant = variants.get(run.variant_id)
        timed = not failed or run.duration_s is not None
        if not timed and run.outcome != "no start" and variant:
            # it failed somewhere within the run; without a start it failed at once
            minutes = variant.minutes
        if (value - knob.stock) * knob.away >= 0 and (failed or minutes > 0):
            stress = stress_steps(variant.kind, kinds) * knob.step if variant and kinds else 0.0
            marks.append(TrialMark(run.id, value, minutes, failed, run.outcome, stress, timed))
    return marks
