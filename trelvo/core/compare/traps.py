"""Traps: mistakes that the runs themselves invite. Each is a rule that gives a code with its numbers, or nothing.

The mistakes of arithmetic (percent difference, added percentages, time called speed, …) are in `claims`, since only a claim
shows them.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from statistics import fmean
from typing import Literal

from trelvo.core.base.runs import RunFacts, counts, figures_count, values_of
from trelvo.core.base.what_counts import STALE_DAYS
from trelvo.core.climb.score_top import ScoreAt, top_of
from trelvo.core.logs.frames import tail_count
from trelvo.core.stats import noise
from trelvo.core.stats.comparison import Comparison, Verdict
from trelvo.core.stats.time_series import TOLD_BELOW, Step, Trend

# A frame rate this close to a stated cap is the cap's. Where none is stated: settings of different strength that all end at one
# rate, within so little, are held by something other than the machine.
CAP_REACH, CAP_SPREAD = 0.01, 0.002
CAP_SIDES, CAP_RUNS, CAP_CALM = 2, 3, 6.0
TAIL_FRAMES = 10
# A start that lifts a run's mean by less than this is lost in the noise.
START_LIFTS = 0.01
WARM_START_C = 15.0
CLOCK_SHARE_GOT = 0.5
# A difference that would be shown as 0.0 % is none.
SMALLEST_SHOWN = 0.0005
# A drift that moves results by less over a session is not worth a word.
DRIFT_MATTERS = 0.002


@dataclass(frozen=True)
class InsideNoise:
    """A difference whose interval holds no difference. gain, low, high: relative; more_runs: on each side, to settle it."""

    code: Literal["winner_inside_noise"] = field(default="winner_inside_noise", init=False)
    gain: float
    low: float
    high: float
    tie: bool
    more_runs: int | None


@dataclass(frozen=True)
class OneRun:
    code: Literal["one_run_only"] = field(default="one_run_only", init=False)


@dataclass(frozen=True)
class SeveralKnobs:
    code: Literal["several_knobs"] = field(default="several_knobs", init=False)
    names: tuple[str, ...]


@dataclass(frozen=True)
class Capped:
    """spread: of the runs, relative to their mean."""

    code: Literal["capped"] = field(default="capped", init=False)
    mean_fps: float
    cap_fps: float
    spread: float


@dataclass(frozen=True)
class Drift:
    """change, low, high: over a session, relative."""

    code: Literal["drift"] = field(default="drift", init=False)
    change: float
    low: float
    high: float
    session_minutes: float


@dataclass(frozen=True)
class SuddenChange:
    """size, low, high: relative."""

    code: Literal["sudden_change"] = field(default="sudden_change", init=False)
    size: float
    low: float
    high: float


@dataclass(frozen=True)
class MixedPoints:
    """Instruments or measuring points of each side."""

    code: Literal["mixed_points"] = field(default="mixed_points", init=False)
    reference: tuple[str, ...]
    candidate: tuple[str, ...]


@dataclass(frozen=True)
class StaleBaseline:
    """age_days: whole days; None where the reference is from another build."""

    code: Literal["stale_baseline"] = field(default="stale_baseline", init=False)
    age_days: int | None


@dataclass(frozen=True)
class FirstRun:
    """In the workload's unit: the first run, the mean of the others, the mean of all."""

    code: Literal["first_run_kept"] = field(default="first_run_kept", init=False)
    first: float
    others: float
    mean: float


@dataclass(frozen=True)
class FarOff:
    """In the workload's unit: the runs far off, the lowest and highest of the others."""

    code: Literal["run_far_off"] = field(default="run_far_off", init=False)
    values: tuple[float, ...]
    low: float
    high: float


@dataclass(frozen=True)
class ShortPass:
    """ahead: how much higher the clock starts, for start_s; lifted: by how much that lifts the runs' mean; both relative

    lasts_s: the runs; enough_s: how long they would have to be
    """

    code: Literal["short_pass"] = field(default="short_pass", init=False)
    ahead: float
    start_s: float
    lasts_s: float
    lifted: float
    enough_s: float


@dataclass(frozen=True)
class ScoreFalls:
    """best, worse: values of the knob; their gains over the reference, relative."""

    code: Literal["score_falls"] = field(default="score_falls", init=False)
    best: float
    best_gain: float
    worse: float
    worse_gain: float


@dataclass(frozen=True)
class FewFrames:
    """tail: frames that decide the low of this share; enough: frames that ten would need."""

    code: Literal["few_frames"] = field(default="few_frames", init=False)
    tail: int
    frames: int
    share: float
    enough: int


@dataclass(frozen=True)
class WarmStart:
    code: Literal["warm_start"] = field(default="warm_start", init=False)
    start_c: float
    room_c: float


