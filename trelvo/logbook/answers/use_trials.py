"""What kept settings did in use, as trials of a climb: hours without a failure, and failures."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from trelvo.core.base.knobs import Knob
from trelvo.core.base.loads import PLAIN_USE, stress_decades, works_on
from trelvo.core.climb.edge import WARM_UP_MINUTES
from trelvo.core.climb.harder import easier_on_the_way, harder_on_the_way, on_the_way, values_at
from trelvo.core.climb.steepness import Steepness
from trelvo.core.climb.stress import Stress
from trelvo.core.climb.trials import Trial
from trelvo.core.prove.months_later import FailedInUse, Probed, tuning_to_blame
from trelvo.core.registry.outcomes import Outcome
from trelvo.logbook.models import Setting, UseEntry, Variant
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.keepers import counts_against

# Assumed time to a failure where none was written down, at most. Our assumption, no source.
UNKNOWN_MINUTES = 60.0


@dataclass(frozen=True)
class Use:
    """What one kept setting did in use with one workload.

    variant: None where no workload was named; held_minutes: without a failure
    failed_minutes: until each failure, and the chance that the tuning is its cause
    """

    setting: Setting
    variant: Variant | None
    held_minutes: float
    failed_minutes: tuple[tuple[float, float], ...]


def use_of(data: CampaignData) -> list[Use]:
    """Add up use by kept setting and workload, in the build in which results are judged.

    A failure that another cause is to blame for counts as hours that held.
    """
    if "use" not in data.of_rows:
        settings = {one.pk: one for one in data.settings}
        variants = {one.pk: one for one in data.known_variants}
        groups: dict[tuple[int, int | None], list[UseEntry]] = defaultdict(list)
        for entry in data.use_entries:
            if _in_judged_build(data, entry):
                groups[entry.setting_id, entry.variant_id].append(entry)
        data.of_rows["use"] = [
            _added_up(settings[setting_id], variants.get(variant_id or 0), entries)
            for (setting_id, variant_id), entries in sorted(groups.items(), key=lambda item: item[1][0].pk)
        ]
    return list(data.of_rows["use"])


def use_trials(
    data: CampaignData,
    knob: Knob,
    others: Mapping[str, float],
    steepness: Steepness,
    stresses: Mapping[int, Stress],
) -> tuple[Trial, ...]:
    """Trials that use adds to a line along a knob. others: where the other knobs stand; stresses: of workloads, by variant

    Hours without a failure count on the line, and at settings that ask more and never failed in use; failures count on the
    line, and at settings that ask no more. The first minutes, while the part warms up, do not count.
    """
    use = use_of(data)
    if not use:
        return ()
    at = values_at(data.knobs, [one.setting.values for one in use])
    place = [one.key for one in data.knobs].index(knob.key)
    on_line = on_the_way(data.knobs, knob.key, others, at)
    harder = harder_on_the_way(data.knobs, knob.key, others, at)
    easier = easier_on_the_way(data.knobs, knob.key, others, at)
    failed_settings = {one.setting.pk for one in use if one.failed_minutes}
    trials = []
    for i, one in enumerate(use):
        value, stress = float(at[i, place]), _stress(data, one.variant, steepness, stresses)
        holds_here = on_line[i] or (harder[i] and one.setting.pk not in failed_settings)
        worked = one.variant is None or works_on(knob.part, one.variant.as_load())
        if holds_here and worked and one.held_minutes > WARM_UP_MINUTES:
            trials.append(Trial(value, one.held_minutes - WARM_UP_MINUTES, False, stress))
        if on_line[i] or easier[i]:
            trials += [
                Trial(value, minutes, True, stress, "minute", by_knob=share) for minutes, share in one.failed_minutes
            ]
    return tuple(trials)


def _stress(data: CampaignData, variant: Variant | None, steepness: Steepness, stresses: Mapping[int, Stress]) -> float:
    if variant is not None and variant.pk in stresses:
        return stresses[variant.pk].middle
    kinds = [one.kind for one in data.testable]
    return stress_decades(variant.kind if variant else PLAIN_USE, kinds) * steepness.decade if kinds else 0.0


def _in_judged_build(data: CampaignData, entry: UseEntry) -> bool:
    fitting = data.judged_fitting
    present = next((one for one in reversed(data.fittings) if one.since <= entry.at), None)
    return fitting is not None and present is not None and present.pk == fitting.pk


def _tuning_to_blame(entry: UseEntry, minutes: float) -> float:
    """Chance that the tuning caused a failure in use: 1 once it was found to be to blame, else by the tests made so far."""
    if entry.verdict:
        return 1.0
    tested = [Probed(one["key"], bool(one["failed"]), float(one["minutes"])) for one in entry.probes]
    return tuning_to_blame(FailedInUse(minutes, "", cast(Outcome, entry.outcome)), tested)


def _added_up(setting: Setting, variant: Variant | None, entries: Sequence[UseEntry]) -> Use:
    held, failed = 0.0, list[tuple[float, float]]()
    for entry in entries:
        minutes = entry.hours * 60
        if entry.outcome and counts_against(entry):
            until = entry.minutes if entry.minutes is not None else min(minutes or UNKNOWN_MINUTES, UNKNOWN_MINUTES)
            failed.append((until, _tuning_to_blame(entry, until)))
            minutes -= until
        held += max(minutes, 0.0)
    return Use(setting, variant, held, tuple(failed))
