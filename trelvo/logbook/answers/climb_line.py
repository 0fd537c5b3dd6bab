"""The settings along one knob and what was run on them, as trials; and what earlier climbs say of knobs like it."""

import math
from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache, partial
from itertools import chain
from typing import Literal, TypeVar, cast

import numpy as np
import numpy.typing as npt

from trelvo.core.base.figures import Part
from trelvo.core.base.knobs import Knob, effect_of, fingerprint
from trelvo.core.base.loads import Load, stress_decades, works_on
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.climb.edge import WARM_UP_MINUTES, EdgeModel, EdgePosterior, edge_posterior
from trelvo.core.climb.harder import (
    asks_no_more_than_stock,
    decides_stability,
    easier_on_the_way,
    harder_on_the_way,
    values_at,
)
from trelvo.core.climb.least_stable import stock_is_stable
from trelvo.core.climb.policy import Advice, Policy
from trelvo.core.climb.score_top import ScoreAt, first_top
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.core.climb.steepness import Seen, Steepness, learnt_steepness, usual_steepness
from trelvo.core.climb.strategies import advise
from trelvo.core.climb.stress import GRID as COARSE
from trelvo.core.climb.stress import Offset, Stress, estimate_stress, learnt_offset
from trelvo.core.climb.trials import KnownTo, Trial, coldness_of
from trelvo.core.registry.roles import Role
from trelvo.logbook.answers.use_trials import use_trials
from trelvo.logbook.models import Fitting, Setting, Variant
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.run_rows import RunRow

# Run-to-run deviation taken where no repeats have shown it. Common practice: 0.5 to 1 % on a good bench.
USUAL_NOISE = 0.01


# What makes two knobs alike, and what one of them has shown; or what a rig's climb has shown of a workload.
Like = tuple[Role | Literal["stress"], str, str]
Shown = tuple[Like, Seen | Offset]


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

    @cached_property
    def trial(self) -> Trial:
        return Trial(self.value, self.minutes, self.failed, self.stress, self.known_to, self.coldness)


@dataclass(frozen=True)
class Line:
    """The settings along one knob, and what was run on them.

    survived: what held at settings that ask more than these; failed: what failed at settings that ask less
    in_use: what kept settings did in use, where that says something here
    """

    knob: Knob
    base: dict[str, float]
    along: dict[float, Setting]
    fitting: Fitting | None
    marks: list[TrialMark]
    steepness: Steepness
    stresses: Mapping[int, Stress] = field(default_factory=dict)
    survived: tuple[Trial, ...] = ()
    failed: tuple[Trial, ...] = ()
    in_use: tuple[Trial, ...] = ()

    @cached_property
    def trials(self) -> list[Trial]:
        return [*(mark.trial for mark in self.marks), *self.survived, *self.failed, *self.in_use]

    @cached_property
    def _belief(self) -> EdgePosterior:
        return believed(self.knob, tuple(self.trials), self.steepness)

    def belief(self) -> EdgePosterior:
        return self._belief

    def has_survived(self, value: float) -> bool:
        """Whether a test has survived at this value, or at one that asks more."""
        belief = self.belief()
        return belief.distance(value) <= belief.survived_to + 1e-9


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


@lru_cache(maxsize=256)
def _stressed(
    model: EdgeModel,
    trials: tuple[tuple[int, tuple[Trial, ...]], ...],
    expected: tuple[tuple[int, float], ...],
    before: tuple[tuple[int, Offset], ...],
) -> Mapping[int, Stress]:
    """The workloads' stresses after these trials, by variant: many lines share them."""
    return estimate_stress(model, dict(trials), dict(expected), dict(before))


def _frozen(trials: Mapping[int, Sequence[Trial]]) -> tuple[tuple[int, tuple[Trial, ...]], ...]:
    return tuple((pk, tuple(some)) for pk, some in trials.items())


