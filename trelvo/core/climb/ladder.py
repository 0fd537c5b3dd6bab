"""The ladder: every setting as a setting above stock, with what its runs say."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from trelvo.core.base.knobs import Knob, describe_setting, height
from trelvo.core.base.runs import RunFacts, figures_count, highest_of, mean_of, values_of
from trelvo.core.base.workloads import Measure
from trelvo.core.registry.outcomes import FAILURES, Outcome
from trelvo.core.stats import comparison, gains, in_time, noise, power
from trelvo.core.stats.same_instrument import WATTS, ByReaders, by_readers
from trelvo.core.stats.time_series import NO_MEMORY, BenchMemory


@dataclass(frozen=True)
class Place:
    """A setting: its number in the campaign and one value for every knob (missing = stock)."""

    setting_id: int
    values: Mapping[str, float]


# So many runs of a setting are named one by one.
MOST_NAMED = 20


@dataclass(frozen=True)
class LadderRun:
    """A run at a setting as it is marked there."""

    id: int
    outcome: Outcome
    set_aside: bool


@dataclass(frozen=True)
class LadderSetting:
    """One setting on the ladder for one workload.

    gain: against stock, None at stock itself or while either side has no run that counts
    values: one for every knob; from_id: the setting below from which the fewest knobs were turned, the nearest such
    turned: keys of those knobs; more than one hides which of them did it
    runs: the last few of this workload, in the order they were made; run_count: how many there are
    watts_saved: None unless one instrument read both
    efficiency_ratio: above 1 = more work for the same energy
    """

    setting_id: int
    title: str
    values: Mapping[str, float]
    from_id: int | None
    turned: tuple[str, ...]
    runs: tuple[LadderRun, ...]
    run_count: int
    summary: noise.Summary | None
    gain: comparison.Comparison | None
    power: power.PowerSummary
    watts_saved: float | None
    temp_max_c: float | None
    room_c: float | None
    efficiency: gains.Efficiency | None
    efficiency_ratio: float | None
    low_1_fps: float | None
    low_01_fps: float | None
    failures: int
    failures_elsewhere: int


@dataclass(frozen=True)
class Ladder:
    """Settings from the furthest down to stock, the noise they were judged by, and the span of all gains for one axis."""

    settings: tuple[LadderSetting, ...]
    pooled: noise.PooledNoise | None
    axis_low: float
    axis_high: float


def build_ladder(
    knobs: Sequence[Knob],
    places: Iterable[Place],
    runs: Iterable[RunFacts],
    *,
    stock_id: int,
    pooled: noise.PooledNoise | None,
    measure: Measure,
    higher_is_better: bool,
    failures_elsewhere: Mapping[int, int] = MappingProxyType({}),
    bench: BenchMemory = NO_MEMORY,
) -> Ladder:
    """The ladder of one workload under one build.

    places: every setting of the campaign, stock included; runs: of this workload and build only
    stock_id: the setting that is the reference; pooled: the workload's noise under this build
    bench: what time does to runs of this build
    failures_elsewhere: failures in other workloads, by setting; a setting that failed there is not safe here either
    """
    by_setting: dict[int, list[RunFacts]] = {}
    for run in runs:
        by_setting.setdefault(run.setting_id, []).append(run)
    stock_runs = by_setting.get(stock_id, [])
    stock_values = values_of(stock_runs)
    stock_power, stock_timed = _by_meter(stock_runs), in_time.timed(stock_runs)

    ordered = sorted(places, key=lambda place: (place.setting_id != stock_id, height(knobs, place.values)))
    origins = _origins(knobs, ordered)

    settings: list[LadderSetting] = []
    for place, (from_id, turned) in zip(ordered, origins, strict=True):
        group = by_setting.get(place.setting_id, [])
        values = values_of(group)
        is_stock = place.setting_id == stock_id
        gain = None
        if values and stock_values and not is_stock:
            gain = in_time.compare_in_time(
                stock_timed, in_time.timed(group), bench, higher_is_better=higher_is_better, pooled=pooled
            ).comparison
        drawn = power.summarise_power(run for run in group if figures_count(run))
        alike = None if is_stock else power.read_alike(stock_power, _by_meter(group))
        saved = power.watts_saved(*alike) if alike else None
        efficiency = (
            gains.efficiency(mean, measure, drawn.mean_w) if (mean := mean_of(values)) and drawn.mean_w else None
        )
        per_joule = None
        if gain and alike and alike[0].mean_w and alike[1].mean_w:
            per_joule = gains.retained(gain.ratio, alike[0].mean_w, alike[1].mean_w).per_joule
        kept = [run for run in group if figures_count(run)]
        settings.append(
            LadderSetting(
                setting_id=place.setting_id,
                title=describe_setting(knobs, place.values),
                values={knob.key: place.values.get(knob.key, knob.stock) for knob in knobs},
                from_id=from_id,
                turned=turned,
                runs=tuple(LadderRun(run.id, run.outcome, run.set_aside) for run in group[-MOST_NAMED:]),
                run_count=len(group),
                summary=noise.summarise(values) if values else None,
                gain=gain,
                power=drawn,
                watts_saved=saved,
                temp_max_c=highest_of(run.temp_max_c for run in group if not run.set_aside),
                room_c=mean_of(run.room_c for run in kept),
                efficiency=efficiency,
                efficiency_ratio=per_joule,
                low_1_fps=mean_of(run.low_1_fps for run in kept),
                low_01_fps=mean_of(run.low_01_fps for run in kept),
                failures_elsewhere=failures_elsewhere.get(place.setting_id, 0),
                failures=sum(run.outcome in FAILURES and not run.set_aside for run in group),
            )
        )
    low, high = _axis(settings)
    return Ladder(tuple(reversed(settings)), pooled, low, high)


def _origins(knobs: Sequence[Knob], ordered: Sequence[Place]) -> list[tuple[int | None, tuple[str, ...]]]:
    """For each setting from stock upwards: the setting it was reached from, and the keys of the knobs turned on the way."""
    values = np.array([[place.values.get(knob.key, knob.stock) for knob in knobs] for place in ordered])
    origins: list[tuple[int | None, tuple[str, ...]]] = [(None, ())]
    for index in range(1, len(ordered)):
        differs = values[:index] != values[index]
        count = differs.sum(axis=1)
        # the last of the lowest counts: the nearest one below
        origin = index - 1 - int(np.argmin(count[::-1]))
        turned = tuple(knob.key for knob, turned in zip(knobs, differs[origin], strict=True) if turned)
        origins.append((ordered[origin].setting_id, turned))
    return origins


def _by_meter(runs: Iterable[RunFacts]) -> ByReaders:
    return by_readers((run for run in runs if figures_count(run)), WATTS)


def _axis(settings: Iterable[LadderSetting]) -> tuple[float, float]:
    """Common axis for the whiskers of all settings: includes stock (1), with a tenth of the span as margin."""
    ends = [1.0]
    for setting in settings:
        if setting.gain:
            ends += [end for end in (setting.gain.low, setting.gain.high, setting.gain.ratio) if end is not None]
    low, high = min(ends), max(ends)
    margin = (high - low) * 0.1 or 0.01
    return low - margin, high + margin


def own_error(gain: comparison.Comparison) -> float:
    """The part of a gain's error that is not the reference's, with what days and memory make of it."""
    sd, error = gain.sd_log or 0.0, gain.error_log or 0.0
    return math.sqrt(max(error**2 - sd**2 / gain.n_reference, sd**2 / gain.n_candidate))
