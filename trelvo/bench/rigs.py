"""What the simulator offers, in the logbook's words: knobs and workloads to begin a campaign with."""

from typing import Literal, cast

from trelvo.core.base.figures import Part as FigurePart
from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import LoadKind, Part, Technique
from trelvo.core.base.workloads import Measure, read_options
from trelvo.core.registry.guess import guess_role
from trelvo.logbook.commands.campaigns import WorkloadDraft
from trelvo.simulator.rigs import RIGS

SHOWN: dict[str, tuple[Measure, str, bool]] = {
    "frames": ("frame rate", "fps", True),
    "points": ("score", "points", True),
    "seconds": ("time", "s", False),
}


# what each load is as a test, for a proof's breadth
TESTS: dict[str, tuple[LoadKind, tuple[Part, ...], tuple[Technique, ...]]] = {
    "Gorge flythrough": ("title", ("graphics",), ("plain drawing", "upscaling")),
    "Dust rings": ("benchmark", ("graphics", "memory"), ("ray tracing",)),
    "Lantern render": ("benchmark", ("graphics",), ("ray tracing", "computing")),
    "Winter sky show": ("title", ("graphics", "memory"), ("plain drawing", "frame generation", "video")),
    "Kiln": ("stress test", ("graphics", "processor"), ("computing",)),
    "Sand mill": ("stress test", ("graphics", "memory"), ("computing",)),
    "Millrace": ("stress test", ("processor", "graphics", "memory"), ("computing",)),
    "Grindstone": ("stress test", ("processor", "memory", "graphics"), ("computing",)),
    "Resting desk": ("everyday", ("processor",), ("plain drawing",)),
    "Leafing the atlas": ("everyday", ("processor", "storage"), ("plain drawing",)),
    "Unpacking plates": ("everyday", ("processor", "memory", "storage"), ()),
    "Harbour panorama": ("title", ("graphics",), ("plain drawing", "upscaling")),
    "Glass tank": ("benchmark", ("graphics", "memory"), ("ray tracing",)),
    "Furnace": ("stress test", ("graphics",), ("computing",)),
    "Treadmill": ("stress test", ("processor", "memory"), ("computing",)),
    "Page setting": ("benchmark", ("processor",), ("computing",)),
    "Turning pages": ("everyday", ("processor",), ()),
    "Star plates": ("benchmark", ("processor", "memory"), ("computing",)),
    "Orbit tables": ("benchmark", ("processor",), ("computing",)),
    "Small dome": ("title", ("graphics", "processor"), ("plain drawing",)),
    "Orrery": ("title", ("graphics", "processor"), ("plain drawing",)),
    "Tide sums": ("benchmark", ("processor", "memory"), ("computing",)),
}


def knobs_for(kind: str) -> list[Knob]:
    """The knobs of a simulator rig, in the order of turning."""
    return [
        Knob(
            key=k.key,
            name=k.name,
            unit=k.unit,
            stock=k.stock,
            step=k.step,
            low=k.low,
            high=k.high,
            away=cast(Literal[1, -1], k.away),
            role=guess_role(k.key, k.name, k.unit).role,
            part=cast(FigurePart, k.part or "tuned part"),
        )
        for k in RIGS[kind].knobs
    ]


def workloads_for(kind: str) -> list[WorkloadDraft]:
    """The workloads of a simulator rig."""
    design = RIGS[kind]
    drafts = []
    for name, load in design.loads.items():
        measure, unit, higher = SHOWN[load.yields]
        options = read_options(design.options.get(name, ""))
        drafts.append(WorkloadDraft(name, measure, unit, higher, load.minutes, options, load.cap_fps, *TESTS[name]))
    return drafts
