"""Where in a log the part was loaded: idle before and after a run is not part of what it shows.

Common practice: nearly every log has it.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.core.logs.figures import Channel
from trelvo.core.registry.quantities import Quantity

Numbers = npt.NDArray[np.float64]

# What tells load from idle, the best first.
BY: tuple[Quantity, ...] = ("load", "power", "core clock")
# Idle lies below this share of what is usual under load, and is told once the two differ as much.
IDLE_SHARE = 0.5
# At least so much of a log, and so many seconds, are loaded; less is no run that idle was logged around.
LEAST_SHARE, LEAST_S = 0.1, 5.0
# What is cut off is more than a reading or two.
LEAST_CUT_S, LEAST_CUT_SHARE = 3.0, 0.01
# A dip that is shorter is no end: a loading screen, a pause between passes.
SMOOTHED = 5


@dataclass(frozen=True)
class Stretch:
    """From when to when the part was loaded, in seconds from the start of the log; by: the channel that tells it"""

    from_s: float
    to_s: float
    by: str


def loaded_stretch(time_s: Numbers, channels: Sequence[Channel]) -> Stretch | None:
    """The loaded part of a log, idle at either end cut off; None where nothing has to be cut, or nothing tells.

    time_s: n, not falling; channels: n readings each, NaN where missing
    Method: the readings of load (else power, else clock) of the tuned part, smoothed by a running median, against half of their
    usual level under load (their 75th percentile). Pauses inside stay: only the ends are cut.
    """
    span = float(time_s[-1] - time_s[0]) if time_s.size else 0.0
    channel = _telling(channels)
    if channel is None or span <= 0:
        return None
    smooth = _running_median(channel.values)
    there = np.isfinite(smooth)
    if there.sum() < SMOOTHED:
        return None
    busy = float(np.quantile(smooth[there], 0.75))
    loaded = there & (smooth > IDLE_SHARE * busy)
    places = np.flatnonzero(loaded)
    if busy <= 0 or not places.size:
        return None
    first, last = float(time_s[places[0]]), float(time_s[places[-1]])
    idle = smooth[there & ~loaded]
    if not idle.size or last - first < max(LEAST_S, LEAST_SHARE * span):
        return None
    cut = max(first - float(time_s[0]), float(time_s[-1]) - last)
    if cut < max(LEAST_CUT_S, LEAST_CUT_SHARE * span):
        return None
    return Stretch(first, last, channel.name)


def within(time_s: Numbers, from_s: float, to_s: float) -> slice:
    """The readings of a stretch, both ends included."""
    return slice(int(np.searchsorted(time_s, from_s, "left")), int(np.searchsorted(time_s, to_s, "right")))


def _telling(channels: Sequence[Channel]) -> Channel | None:
    for quantity in BY:
        own = [channel for channel in channels if channel.quantity == quantity and channel.tells]
        tuned = [one for one in own if one.part == "tuned part"] or [one for one in own if one.part != "room"]
        if tuned:
            return tuned[0]
    return None


def _running_median(values: Numbers) -> Numbers:
    """The median of each reading and its neighbours; what is missing is left out."""
    half = SMOOTHED // 2
    padded = np.concatenate([np.full(half, np.nan), values, np.full(half, np.nan)])
    windows = np.lib.stride_tricks.sliding_window_view(padded, SMOOTHED)
    found = np.full(values.size, np.nan)
    some = np.isfinite(windows).any(axis=1)
    found[some] = np.nanmedian(windows[some], axis=1)
    return found
