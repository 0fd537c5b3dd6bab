"""Traps: mistakes that the runs themselves invite. Each is a rule with its evidence, what it would claim, what is true.

The mistakes of arithmetic (percent difference, added percentages, time called speed, …) are in `claims`, since only a claim
shows them.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from statistics import fmean
from typing import Literal

from trelvo.core.base.runs import RunFacts, counts, figures_count, values_of
from trelvo.core.base.what_counts import STALE_DAYS
from trelvo.core.climb.score_top import ScoreAt, top_of
from trelvo.core.measure import noise
from trelvo.core.measure.comparison import Comparison, Verdict
from trelvo.core.measure.frames import tail_count
from trelvo.core.measure.series import TOLD_BELOW, Step, Trend

TrapName = Literal[
    "winner inside the noise",
    "one run only",
    "several knobs turned at once",
    "capped workload",
    "power read at different points",
    "stale baseline",
    "first run kept",
    "run far off",
    "score falls while the clock rises",
    "lows from too few frames",
    "warm start",
    "clock set but not got",
    "drift",
    "sudden change",
    "short first pass",
]

# A frame rate this close to a stated cap is the cap's. Where none is stated: settings of different strength that all end at one
# rate, within so little, are held by something other than the machine.
CAP_REACH, CAP_SPREAD = 0.01, 0.002
CAP_SIDES, CAP_RUNS, CAP_CALM = 2, 3, 6.0
TAIL_FRAMES = 10
# A start that lifts a run's mean by less than this is lost in the noise.
START_LIFTS = 0.01
WARM_START_C = 15.0
CLOCK_SHARE_GOT = 0.5
# A drift that moves results by less over a session is not worth a word.
DRIFT_MATTERS = 0.002


@dataclass(frozen=True)
class Trap:
    """A mistake noticed. evidence: what shows it; claims: what one would wrongly say; truth: what holds instead.

    where: names the setting or workload; run_ids: the runs that show it
    """

    name: TrapName
    where: str
    evidence: str
    claims: str
    truth: str
    run_ids: tuple[int, ...] = ()


def winner_inside_noise(where: str, comparison: Comparison, verdict: Verdict) -> Trap | None:
    """A difference that is told although its interval holds no difference."""
    if verdict.word not in ("too few runs", "tie") or comparison.low is None or comparison.high is None:
        return None
    gain = (comparison.ratio - 1) * 100
    if abs(gain) < 0.05 or not comparison.low <= 1 <= comparison.high:
        return None
    low, high = (comparison.low - 1) * 100, (comparison.high - 1) * 100
    more = f" {verdict.more_runs} more runs on each side would probably settle it." if verdict.more_runs else ""
    return Trap(
        "winner inside the noise", where,
        f"{gain:+.1f} %, but the interval runs from {low:+.1f} to {high:+.1f} %.",
        f"{'Faster' if gain > 0 else 'Slower'} by {abs(gain):.1f} %.",
        f"{'A tie' if verdict.word == 'tie' else 'Nothing is shown yet'}.{more}",
    )  # fmt: skip


def one_run_only(where: str, runs: Sequence[RunFacts]) -> Trap | None:
    """A result that rests on a single run."""
    kept = [run for run in runs if counts(run)]
    if len(kept) != 1:
        return None
    return Trap(
        "one run only", where, "One run counts here.", "That this run is the rule.",
        "Single runs scatter; two more show how far.", (kept[0].id,),
    )  # fmt: skip


def several_knobs(where: str, knob_names: Sequence[str]) -> Trap | None:
    """More than one knob between a setting and the nearest one below it."""
    if len(knob_names) < 2:
        return None
    return Trap(
        "several knobs turned at once", where, f"Turned together: {', '.join(knob_names)}.",
        "That one of them made the difference.", "Nothing tells which did. Test a setting in between.",
    )  # fmt: skip


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
    return Trap(
        "capped workload", where, f"{mean:.1f} frames a second, {cap:g} is a cap; the runs differ by {spread * 100:.2f} %.",
        "That tuning does nothing here.",
        "Above the cap nothing shows. Lift it, raise the resolution, or compare lows, watts and degrees.",
        tuple(run.id for run in runs if counts(run)),
    )  # fmt: skip


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
    low, high = sorted((trend.low * 100 * hours, trend.high * 100 * hours))
    return Trap(
        "drift", where,
        f"Repeats of the same setting {'fall' if trend.per_h < 0 else 'rise'} by {abs(trend.per_h * hours) * 100:.2f} % over the "
        f"{hours * 60:.0f} min of the session ({low:+.2f} to {high:+.2f}).",
        "That what was run later is better or worse for its setting.",
        "Warm up longer; run what is compared in the order A B B A, or stock again at the end: then the drift falls out.",
    )  # fmt: skip


def sudden_change(where: str, step: Step | None, run_ids: Sequence[int]) -> Trap | None:
    """A step that all settings show from one run on. run_ids: of all runs in order"""
    if step is None:
        return None
    low, high = sorted((step.low * 100, step.high * 100))
    return Trap(
        "sudden change", where,
        f"From one run on all settings stand {step.size * 100:+.1f} % off ({low:+.1f} to {high:+.1f}).",
        "That the settings run since then are better or worse.",
        "Look in the journal for what changed: driver, window, room, another program. Run stock again before comparing.",
        tuple(run_ids[step.place : step.place + 1]),
    )  # fmt: skip


def mixed_points(where: str, reference: Iterable[RunFacts], candidate: Iterable[RunFacts]) -> Trap | None:
    """Watts read at different measuring points, or by different instruments, on the two sides or within one."""
    sides = [
        {run.power_instrument or run.power_point for run in side if run.power_w is not None and figures_count(run)}
        for side in (reference, candidate)
    ]
    if not all(sides) or (sides[0] == sides[1] and len(sides[0]) == 1):
        return None
    words = [" and ".join(sorted(side)) for side in sides]
    return Trap(
        "power read at different points", where, f"Watts: {words[0]} against {words[1]}.",
        "A saving or a cost in watts.", "They measure different things; only what one of them read on both sides is compared.",
    )  # fmt: skip


def stale_baseline(
    where: str, age_days: float | None, other_fitting: bool, limit_days: float = STALE_DAYS
) -> Trap | None:
    """A reference from another fitting, or older than the user's limit (days)."""
    old = age_days is not None and age_days > limit_days
    if not other_fitting and not old:
        return None
    evidence = (
        "The reference was measured under another fitting." if other_fitting else f"It is {age_days:.0f} days old."
    )
    return Trap(
        "stale baseline", where, evidence, "That all of the difference is the tuning's.",
        "Driver, dust and season move results too. Measure stock again, on the same day.",
    )  # fmt: skip


