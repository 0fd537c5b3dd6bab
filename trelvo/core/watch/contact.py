"""When a bench falls silent: from when contact counts as lost, and what has probably happened."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.core.message import Message, message
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.registry.quantities import Quantity

# A bench speaks at least once a second; five missed words in a row are no accident.
HEARTBEAT_S = 1.0
LOST_AFTER_S = 5.0
# Share of the planned time from which a silent run had probably reached its end.
NEARLY_DONE = 0.98
# Looked at before the silence, and how far load falls when only the program has closed.
LAST_S = 3.0
FELL_TO = 0.4
NEAR_LIMIT_C = 3.0


@dataclass(frozen=True)
class Likely:
    """The outcome that the last readings speak for, and why."""

    outcome: Outcome
    why: Message


def likely_outcome(
    time_s: npt.NDArray[np.float64],
    values: npt.NDArray[np.float64],
    channels: Sequence[tuple[str, Quantity]],
    planned_s: float,
    *,
    server_stopped: bool = False,
    simulator: bool = False,
    temp_limit_c: float | None = None,
) -> Likely:
    """What has probably happened to a run whose bench fell silent. A guess to be confirmed, never recorded by itself.

    time_s: seconds into the run, n, rising; values: n by channels, NaN where missing; planned_s: seconds
    server_stopped: Trelvo itself went down while the run was open; simulator: the bench lives inside Trelvo
    Rules: common practice (a machine that goes down breaks off at full load; a program that closes leaves it idle).
    """
    if server_stopped and simulator:
        return Likely("connection lost", message("server_and_simulator_stopped"))
    if server_stopped:
        return Likely("connection lost", message("server_stopped"))
    if time_s.size == 0:
        return Likely("no start", message("not_one_reading"))
    if time_s[-1] >= NEARLY_DONE * planned_s:
        return Likely("completed", message("planned_time_passed", planned_s=planned_s))
    if closed := _fell_idle(time_s, values, channels):
        return closed
    hottest = _hottest(values, channels)
    at_s = float(time_s[-1])
    if hottest is not None and temp_limit_c is not None and hottest >= temp_limit_c - NEAR_LIMIT_C:
        return Likely("system crash", message("broke_off_hot", at_s=at_s, hottest_c=hottest))
    return Likely("system crash", message("broke_off_at_load", at_s=at_s))


def _fell_idle(
    time_s: npt.NDArray[np.float64], values: npt.NDArray[np.float64], channels: Sequence[tuple[str, Quantity]]
) -> Likely | None:
    """Whether load (or else power) had fallen away in the last seconds while readings still came."""
    for wanted in ("load", "power"):
        column = next((i for i, (_, quantity) in enumerate(channels) if quantity == wanted), None)
        if column is None:
            continue
        last = time_s > time_s[-1] - LAST_S
        before, after = values[~last, column], values[last, column]
        before, after = before[np.isfinite(before)], after[np.isfinite(after)]
        if before.size and after.size and after.mean() < FELL_TO * np.median(before):
            fell = {"quantity": wanted, "before": float(np.median(before)), "after": float(after.mean())}
            return Likely("program crash", message("readings_went_on", **fell))
        return None
    return None


def _hottest(values: npt.NDArray[np.float64], channels: Sequence[tuple[str, Quantity]]) -> float | None:
    columns = [i for i, (_, quantity) in enumerate(channels) if quantity == "temperature"]
    last = values[-25:, columns]
    last = last[np.isfinite(last)]
    return float(last.max()) if last.size else None


def time_left_s(elapsed_s: float, planned_s: float) -> float:
    """Seconds of bench time still planned; never below zero."""
    return max(0.0, planned_s - elapsed_s)


# What opening and closing a run costs besides its own time, until it is known of this bench.
USUAL_BETWEEN_S = 1.5


def queue_left_s(
    waiting_s: Sequence[float], running_left_s: float | None, speed: float, behind: Sequence[tuple[float, float]]
) -> float:
    """Seconds of real time until a queue is worked through.

    waiting_s: bench seconds of each run that waits; running_left_s: of the one that goes on, None where none does
    speed: bench seconds a second; behind: for each run that is done, its bench seconds and the real seconds from its beginning to
    that of the next one: what runs cost besides their own time is learnt from them
    """
    between = [max(0.0, real - bench / speed) for bench, real in behind]
    each = sum(between) / len(between) if between else USUAL_BETWEEN_S
    left = sum(seconds / speed + each for seconds in waiting_s)
    return left if running_left_s is None else left + running_left_s / speed + each / 2
