"""Traps: mistakes that the runs themselves invite. Each is a rule with its evidence, what it would claim, what is true.

The mistakes of arithmetic (percent difference, added percentages, time called speed, …) are in `claims`, since only a claim
shows them.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from statistics import fmean
from typing import Literal

from trelvo.core.base.runs import RunFacts, counts, values_of
from trelvo.core.measure import noise
from trelvo.core.measure.comparison import Comparison, Verdict
from trelvo.core.measure.frames import tail_count

TrapName = Literal[
    "winner inside the noise",
    "one run only",
    "several knobs turned at once",
    "capped workload",
    "power read at different points",
    "stale baseline",
    "first run kept",
    "score falls while the clock rises",
    "lows from too few frames",
    "warm start",
    "clock set but not got",
]

# A frame rate this close to a cap or a usual refresh rate, with so little spread, is the cap's and not the machine's.
CAP_REACH, CAP_SPREAD = 0.01, 0.004
REFRESH_RATES = (30.0, 60.0, 72.0, 75.0, 90.0, 100.0, 120.0, 144.0, 165.0, 200.0, 240.0)
TAIL_FRAMES = 10
WARM_START_C = 15.0
CLOCK_SHARE_GOT = 0.5
STALE_DAYS = 30.0


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


def capped(where: str, runs: Sequence[RunFacts], cap_fps: float | None) -> Trap | None:
    """A frame rate at a cap or a usual refresh rate with hardly any spread: the cap was measured, not the machine."""
    values = values_of(runs)
    if not values:
        return None
    mean = fmean(values)
    spread = (max(values) - min(values)) / mean
    cap = cap_fps if cap_fps and abs(mean / cap_fps - 1) <= CAP_REACH else None
    # without a stated cap one run is no evidence: any rate may fall on a refresh rate by chance
    if cap is None and len(values) >= 3 and spread <= CAP_SPREAD:
        cap = next((rate for rate in REFRESH_RATES if abs(mean / rate - 1) <= 0.002), None)
    if cap is None:
        return None
    return Trap(
        "capped workload", where, f"{mean:.1f} frames a second, {cap:g} is a cap; the runs differ by {spread * 100:.2f} %.",
        "That tuning does nothing here.",
        "Above the cap nothing shows. Lift it, raise the resolution, or compare lows, watts and degrees.",
        tuple(run.id for run in runs if counts(run)),
    )  # fmt: skip


def mixed_points(where: str, reference: Iterable[RunFacts], candidate: Iterable[RunFacts]) -> Trap | None:
    """Watts read at different measuring points on the two sides."""
    sides = [
        {run.power_instrument or run.power_point for run in side if run.power_w is not None and counts(run)}
        for side in (reference, candidate)
    ]
    if not all(sides) or (sides[0] == sides[1] and len(sides[0]) == 1):
        return None
    words = [" and ".join(sorted(side)) for side in sides]
    return Trap(
        "power read at different points", where, f"Watts: {words[0]} against {words[1]}.",
        "A saving or a cost in watts.", "They measure different things; no difference of watts is formed.",
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


def score_falls(where: str, clocks_mhz: Sequence[float], ratios: Sequence[Comparison]) -> Trap | None:
    """Performance that falls, beyond its interval, while the clock that was set rises.

    clocks_mhz: the clock's settings in rising order; ratios: their comparisons with the same reference
    """
    for index in range(1, len(ratios)):
        below = max(range(index), key=lambda i: ratios[i].ratio)
        best, here = ratios[below], ratios[index]
        if here.error_log is None or best.error_log is None:
            continue
        fall = math.log(best.ratio / here.ratio)
        # both share the reference, so only the candidates' own parts of the errors count; both in full errs on the safe side
        if fall > 2 * math.hypot(here.error_log, best.error_log):
            return Trap(
                "score falls while the clock rises", where,
                f"{clocks_mhz[below]:g} gave {(best.ratio - 1) * 100:+.1f} %, "
                f"{clocks_mhz[index]:g} only {(here.ratio - 1) * 100:+.1f} %.",
                "That the higher clock is the better one, since it did not crash.",
                f"Errors are being corrected. Go back to {clocks_mhz[below]:g}.",
            )  # fmt: skip
    return None


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