def first_run_kept(where: str, runs: Sequence[RunFacts], pooled: noise.PooledNoise | None) -> Trap | None:
    """A first run that lies out of family and still counts. runs: in the order they were made."""
    kept = [run for run in runs if counts(run)]
    values = [run.value for run in kept if run.value is not None]
    if not noise.first_out_of_family(values, pooled):
        return None
    rest = fmean(values[1:])
    return Trap(
        "first run kept", where, f"The first run gave {values[0]:g}, the others {rest:g} on average.",
        f"A mean of {fmean(values):.4g}.", "First runs fill caches. Set it aside; it stays in the log.", (kept[0].id,),
    )  # fmt: skip


def run_far_off(where: str, runs: Sequence[RunFacts]) -> Trap | None:
    """Runs that are far from all the others, and so enter no mean."""
    far = [run for run in runs if run.far_off and not run.set_aside and run.value is not None]
    if not far:
        return None
    rest = values_of(runs)
    told = " and ".join(f"{run.value:g}" for run in far)
    return Trap(
        "run far off", where, f"{told}, while the others gave {min(rest):g} to {max(rest):g}.",
        "A mean with it in it, or that this workload varies as widely.",
        "It enters no mean. Set it aside, or run the setting again if it may be right.", tuple(run.id for run in far),
    )  # fmt: skip


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
    long_enough = starts_s * ahead / START_LIFTS
    return Trap(
        "short first pass", where,
        f"A log shows the clock {100 * ahead:.0f} % higher for the first {starts_s:.0f} s; the runs last {fmean(lasted):.0f} s.",
        f"Results and watts that are up to {100 * lifted:.0f} % above what it holds.",
        f"What it holds is what counts: let it run {long_enough / 60:.0f} min or more, or set the first pass aside.",
        tuple(run.id for run in kept),
    )  # fmt: skip


