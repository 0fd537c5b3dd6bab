"""The settings along one knob and what was run on them, as trials; and what earlier climbs say of knobs like it."""

import math
from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import cast

import numpy as np
from django.db.models import Case, Q, QuerySet, When

from trelvo.core.base.knobs import Knob, fingerprint
from trelvo.core.base.loads import Load, stress_decades
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.climb.edge import EdgeModel, EdgePosterior, edge_posterior
from trelvo.core.climb.policy import Advice, Policy
from trelvo.core.climb.score_top import ScoreAt
from trelvo.core.climb.steepness import Seen, Steepness, learnt_steepness, usual_steepness
from trelvo.core.climb.strategies import advise
from trelvo.core.climb.stress import GRID as COARSE
from trelvo.core.climb.stress import Stress, estimate_stress
from trelvo.core.climb.trials import KnownTo, Trial, coldness_of
from trelvo.logbook.models import Campaign, Fitting, Setting, Variant
from trelvo.logbook.rows.campaign_data import CampaignData, RunRow, data_of_many

# Run-to-run deviation taken where no repeats have shown it. Common practice: 0.5 to 1 % on a good bench.
USUAL_NOISE = 0.01
# So many of the newest other campaigns are asked what they have shown of knobs of the same kind.
MOST_EARLIER = 6


@dataclass(frozen=True)
class TrialMark:
    """A run along the knob, as drawn. run_id is 0 where no run is kept (practice).

    known_to: how well the moment of a failure is known; known to the run, it failed somewhere within the minutes
    stress, coldness: as the core's trials have them
    """

    run_id: int
    value: float
    minutes: float
    failed: bool
    outcome: str
    stress: float = 0.0
    known_to: KnownTo = "second"
    coldness: float = 0.0

    @property
    def trial(self) -> Trial:
        return Trial(self.value, self.minutes, self.failed, self.stress, self.known_to, self.coldness)


@dataclass(frozen=True)
class Line:
    """The settings along one knob, and what was run on them."""

    knob: Knob
    base: dict[str, float]
    along: dict[float, Setting]
    fitting: Fitting | None
    marks: list[TrialMark]
    steepness: Steepness

    @cached_property
    def trials(self) -> list[Trial]:
        return [mark.trial for mark in self.marks]

    @cached_property
    def _belief(self) -> EdgePosterior:
        return believed(self.knob, tuple(self.trials), self.steepness)

    def belief(self) -> EdgePosterior:
        return self._belief


@lru_cache(maxsize=256)
def believed(knob: Knob, trials: tuple[Trial, ...], steepness: Steepness) -> EdgePosterior:
    """The belief after these trials: asked for several times in one answer, and the same until something is run."""
    return edge_posterior(EdgeModel.of(knob, steepness), trials)


@lru_cache(maxsize=256)
def advised(
    knob: Knob, trials: tuple[Trial, ...], policy: Policy, loads: tuple[Load, ...], scores: tuple[ScoreAt, ...]
) -> Advice:
    """The next step after these trials: the same until something is run or another risk is accepted."""
    belief = believed(knob, trials, policy.steepness or usual_steepness(knob))
    return advise(knob, trials, policy, loads, scores, belief)


@lru_cache(maxsize=256)
def _seen(knob: Knob, trials: tuple[Trial, ...]) -> Seen | None:
    return edge_posterior(EdgeModel.of(knob, grid=COARSE), trials).seen


def data_for_climb(campaign: Campaign) -> CampaignData:
    """A campaign's data with that of the newest others, read together: what they have shown of like knobs is where it begins."""
    return _with_others(campaign, list(_others().exclude(pk=campaign.pk)[:MOST_EARLIER]))


def found_for_climb(campaign_id: int) -> CampaignData | None:
    """The same by its number, in one question; None where it is not there."""
    itself = Q(pk=campaign_id)
    rows = Campaign.objects.present().filter(itself | Q(archived_at__isnull=True)).select_related("rig")
    # the one asked for first, then the newest
    first = Case(When(itself, then=0), default=1)
    found = list(rows.order_by(first, "-pk")[: MOST_EARLIER + 1])
    if not found or found[0].pk != campaign_id:
        return None
    return _with_others(found[0], found[1:])


def _others() -> QuerySet[Campaign]:
    return Campaign.objects.present().filter(archived_at__isnull=True).order_by("-pk")


def _with_others(campaign: Campaign, others: Sequence[Campaign]) -> CampaignData:
    data, *data.earlier = data_of_many([campaign, *others])
    return data


def steepness_for(knob: Knob, earlier: Iterable[CampaignData]) -> Steepness:
    """What is usual for a knob, after earlier climbs of knobs of the same role of the same part."""
    seen: list[Seen] = []
    for data in (_bare(one) for one in earlier):
        for other in data.knobs:
            if (other.role, other.part, other.unit) != (knob.role, knob.part, knob.unit) or other.role == "other":
                continue
            trials = line_of(data, other.key, None).trials
            shown = _seen(other, tuple(trials)) if any(trial.failed for trial in trials) else None
            seen += [shown] if shown else []
    return learnt_steepness(usual_steepness(knob), seen)


def _bare(data: CampaignData) -> CampaignData:
    """The same campaign without what others have shown: else each would ask the other for ever."""
    if not data.earlier:
        return data
    if "bare" not in data.found:
        data.found["bare"] = CampaignData(data.campaign, data.loader)
    return cast(CampaignData, data.found["bare"])


