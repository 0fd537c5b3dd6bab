"""What was run off a line along a knob and still bears on it: settings that ask more and held, or ask less and failed."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence

import numpy as np
import numpy.typing as npt

from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import works_on
from trelvo.core.campaign import CampaignSnapshot, Run
from trelvo.core.climb.edge import WARM_UP_MINUTES
from trelvo.core.climb.harder import easier_on_the_way, harder_on_the_way, values_at
from trelvo.core.climb.steepness import Steepness
from trelvo.core.climb.stress import Stress
from trelvo.core.climb.trials import Trial, coldness_of
from trelvo.core.climb_line.trials import expected_stress, minutes_of, trials_at
from trelvo.core.memo import on_snapshot


def survived_at_harder(
    campaign: CampaignSnapshot,
    knob: Knob,
    others: Mapping[str, float],
    steepness: Steepness,
    stresses: Mapping[int, Stress],
) -> tuple[Trial, ...]:
    """What held, and never failed, at settings that ask more of the parts than those along the line: they hold there, too.

    Minutes at one value with one workload are added up, those of warming up left out.
    """
    values, minutes = _held(campaign)
    place = [one.key for one in campaign.knobs].index(knob.key)
    expected = expected_stress(campaign, steepness)
    build_loads = {variant.id for variant in campaign.known_variants if works_on(knob.part, variant.as_load())}
    found: dict[tuple[float, int], float] = defaultdict(float)
    for i in np.flatnonzero(harder_on_the_way(campaign.knobs, knob.key, others, values)):
        for variant_id, held in minutes[i].items():
            if variant_id in build_loads:
                found[float(values[i, place]), variant_id] += held
    return tuple(
        Trial(value, held, False, stresses[pk].middle if pk in stresses else expected.get(pk, 0.0))
        for (value, pk), held in sorted(found.items())
    )


def failed_at_easier(
    campaign: CampaignSnapshot,
    knob: Knob,
    others: Mapping[str, float],
    steepness: Steepness,
    stresses: Mapping[int, Stress],
) -> tuple[Trial, ...]:
    """Failures at settings off the line that ask no more of the parts: the line would have failed there, too."""
    failed, at = _failed(campaign)
    if not failed:
        return ()
    place = [one.key for one in campaign.knobs].index(knob.key)
    expected = expected_stress(campaign, steepness)
    found = []
    for i in np.flatnonzero(easier_on_the_way(campaign.knobs, knob.key, others, at)):
        run = failed[i]
        stress = stresses[run.variant_id].middle if run.variant_id in stresses else expected.get(run.variant_id, 0.0)
        made = trials_at(float(at[i, place]), [run], campaign.variants, {run.variant_id: stress}, [None], math.nan)
        found += [trial for _, trial in made]
    return tuple(found)


@on_snapshot
def _failed(campaign: CampaignSnapshot) -> tuple[tuple[Run, ...], npt.NDArray[np.float64]]:
    """Failures under the build that results are judged in, and where the knobs stood in each."""
    build_id = campaign.judged_build.id if campaign.judged_build else None
    failed = [run for run in campaign.runs if run.failed and run.shows_stability and run.build_id == build_id]
    values = {setting.id: setting.values for setting in campaign.settings}
    return tuple(failed), values_at(campaign.knobs, [values[run.setting_id] for run in failed])


@on_snapshot
def _held(campaign: CampaignSnapshot) -> tuple[npt.NDArray[np.float64], tuple[Mapping[int, float], ...]]:
    """Where the knobs are at every setting that has held and never failed, under the build that results are judged in; and
    for how many minutes by variant, warmed up."""
    hottest = campaign.hottest
    warmest = max(hottest.values(), default=0.0)
    settings, minutes = [], []
    for setting in campaign.settings:
        runs = campaign.runs_at(setting, campaign.judged_build)
        held = _held_at(campaign, runs, [hottest.get(run.id, warmest) for run in runs], warmest)
        if held:
            settings.append(setting.values)
            minutes.append(held)
    return values_at(campaign.knobs, settings), tuple(minutes)


def _held_at(
    campaign: CampaignSnapshot, runs: Sequence[Run], warm: Sequence[float], warmest: float
) -> Mapping[int, float]:
    """Minutes by variant that a setting has held, warmed up; nothing where it has ever failed. warm: by run, C"""
    told = [(run, degrees) for run, degrees in zip(runs, warm, strict=True) if run.shows_stability]
    found: dict[int, float] = defaultdict(float)
    if any(run.failed for run, _ in told):
        return found
    for run, degrees in told:
        minutes = minutes_of(run, campaign.variants) - WARM_UP_MINUTES
        if minutes > 0 and coldness_of(degrees, warmest) == 0:
            found[run.variant_id] += minutes
    return found
