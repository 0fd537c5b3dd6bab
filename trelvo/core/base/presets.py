"""Starting points for a new campaign: by what is tuned, the knobs that are usual, their grids, and kinds of workload.

Ranges are those that tools commonly offer; every number is there to be changed to what the machine at hand allows.
Common practice.
"""

from dataclasses import dataclass

from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import LoadKind, Part, Technique
from trelvo.core.base.workloads import Measure

POWER = Knob(key="power", name="Power limit", unit="%", stock=100, step=1, low=60, high=120, away=1, role="power limit")
CORE = Knob(key="core", name="Core clock", unit="MHz", stock=0, step=15, low=-300, high=300, away=1, role="core clock")
MEMORY = Knob(
    key="memory", name="Memory clock", unit="MHz", stock=0, step=50, low=0, high=1500, away=1, role="memory clock"
)
VOLTAGE = Knob(key="voltage", name="Voltage", unit="mV", stock=0, step=5, low=-150, high=0, away=-1, role="voltage")
MULTIPLIER = Knob(
    key="multiplier", name="Multiplier", unit="x", stock=40, step=1, low=8, high=60, away=1, role="multiplier"
)
LINE = Knob(key="line", name="Load line", unit="", stock=4, step=1, low=1, high=8, away=-1, role="load line")
CAP = Knob(key="cap", name="Power cap", unit="W", stock=45, step=1, low=12, high=45, away=-1, role="power limit")
BUS = Knob(key="bus", name="Bus clock", unit="MHz", stock=33, step=1, low=25, high=50, away=1, role="bus clock")
WAIT = Knob(key="wait", name="Memory wait states", unit="", stock=2, step=1, low=0, high=4, away=-1, role="wait states")
FAN = Knob(key="fan", name="Fan", unit="%", stock=50, step=1, low=0, high=100, away=1, role="fan")
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
