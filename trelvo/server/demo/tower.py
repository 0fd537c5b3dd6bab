"""The tower's rigs: parts, chips and loads. No maker, part or workload here exists."""

from trelvo.core.knobs import Knob
from trelvo.logbook.services.campaigns import WorkloadDraft
from trelvo.logbook.services.rigs import FittingDraft, PartDraft
from trelvo.standin.chip import Design
from trelvo.standin.workload import Load

DOME_CARD = Design(
    stock_mhz=2370,
    stock_v=1.05,
    volt_per_mhz=0.00042,
    dynamic_w=138,
    leakage_w=22,
    base_w=16,
    limit_w=178,
    heat_c_per_w=0.205,
    settle_s=95,
    grid_mhz=15,
    memory_mhz=9200,
    memory_w=24,
)
LOFT_CHIP = Design(
    stock_mhz=3450,
    stock_v=1.12,
    volt_per_mhz=0.00021,
    dynamic_w=31,
    leakage_w=5,
    base_w=4,
    limit_w=45,
    heat_c_per_w=1.05,
    settle_s=60,
    grid_mhz=25,
    memory_mhz=2666,
    memory_w=3,
)

DOME_PARTS = (
    PartDraft("Graphics card", "Corvane Tessel 640, 12 GB", "bought used, sticker T-0417"),
    PartDraft("Processor", "Brindel Octant 8", "lid never lifted"),
    PartDraft("Memory", "2 × 16 GB Sorrel Plain, 6000 MT/s"),
    PartDraft("Board", "Anvik Ledger B"),
    PartDraft("Supply", "Tarnwold 750, Gold"),
)
DOME_FITTING = FittingDraft(
    parts=DOME_PARTS,
    cooling="Two-fan air cooler on the card, tower cooler on the processor",
    enclosure="Case under the projection desk, side panel on",
    driver="41.2",
    firmware="Card 1.18, board 0.92",
    system="Fennel 12",
)
DOME_FITTING_NEXT = FittingDraft(
    parts=DOME_PARTS,
    cooling="Two-fan air cooler on the card (cleaned), tower cooler on the processor",
    enclosure="Case under the projection desk, side panel on",
    driver="41.5",
    firmware="Card 1.18, board 0.92",
    system="Fennel 12",
    note="New driver for the dome warp; dust taken out of the card.",
)
LOFT_FITTING = FittingDraft(
    parts=(
        PartDraft("Processor and graphics", "Brindel Pair 6", "one chip, one power budget"),
        PartDraft("Memory", "16 GB soldered"),
        PartDraft("Supply", "90 W brick"),
    ),
    cooling="One blower, paste renewed",
    enclosure="Closed box on the loft shelf",
    driver="41.5",
    firmware="2.07",
    system="Fennel 12",
)
RELIC_FITTING = FittingDraft(
    parts=(
        PartDraft("Processor", "Pelm 4, in a socket", "marked 33"),
        PartDraft("Board", "Dovetail with cache sockets"),
        PartDraft("Memory", "8 MB, rated 70 ns"),
        PartDraft("Cache", "256 KB, rated 20 ns"),
    ),
    cooling="Clip-on fan",
    enclosure="Glass case in the exhibition",
    firmware="Board 1.3",
    system="Slate 5",
)

DOME_KNOBS = (
    Knob("power", "Power limit", "%", 100, 1, 60, 120, 1),
    Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1),
    Knob("memory", "Memory clock", "MHz", 0, 50, 0, 1500, 1),
    Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1),
)
LOFT_KNOBS = (
    Knob("voltage", "Voltage", "mV", 0, 5, -160, 0, -1),
    Knob("cap", "Power cap", "W", 45, 1, 12, 45, -1),
)
RELIC_KNOBS = (
    Knob("bus", "Bus clock", "MHz", 33, 1, 25, 50, 1),
    Knob("multiplier", "Multiplier", "x", 2, 0.5, 1, 4, 1),
    Knob("wait", "Memory wait states", "", 2, 1, 0, 4, -1),
)

GORGE = WorkloadDraft("Gorge flythrough", "frame rate", "fps", True, 1.5, "3840 × 2160, preset “full night”")
RINGS = WorkloadDraft("Dust rings", "score", "points", True, 3.0, "fixed camera, 4 passes")
LANTERN = WorkloadDraft("Lantern render", "time", "s", False, 2.0, "one still, 512 samples")
SHOW = WorkloadDraft("Winter sky show", "frame rate", "fps", True, 4.0, "dome master 4096 × 4096", 72.0)
DOME_WORKLOADS = (GORGE, RINGS, LANTERN, SHOW)
LOFT_WORKLOADS = (
    WorkloadDraft("Orbit tables", "time", "s", False, 3.0, "all planets, 200 years, 6 threads"),
    WorkloadDraft("Small dome", "frame rate", "fps", True, 2.0, "1920 × 1080, preset “plain”"),
)
RELIC_WORKLOADS = (
    WorkloadDraft("Orrery", "frame rate", "fps", True, 2.0, "320 × 200"),
    WorkloadDraft("Tide sums", "time", "s", False, 4.0, "one year, hourly"),
)

# How each load behaves on the stand-in; `rate` is frames, passes or points a second at stock.
DOME_LOADS = {
    GORGE.name: Load(core=0.66, memory=0.24, other=0.10, rate=93.4, activity=1.0),
    RINGS.name: Load(core=0.52, memory=0.40, other=0.08, rate=8420 / 60, activity=1.06, stress_mhz=6, noise=0.004),
    LANTERN.name: Load(core=0.86, memory=0.08, other=0.06, rate=1 / 118, activity=0.94, stress_mhz=-8, noise=0.003),
    SHOW.name: Load(core=0.60, memory=0.22, other=0.18, rate=74.6, activity=0.86, stress_mhz=-20),
}
LOFT_LOADS = {
    "Orbit tables": Load(core=0.9, memory=0.06, other=0.04, rate=1 / 171, activity=1.0, noise=0.006),
    "Small dome": Load(core=0.5, memory=0.42, other=0.08, rate=58.3, activity=0.9, noise=0.008),
}