@dataclass(frozen=True)
class ClockNotGot:
    code: Literal["clock_not_got"] = field(default="clock_not_got", init=False)
    set_more_mhz: float
    got_more_mhz: float


Shown = (
    InsideNoise
    | OneRun
    | SeveralKnobs
    | Capped
    | Drift
    | SuddenChange
    | MixedPoints
    | StaleBaseline
    | FirstRun
    | FarOff
    | ShortPass
    | ScoreFalls
    | FewFrames
    | WarmStart
    | ClockNotGot
)


@dataclass(frozen=True)
class Trap:
    """A mistake noticed. shown: its code and numbers; where: names the setting or workload; run_ids: the runs that show it."""

    where: str
    shown: Shown
    run_ids: tuple[int, ...] = ()

    @property
    def code(self) -> str:
        return self.shown.code


def winner_inside_noise(where: str, comparison: Comparison, verdict: Verdict) -> Trap | None:
    """A difference that is told although its interval holds no difference."""
    if verdict.word not in ("too few runs", "tie") or comparison.low is None or comparison.high is None:
        return None
    gain = comparison.ratio - 1
    if abs(gain) < SMALLEST_SHOWN or not comparison.low <= 1 <= comparison.high:
        return None
    tie = verdict.word == "tie"
    return Trap(where, InsideNoise(gain, comparison.low - 1, comparison.high - 1, tie, verdict.more_runs))


def one_run_only(where: str, runs: Sequence[RunFacts]) -> Trap | None:
    """A result that rests on a single run."""
    kept = [run for run in runs if counts(run)]
    if len(kept) != 1:
        return None
    return Trap(where, OneRun(), (kept[0].id,))


def several_knobs(where: str, knob_names: Sequence[str]) -> Trap | None:
    """More than one knob between a setting and the nearest one below it."""
    if len(knob_names) < 2:
        return None
    return Trap(where, SeveralKnobs(tuple(knob_names)))


def capped(
    where: str,
    runs: Sequence[RunFacts],
    cap_fps: float | None,
    others: Sequence[Sequence[float]] = (),
    usual_sd: float = 0.0,
) -> Trap | None:
    """A frame rate at a stated cap; or one that this setting shares with others that should be faster or slower.

    others: values of the other settings of the comparison; usual_sd: run-to-run deviation that frame rates have here (relative)
    A cap of any rate is found so (117 and 141 are caps too); one setting alone shows one only where it scatters far less than
    everything else on the bench. Rates that agree because they were rounded show none. For frame rates only.
    """
    values = values_of(runs)
    if not values:
        return None
    mean = fmean(values)
    spread = (max(values) - min(values)) / mean
    cap = cap_fps if cap_fps and abs(mean / cap_fps - 1) <= CAP_REACH else None
    if cap is None:
        cap = _shared_rate([values, *others], usual_sd)
    if cap is None:
        return None
    return Trap(where, Capped(mean, cap, spread), tuple(run.id for run in runs if counts(run)))


def _shared_rate(sides: Sequence[Sequence[float]], usual_sd: float) -> float | None:
    """The rate at which all sides stand, where they lie closer together than runs of one setting do; None otherwise."""
    kept = [side for side in sides if side]
    flat = [value for side in kept for value in side]
    if min(len(side) for side in kept) < CAP_RUNS:
        return None
    mean = fmean(flat)
    together = (max(flat) - min(flat)) / mean
    allowed = min(CAP_SPREAD, usual_sd or CAP_SPREAD) if len(kept) >= CAP_SIDES else usual_sd / CAP_CALM
    rounded_to = 10.0 ** -max(_decimals(value) for value in flat) / mean
    return float(round(mean)) if together <= allowed and rounded_to <= allowed else None


def _decimals(value: float) -> int:
    """How many decimals a rate was given with, four at most: more is more than anybody types."""
    return next(places for places in range(5) if places == 4 or abs(value - round(value, places)) < 1e-9)


def drift(where: str, trend: Trend | None, hours: float) -> Trap | None:
    """Results that rise or fall with time whatever is set. hours: how long a session of this bench lasts"""
    if trend is None or trend.p >= TOLD_BELOW or abs(trend.per_h * hours) < DRIFT_MATTERS:
        return None
    low, high = sorted((trend.low * hours, trend.high * hours))
    return Trap(where, Drift(trend.per_h * hours, low, high, hours * 60))


def sudden_change(where: str, step: Step | None, run_ids: Sequence[int]) -> Trap | None:
    """A step that all settings show from one run on. run_ids: of all runs in order"""
    if step is None:
        return None
    low, high = sorted((step.low, step.high))
    return Trap(where, SuddenChange(step.size, low, high), tuple(run_ids[step.place : step.place + 1]))