def knowing_of(data: CampaignData, shown: Sequence[Shown]) -> CampaignData:
    """A campaign's data with what other campaigns have shown of knobs of the same role of the same part."""
    learnt = {}
    for knob in data.knobs:
        seen = [one for like, one in shown if isinstance(one, Seen) and like == _like(knob)]
        learnt[knob] = learnt_steepness(usual_steepness(knob), [] if knob.role == "other" else seen)
    offsets = {}
    for variant in data.known_variants:
        told = [one for like, one in shown if isinstance(one, Offset) and like == _load(data, variant.pk)]
        if told:
            offsets[variant.pk] = tuple(told)
    return data.knowing(learnt, offsets)


def shown_by(data: CampaignData) -> list[Shown]:
    """What a campaign's failures have shown of its knobs and workloads, without what others have: else each would ask the other
    for ever."""
    if "shown" not in data.found:
        found: list[Shown] = []
        for knob in data.knobs:
            line = line_of(data, knob.key, None)
            trials = line.trials
            if not any(trial.failed for trial in trials):
                continue
            seen = _seen(knob, tuple(trials))
            found += [(_like(knob), seen)] if seen else []
            found += [
                (_load(data, pk), stress.shown) for pk, stress in line.stresses.items() if stress.shown is not None
            ]
        data.found["shown"] = found
    return cast(list[Shown], data.found["shown"])


def _load(data: CampaignData, variant_id: int) -> Like:
    """A workload on one rig: on another it may be harder or lighter on a setting."""
    return "stress", str(data.campaign.rig_id), str(variant_id)


def _like(knob: Knob) -> Like:
    return knob.role, knob.part, knob.unit


def steepness_of(data: CampaignData, knob: Knob) -> Steepness:
    """What is known of a knob's steepness before anything was run on it here."""
    return data.learnt.get(knob) or usual_steepness(knob)


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
    base = next((setting for setting in settings if setting.id == base_id), None)
    if base is None:
        base = _run_most(data, settings, knob_key) if knob_key else newest
    turned = [key for key, knob in knobs.items() if not knob.retired] or list(knobs)
    key = knob_key or turned_last(turned, base)
    if key not in knobs:
        raise Refused(Problem("knob", f"This campaign has no knob {key}.", f"Its knobs are: {', '.join(knobs)}."))
    knob, others = knobs[key], _without(base, key)
    if base_values is not None:
        others = {name: value for name, value in base_values.items() if name != key}
    # asked for by every setting along it: made once
    made_of = ("line", knob.key, _mark(others))
    if made_of not in data.found:
        along, steepness = _lines_along(data, knob).get(_mark(others), {}), steepness_of(data, knob)
        places = {setting.id: value for value, setting in along.items()}
        under = {data.judged_fitting.pk} if data.judged_fitting else set()
        marks, stresses = marks_under(data, knob, _mark(others), places, steepness, under)
        survived = _survived_at_harder(data, knob, others, steepness, stresses)
        if knob.turning == "helps" and asks_no_more_than_stock(data.knobs, others):
            survived = (*survived, stock_is_stable(knob))
        failed = _failed_at_easier(data, knob, others, steepness, stresses)
        in_use = use_trials(data, knob, others, steepness, stresses)
        data.found[made_of] = Line(
            knob, others, along, data.judged_fitting, marks, steepness, stresses, survived, failed, in_use
        )
    return cast(Line, data.found[made_of])


def stability_line(
    data: CampaignData, setting: Setting, per_h: float = ACCEPTED_PER_H, *, wary: bool = False
) -> tuple[Line, float] | None:
    """The line along which a setting's stability is judged, and its value there; None where nothing turned can be judged.

    A setting is no surer than the least sure of its knobs: of its lines, the one along which it is least likely to be within
    `per_h` failures an hour.
    """
    lines = stability_lines(data, setting)
    tested = [one for one in lines if one[0].trials]
    return min(
        tested,
        key=lambda one: one[0].belief().chance_stable(one[1], per_h, wary=wary),
        default=lines[0] if lines else None,
    )


