"""Starting points for a new campaign: by what is tuned, the knobs that are usual, their grids, and kinds of workload.

Ranges are those that tools commonly offer; every number is there to be changed to what the machine at hand allows.
Common practice.
"""

from dataclasses import dataclass

from trelvo.core.base.knobs import Knob
from trelvo.core.base.loads import LoadKind, Part, Technique
from trelvo.core.base.workloads import Measure

POWER = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")
CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1, "core clock")
MEMORY = Knob("memory", "Memory clock", "MHz", 0, 50, 0, 1500, 1, "memory clock")
VOLTAGE = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage")
MULTIPLIER = Knob("multiplier", "Multiplier", "x", 40, 1, 8, 60, 1, "multiplier")
LINE = Knob("line", "Load line", "", 4, 1, 1, 8, -1, "load line")
CAP = Knob("cap", "Power cap", "W", 45, 1, 12, 45, -1, "power limit")
BUS = Knob("bus", "Bus clock", "MHz", 33, 1, 25, 50, 1, "bus clock")
WAIT = Knob("wait", "Memory wait states", "", 2, 1, 0, 4, -1, "wait states")
FAN = Knob("fan", "Fan", "%", 50, 1, 0, 100, 1, "fan")
USUAL_KNOBS: tuple[Knob, ...] = (POWER, CORE, MEMORY, VOLTAGE, MULTIPLIER, LINE, CAP, BUS, WAIT, FAN)


@dataclass(frozen=True)
class PresetLoad:
    """A workload to begin with, under a name that is to be replaced by that of the real one."""

    name: str
    measure: Measure
    unit: str
    minutes: float
    kind: LoadKind
    parts: tuple[Part, ...]
    techniques: tuple[Technique, ...] = ()

    @property
    def higher_is_better(self) -> bool:
        return self.measure != "time"


TITLE = PresetLoad("A title I play", "frame rate", "fps", 3, "title", ("graphics",))
BENCHMARK = PresetLoad("A benchmark", "score", "points", 4, "benchmark", ("graphics",))
STRESS = PresetLoad("A stress test", "score", "points", 30, "stress test", ("graphics", "processor"))
RENDER = PresetLoad("A rendering", "time", "s", 5, "benchmark", ("processor",))
CRUNCH = PresetLoad("A processor stress test", "score", "points", 30, "stress test", ("processor", "memory"))
EVERYDAY = PresetLoad("What I do all day", "time", "s", 3, "everyday", ("processor", "storage"))


@dataclass(frozen=True)
class Starter:
    """A campaign to begin with. parts: what the rig's description asks for; says: what is usual there, in one sentence"""

    key: str
    name: str
    says: str
    goal: str
    parts: tuple[str, ...]
    knobs: tuple[Knob, ...]
    workloads: tuple[PresetLoad, ...]


def _of(knob: Knob, **changed: float) -> Knob:
    return Knob(**{**vars(knob), **changed})


STARTERS: tuple[Starter, ...] = (
    Starter(
        "graphics card", "A graphics card", "Power limit first, then core clock, memory clock; voltage last.", "speed",
        ("Graphics card", "Processor", "Memory", "Power supply"), (POWER, CORE, MEMORY, VOLTAGE), (TITLE, BENCHMARK, STRESS),
    ),
    Starter(
        "processor", "A desktop processor", "Multiplier, then how much voltage can be taken off again, then the load line.",
        "speed",
        ("Processor", "Main board", "Memory", "Graphics card"),
        (MULTIPLIER, VOLTAGE, LINE), (RENDER, EVERYDAY, CRUNCH),
    ),
    Starter(
        "laptop", "A laptop", "Less voltage at the same clock: the same speed with less power, heat and noise.", "efficiency",
        ("Laptop", "Processor", "Memory"), (VOLTAGE, CAP), (EVERYDAY, RENDER, CRUNCH),
    ),
    Starter(
        "shared budget", "A small machine, one power budget", "Processor and graphics share the watts: voltage, then the cap.",
        "power budget", ("Machine", "Memory"), (VOLTAGE, _of(CAP, stock=25, low=4, high=25)), (TITLE, RENDER, STRESS),
    ),
    Starter(
        "old board", "An old board", "Bus clock times multiplier, and the fewest wait states that the memory stands.", "revive",
        ("Main board", "Processor", "Memory", "Graphics card"),
        (BUS, _of(MULTIPLIER, stock=2, step=0.5, low=1, high=5), WAIT),
        (TITLE, RENDER, PresetLoad("A memory test", "time", "s", 10, "stress test", ("memory", "processor"))),
    ),
)  # fmt: skip
