"""Runs as the core sees them."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from trelvo.core.base.figures import Part, Statistic
from trelvo.core.base.instruments import Doubt, Point
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.registry.quantities import Quantity


@dataclass(frozen=True)
class PartFigure:
    """A figure of one part of the machine, as it counts: in the quantity's own unit; instrument: empty where it was not said."""

    part: Part
    quantity: Quantity
    statistic: Statistic
    value: float
    instrument: str = ""


@dataclass(frozen=True)
class RunFacts:
    """What the computations need of a run. Value in the workload's unit, watts at `power_point`, degrees Celsius.

    read_by: who read a figure, by the figure's word: the instrument's name, and of which part where that is not the one tuned;
    nothing where neither was said
    corrected: figures (by their word) that an instrument's correction has changed
    doubts: by the figure's word, where the correction of the instrument that read it is not known exactly
    far_off: whether its result is far from all other runs of the setting: it enters no mean until more of them are like it
    of_parts: what was read of each part of the machine, the tuned one included
    started_h: when it began, in hours from any moment common to all runs
    """

    id: int
    setting_id: int
    workload_id: int
    outcome: Outcome
    value: float | None = None
    set_aside: bool = False
    power_w: float | None = None
    power_point: Point = "unknown"
    temp_max_c: float | None = None
    room_c: float | None = None
    low_1_fps: float | None = None
    low_01_fps: float | None = None
    core_mhz: float | None = None
    memory_mhz: float | None = None
    temp_start_c: float | None = None
    frames: int | None = None
    duration_s: float | None = None
    corrected: tuple[str, ...] = ()
    voltage_v: float | None = None
    started_h: float = 0.0
    noise_dba: float | None = None
    doubts: Mapping[str, Doubt] = field(default_factory=dict)
    read_by: Mapping[str, str] = field(default_factory=dict)
    of_parts: tuple[PartFigure, ...] = ()
    far_off: bool = False

    @property
    def power_instrument(self) -> str:
        return self.read_by.get("power_w", "")


def counts(run: RunFacts) -> bool:
    """Whether a run's value may enter a mean: completed, with a value, not set aside and not far from all others."""
    return figures_count(run) and run.value is not None


def figures_count(run: RunFacts) -> bool:
    """Whether a run's figures may enter a mean: completed, not set aside and not far off, with a result or without one."""
    return run.outcome == "completed" and not run.set_aside and not run.far_off


def values_of(runs: Iterable[RunFacts]) -> list[float]:
    """Values (workload's unit) of the runs that count."""
    return [run.value for run in runs if counts(run) and run.value is not None]


def mean_of(numbers: Iterable[float | None]) -> float | None:
    """Plain mean of the numbers that are there, or None."""
    present = [number for number in numbers if number is not None]
    return sum(present) / len(present) if present else None


def highest_of(numbers: Iterable[float | None]) -> float | None:
    """Highest of the numbers that are there, or None."""
    return max((number for number in numbers if number is not None), default=None)