def score_falls(
    where: str, clocks_mhz: Sequence[float], ratios: Sequence[Comparison], start_mhz: float | None = None
) -> Trap | None:
    """Performance that falls, by its trend over the rungs, while the clock that was set rises.

    clocks_mhz: the clock's settings in rising order; ratios: their comparisons with the same reference
    start_mhz: the reference's own clock, where nothing else sets it apart
    """
    scores = [
        ScoreAt(clock, one.ratio, one.ratio * one.sd_log / math.sqrt(one.n_candidate))
        for clock, one in zip(clocks_mhz, ratios, strict=True)
        if one.sd_log is not None
    ]
    known = [one for one in ratios if one.sd_log is not None]
    if start_mhz is not None and known:
        scores.append(ScoreAt(start_mhz, 1.0, (known[0].sd_log or 0.0) / math.sqrt(known[0].n_reference)))
    top = top_of(scores)
    if top is None:
        return None
    return Trap(
        "score falls while the clock rises", where,
        f"{top.value:g} gave {(top.ratio - 1) * 100:+.1f} %, {top.fell_at:g} only {(top.fell_ratio - 1) * 100:+.1f} %.",
        "That the higher clock is the better one, since it did not crash.",
        f"Errors are being corrected. Go back to {top.value:g}.",
    )  # fmt: skip


def few_frames(where: str, frames: int, share: float = 0.001) -> Trap | None:
    """A low that fewer than ten frames decide."""
    tail = tail_count(frames, share)
    if tail >= TAIL_FRAMES:
        return None
    return Trap(
        "lows from too few frames", where, f"{tail} of {frames} frames make the {share * 100:g} % low.",
        "A difference in stutter.", f"Log at least {round(TAIL_FRAMES / share)} frames, or use the {share * 1000:g} % low.",
    )  # fmt: skip


def warm_start(where: str, start_c: float, room_c: float, others_start_c: float | None) -> Trap | None:
    """A run that began with the part well above the room, while the runs it is compared with did not."""
    if start_c - room_c <= WARM_START_C:
        return None
    if others_start_c is not None and abs(start_c - others_start_c) <= WARM_START_C / 2:
        return None
    return Trap(
        "warm start", where, f"It began at {start_c:.0f} °C in a room of {room_c:.0f} °C.",
        "That this setting runs hotter.", "It began hotter. Let the part cool, or warm up before every run alike.",
    )  # fmt: skip


def clock_not_got(where: str, set_more_mhz: float, got_more_mhz: float) -> Trap | None:
    """A clock raised by so many MHz of which less than half arrived."""
    if set_more_mhz <= 0 or got_more_mhz >= set_more_mhz * CLOCK_SHARE_GOT:
        return None
    return Trap(
        "clock set but not got", where, f"Set {set_more_mhz:g} MHz higher, reached {got_more_mhz:+.0f} MHz.",
        "The performance of the clock that was set.", "Something holds the clock: power, heat or voltage. Look at the limiter.",
    )  # fmt: skip