def stability_lines(data: CampaignData, setting: Setting) -> list[tuple[Line, float]]:
    """The line of the knob turned last, then those through the setting on which several values were run; each with its value."""
    last = line_of_last_turned(data, setting)
    if last is None:
        return []
    turned = [
        knob for knob in data.knobs if setting.values.get(knob.key, knob.stock) != knob.stock and knob.facts.tested
    ]
    lines = [(_line_through(data, setting, knob), float(setting.values[knob.key])) for knob in turned]
    several = [one for one in lines if len({mark.value for mark in one[0].marks}) > 1]
    return [last, *several]


def line_of_last_turned(data: CampaignData, setting: Setting) -> tuple[Line, float] | None:
    """The line along the knob that a setting turned last, and its value there; None where nothing turned can be judged."""
    knob = decides_stability(data.knobs, setting.values)
    return None if knob is None else (line_of(data, knob.key, setting.pk), float(setting.values[knob.key]))


def _line_through(data: CampaignData, setting: Setting, knob: Knob) -> Line:
    """The line along a knob that tells most of a setting: with all others as they are, or only with those listed before the knob,
    as they are climbed one after the other; whichever more settings lie on.

    Of the knobs left out none helps: with them the setting can only be less stable than on the line.
    """
    lines = _lines_along(data, knob)
    order = [one.key for one in data.knobs]
    others = _without(setting, knob.key)
    before = {
        one.key: others[one.key]
        for one in data.knobs
        if one.key in others
        and (
            order.index(one.key) < order.index(knob.key)
            or effect_of(one, 1 if others[one.key] > one.stock else -1) == "helps"
        )
    }
    if len(lines.get(_mark(before), {})) > len(lines.get(_mark(others), {})):
        return line_of(data, knob.key, None, before)
    return line_of(data, knob.key, setting.pk)


def _lines_along(data: CampaignData, knob: Knob) -> dict[object, dict[float, Setting]]:
    """Every line along a knob, by where the others stand: its settings by the knob's value."""
    if ("lines", knob.key) not in data.of_rows:
        found: dict[object, dict[float, Setting]] = defaultdict(dict)
        for setting in data.settings:
            found[_mark(_without(setting, knob.key))][float(setting.values.get(knob.key, knob.stock))] = setting
        data.of_rows["lines", knob.key] = dict(found)
    return cast(dict[object, dict[float, Setting]], data.of_rows["lines", knob.key])


def _mark(values: Mapping[str, float]) -> object:
    return frozenset(values.items())


def _survived_at_harder(
    data: CampaignData, knob: Knob, others: Mapping[str, float], steepness: Steepness, stresses: Mapping[int, Stress]
) -> tuple[Trial, ...]:
    """What held, and never failed, at settings that ask more of the parts than those along the line: they hold there, too.

    Minutes at one value with one workload are added up, those of warming up left out.
    """
    values, minutes = _held(data)
    places = [one.key for one in data.knobs].index(knob.key)
    expected = _expected_stress(data, steepness)
    fitting_loads = {one.pk for one in data.known_variants if works_on(knob.part, one.as_load())}
    found: dict[tuple[float, int], float] = defaultdict(float)
    for i in np.flatnonzero(harder_on_the_way(data.knobs, knob.key, others, values)):
        for variant_id, held in minutes[i].items():
            if variant_id in fitting_loads:
                found[float(values[i, places]), variant_id] += held
    return tuple(
        Trial(value, held, False, stresses[pk].middle if pk in stresses else expected.get(pk, 0.0))
        for (value, pk), held in sorted(found.items())
    )


def _failed_at_easier(
    data: CampaignData, knob: Knob, others: Mapping[str, float], steepness: Steepness, stresses: Mapping[int, Stress]
) -> tuple[Trial, ...]:
    """Failures at settings off the line that ask no more of the parts: the line would have failed there, too."""
    fitting_id = data.judged_fitting.pk if data.judged_fitting else None
    failed = [run for run in data.runs if run.failed and run.shows_stability and run.fitting_id == fitting_id]
    if not failed:
        return ()
    values = {one.pk: one.values for one in data.settings}
    at = values_at(data.knobs, [values[run.setting_id] for run in failed])
    place = [one.key for one in data.knobs].index(knob.key)
    expected = _expected_stress(data, steepness)
    variants = {one.pk: one for one in data.known_variants}
    found = []
    for i in np.flatnonzero(easier_on_the_way(data.knobs, knob.key, others, at)):
        run = failed[i]
        stress = stresses[run.variant_id].middle if run.variant_id in stresses else expected.get(run.variant_id, 0.0)
        made = _trials_at(float(at[i, place]), [run], variants, {run.variant_id: stress}, [None], math.nan)
        found += [trial for _, trial in made]
    return tuple(found)


