"""What a workload asks of a rig and what it yields: frames, points, or a time."""

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np
import numpy.typing as npt

from trelvo.simulator.luck import Luck

Series = npt.NDArray[np.float64]

# How much longer the graphics part of a frame takes, against the workload's own resolution and preset.
PRESETS = {"plain": 0.62, "evening": 0.8, "full night": 1.0, "everything": 1.35}

# How sharply the slower of graphics and processor decides: 1 would add them, many would take the slower alone.
OVERLAP = 5.0


@dataclass(frozen=True)
class Load:
    """A workload.

    yields: what it shows at its end; rate: frames, points or passes a second at stock
    core, memory, other: shares of the main chip's part of a frame that go with core clock, memory clock, neither
    beside: the other chip's part of a frame against the main chip's (0.5: half as long); they overlap
    activity, beside_activity: how hard main chip and the other work; stress_mhz: how much nearer the edge it takes them
    hitch: share of slow frames; noise: run-to-run deviation; minutes: how long it runs
    """

    yields: Literal["frames", "points", "seconds", "nothing"]
    rate: float
    minutes: float
    core: float = 0.66
    memory: float = 0.24
    other: float = 0.10
    beside: float = 0.5
    activity: float = 1.0
    beside_activity: float = 0.35
    stress_mhz: float = 0.0
    hitch: float = 0.004
    noise: float = 0.005
    cap_fps: float | None = None

    @cached_property
    def stock_frame(self) -> float:
        """A frame's length at stock, where the main chip's part is 1."""
        return float((1 + self.beside**OVERLAP) ** (1 / OVERLAP))


def with_options(load: Load, pixels: float = 1.0, preset: str = "full night", cap_fps: float | None = None) -> Load:
    """The workload at another resolution (pixels against its own), preset or cap. The other chip's part stays."""
    heavier = (0.15 + 0.85 * pixels) * PRESETS[preset]
    return replace(load, rate=load.rate / heavier, beside=load.beside / heavier, cap_fps=cap_fps or load.cap_fps)


class Pace(NamedTuple):
    """Rate against stock, and the share of the time that the main chip is busy."""

    ratio: float
    busy: float


def pace(load: Load, core_ratio: float, memory_ratio: float, beside_ratio: float) -> Pace:
    """Rate from clocks against stock: parts of a frame that overlap.

    The two chips work on different frames at once, so the slower decides, rounded where they are near.
    """
    main = load.core / core_ratio + load.memory / memory_ratio + load.other
    beside = load.beside / beside_ratio
    now = (main**OVERLAP + beside**OVERLAP) ** (1 / OVERLAP)
    return Pace(load.stock_frame / now, main / now)


class Frames(NamedTuple):
    """Frames that have been drawn and not computed yet: their mean time in ms, and the luck of each; caps: at the cap."""

    mean_ms: float
    jitter: Series
    chance: Series
    caps: Series | None


def draw_frames(rate: float, load: Load, count: int, phase: float, luck: Luck) -> Frames:
    """The next frames around 1000 / rate: scene weight in slow waves, small jitter, rare hitches, the cap.

    phase: where in the scene, in radians
    """
    mean_ms = (1 + 0.06 * math.sin(phase)) / (1 + load.hitch) * 1000 / rate
    jitter, chance = luck.normals(count), luck.uniforms(count)
    return Frames(mean_ms, jitter, chance, luck.normals(count) if load.cap_fps else None)


def frame_times_ms(load: Load, drawn: list[Frames]) -> Series:
    """Times of the frames drawn, one after the other."""
    if not drawn:
        return np.empty(0)
    means = np.repeat([one.mean_ms for one in drawn], [one.jitter.size for one in drawn])
    times = means * np.exp(0.035 * np.concatenate([one.jitter for one in drawn]))
    chance = np.concatenate([one.chance for one in drawn])
    slow = chance < load.hitch
    # how slow a hitch is comes from the same draw: evenly from 1.4 to 2.6 times
    times[slow] *= 1.4 + 1.2 * chance[slow] / load.hitch
    if load.cap_fps:
        caps = np.concatenate([one.caps for one in drawn if one.caps is not None])
        times = np.maximum(times, 1000 / load.cap_fps * (1 + 0.002 * caps))
    return np.asarray(times, dtype=np.float64)
