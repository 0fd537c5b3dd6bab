"""What a load asks of the chip, and what it measures there."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from trelvo.standin.chip import Failure, Knobs, Specimen, State, fail, settle

Series = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Load:
    """A workload: shares of a frame's time that go with the core clock, the memory clock, and neither; sum 1.

    rate: frames a second at stock; stress_mhz: how much nearer the edge it takes the chip; hitch: share of slow frames
    """

    core: float
    memory: float
    other: float
    rate: float
    activity: float
    stress_mhz: float = 0.0
    hitch: float = 0.004
    noise: float = 0.005


@dataclass(frozen=True)
class Measured:
    """One run. rate in frames a second; power in watts as the part reports it; None where the run broke off."""

    state: State
    rate: float | None
    failure: Failure | None
    lasted_minutes: float
    frame_times_ms: Series


def run_load(
    chip: Specimen,
    knobs: Knobs,
    load: Load,
    minutes: float,
    room_c: float,
    rng: np.random.Generator,
    *,
    cap_fps: float | None = None,
    first_after_change: bool = False,
) -> Measured:
    """Runs a load once. A frame cap holds back every frame that would come early; a first run has empty caches."""
    state = settle(chip, knobs, load.activity, room_c)
    stock = settle(chip, Knobs(), load.activity, room_c)
    failure = fail(chip, state, load.stress_mhz, minutes, rng)
    if failure:
        return Measured(state, None, failure[0], failure[1], np.empty(0))
    slower = load.core * stock.core_mhz / state.core_mhz + load.memory / memory_gain(chip, state) + load.other
    rate = load.rate / slower * float(rng.lognormal(0, load.noise)) * (0.965 if first_after_change else 1.0)
    times = frame_times_ms(rate, load.hitch, minutes, rng)
    if cap_fps:
        times = np.maximum(times, 1000 / cap_fps * rng.normal(1, 0.002, times.size))
        rate = float(1000 / times.mean())
    return Measured(state, rate, None, minutes, times)


def memory_gain(chip: Specimen, state: State) -> float:
    """Memory speed against stock: rises with the clock up to the knee, then falls as errors are corrected."""
    over = state.memory_mhz - chip.design.memory_mhz
    lost = max(0.0, over - chip.knee_mhz)
    return 1 + (min(over, chip.knee_mhz) - 1.6 * lost) / chip.design.memory_mhz


def frame_times_ms(rate: float, hitch: float, minutes: float, rng: np.random.Generator) -> Series:
    """Times of a run's frames: nearly even, with a slow wave of scene weight and rare hitches; mean 1000 / rate."""
    frames = int(rate * minutes * 60)
    scene = 1 + 0.06 * np.sin(np.linspace(0, 6 * np.pi, frames))
    times = scene * rng.lognormal(0, 0.035, frames)
    slow = rng.random(frames) < hitch
    times[slow] *= rng.uniform(1.4, 2.6, int(slow.sum()))
    return np.asarray(times / times.mean() * 1000 / rate, dtype=np.float64)


def warming(chip: Specimen, state: State, room_c: float, seconds: Series) -> Series:
    """Temperature along a run: a first-order step from six tenths of the way up, where the run before had left it."""
    start = room_c + 0.6 * (state.temp_c - room_c)
    return np.asarray(start + (state.temp_c - start) * (1 - np.exp(-seconds / chip.design.settle_s)), dtype=np.float64)


def telemetry(
    chip: Specimen, measured: Measured, room_c: float, rng: np.random.Generator, every_s: float = 0.5
) -> dict[str, Series]:
    """Readings over the run, as software reports them: warming up along a first-order step."""
    seconds = np.arange(0, measured.lasted_minutes * 60, every_s)
    state = measured.state
    warm = 1 - np.exp(-seconds / chip.design.settle_s)
    temp = warming(chip, state, room_c, seconds)
    return {
        "time": seconds,
        "core": state.core_mhz + 12 * (1 - warm) + rng.normal(0, 2.5, seconds.size),
        "memory": np.full(seconds.size, state.memory_mhz),
        "voltage": state.voltage_v + rng.normal(0, 0.0015, seconds.size),
        "power": state.power_w * (0.97 + 0.03 * warm) + rng.normal(0, 2.2, seconds.size),
        "temp": np.round(temp + rng.normal(0, 0.25, seconds.size), 1),
        "fan": np.clip(30 + 1.1 * (temp - 45), 30, 100),
    }
