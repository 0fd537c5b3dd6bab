"""What a cooler is worth: coolers against each other, what another room or power would bring, which cooler a limit asks
for."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.special import stdtrit

from trelvo.core.base.deviations import Z
from trelvo.core.base.load_kinds import LoadKind
from trelvo.core.base.runs import RunFacts, mean_of
from trelvo.core.laws.heat import SURE, Interval
from trelvo.core.laws.heat_model import FAN_REFERENCE, air_of
from trelvo.core.laws.sound import FanNoise

# The room is known to so many °C, and the power of another run to this share.
ROOM_SD_C, POWER_SHARE = 0.5, 0.02


# Of a build's resistance so much lies between cooler and air, and falls as the fan turns faster. Common practice.
AIR_SHARE, AIR_SHARE_SD = 0.7, 0.15
# The fan that makes a level is known to this share of what it does to the air: a sound meter repeats to half a dB(A).
FAN_SD = 0.03
# Slower than this, in %, many fans stand still.
LEAST_FAN = 15.0
# A log that knows the resistance worse than this share of it says more of what is usual than of this cooler.
WORTH_COUNTING = 0.2


@dataclass(frozen=True)
class Cooling:
    """One run's thermal resistance, part to room, °C/W, with the fan at its reference where it was read"""

    run_id: int
    build_id: int
    resistance: Interval
    fan_read: bool


@dataclass(frozen=True)
class BuildCooling:
    """A build's resistance, from `runs` runs. fan_read: at the reference fan; else at whatever fan there was"""

    build_id: int
    resistance: Interval
    fan_read: bool
    runs: int


Told = Literal["cools better", "cools worse", "no difference shown"]


@dataclass(frozen=True)
class Difference:
    """One build against another at a power: how much cooler the part runs with the first. same_fan: whether both are
    meant at the reference fan"""

    cooler_c: Interval
    told: Told
    same_fan: bool


def by_build(runs: Sequence[Cooling]) -> list[BuildCooling]:
    """Runs put together by build, in the order met; those whose fan was read apart from the others.

    The mean weighs each run by its own uncertainty; where runs scatter more than that, their scatter counts.
    Source: random effects by the method of moments, DerSimonian and Laird 1986, from memory.
    """
    groups: dict[tuple[int, bool], list[Cooling]] = {}
    for run in runs:
        if (run.resistance.high - run.resistance.low) / 2 <= WORTH_COUNTING * run.resistance.value:
            groups.setdefault((run.build_id, run.fan_read), []).append(run)
    return [
        BuildCooling(build_id, _together([one.resistance for one in group]), fan_read, len(group))
        for (build_id, fan_read), group in groups.items()
    ]


def _together(values: Sequence[Interval]) -> Interval:
    means = np.array([value.value for value in values])
    own = np.array([_sd(value) for value in values]) ** 2
    if means.size == 1:
        return values[0]
    weights = 1 / own
    fixed = float(weights @ means / weights.sum())
    spread = float(weights @ (means - fixed) ** 2)
    between = max(spread - (means.size - 1), 0.0) / float(weights.sum() - (weights**2).sum() / weights.sum())
    weights = 1 / (own + between)
    mean, sd = float(weights @ means / weights.sum()), math.sqrt(1 / float(weights.sum()))
    wide = float(stdtrit(means.size - 1, (1 + SURE) / 2)) * sd if between > 0 else Z * sd
    return Interval(mean, mean - wide, mean + wide)


def _sd(one: Interval) -> float:
    return max((one.high - one.low) / (2 * Z), 1e-9)


def compare(first: BuildCooling, second: BuildCooling, power_w: float) -> Difference:
    """How much cooler the part runs with the first at this power, in the same room, °C."""
    mean = (second.resistance.value - first.resistance.value) * power_w
    wide = Z * math.hypot(_sd(first.resistance), _sd(second.resistance)) * power_w
    told: Told = "cools better" if mean > wide else "cools worse" if mean < -wide else "no difference shown"
    return Difference(Interval(mean, mean - wide, mean + wide), told, first.fan_read and second.fan_read)


@dataclass(frozen=True)
class AtNoise:
    """Two builds as loud as each other: dB(A), the fan in % that each needs for it, and the difference there"""

    dba: float
    first_fan: float
    second_fan: float
    difference: Difference