def _held(data: CampaignData) -> tuple[npt.NDArray[np.float64], list[dict[int, float]]]:
    """Where the knobs stand at every setting that has held and never failed, under the fitting that results are judged in; and
    for how many minutes by variant, warmed up."""
    if "held" not in data.of_rows:
        variants = {one.pk: one for one in data.known_variants}
        lengths = {pk: one.minutes for pk, one in variants.items()}
        warmest, hottest = max(data.hottest.values(), default=0.0), data.hottest
        settings, minutes = [], []
        for setting in data.settings:
            runs = data.runs_at(setting, data.judged_fitting)
            warm = [hottest.get(run.id, warmest) for run in runs]
            held = data.made_of_runs(
                ("held", setting.pk), (runs, warm, warmest, lengths), partial(_held_at, runs, warm, warmest, variants)
            )
            if held:
                settings.append(setting.values)
                minutes.append(held)
        data.of_rows["held"] = values_at(data.knobs, settings), minutes
    return cast(tuple[npt.NDArray[np.float64], list[dict[int, float]]], data.of_rows["held"])


def _held_at(
    runs: Sequence[RunRow], warm: Sequence[float], warmest: float, variants: Mapping[int, Variant]
) -> dict[int, float]:
    """Minutes by variant that a setting has held, warmed up; nothing where it has ever failed. warm: by run, C"""
    told = [(run, degrees) for run, degrees in zip(runs, warm, strict=True) if run.shows_stability]
    found: dict[int, float] = defaultdict(float)
    if any(run.failed for run, _ in told):
        return found
    for run, degrees in told:
        minutes = minutes_of(run, variants) - WARM_UP_MINUTES
        if minutes > 0 and coldness_of(degrees, warmest) == 0:
            found[run.variant_id] += minutes
    return found


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
    if line.knob.away != 1 or line.knob.turning == "helps" or line.fitting is None:
        return []
    made_of = ("scores", line.knob.key, _mark(line.base))
    if made_of not in data.found:
        data.found[made_of] = _scores_along(data, line, line.fitting)
    return cast(list[list[ScoreAt]], data.found[made_of])


def first_top_along(data: CampaignData, line: Line) -> tuple[ScoreAt, ...]:
    """Of several workloads' scores those whose top comes first on the way; empty where none has passed its top."""
    made_of = ("first top", line.knob.key, _mark(line.base))
    if made_of not in data.found:
        data.found[made_of] = tuple(first_top(line.knob, scores_along(data, line)))
    return cast(tuple[ScoreAt, ...], data.found[made_of])


