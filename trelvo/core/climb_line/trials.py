"""Runs along a knob as trials: how long each lasted, how it ended, and how hard its workload was on the part."""

import math
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import chain
from typing import TypeVar

from trelvo.core.base.figures import Part
from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import stress_decades, works_on
from trelvo.core.campaign import CampaignSnapshot, Run, Variant
from trelvo.core.climb.edge import EdgeModel
from trelvo.core.climb.priors import Priors
from trelvo.core.climb.steepness import Steepness
from trelvo.core.climb.stress import Offset, Stress, learnt_offset
from trelvo.core.climb.trials import KnownTo, Trial, coldness_of
from trelvo.core.climb_line.along import others_of, run_most, settings_along, without
from trelvo.core.climb_line.beliefs import stresses_after
from trelvo.core.memo import on_snapshot

Of = TypeVar("Of")
NO_STRESS: Mapping[int, Stress] = {}


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


def minutes_of(run: Run, variants: Mapping[int, Variant]) -> float:
    """How long it lasted; a completed run without its time lasted as long as its workload does."""
    if run.duration_s is not None:
        return run.duration_s / 60
    variant = variants.get(run.variant_id)
    return variant.minutes if variant and run.outcome == "completed" else 0.0


def marks_under(
    campaign: CampaignSnapshot,
    priors: Priors,
    knob: Knob,
    values: Mapping[int, float],
    steepness: Steepness,
    builds: Collection[int],
) -> tuple[tuple[TrialMark, ...], Mapping[int, Stress]]:
    """Runs under some builds that say something about stability, on the way from stock outward; those set aside say nothing.

    values: of the knob, by setting
    With each the stress of its workload: where its kind and the rig's other climbs put it, moved by what the runs themselves
    show; and these stresses by variant.
    """
    by_setting = _trials_under(campaign, knob.part, values, steepness, builds)
    made = {pk: some for pk, some in by_setting.items() if (values[pk] - knob.stock) * knob.away >= 0}
    by_variant: dict[int, list[Trial]] = defaultdict(list)
    expected: dict[int, float] = {}
    in_order = _in_order(made.values())
    for run, trial in in_order:
        by_variant[run.variant_id].append(trial)
        expected[run.variant_id] = trial.stress
    own = _shown_along_others(campaign, priors, knob, builds)
    told = {pk: [*priors.offsets_of(pk), *own.get(pk, ())] for pk in expected}
    before = {pk: learnt_offset(some) for pk, some in told.items() if some}
    stresses = stresses_after(EdgeModel.of(knob, steepness), by_variant, expected, before)
    return tuple(_mark_of(run, one, stresses[run.variant_id].middle) for run, one in in_order), stresses


def marks_on_both_sides(
    campaign: CampaignSnapshot,
    part: Part,
    values: Mapping[int, float],
    steepness: Steepness,
    builds: Collection[int],
) -> list[TrialMark]:
    """The same on either side of stock, where another knob is turned as well: a workload's stress is where its kind puts it."""
    made = _in_order(_trials_under(campaign, part, values, steepness, builds).values())
    return [_mark_of(run, one, one.stress) for run, one in made]


def _shown_along_others(
    campaign: CampaignSnapshot, priors: Priors, knob: Knob, builds: Collection[int]
) -> dict[int, list[Offset]]:
    """What the climbs of the campaign's other knobs have shown of its workloads, each by itself."""
    found: dict[int, list[Offset]] = defaultdict(list)
    for other in campaign.knobs:
        if other.key == knob.key:
            continue
        for pk, stress in _stresses_alone(campaign, other, priors.steepness_of(other), frozenset(builds)).items():
            if stress.shown is not None:
                found[pk].append(stress.shown)
    return found


@on_snapshot
def _stresses_alone(
    campaign: CampaignSnapshot, knob: Knob, steepness: Steepness, builds: frozenset[int]
) -> Mapping[int, Stress]:
    """The workloads' stresses by one knob's climb alone: nothing is asked of the others, which would ask back."""
    if not any(knob.key in setting.values for setting in campaign.settings):
        return NO_STRESS
    along = settings_along(campaign, knob)[others_of(without(run_most(campaign, knob.key), knob.key))]
    places = {setting.id: value for value, setting in along.items() if (value - knob.stock) * knob.away >= 0}
    by_variant: dict[int, list[Trial]] = defaultdict(list)
    expected: dict[int, float] = {}
    for run, trial in _in_order(_trials_under(campaign, knob.part, places, steepness, builds).values()):
        by_variant[run.variant_id].append(trial)
        expected[run.variant_id] = trial.stress
    if not any(trial.failed for some in by_variant.values() for trial in some):
        return NO_STRESS
    return stresses_after(EdgeModel.of(knob, steepness), by_variant, expected, {})


def _in_order(by_setting: Iterable[Sequence[tuple[Run, Of]]]) -> list[tuple[Run, Of]]:
    """All of them in the order in which the runs were made."""
    return sorted(chain.from_iterable(by_setting), key=lambda pair: (pair[0].started, pair[0].id))


def _mark_of(run: Run, one: Trial, stress: float) -> TrialMark:
    return TrialMark(
        run_id=run.id,
        value=one.value,
        minutes=one.minutes,
        failed=one.failed,
        outcome=run.outcome,
        stress=stress,
        known_to=one.known_to,
        coldness=one.coldness,
    )


def _trials_under(
    campaign: CampaignSnapshot,
    part: Part,
    values: Mapping[int, float],
    steepness: Steepness,
    builds: Collection[int],
) -> dict[int, list[tuple[Run, Trial]]]:
    """By setting, runs that say something about stability, each with the stress that its workload's kind puts on it.

    How cold a part stayed is told against the warmest of all these runs.
    part: what the knob turns; a run without failure under a load that does not work that part says nothing
    """
    build_loads = {pk for pk, one in campaign.variants.items() if works_on(part, one.as_load())}
    told: dict[int, list[Run]] = {}
    for setting_id in values:
        runs = [run for build_id in builds for run in campaign.runs_with(setting_id, build_id)]
        some = [run for run in runs if (run.failed or run.variant_id in build_loads) and run.shows_stability]
        if some:
            told[setting_id] = some
    hottest = campaign.hottest
    degrees = {pk: [hottest.get(run.id) for run in some] for pk, some in told.items()}
    warmest = max((one for some in degrees.values() for one in some if one is not None), default=math.nan)
    expected = expected_stress(campaign, steepness)
    return {
        pk: trials_at(values[pk], some, campaign.variants, expected, degrees[pk], warmest) for pk, some in told.items()
    }


def expected_stress(campaign: CampaignSnapshot, steepness: Steepness) -> dict[int, float]:
    """By variant, how much nearer the edge its kind takes a setting than the heaviest in use, in the knob's unit."""
    kinds = [workload.kind for workload in campaign.testable]
    return {
        variant.id: stress_decades(variant.kind, kinds) * steepness.decade if kinds else 0.0
        for variant in campaign.known_variants
    }


def trials_at(
    value: float,
    runs: Sequence[Run],
    variants: Mapping[int, Variant],
    expected: Mapping[int, float],
    degrees: Sequence[float | None],
    warmest: float,
) -> list[tuple[Run, Trial]]:
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


def _known_to(run: Run) -> KnownTo:
    """How well the moment of a failure is known: whole minutes were typed, not measured."""
    if run.duration_s is None:
        return "run"
    return "minute" if run.duration_s >= 60 and run.duration_s % 60 == 0 else "second"
