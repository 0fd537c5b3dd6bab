"""What kept settings did in use, as trials of a climb: hours without a failure, and failures."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import PLAIN_USE, stress_decades, works_on
from trelvo.core.campaign import CampaignSnapshot, Setting, Use, Variant
from trelvo.core.climb.edge import WARM_UP_MINUTES
from trelvo.core.climb.failures_in_use import FailedInUse, Probed, Suspect, blames_tuning, tuning_to_blame
from trelvo.core.climb.harder import easier_on_the_way, harder_on_the_way, on_the_way, values_at
from trelvo.core.climb.steepness import Steepness
from trelvo.core.climb.stress import Stress
from trelvo.core.climb.trials import Trial
from trelvo.core.memo import on_snapshot
from trelvo.core.registry.outcomes import Outcome

# Assumed time to a failure where none was written down, at most. Our assumption, no source.
UNKNOWN_MINUTES = 60.0


@dataclass(frozen=True)
class UseOf:
    """What one kept setting did in use with one workload.

    variant: None where no workload was named; held_minutes: without a failure
    failed_minutes: until each failure, and the chance that the tuning is its cause
    """

    setting: Setting
    variant: Variant | None
    held_minutes: float
    failed_minutes: tuple[tuple[float, float], ...]


def counts_against(entry: Use) -> bool:
    """Whether a failure in use counts against the setting: until someone else is shown to be to blame."""
    return not entry.verdict or blames_tuning(cast(Suspect, entry.verdict))


@on_snapshot
def failed_in_use(campaign: CampaignSnapshot) -> Mapping[int, int]:
    """By setting that was kept, its failures in use that count against it; others are left out."""
    return Counter(
        kept.setting.id
        for kept in campaign.kept_settings
        for entry in kept.entries
        if entry.outcome and counts_against(entry)
    )


@on_snapshot
def use_of(campaign: CampaignSnapshot) -> tuple[UseOf, ...]:
    """Add up use by kept setting and workload, in the build in which results are judged.

    A failure that another cause is to blame for counts as hours that held.
    """
    variants = campaign.variants
    groups: dict[tuple[int, int | None], list[Use]] = defaultdict(list)
    settings = {kept.setting.id: kept.setting for kept in campaign.kept_settings}
    entries = [(one, kept.setting.id) for kept in campaign.kept_settings for one in kept.entries]
    for entry, setting_id in sorted(entries, key=lambda pair: (pair[0].at, pair[0].id)):
        if _in_judged_build(campaign, entry):
            groups[setting_id, entry.variant.id if entry.variant else None].append(entry)
    return tuple(
        _added_up(settings[setting_id], variants.get(variant_id or 0), some)
        for (setting_id, variant_id), some in sorted(groups.items(), key=lambda item: item[1][0].id)
    )


def use_trials(
    campaign: CampaignSnapshot,
    knob: Knob,
    others: Mapping[str, float],
    steepness: Steepness,
    stresses: Mapping[int, Stress],
) -> tuple[Trial, ...]:
    """Trials that use adds to a line along a knob. others: where the other knobs stand; stresses: of workloads, by variant

    Hours without a failure count on the line, and at settings that ask more and never failed in use; failures count on the
    line, and at settings that ask no more. The first minutes, while the part warms up, do not count.
    """
    use = use_of(campaign)
    if not use:
        return ()
    at = values_at(campaign.knobs, [one.setting.values for one in use])
    place = [one.key for one in campaign.knobs].index(knob.key)
    on_line = on_the_way(campaign.knobs, knob.key, others, at)
    harder = harder_on_the_way(campaign.knobs, knob.key, others, at)
    easier = easier_on_the_way(campaign.knobs, knob.key, others, at)
    failed_settings = {one.setting.id for one in use if one.failed_minutes}
    trials = []
    for i, one in enumerate(use):
        value, stress = float(at[i, place]), _stress(campaign, one.variant, steepness, stresses)
        holds_here = on_line[i] or (harder[i] and one.setting.id not in failed_settings)
        worked = one.variant is None or works_on(knob.part, one.variant.as_load())
        if holds_here and worked and one.held_minutes > WARM_UP_MINUTES:
            trials.append(Trial(value, one.held_minutes - WARM_UP_MINUTES, False, stress))
        if on_line[i] or easier[i]:
            trials += [
                Trial(value, minutes, True, stress, "minute", by_knob=share) for minutes, share in one.failed_minutes
            ]
    return tuple(trials)


def _stress(
    campaign: CampaignSnapshot, variant: Variant | None, steepness: Steepness, stresses: Mapping[int, Stress]
) -> float:
    if variant is not None and variant.id in stresses:
        return stresses[variant.id].middle
    kinds = [one.kind for one in campaign.testable]
    return stress_decades(variant.kind if variant else PLAIN_USE, kinds) * steepness.decade if kinds else 0.0


def _in_judged_build(campaign: CampaignSnapshot, entry: Use) -> bool:
    build = campaign.judged_build
    present = next((one for one in reversed(campaign.builds) if one.since <= entry.at), None)
    return build is not None and present is not None and present.id == build.id


def _tuning_to_blame(entry: Use, minutes: float) -> float:
    """Chance that the tuning caused a failure in use: 1 once it was found to be to blame, else by the tests made so far."""
    if entry.verdict:
        return 1.0
    return tuning_to_blame(FailedInUse(minutes, "", cast(Outcome, entry.outcome)), probed(entry))


def probed(entry: Use) -> list[Probed]:
    """What was tried to find the cause of a failure in use."""
    return [Probed(probe["key"], bool(probe["failed"]), float(probe["minutes"])) for probe in entry.probes]


def _added_up(setting: Setting, variant: Variant | None, entries: Sequence[Use]) -> UseOf:
    held, failed = 0.0, list[tuple[float, float]]()
    for entry in entries:
        minutes = entry.hours * 60
        if entry.outcome and counts_against(entry):
            until = entry.minutes if entry.minutes is not None else min(minutes or UNKNOWN_MINUTES, UNKNOWN_MINUTES)
            failed.append((until, _tuning_to_blame(entry, until)))
            minutes -= until
        held += max(minutes, 0.0)
    return UseOf(setting, variant, held, tuple(failed))