def _scores_along(data: CampaignData, line: Line, fitting: Fitting) -> list[list[ScoreAt]]:
    noise = data.noise(fitting)
    places = {setting.id: value for value, setting in line.along.items()}
    found: dict[int, dict[float, list[float]]] = defaultdict(lambda: defaultdict(list))
    for run in data.runs:
        if run.counts and run.fitting_id == fitting.id and run.setting_id in places:
            found[run.variant_id][places[run.setting_id]].append(cast(float, run.value))
    scores = []
    for workload in data.workloads:
        by_value = found[workload.pk]
        if len(by_value) < 2:
            continue
        pooled = noise.get(workload.pk)
        deviation = pooled.sd_log if pooled else USUAL_NOISE
        means = {value: math.fsum(ran) / len(ran) for value, ran in by_value.items()}
        first = means[min(means)]
        sign = 1 if workload.higher_is_better else -1
        ratios = {value: (mean / first) ** sign for value, mean in means.items()}
        scores.append(
            [ScoreAt(value, ratio, ratio * deviation / len(by_value[value]) ** 0.5) for value, ratio in ratios.items()]
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
    data: CampaignData,
    knob: Knob,
    line: object,
    values: Mapping[int, float],
    steepness: Steepness,
    fittings: Collection[int],
) -> tuple[list[TrialMark], Mapping[int, Stress]]:
    """Runs under some fittings that say something about stability, on the way from stock outward; those set aside say nothing.

    line: what tells this line along the knob from others, which are kept beside it; values: of the knob, by setting
    With each the stress of its workload: where its kind and the rig's other climbs put it, moved by what the runs themselves
    show; and these stresses by variant.
    """
    place = knob.key, line, tuple(fittings)
    by_setting = _trials_under(data, (knob.key, line), knob.part, values, steepness, fittings)
    made = {pk: some for pk, some in by_setting.items() if (values[pk] - knob.stock) * knob.away >= 0}
    by_variant: dict[int, list[Trial]] = defaultdict(list)
    expected: dict[int, float] = {}
    for run, trial in _in_order(made.values()):
        by_variant[run.variant_id].append(trial)
        expected[run.variant_id] = trial.stress
    model = EdgeModel.of(knob, steepness)
    own = _shown_along_others(data, knob, fittings)
    told = {pk: [*data.offsets.get(pk, ()), *own.get(pk, ())] for pk in expected}
    before = {pk: learnt_offset(some) for pk, some in told.items() if some}
    stresses = data.made_of_runs(
        ("stresses", place),
        (model, by_variant, expected, before),
        lambda: _stressed(model, _frozen(by_variant), tuple(expected.items()), tuple(before.items())),
    )
    middles = {pk: stress.middle for pk, stress in stresses.items()}
    marks = {
        pk: data.made_of_runs(
            ("marks", place, pk),
            (some, middles),
            partial(_marks_at, some, middles),
        )
        for pk, some in made.items()
    }
    return [mark for _, mark in _in_order(marks.values())], stresses


def _shown_along_others(data: CampaignData, knob: Knob, fittings: Collection[int]) -> dict[int, list[Offset]]:
    """What the climbs of the campaign's other knobs have shown of its workloads, each by itself."""
    found: dict[int, list[Offset]] = defaultdict(list)
    for other in data.knobs:
        if other.key == knob.key:
            continue
        made_of = ("stresses alone", other.key, tuple(fittings))
        if made_of not in data.found:
            # every line along a knob asks for it
            data.found[made_of] = _stresses_alone(data, other, fittings)
        for pk, stress in cast(Mapping[int, Stress], data.found[made_of]).items():
            if stress.shown is not None:
                found[pk].append(stress.shown)
    return found


def _stresses_alone(data: CampaignData, knob: Knob, fittings: Collection[int]) -> Mapping[int, Stress]:
    """The workloads' stresses by one knob's climb alone: nothing is asked of the others, which would ask back."""
    turned = [setting for setting in data.settings if knob.key in setting.values]
    if not turned:
        return {}
    along = _lines_along(data, knob)[_mark(_without(_run_most(data, data.settings, knob.key), knob.key))]
    places = {setting.id: value for value, setting in along.items() if (value - knob.stock) * knob.away >= 0}
    steepness = steepness_of(data, knob)
    by_variant: dict[int, list[Trial]] = defaultdict(list)
    expected: dict[int, float] = {}
    for run, trial in _in_order(
        _trials_under(data, f"{knob.key} alone", knob.part, places, steepness, fittings).values()
    ):
        by_variant[run.variant_id].append(trial)
        expected[run.variant_id] = trial.stress
    if not any(trial.failed for some in by_variant.values() for trial in some):
        return {}
    model = EdgeModel.of(knob, steepness)
    return data.made_of_runs(
        ("stresses alone", knob.key, tuple(fittings)),
        (model, by_variant, expected),
        lambda: _stressed(model, _frozen(by_variant), tuple(expected.items()), ()),
    )


Of = TypeVar("Of")