def at_equal_noise(
    first: BuildCooling, second: BuildCooling, first_noise: FanNoise, second_noise: FanNoise, power_w: float
) -> AtNoise | None:
    """How much cooler the part runs with the first, both fans turned until they are as loud as each other.

    Loud as the quieter of the two is at the reference fan, so that neither needs more than it has been heard at. None where a
    fan was not read, or cannot be turned so far.
    Method: each build's own law of noise gives the fan; the resistance there is that at the reference fan, of which `AIR_SHARE`
    lies between cooler and air and follows the fan. Comparing coolers at equal noise is common practice.
    """
    if not (first.fan_read and second.fan_read):
        return None
    dba = round(min(first_noise.at(FAN_REFERENCE).value, second_noise.at(FAN_REFERENCE).value), 1)
    fans = first_noise.fan_for(dba), second_noise.fan_for(dba)
    if not all(LEAST_FAN <= fan <= 100 for fan in fans):
        return None
    sides = [
        replace(one, resistance=_at_fan(one.resistance, fan)) for one, fan in zip((first, second), fans, strict=True)
    ]
    return AtNoise(dba, *fans, compare(sides[0], sides[1], power_w))


def _at_fan(resistance: Interval, fan: float) -> Interval:
    """A build's resistance at another fan than the reference."""
    slower = 1 / float(air_of(fan)) - 1
    value = resistance.value * (1 + AIR_SHARE * slower)
    # the share that follows the fan is common practice, and a level that is heard half a dB(A) wrong is another fan
    open_ = resistance.value * math.hypot(AIR_SHARE_SD * slower, AIR_SHARE * FAN_SD)
    wide = Z * math.hypot(_sd(resistance) * (1 + AIR_SHARE * slower), open_)
    return Interval(value, value - wide, value + wide)


def predicted(resistance: Interval, power_w: float, room_c: float) -> Interval:
    """Where the part settles at another power in another room, at the same fan, °C."""
    rise = resistance.value * power_w
    wide = Z * math.hypot(_sd(resistance) * power_w, POWER_SHARE * rise, ROOM_SD_C)
    return Interval(room_c + rise, room_c + rise - wide, room_c + rise + wide)


@dataclass(frozen=True)
class UseStep:
    """What one workload asks of the part, from its runs at a setting: power in W, how far its highest temperature stood
    above the room in °C; None where not read"""

    name: str
    kind: LoadKind
    power_w: float
    over_room_c: float | None
    runs: int


def use_ladder(runs: Sequence[RunFacts], named: Mapping[int, tuple[str, LoadKind]]) -> list[UseStep]:
    """Watts and degrees of each workload from its completed runs, least power first; by the measuring point that most runs share.

    named: by workload, its name and kind; workloads without a power are left out
    """
    there = [run for run in runs if run.outcome == "completed" and not run.set_aside and run.power_w]
    if not there:
        return []
    points = [run.power_point for run in there]
    point = max(dict.fromkeys(points), key=points.count)
    found = []
    for workload_id, (name, kind) in named.items():
        own = [run for run in there if run.workload_id == workload_id and run.power_point == point]
        power = mean_of(run.power_w for run in own)
        if power is None:
            continue
        rise = mean_of(
            run.temp_max_c - run.room_c for run in own if run.temp_max_c is not None and run.room_c is not None
        )
        found.append(UseStep(name, kind, power, rise, len(own)))
    return sorted(found, key=lambda one: one.power_w)


Verdict = Literal["enough", "not enough", "too close to tell"]


@dataclass(frozen=True)
class Need:
    """What a limit asks of the cooler at one step of use: settles_c: where it would settle with the cooler there is;
    needed: highest °C/W
    that keeps the limit"""

    use: UseStep
    needed_c_per_w: float
    settles_c: Interval | None
    verdict: Verdict | None


def cooler_needs(ladder: Sequence[UseStep], limit_c: float, room_c: float, own: Interval | None) -> list[Need]:
    """For each step of use, which cooler a limit in °C asks for in this room, and whether the present one is enough.

    own: the present cooler's resistance, None where no log told it. A cooler that fails at the heaviest load may be
    right for the rest.
    A room at or above the limit leaves nothing to cool with: 0 °C/W.
    """
    found = []
    for use in ladder:
        needed = max(limit_c - room_c, 0.0) / use.power_w
        settles = predicted(own, use.power_w, room_c) if own else None
        verdict: Verdict | None = None
        if settles:
            verdict = (
                "enough" if settles.high <= limit_c else "not enough" if settles.low > limit_c else "too close to tell"
            )
        found.append(Need(use, needed, settles, verdict))
    return found
