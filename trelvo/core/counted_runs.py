"""A campaign's runs as they count: when they began, which are far off, and their figures with corrections applied."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import cast

import numpy as np
from numpy.typing import NDArray

from trelvo.core.base.figures import NAMED, FigureKey, Part
from trelvo.core.base.instruments import counted
from trelvo.core.base.parts import SHOWN, SHOWN_OF_PART, PartOrder, keys_for, part_order, standing_for
from trelvo.core.base.runs import PartFigure, RunFacts
from trelvo.core.campaign import Build, CampaignSnapshot, Run
from trelvo.core.memo import on_snapshot
from trelvo.core.stats.noise import FAR_OFF_RUNS, far_off
from trelvo.core.stats.time_series import believable_hours


def _hours(started: Sequence[str]) -> NDArray[np.float64]:
    """Moments in ISO 8601 as hours, all at once: one by one it would take most of the time."""
    return np.array(started, dtype="datetime64[us]").astype(np.int64) / 3.6e9


@on_snapshot
def hours(campaign: CampaignSnapshot) -> Mapping[int, float]:
    """When each run began, in hours, as far as its time can be true (`believable_hours`)."""
    minutes = {variant.id: variant.minutes for variant in campaign.known_variants}
    lasted = [
        (run.duration_s or (60 * minutes.get(run.variant_id, 0.0) if run.outcome == "completed" else 0.0)) / 3600
        for run in campaign.runs
    ]
    found = believable_hours(_hours([run.started for run in campaign.runs]), np.array(lasted))
    return {run.id: float(hour) for run, hour in zip(campaign.runs, found, strict=True)}


@on_snapshot
def runs_far_off(campaign: CampaignSnapshot) -> frozenset[int]:
    """Runs whose result is far from all others of their setting, workload and build."""
    groups: dict[tuple[int, int, int], list[Run]] = defaultdict(list)
    for run in campaign.runs:
        if run.counts:
            groups[run.setting_id, run.variant_id, run.build_id].append(run)
    return frozenset(
        some[place].id
        for some in groups.values()
        if len(some) >= FAR_OFF_RUNS
        for place in far_off([cast(float, run.value) for run in some])
    )


@on_snapshot
def counting_runs(campaign: CampaignSnapshot, build: Build | None) -> tuple[Run, ...]:
    """The runs under one build whose results count."""
    build_id, off = build.id if build else None, runs_far_off(campaign)
    return tuple(run for run in campaign.runs if run.build_id == build_id and run.counts and run.id not in off)


def facts_of(campaign: CampaignSnapshot, runs: Sequence[Run], part: Part = "tuned part") -> list[RunFacts]:
    """Runs with their figures as they count.

    part: of which part watts and degrees are meant; "tuned part": of whatever the campaign's knobs tune
    """
    return [_facts(campaign, run, part) for run in runs]


@on_snapshot
def _standing(
    campaign: CampaignSnapshot, part: Part
) -> tuple[PartOrder, tuple[tuple[str, tuple[FigureKey, ...]], ...]]:
    """Whose figures count, and by word of a figure of the tuned part, which may stand for it."""
    order = part_order(campaign.knobs, part)
    return order, tuple((kind.word, keys_for(kind.key, order)) for kind in NAMED if kind.key.part == "tuned part")


@on_snapshot
def _facts(campaign: CampaignSnapshot, run: Run, part: Part) -> RunFacts:
    order, standing = _standing(campaign, part)
    counting = counted(campaign.readings.get(run.id, ()), campaign.instruments, campaign.chosen, run.started_at)
    found = {key.word: one for key, one in counting.items()}
    read_by = {word: one.instrument.name for word, one in found.items() if one.instrument}
    for word, keys in standing:
        own = standing_for(counting, keys)
        if own is None:
            found.pop(word, None)
            read_by.pop(word, None)
            continue
        of_part, found[word] = own
        name = own[1].instrument.name if own[1].instrument else ""
        read_by[word] = ", ".join(one for one in (name, order.named(of_part)) if one)

    def figure(word: str) -> float | None:
        return found[word].value if word in found else None

    power, off = found.get("power_w"), runs_far_off(campaign)
    return RunFacts(
        id=run.id,
        setting_id=run.setting_id,
        workload_id=run.variant_id,
        outcome=run.outcome,
        value=run.value,
        set_aside=run.aside is not None,
        far_off=run.id in off,
        power_w=power.value if power else None,
        power_point=power.instrument.point if power and power.instrument else "unknown",
        temp_max_c=figure("temp_max_c"),
        room_c=figure("room_c"),
        low_1_fps=figure("low_1_fps"),
        low_01_fps=figure("low_01_fps"),
        core_mhz=figure("core_mhz"),
        memory_mhz=figure("memory_mhz"),
        voltage_v=figure("voltage_v"),
        noise_dba=figure("noise_dba"),
        started_h=hours(campaign)[run.id],
        temp_start_c=figure("temp_start_c"),
        frames=run.frames,
        duration_s=run.duration_s,
        corrected=tuple(word for word, one in found.items() if one.corrected),
        doubts={word: one.instrument.doubt for word, one in found.items() if one.instrument and one.instrument.doubt},
        read_by={word: name for word, name in read_by.items() if name},
        of_parts=tuple(
            PartFigure(key.part, key.quantity, key.statistic, one.value, one.instrument.name if one.instrument else "")
            for key, one in counting.items()
            if (key.quantity, key.statistic) in SHOWN_OF_PART and key.part in SHOWN
        ),
    )


def counted_at(
    campaign: CampaignSnapshot, runs: Sequence[Run], keys: Sequence[FigureKey]
) -> dict[int, dict[FigureKey, float]]:
    """Figures beside those that all runs have, as they count; by run, those that have all of them."""
    found: dict[int, dict[FigureKey, float]] = {}
    for run in runs:
        readings = [one for one in campaign.readings.get(run.id, ()) if one.key in keys]
        if len(readings) >= len(keys):
            own = counted(readings, campaign.instruments, campaign.chosen, run.started_at)
            if len(own) == len(keys):
                found[run.id] = {key: one.value for key, one in own.items()}
    return found