def line_of(
    data: CampaignData, knob_key: str | None, base_id: int | None, base_values: Mapping[str, float] | None = None
) -> Line:
    """The settings along a knob and their runs. base_values: what the others stand at, where no setting has them yet

    Where none is named: for a knob, the line along which it has been run most; else that of the newest setting that turned
    something.
    """
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
    if base_values is not None:
        others = {name: value for name, value in base_values.items() if name != key}
    along = {
        float(setting.values.get(key, knob.stock)): setting for setting in settings if _without(setting, key) == others
    }
    if ("steepness", knob) not in data.found:
        data.found["steepness", knob] = steepness_for(knob, data.earlier)
    steepness: Steepness = data.found["steepness", knob]
    places = {setting.pk: value for value, setting in along.items()}
    made_of = ("marks", knob, tuple(places), steepness)
    if made_of not in data.found:
        under = {data.judged_fitting.pk} if data.judged_fitting else set()
        data.found[made_of] = marks_under(data, knob, places, steepness, under)
    # asked for by every setting along it: made once
    line = ("line", knob, fingerprint(others), tuple(places), steepness)
    if line not in data.found:
        data.found[line] = Line(knob, others, along, data.judged_fitting, data.found[made_of], steepness)
    return cast(Line, data.found[line])


def within_rails(data: CampaignData, knob: Knob, policy: Policy) -> Policy:
    """The policy with the guard rails' ceiling for the knob as a limit, or as its beginning where the knob is turned down."""
    ceilings = [rail.limit for rail in data.rails if rail.kind == "voltage ceiling" and rail.channel == knob.key]
    if not ceilings:
        return policy
    if knob.away == 1:
        return replace(policy, limit=min(ceilings))
    return replace(policy, begin=min(ceilings)) if min(ceilings) < knob.stock else policy


def scores_along(data: CampaignData, line: Line) -> list[list[ScoreAt]]:
    """For each workload its performance along a knob that is turned up, against the value nearest stock."""
    if line.knob.away != 1 or line.fitting is None:
        return []
    made_of = ("scores", line.knob, tuple(setting.pk for setting in line.along.values()))
    if made_of not in data.found:
        data.found[made_of] = _scores_along(data, line, line.fitting)
    return cast(list[list[ScoreAt]], data.found[made_of])


def _scores_along(data: CampaignData, line: Line, fitting: Fitting) -> list[list[ScoreAt]]:
    noise = data.noise(fitting)
    places = {setting.pk: value for value, setting in line.along.items()}
    found: dict[int, dict[float, list[float]]] = defaultdict(lambda: defaultdict(list))
    for run in data.runs:
        if run.counts and run.fitting_id == fitting.pk and run.setting_id in places:
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
                ScoreAt(value, ratio, ratio * deviation / float(np.sqrt(len(ran))))
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


def _known_to(run: RunRow) -> KnownTo:
    """How well the moment of a failure is known: whole minutes were typed, not measured."""
    if run.duration_s is None:
        return "run"
    return "minute" if run.duration_s >= 60 and run.duration_s % 60 == 0 else "second"


def marks_under(
    data: CampaignData, knob: Knob, values: Mapping[int, float], steepness: Steepness, fittings: Collection[int]
) -> list[TrialMark]:
    """Runs under some fittings that say something about stability, on the way from stock outward; those set aside say nothing.

    values: of the knob, by setting
    With each the stress of its workload: where its kind puts it, moved by what the runs themselves show.
    """
    variants = {one.pk: one for one in data.known_variants}
    kinds = [workload.kind for workload in data.testable]
    expected = {
        pk: stress_decades(one.kind, kinds) * steepness.decade if kinds else 0.0 for pk, one in variants.items()
    }
    told = [run for run in data.runs if run.setting_id in values and run.fitting_id in fittings and run.shows_stability]
    warmth = _warmth(data, told)
    marks: list[tuple[int, TrialMark]] = []
    for run in told:
        value, failed, minutes = values[run.setting_id], run.failed, minutes_of(run, variants)
        variant = variants.get(run.variant_id)
        known_to = _known_to(run) if failed else "second"
        if known_to == "run" and run.outcome == "no start":
            # without a start it failed at once
            known_to = "second"
        elif known_to == "run" and variant:
            minutes = variant.minutes
        if (value - knob.stock) * knob.away >= 0 and (failed or minutes > 0):
            stress, coldness = expected.get(run.variant_id, 0.0), warmth.get(run.id, 0.0)
            mark = TrialMark(run.id, value, minutes, failed, run.outcome, stress, known_to, coldness)
            marks.append((run.variant_id, mark))
    by_variant: dict[int, list[Trial]] = defaultdict(list)
    for variant_id, mark in marks:
        by_variant[variant_id].append(mark.trial)
    stresses = _stresses(
        EdgeModel.of(knob, steepness),
        tuple((pk, expected.get(pk, 0.0), tuple(some)) for pk, some in sorted(by_variant.items())),
    )
    return [replace(mark, stress=stresses[variant_id].middle) for variant_id, mark in marks]


@lru_cache(maxsize=64)
def _stresses(model: EdgeModel, trials: tuple[tuple[int, float, tuple[Trial, ...]], ...]) -> dict[int, Stress]:
    return estimate_stress(model, {pk: some for pk, _, some in trials}, {pk: kind for pk, kind, _ in trials})


def _warmth(data: CampaignData, runs: Sequence[RunRow]) -> dict[int, float]:
    """By run, how cold its part stayed against the warmest of these runs; only runs that say how warm they got."""
    found = data.loader.hottest
    degrees = {run.id: found[run.id] for run in runs if run.id in found}
    hottest = max(degrees.values(), default=math.nan)
    return {run_id: coldness_of(found, hottest) for run_id, found in degrees.items()}
