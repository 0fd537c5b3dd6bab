"""Five rigs: their chips, what can be set on them, and their workloads. No maker, part or workload here exists."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from trelvo.simulator.heat import Cooling
from trelvo.simulator.instruments import Instruments, draw_instruments
from trelvo.simulator.limits import Turned
from trelvo.simulator.loads import Load
from trelvo.simulator.silicon import ChipDesign, Specimen, draw_specimen


@dataclass(frozen=True)
class KnobSpec:
    """Something that can be set on a rig, on the grid stock + k · step. part: empty for all that is tuned"""

    key: str
    name: str
    unit: str
    stock: float
    step: float
    low: float
    high: float
    away: int
    part: str = ""


@dataclass(frozen=True)
class MemoryDesign:
    """Memory: clock, power, and where it begins to correct errors.

    knee_share, knee_spread: clock above stock from which corrections cost more than the clock gains, over specimens
    reserve_mhz: how far past its knee it fails once an hour; decade_mhz: as for a chip
    """

    mhz: float
    power_w: float
    knee_share: float
    knee_spread: float
    reserve_mhz: float
    decade_mhz: float


@dataclass(frozen=True)
class RigDesign:
    """A rig. The main chip is the one that is tuned; the other works beside it.

    board_w: what the main chip's board draws besides chip and memory; rest_w: everything else behind the supply
    limit_w: power limit of chip, memory and board; shared: one budget for both chips, of which beside_share belongs to
    the chip beside, and what one leaves to the other
    long_w, short_w, settle_s: limits of the chip beside; main_long_w: the main chip's long-term limit, up to which limit_w holds
    cables: whether the main chip draws through cables that a clamp can go around
    """

    key: str
    name: str
    main: ChipDesign
    main_word: str
    memory: MemoryDesign
    board_w: float
    limit_w: float
    temp_limit_c: float
    cooling: Cooling
    rest_w: float
    supply_w: float
    knobs: tuple[KnobSpec, ...]
    loads: Mapping[str, Load]
    options: Mapping[str, str]
    beside: ChipDesign | None = None
    beside_word: str = ""
    beside_cooling: Cooling | None = None
    long_w: float = 1e9
    short_w: float = 1e9
    settle_s: float = 28.0
    main_long_w: float | None = None
    shared: bool = False
    beside_share: float = 0.5
    cables: bool = False


@dataclass(frozen=True)
class SimulatorRig:
    """A rig with the luck of its parts, all drawn from one seed."""

    design: RigDesign
    seed: int
    chip: Specimen
    beside: Specimen | None
    knee_mhz: float
    tools: Instruments


def draw_rig(key: str, seed: int) -> SimulatorRig:
    """The rig of this kind and seed; the same seed always gives the same one. KeyError for a kind there is not."""
    design = RIGS[key]
    rng = np.random.default_rng((seed, sum(map(ord, key))))
    memory = design.memory
    return SimulatorRig(
        design=design,
        seed=seed,
        chip=draw_specimen(design.main, rng),
        beside=draw_specimen(design.beside, rng) if design.beside else None,
        knee_mhz=float(rng.normal(memory.knee_share, memory.knee_spread) * memory.mhz),
        tools=draw_instruments(rng),
    )


def turned(design: RigDesign, values: Mapping[str, float]) -> Turned:
    """What a setting does to the rig. values: by knob key, what is left out is at stock; KeyError for no such knob."""
    at = {knob.key: knob.stock for knob in design.knobs}
    if unknown := set(values) - set(at):
        raise KeyError(f"{design.name} has no knob {', '.join(sorted(unknown))}")
    at.update(values)
    if design.key == "relic":
        bus, wait = at["bus"], at["wait"]
        return Turned(
            core_mhz=bus * at["multiplier"] - design.main.stock_mhz,
            memory_mhz=bus - design.memory.mhz,
            memory_factor=(1 + 0.25 * 2) / (1 + 0.25 * wait),
            memory_ease_mhz=4.5 * (wait - 2),
        )
    return Turned(
        core_mhz=at.get("core", 0.0),
        memory_mhz=at.get("memory", 0.0),
        voltage_mv=at["voltage"],
        power_ratio=at.get("power", 100) / 100,
        cap_w=at.get("cap"),
        beside_cap_w=at.get("graphics"),
        long_w=at.get("long"),
        load_line=at.get("line", 100) / 100,
        fan_percent=at["fan"] if at.get("fan") else None,
    )


DOME = RigDesign(
    key="dome",
    name="Dome machine",
    main=ChipDesign(
        stock_mhz=2370, stock_v=1.05, floor_mhz=1200, floor_v=0.72, switched_w=138, leakage_w=22, grid_mhz=15
    ),
    main_word="card",
    memory=MemoryDesign(9200, 24, 0.1, 0.015, 640, 110),
    board_w=16,
    limit_w=178,
    temp_limit_c=84,
    cooling=Cooling(14, 1250, 0.09, 0.105),
    rest_w=46,
    supply_w=750,
    knobs=(
        KnobSpec("power", "Power limit", "%", 100, 1, 60, 120, 1),
        KnobSpec("core", "Core clock", "MHz", 0, 15, -300, 300, 1),
        KnobSpec("memory", "Memory clock", "MHz", 0, 50, 0, 1500, 1),
        KnobSpec("voltage", "Voltage", "mV", 0, 5, -150, 50, -1),
    ),
    loads={
        "Gorge flythrough": Load("frames", 93.4, 1.5, noise=0.004),
        "Dust rings": Load(
            "points", 8420 / 60, 3.0, 0.52, 0.40, 0.08, 0.35, activity=1.06, stress_mhz=6, noise=0.004
        ),
        "Lantern render": Load(
            "seconds", 1 / 118, 2.0, 0.86, 0.08, 0.06, 0.2, activity=0.94, stress_mhz=-8, noise=0.003
        ),
        "Winter sky show": Load(
            "frames", 74.6, 4.0, 0.60, 0.22, 0.18, 0.7, activity=0.9, stress_mhz=-20, cap_fps=72
        ),
        "Kiln": Load(
            "points", 5200 / 60, 30.0, 0.9, 0.05, 0.05, 0.2, activity=1.15, beside_activity=1.0, stress_mhz=14
        ),
        "Sand mill": Load(
            "points", 3100 / 60, 20.0, 0.2, 0.7, 0.1, 0.2, activity=0.82, beside_activity=0.3, stress_mhz=4
        ),
        "Resting desk": Load("frames", 240, 5.0, beside=0.8, activity=0.08, beside_activity=0.05, stress_mhz=-80, cap_fps=60),
        "Leafing the atlas": Load(
            "seconds", 1 / 74, 1.2, 0.3, 0.1, 0.6, 1.6, activity=0.14, beside_activity=0.22, stress_mhz=-60
        ),
        "Unpacking plates": Load(
            "seconds", 1 / 96, 1.6, 0.1, 0.1, 0.8, 2.4, activity=0.08, beside_activity=0.62, stress_mhz=-70
        ),
    },
    options={
        "Gorge flythrough": "3840 × 2160, preset “full night”",
        "Dust rings": "fixed camera, 4 passes",
        "Lantern render": "one still, 512 samples",
        "Winter sky show": "dome master 4096 × 4096",
        "Kiln": "card and processor together, heaviest there is",
        "Sand mill": "memory of the card and of the machine",
        "Resting desk": "nothing open",
        "Leafing the atlas": "200 pages",
        "Unpacking plates": "one night of sky plates, 14 GB",
    },
    beside=ChipDesign(
        stock_mhz=4700, stock_v=1.25, floor_mhz=1200, floor_v=0.75, switched_w=120, leakage_w=14, grid_mhz=25,
        load_line_ohm=0.0006,
    ),
    beside_word="processor",
    beside_cooling=Cooling(22, 900, 0.11, 0.12),
    long_w=105,
    short_w=142,
    cables=True,
)  # fmt: skip

ANNEXE = RigDesign(
    key="annexe",
    name="Annexe machine",
    # a clock that falls fast with the voltage, and a tool that moves it by 500 MHz at the most
    main=ChipDesign(
        stock_mhz=2745, stock_v=1.06, floor_mhz=600, floor_v=0.7, switched_w=182, leakage_w=26, grid_mhz=15,
        most_offset_mhz=500, bend=0.9, load_line_ohm=0.0002,
    ),
    main_word="card",
    memory=MemoryDesign(10400, 28, 0.09, 0.015, 700, 120),
    board_w=18,
    limit_w=265,
    temp_limit_c=86,
    cooling=Cooling(16, 1500, 0.08, 0.085),
    rest_w=58,
    supply_w=850,
    knobs=(
        KnobSpec("power", "Power limit", "%", 100, 1, 50, 110, 1),
        KnobSpec("core", "Core clock", "MHz", 0, 15, -500, 500, 1),
        KnobSpec("voltage", "Voltage", "mV", 0, 5, -200, 0, -1),
    ),
    loads={
        "Harbour panorama": Load("frames", 118.0, 1.5, noise=0.004),
        "Glass tank": Load("points", 10600 / 60, 2.0, 0.6, 0.3, 0.1, 0.3, activity=1.04, stress_mhz=6, noise=0.004),
        "Furnace": Load("points", 6800 / 60, 20.0, 0.9, 0.05, 0.05, 0.2, activity=1.12, stress_mhz=12),
    },
    options={
        "Harbour panorama": "3840 × 2160, preset “full night”",
        "Glass tank": "fixed camera, 8 passes",
        "Furnace": "the card alone, heaviest there is",
    },
    cables=True,
)  # fmt: skip

LOFT = RigDesign(
    key="loft",
    name="Loft box",
    main=ChipDesign(
        stock_mhz=3450, stock_v=1.12, floor_mhz=1200, floor_v=0.75, switched_w=34, leakage_w=4, grid_mhz=25, bend=1.4,
        load_line_ohm=0.0012,
    ),
    main_word="processor",
    memory=MemoryDesign(2666, 3, 0.12, 0.02, 150, 40),
    board_w=3,
    limit_w=45,
    temp_limit_c=92,
    cooling=Cooling(9, 260, 0.32, 0.5, fan_most_rpm=4600, fan_most_w=1.5),
    rest_w=7,
    supply_w=90,
    knobs=(
        KnobSpec("voltage", "Voltage", "mV", 0, 5, -160, 0, -1),
        KnobSpec("cap", "Power cap", "W", 45, 1, 12, 45, -1),
        KnobSpec("graphics", "Graphics’ own cap", "W", 45, 1, 4, 45, -1, "graphics"),
    ),
    loads={
        "Orbit tables": Load("seconds", 1 / 171, 3.0, 0.9, 0.06, 0.04, 0.0, beside_activity=0.0, noise=0.006),
        "Small dome": Load("frames", 58.3, 2.0, 0.9, 0.06, 0.04, 1.3, activity=0.6, beside_activity=1.0, noise=0.008),
        "Millrace": Load("points", 900 / 60, 20.0, 0.85, 0.11, 0.04, 0.8, activity=1.1, beside_activity=1.0, stress_mhz=8),
    },
    options={
        "Orbit tables": "all planets, 200 years, 6 threads",
        "Small dome": "1920 × 1080, preset “plain”",
        "Millrace": "everything at once, heaviest there is",
    },
    beside=ChipDesign(
        stock_mhz=1300, stock_v=0.95, floor_mhz=300, floor_v=0.65, switched_w=20, leakage_w=2, grid_mhz=25, gap_high_mhz=10
    ),
    beside_word="graphics",
    beside_cooling=Cooling(9, 260, 0.32, 0.5, fan_most_rpm=4600, fan_most_w=1.5),
    shared=True,
    beside_share=0.74,
)  # fmt: skip

LECTERN = RigDesign(
    key="lectern",
    name="Lectern laptop",
    main=ChipDesign(
        stock_mhz=3900, stock_v=1.18, floor_mhz=800, floor_v=0.7, switched_w=50, leakage_w=5, grid_mhz=25, bend=1.5,
        load_line_ohm=0.0016,
    ),
    main_word="processor",
    memory=MemoryDesign(4800, 2, 0.12, 0.02, 250, 70),
    board_w=2,
    limit_w=58,
    temp_limit_c=96,
    # a thin cooler in a closed shell that soaks through over a quarter of an hour
    cooling=Cooling(
        8, 140, 0.3, 0.42, fan_most_rpm=5200, fan_most_w=1.8, case_j_per_c=1900, case_c_per_w=0.28
    ),
    rest_w=9,
    supply_w=65,
    knobs=(
        KnobSpec("voltage", "Voltage", "mV", 0, 5, -160, 0, -1),
        KnobSpec("long", "Long-term power limit", "W", 28, 1, 10, 45, -1),
        KnobSpec("line", "Load line", "%", 100, 10, 20, 100, -1),
    ),
    loads={
        "Page setting": Load("points", 640 / 60, 1.0, 0.9, 0.06, 0.04, 0.0, beside_activity=0.0, noise=0.006),
        "Star plates": Load("seconds", 1 / 240, 4.0, 0.86, 0.1, 0.04, 0.0, beside_activity=0.0, noise=0.006),
        "Turning pages": Load("seconds", 1 / 84, 1.4, 0.55, 0.1, 0.35, 0.0, activity=0.3, beside_activity=0.0, noise=0.006),
        "Treadmill": Load(
            "points", 700 / 60, 20.0, 0.88, 0.08, 0.04, 0.0, activity=1.12, beside_activity=0.0, stress_mhz=10
        ),
    },
    options={
        "Page setting": "one programme of the year, one pass",
        "Star plates": "one night, eight threads",
        "Turning pages": "the whole book, one thread",
        "Treadmill": "all threads, heaviest there is",
    },
    main_long_w=28,
)  # fmt: skip

RELIC = RigDesign(
    key="relic",
    name="Relic",
    main=ChipDesign(
        stock_mhz=66, stock_v=5.0, floor_mhz=20, floor_v=5.0, switched_w=5.2, leakage_w=0.1, grid_mhz=0.5, threshold_v=0.8,
        load_line_ohm=0.005, heat_mhz_per_c=0.08, margin_share=0.24, margin_spread=0.06, decade_low_mhz=0.7,
        decade_high_mhz=2.0, gap_high_mhz=0.0,
    ),
    main_word="processor",
    memory=MemoryDesign(33, 2, 0.45, 0.03, 0.5, 0.7),
    board_w=1,
    limit_w=1e6,
    temp_limit_c=1e6,
    cooling=Cooling(6, 30, 1.6, 2.4, fan_floor_percent=100, fan_most_rpm=5200, fan_most_w=1),
    rest_w=26,
    supply_w=200,
    knobs=(
        KnobSpec("bus", "Bus clock", "MHz", 33, 1, 25, 50, 1),
        KnobSpec("multiplier", "Multiplier", "x", 2, 0.5, 1, 4, 1),
        KnobSpec("wait", "Memory wait states", "", 2, 1, 0, 4, -1),
    ),
    loads={
        "Orrery": Load("frames", 17.2, 2.0, 0.55, 0.35, 0.10, 0.0, beside_activity=0.0),
        "Tide sums": Load("seconds", 1 / 236, 4.0, 0.82, 0.16, 0.02, 0.0, beside_activity=0.0, stress_mhz=0.5),
        "Grindstone": Load("points", 40 / 60, 15.0, 0.6, 0.38, 0.02, 0.0, beside_activity=0.0, stress_mhz=0.7),
    },
    options={"Orrery": "320 × 200", "Tide sums": "one year, hourly", "Grindstone": "sums and pictures by turns"},
)  # fmt: skip

RIGS: dict[str, RigDesign] = {rig.key: rig for rig in (DOME, ANNEXE, LOFT, LECTERN, RELIC)}
