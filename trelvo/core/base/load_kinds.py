"""Workloads as tests of stability: how hard each kind is on a setting, and what it touches."""

import math
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from typing import Literal, get_args

from trelvo.core.base.figures import Part as FigurePart

LoadKind = Literal["stress test", "benchmark", "title", "everyday"]
Part = Literal["graphics", "processor", "memory", "storage"]
Technique = Literal["plain drawing", "ray tracing", "upscaling", "frame generation", "video", "computing"]
KINDS: tuple[LoadKind, ...] = get_args(LoadKind)
PARTS: tuple[Part, ...] = get_args(Part)
TECHNIQUES: tuple[Technique, ...] = get_args(Technique)

# How much nearer the edge each kind takes a setting, in decades of the knob (the distance over which failures become ten times as
# frequent): a lighter load that survives tells less. The starting belief; trials move it.
# Common practice: everyday use stands settings that a stress test does not.
STRESS_DECADES: dict[LoadKind, float] = {"stress test": 0.0, "benchmark": -0.35, "title": -0.35, "everyday": -1.4}
# The kind of load in use where no workload is named. Common practice: most hours of use are light.
PLAIN_USE: LoadKind = "everyday"


@dataclass(frozen=True)
class Load:
    """A workload to test with. minutes: how long one run of it lasts; by_itself: it ends when its work is done, not when told"""

    id: int
    name: str
    kind: LoadKind
    minutes: float
    parts: frozenset[Part] = frozenset()
    techniques: frozenset[Technique] = frozenset()
    by_itself: bool = False

    def runs_for(self, minutes: float) -> int:
        """How many runs fill so many minutes: one, unless it ends by itself."""
        return max(1, math.ceil(minutes / self.minutes - 1e-9)) if self.by_itself else 1


def techniques_to_cover(loads: Iterable[Load]) -> tuple[Technique, ...]:
    """Return the techniques that tests should cover: all of them where a load draws pictures, none where nothing does."""
    return TECHNIQUES if any("graphics" in load.parts or load.kind == "title" for load in loads) else ()


# Which of a load's parts work a part that a knob turns; system memory is worked through the processor.
_WORKED_THROUGH: dict[FigurePart, frozenset[Part]] = {
    "graphics": frozenset({"graphics"}),
    "processor": frozenset({"processor"}),
    "memory": frozenset({"memory", "processor"}),
}
# These use the whole machine, whatever is noted of them.
_WHOLE_MACHINE: frozenset[LoadKind] = frozenset({"title", "everyday"})


def works_on(part: FigurePart, load: Load) -> bool:
    """Whether a load can show that a part is stable: a processor benchmark says nothing about a graphics clock.

    A load without noted parts, and a knob of no single part, are taken to fit.
    """
    through = _WORKED_THROUGH.get(part)
    return through is None or not load.parts or load.kind in _WHOLE_MACHINE or bool(through & load.parts)


def loads_for(parts: Collection[FigurePart], loads: Iterable[Load]) -> list[Load]:
    """The loads that work at least one of these parts; all of them where none does."""
    every = list(loads)
    return [load for load in every if any(works_on(part, load) for part in parts)] or every


def heaviest(loads: Iterable[Load], part: Part | None = None) -> Load | None:
    """The load that is hardest on a setting: the heaviest kind, then the most parts at once; the first of equals.

    part: loads that touch it go before all others; what runs as long as it is told goes before what ends by itself
    """
    return next(iter(by_weight(loads, part)), None)


def by_weight(loads: Iterable[Load], part: Part | None = None) -> list[Load]:
    """Loads from the hardest on a setting to the easiest; equals stay as they were. part: as in `heaviest`"""
    return sorted(
        loads,
        key=lambda load: (
            part is not None and part in load.parts,
            not load.by_itself,
            STRESS_DECADES[load.kind],
            len(load.parts),
        ),
        reverse=True,
    )


def stress_decades(kind: LoadKind, used: Iterable[LoadKind]) -> float:
    """How much nearer the edge than the heaviest kind in use, in decades of the knob: zero or below."""
    return STRESS_DECADES[kind] - max((STRESS_DECADES[one] for one in used), default=STRESS_DECADES[kind])
