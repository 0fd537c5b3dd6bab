"""What held the part back in each second of a log, and the levels its clock went through: first pass against sustained."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from types import MappingProxyType

import numpy as np
import numpy.typing as npt

from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.limit_flags import FlagOf
from trelvo.core.watch.limiter import Limiter, Limits, What, limiter_now

Numbers = npt.NDArray[np.float64]

LEAST_S = 10.0
# A log of hours is looked at in at most so many stretches.
MOST_STRETCHES = 3600
# Levels closer together than this share of the clock are one; shorter ones are no level.
LEVEL_SHARE, LEVEL_LEAST_S = 0.012, 5.0
# A trace that runs flat is at a limit: so little about its level, for so long. Common practice.
FLAT_SHARE, FLAT_LEAST_S = 0.006, 8.0
# What a change point must explain, in variances of the noise times the logarithm of the length. Source: BIC for a change of
# mean, Yao 1988, from memory; three times as dear, since neighbouring readings stray together.
CHANGE_COST = 9.0


@dataclass(frozen=True)
class Band:
    """A stretch of time with one limiter, s."""

    from_s: float
    to_s: float
    what: What


@dataclass(frozen=True)
class Share:
    """A limiter's share of the time, 0 to 1; limiter: with its reason half-way"""

    what: What
    share: float
    limiter: Limiter


@dataclass(frozen=True)
class Level:
    """A stretch of time at about one value."""

    from_s: float
    to_s: float
    mean: float


@dataclass(frozen=True)
class HeldBack:
    """bands: in order; shares: largest first; levels: of the clock in MHz; flat_w: watts at which the power ran flat, in
    order of time, where no limit was known"""

    bands: list[Band]
    shares: list[Share]
    levels: list[Level]
    flat_w: list[float]


def moved(found: HeldBack, by_s: float) -> HeldBack:
    """The same with its times counted from an earlier start."""
    return replace(
        found,
        bands=[replace(band, from_s=band.from_s + by_s, to_s=band.to_s + by_s) for band in found.bands],
        levels=[replace(level, from_s=level.from_s + by_s, to_s=level.to_s + by_s) for level in found.levels],
    )


def clock_levels(time_s: Numbers, clock: Numbers) -> list[Level]:
    """The levels of the clock alone. Empty for a log too short to have any. time_s, clock: n, NaN where missing"""
    if time_s.size < 2 or float(time_s[-1] - time_s[0]) < LEAST_S:
        return []
    edges, seconds = _by_seconds(time_s, {"core clock": clock})
    return levels_of(edges, seconds.get("core clock"))


def held_back(
    time_s: Numbers,
    readings: Mapping[Quantity, Numbers],
    limits: Limits,
    flags: Mapping[FlagOf, Numbers] = MappingProxyType({}),
) -> HeldBack:
    """Each second's limiter, by the rules for a single moment; then the clock's levels.

    time_s: n, not falling; readings: by quantity, n each, NaN where missing
    flags: by limit, n each, 1 where the log itself says that it was reached; it goes before every rule
    Where the power's limit is not known, watts that run flat are taken for it, and a busy part far below the clock that it has
    reached in this log, and far below its limit of heat, is held by one.
    """
    if time_s.size < 2 or float(time_s[-1] - time_s[0]) < LEAST_S:
        raise Refused(Problem("time", "too_short_for_held_back", {"least_s": LEAST_S}))
    edges, seconds = _by_seconds(time_s, readings)
    flat = _flat_levels(edges, seconds.get("power")) if limits.power_w is None else []
    levels = levels_of(edges, seconds.get("core clock"))
    reached = max((level.mean for level in levels), default=None)
    told = []
    raised = {
        what: seconds_of for what, values in flags.items() for seconds_of in [_by_seconds(time_s, {"other": values})[1]]
    }
    for i in range(edges.size - 1):
        flagged = next((what for what, one in raised.items() if "other" in one and one["other"][i] >= 0.5), None)
        if flagged is not None:
            told.append(Limiter(flagged, "said_by_the_log"))
            continue
        here = {quantity: float(values[i]) for quantity, values in seconds.items() if np.isfinite(values[i])}
        limit = next((one.mean for one in flat if one.from_s <= edges[i] < one.to_s), None)
        told.append(limiter_now(here, replace(limits, power_w=limits.power_w or limit), reached))
    whats = [one.what for one in told]
    widths = np.diff(edges)
    shares = [
        Share(
            what,
            float(sum(width for width, one in zip(widths, whats, strict=True) if one == what) / widths.sum()),
            _middle([one for one in told if one.what == what]),
        )
        for what in dict.fromkeys(whats)
    ]
    return HeldBack(
        _bands(edges, whats),
        sorted(shares, key=lambda one: -one.share),
        levels,
        [round(one.mean, 1) for one in flat],
    )