def mixed_points(where: str, reference: Iterable[RunFacts], candidate: Iterable[RunFacts]) -> Trap | None:
    """Watts read at different measuring points, or by different instruments, on the two sides or within one."""
    sides = [
        {run.power_instrument or run.power_point for run in side if run.power_w is not None and figures_count(run)}
        for side in (reference, candidate)
    ]
    if not all(sides) or (sides[0] == sides[1] and len(sides[0]) == 1):
        return None
    return Trap(where, MixedPoints(*(tuple(sorted(side)) for side in sides)))


def stale_baseline(
    where: str, age_days: float | None, other_build: bool, limit_days: float = STALE_DAYS
) -> Trap | None:
    """A reference from another build, or older than the user's limit (days)."""
    old = age_days is not None and age_days > limit_days
    if not other_build and not old:
        return None
    return Trap(where, StaleBaseline(None if other_build or age_days is None else round(age_days)))


def first_run_kept(where: str, runs: Sequence[RunFacts], pooled: noise.PooledNoise | None) -> Trap | None:
    """A first run that lies out of family and still counts. runs: in the order they were made."""
    kept = [run for run in runs if counts(run)]
    values = [run.value for run in kept if run.value is not None]
    if not noise.first_out_of_family(values, pooled):
        return None
    return Trap(where, FirstRun(values[0], fmean(values[1:]), fmean(values)), (kept[0].id,))


def run_far_off(where: str, runs: Sequence[RunFacts]) -> Trap | None:
    """Runs that are far from all the others, and so enter no mean."""
    far = [run for run in runs if run.far_off and not run.set_aside and run.value is not None]
    if not far:
        return None
    rest, told = values_of(runs), tuple(run.value for run in far if run.value is not None)
    return Trap(where, FarOff(told, min(rest), max(rest)), tuple(run.id for run in far))


def short_pass(where: str, runs: Sequence[RunFacts], starts_s: float, ahead: float) -> Trap | None:
    """Runs so short that a fast start makes much of them: what is held is what counts for long work and for a budget.

    starts_s: how long the clock stays above what it holds, by a log; ahead: by what share
    """
    kept = [run for run in runs if counts(run) and run.duration_s]
    lasted = [run.duration_s for run in kept if run.duration_s is not None]
    if not lasted:
        return None
    lifted = fmean(ahead * min(1.0, starts_s / one) for one in lasted)
    if lifted < START_LIFTS:
        return None
    enough_s = starts_s * ahead / START_LIFTS
    return Trap(where, ShortPass(ahead, starts_s, fmean(lasted), lifted, enough_s), tuple(run.id for run in kept))


def score_falls(
    where: str, clocks_mhz: Sequence[float], ratios: Sequence[Comparison], start_mhz: float | None = None
) -> Trap | None:
    """Performance that falls, by its trend over the settings, while the clock that was set rises.

    clocks_mhz: the clock's settings in rising order; ratios: their comparisons with the same reference
    start_mhz: the reference's own clock, where nothing else sets it apart
    """
    scores = [
        ScoreAt(clock, one.ratio, one.ratio * one.sd_log / math.sqrt(one.n_candidate))
        for clock, one in zip(clocks_mhz, ratios, strict=True)
        if one.sd_log is not None
    ]
    known = [ratio for ratio in ratios if ratio.sd_log is not None]
    if start_mhz is not None and known:
        scores.append(ScoreAt(start_mhz, 1.0, (known[0].sd_log or 0.0) / math.sqrt(known[0].n_reference)))
    top = top_of(scores)
    if top is None:
        return None
    return Trap(where, ScoreFalls(top.value, top.ratio - 1, top.fell_at, top.fell_ratio - 1))


def few_frames(where: str, frames: int, share: float = 0.001) -> Trap | None:
    """A low that fewer than ten frames decide."""
    tail = tail_count(frames, share)
    if tail >= TAIL_FRAMES:
        return None
    return Trap(where, FewFrames(tail, frames, share, round(TAIL_FRAMES / share)))


def warm_start(where: str, start_c: float, room_c: float, others_start_c: float | None) -> Trap | None:
    """A run that began with the part well above the room, while the runs it is compared with did not."""
    if start_c - room_c <= WARM_START_C:
        return None
    if others_start_c is not None and abs(start_c - others_start_c) <= WARM_START_C / 2:
        return None
    return Trap(where, WarmStart(start_c, room_c))


def clock_not_got(where: str, set_more_mhz: float, got_more_mhz: float) -> Trap | None:
    """A clock raised by so many MHz of which less than half arrived."""
    if set_more_mhz <= 0 or got_more_mhz >= set_more_mhz * CLOCK_SHARE_GOT:
        return None
    return Trap(where, ClockNotGot(set_more_mhz, got_more_mhz))