def _in_order(by_setting: Iterable[Sequence[tuple[RunRow, Of]]]) -> list[tuple[RunRow, Of]]:
    """All of them in the order in which the runs were made."""
    return sorted(chain.from_iterable(by_setting), key=lambda pair: (pair[0].started, pair[0].id))


def marks_on_both_sides(
    data: CampaignData, part: Part, values: Mapping[int, float], steepness: Steepness, fittings: Collection[int]
) -> list[TrialMark]:
    """The same on either side of stock, where another knob is turned as well: a workload's stress is where its kind puts it."""
    made = _in_order(_trials_under(data, "both sides", part, values, steepness, fittings).values())
    return [_mark_of(run, one, one.stress) for run, one in made]


def _marks_at(made: Sequence[tuple[RunRow, Trial]], stresses: Mapping[int, float]) -> list[tuple[RunRow, TrialMark]]:
    return [(run, _mark_of(run, one, stresses[run.variant_id])) for run, one in made]


def _mark_of(run: RunRow, one: Trial, stress: float) -> TrialMark:
    return TrialMark(run.id, one.value, one.minutes, one.failed, run.outcome, stress, one.known_to, one.coldness)


def _trials_under(
    data: CampaignData,
    name: object,
    part: Part,
    values: Mapping[int, float],
    steepness: Steepness,
    fittings: Collection[int],
) -> dict[int, list[tuple[RunRow, Trial]]]:
    """By setting, runs that say something about stability, each with the stress that its workload's kind puts on it.

    How cold a part stayed is told against the warmest of all these runs. name: under which they are kept
    part: what the knob turns; a run without failure under a load that does not work that part says nothing
    """
    variants = {one.pk: one for one in data.known_variants}
    fitting_loads = {pk for pk, one in variants.items() if works_on(part, one.as_load())}
    expected = _expected_stress(data, steepness)
    minutes = {pk: one.minutes for pk, one in variants.items()}
    told: dict[int, list[RunRow]] = defaultdict(list)
    for run in data.runs:
        says = run.failed or run.variant_id in fitting_loads
        if says and run.setting_id in values and run.fitting_id in fittings and run.shows_stability:
            told[run.setting_id].append(run)
    hottest = data.hottest
    degrees = {pk: [hottest.get(run.id) for run in some] for pk, some in told.items()}
    warmest = max((one for some in degrees.values() for one in some if one is not None), default=math.nan)
    place = name, tuple(fittings)
    known = data.made_of_runs(("trials", place), (expected, minutes, None if math.isnan(warmest) else warmest), object)
    return {
        pk: data.made_of_runs(
            ("trials", place, pk),
            (known, values[pk], some, degrees[pk]),
            partial(_trials_at, values[pk], some, variants, expected, degrees[pk], warmest),
        )
        for pk, some in told.items()
    }


def _expected_stress(data: CampaignData, steepness: Steepness) -> dict[int, float]:
    """By variant, how much nearer the edge its kind takes a setting than the heaviest in use, in the knob's unit."""
    kinds = [workload.kind for workload in data.testable]
    return {one.pk: stress_decades(one.kind, kinds) * steepness.decade if kinds else 0.0 for one in data.known_variants}


def _trials_at(
    value: float,
    runs: Sequence[RunRow],
    variants: Mapping[int, Variant],
    expected: Mapping[int, float],
    degrees: Sequence[float | None],
    warmest: float,
) -> list[tuple[RunRow, Trial]]:
    """One setting's runs. expected: stress by variant; degrees: how warm each run got, C; warmest: of all settings' runs"""
    made = []
    for run, warm in zip(runs, degrees, strict=True):
        failed, minutes = run.failed, minutes_of(run, variants)
        variant = variants.get(run.variant_id)
        known_to = _known_to(run) if failed else "second"
        if known_to == "run" and run.outcome == "no start":
            # without a start it failed at once
            known_to = "second"
        elif known_to == "run" and variant:
            minutes = variant.minutes
        if failed or minutes > 0:
            coldness = 0.0 if warm is None else coldness_of(warm, warmest)
            made.append((run, Trial(value, minutes, failed, expected.get(run.variant_id, 0.0), known_to, coldness)))
    return made