def _middle(reasons: Sequence[Limiter]) -> Limiter:
    """The limiter of the middle second: at its beginning and end a stretch is half something else."""
    return reasons[len(reasons) // 2]


def _by_seconds(time_s: Numbers, readings: Mapping[Quantity, Numbers]) -> tuple[Numbers, dict[Quantity, Numbers]]:
    """Means over whole seconds, or longer stretches of a long log; what is missing for a moment is carried on."""
    lasts = float(time_s[-1] - time_s[0])
    count = int(min(max(round(lasts), 1), MOST_STRETCHES))
    edges = np.linspace(float(time_s[0]), float(time_s[-1]), count + 1)
    place = np.clip(np.searchsorted(edges, time_s, side="right") - 1, 0, count - 1)
    found: dict[Quantity, Numbers] = {}
    for quantity, values in readings.items():
        present = np.isfinite(values)
        if not present.any():
            continue
        counted = np.bincount(place[present], minlength=count)
        summed = np.bincount(place[present], values[present], minlength=count)
        with np.errstate(invalid="ignore"):
            means = summed / counted
        there = np.flatnonzero(counted > 0)
        # the newest reading holds until the next, within a few stretches
        last = there[np.clip(np.searchsorted(there, np.arange(count), side="right") - 1, 0, there.size - 1)]
        near = np.abs(np.arange(count) - last) <= 5
        found[quantity] = np.where(near, means[last], np.nan)
    return edges, found


def _bands(edges: Numbers, whats: Sequence[What]) -> list[Band]:
    bands: list[Band] = []
    for i, what in enumerate(whats):
        if bands and bands[-1].what == what:
            bands[-1] = replace(bands[-1], to_s=float(edges[i + 1]))
        else:
            bands.append(Band(float(edges[i]), float(edges[i + 1]), what))
    return bands


def levels_of(edges: Numbers, values: Numbers | None) -> list[Level]:
    """The levels of a series that jumps between them, in order; neighbours that are nearly alike are one.

    edges: n + 1, s; values: n, NaN where missing
    Method: change points of the mean by penalised least squares (Killick and others 2012, in the library `ruptures`).
    """
    if values is None or not np.isfinite(values).any():
        return []
    filled = np.where(np.isfinite(values), values, np.nanmedian(values))
    n = filled.size
    moves = np.abs(np.diff(filled)) if n > 1 else np.zeros(1)
    # half of the moves are no jumps: their middle tells the noise; a clock that stands still still has its grid
    noise = max(float(np.median(moves)) / 0.9539, LEVEL_SHARE / 4 * float(np.abs(filled).mean()), 1e-9)
    width = float(edges[-1] - edges[0]) / n
    least = max(int(np.ceil(LEVEL_LEAST_S / width)), 2)
    if n < 2 * least:
        return [Level(float(edges[0]), float(edges[-1]), float(filled.mean()))]
    # it brings all of scipy's statistics along, half a second: no start waits for it
    import ruptures

    search = ruptures.KernelCPD(kernel="linear", min_size=least).fit((filled / noise).reshape(-1, 1))
    ends = [0, *search.predict(pen=CHANGE_COST * np.log(n))]
    levels = [Level(float(edges[a]), float(edges[b]), float(filled[a:b].mean())) for a, b in pairwise(ends)]
    return _merged(levels)


def _merged(levels: Sequence[Level]) -> list[Level]:
    kept = list(levels)
    while len(kept) > 1:
        apart = [abs(a.mean - b.mean) / max(abs(a.mean), abs(b.mean), 1e-9) for a, b in pairwise(kept)]
        i = int(np.argmin(apart))
        if apart[i] >= LEVEL_SHARE:
            break
        a, b = kept[i], kept[i + 1]
        long_a, long_b = a.to_s - a.from_s, b.to_s - b.from_s
        kept[i : i + 2] = [Level(a.from_s, b.to_s, (a.mean * long_a + b.mean * long_b) / (long_a + long_b))]
    return kept


def _flat_levels(edges: Numbers, power: Numbers | None) -> list[Level]:
    """Stretches in which the power hardly moves about its level, and that are not the lowest it knows: idling is flat, too."""
    if power is None or not np.isfinite(power).any():
        return []
    middles = (edges[:-1] + edges[1:]) / 2
    found = []
    for level in levels_of(edges, power):
        there = power[(middles >= level.from_s) & (middles < level.to_s) & np.isfinite(power)]
        long = level.to_s - level.from_s
        busy = level.mean > 0.5 * float(np.nanmax(power))
        if long >= FLAT_LEAST_S and there.size > 4 and busy and float(np.std(there)) <= FLAT_SHARE * level.mean:
            found.append(level)
    return found


@dataclass(frozen=True)
class FirstPass:
    """A start that runs faster than what is held. lasts_s: until the clock first falls; ahead: by what share it is faster"""

    lasts_s: float
    ahead: float


def first_pass(levels: Sequence[Level]) -> FirstPass | None:
    """How the start flatters; None where it runs no faster than what is held at the end."""
    if len(levels) < 2 or levels[-1].mean <= 0:
        return None
    ahead = levels[0].mean / levels[-1].mean - 1
    return FirstPass(levels[0].to_s - levels[0].from_s, ahead) if ahead > 2 * LEVEL_SHARE else None
