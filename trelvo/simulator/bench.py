"""The bench: a rig under a load, stepped through time; what its instruments read, how the run ends, what it yields."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal, NamedTuple

import numpy as np
import numpy.typing as npt

from trelvo.simulator import readings
from trelvo.simulator.faults import Fault
from trelvo.simulator.heat import at_rest, fan_power_w, step_heat
from trelvo.simulator.limits import Point, Turned, TwoLimits, run_at, walk_down
from trelvo.simulator.loads import Frames, Load, draw_frames, frame_times_ms, pace
from trelvo.simulator.luck import Luck
from trelvo.simulator.moment import Now
from trelvo.simulator.readings import Reading
from trelvo.simulator.rigs import SimulatorRig, turned
from trelvo.simulator.silicon import Failure, edge_mhz, failure_kind, hazard_per_h, on_grid

Array = npt.NDArray[np.float64]
STEP_S = 0.2
RESTART_S = 240.0
REST_STEP_S = 1.0
# a processor held by its long-term limit gets the short one back where its average has fallen so far below
BACK_SHARE = 0.8
# what the first run after a start loses while caches fill
COLD_FACTOR = 0.965
RESTING = Load("nothing", 0.0, 0.0, activity=0.03, beside_activity=0.03, beside=0.0)


@dataclass(frozen=True)
class Ending:
    """How a run ended, after how many seconds, and what it yielded (fps, points or seconds) where it was completed."""

    outcome: Literal["completed"] | Failure
    after_s: float
    value: float | None


@dataclass(frozen=True)
class Stretch:
    """Readings of some steps: times from the start of the run, one row a step, NaN where nothing was due; frame times."""

    time_s: Array
    values: Array
    frames_ms: Array
    ending: Ending | None


class _Knobs(NamedTuple):
    """What follows from where the knobs stand, whatever the load: computed once, used every step. at: where they stand."""

    at: Turned
    offset_mhz: float
    top_mhz: float
    limit_w: float
    memory_mhz: float
    memory_w: float
    memory_ratio: float
    memory_over_mhz: float


def _by_knobs(rig: SimulatorRig, at: Turned) -> _Knobs:
    design, memory = rig.design, rig.design.memory
    offset = on_grid(design.main, at.core_mhz)
    memory_w = memory.power_w * (memory.mhz + at.memory_mhz) / memory.mhz
    budget = at.cap_w if at.cap_w is not None else design.limit_w * at.power_ratio
    # rises with the clock up to the knee, then falls as errors are corrected
    knee = rig.knee_mhz + at.memory_ease_mhz
    gained = min(at.memory_mhz, knee) - 2.5 * max(0.0, at.memory_mhz - knee)
    return _Knobs(
        at=at,
        offset_mhz=offset,
        top_mhz=design.main.stock_mhz + offset,
        limit_w=budget - memory_w - design.board_w,
        memory_mhz=memory.mhz + at.memory_mhz,
        memory_w=memory_w,
        memory_ratio=at.memory_factor * (1 + gained / memory.mhz),
        memory_over_mhz=at.memory_mhz - knee - memory.reserve_mhz,
    )


@dataclass
class _Run:
    load: Load
    minutes: float
    luck: float
    patience: float
    suffered: float = 0.0
    steps: int = 0
    work: float = 0.0
    frames: int = 0
    frames_ms: float = 0.0
    owed: float = 0.0
    ending: Ending | None = None


@dataclass
class Bench:
    """A rig that remembers: its heat, its full caches, what was set before. All luck comes from `rng`.

    step_s: seconds of bench time a step; at most half the die's time constant
    fault: what time has done to it; driver: the one in use
    """

    rig: SimulatorRig
    room_c: float
    rng: np.random.Generator
    step_s: float = STEP_S
    fault: Fault | None = None
    driver: str = ""
    at: Turned = field(default_factory=Turned)
    now: Now | None = None

    def __post_init__(self) -> None:
        design = self.rig.design
        self._heat = at_rest(design.cooling, self.room_c)
        self._beside_heat = at_rest(design.beside_cooling or design.cooling, self.room_c)
        self._limits = TwoLimits(design.long_w, design.short_w, design.settle_s)
        self._main_limits = TwoLimits(design.main_long_w or math.inf, math.inf, design.settle_s, back_share=BACK_SHARE)
        self._warm: set[str] = set()
        self._heat_steps = 0.0
        self._busy = 1.0
        self._near = self._beside_near = 0.0
        self._last_main_w = 0.0
        self._clock_s = 0.0
        self._known = _by_knobs(self.rig, self.at)
        self._changed_s = -math.inf
        self._stale_mhz = 0.0
        self._luck = Luck(self.rng)
        self._run: _Run | None = None
        self._load_name = ""

    def channels(self) -> list[Reading]:
        """What the instruments read, in the order of a stretch's columns."""
        return [channel for channel, _ in readings.channels(self.rig.design)]

    def is_cold(self, load_name: str) -> bool:
        """Whether the workload has not run since the machine was started, so that its first run will be slow."""
        return load_name not in self._warm

    def start(self, values: Mapping[str, float], load_name: str, minutes: float | None = None) -> None:
        """Sets the knobs and begins a run. A setting far past the edge does not start: the first stretch says so.

        values: by knob key; KeyError for a knob or load that the rig has not
        """
        design = self.rig.design
        load = design.loads[load_name]
        new = turned(design, values)
        if new != self.at:
            self._changed_s = self._clock_s
            self._stale_mhz = self.now.point.mhz - self.rig.chip.gap_mhz if self.now else design.main.stock_mhz
        self.at = new
        self._load_name = load_name
        cold = load_name not in self._warm
        self._warm.add(load_name)
        luck = float(self.rng.lognormal(0, load.noise)) * (COLD_FACTOR if cold else 1.0)
        self._run = _Run(load, minutes or load.minutes, luck, float(self.rng.exponential()))
        self._near = design.main.stock_mhz
        self._busy = 1.0
        over, decade = self._nearer(*self._past_edges(self._main_point(load), load))
        if failure_kind(over, decade, float(self.rng.random())) == "no start":
            self._run.ending = Ending("no start", 0.0, None)

    def advance(self, seconds: float) -> Stretch:
        """The next `seconds` of the run, or as many as it still lasts."""
        run = self._run
        if run is None:
            raise RuntimeError("no run has been started")
        before = run.steps
        rows: list[list[float]] = []
        drawn: list[Frames] = []
        for _ in range(round(seconds / self.step_s)):
            if run.ending:
                break
            rows.append(self._step(run, drawn))
        times = np.arange(before + 1, run.steps + 1, dtype=np.float64) * self.step_s
        frames_ms = frame_times_ms(run.load, drawn)
        rates = self._count(run, drawn, frames_ms) if drawn else np.full(len(rows), math.nan)
        return Stretch(times, readings.shown(self.rig.design, rows, rates), frames_ms, run.ending)

    @staticmethod
    def _count(run: _Run, drawn: list[Frames], frames_ms: Array) -> Array:
        """The frame rate of each step; the run's frames are counted, and what they come to is said where it has ended."""
        rates, at = [], 0
        for one in drawn:
            upto = at + one.jitter.size
            took_ms = float(np.add.reduce(frames_ms[at:upto]))
            rates.append(1000 * (upto - at) / took_ms if upto > at else math.nan)
            run.frames_ms += took_ms
            at = upto
        run.frames += at
        if run.ending and run.ending.outcome == "completed" and run.frames:
            run.ending = replace(run.ending, value=1000 * run.frames / run.frames_ms)
        return np.array(rates)

    def rest(self, seconds: float) -> None:
        """Time without a run: it cools."""
        self._run = None
        for _ in range(round(seconds / REST_STEP_S)):
            self._physics(RESTING, REST_STEP_S)

    def restart(self) -> None:
        """Switches the machine off and on again: it takes minutes, and caches are empty."""
        self._warm.clear()
        self._limits.average_w = self._main_limits.average_w = 0.0
        self.rest(RESTART_S)

    def _step(self, run: _Run, drawn: list[Frames]) -> list[float]:
        """One step of a run; what the instruments take. Its frames, where it yields any, are put with the drawn ones."""
        load, dt = run.load, self.step_s
        now = self._physics(load, dt)
        edge, besides = self.hazards()
        run.suffered += (edge + besides) * dt / 3600
        run.steps += 1
        rate = load.rate * run.luck * self._pace(load, now)
        shown = min(rate, load.cap_fps) if load.cap_fps else rate
        self._busy *= shown / rate
        run.work += shown * dt
        if load.yields == "frames":
            run.owed += shown * dt
            count = int(run.owed)
            run.owed -= count
            # three slow waves over the run
            phase = 6 * math.pi * run.steps * dt / (run.minutes * 60)
            drawn.append(draw_frames(rate, load, count, phase, self._luck))
        stale = self._stale_mhz if self._clock_s - self._changed_s < self.rig.tools.stale_s else None
        row = readings.taken(self.rig, now, self._luck, self._clock_s, dt, stale)
        run.ending = self._ending(run)
        return row

    def _physics(self, load: Load, dt: float) -> Now:
        design, knobs = self.rig.design, self._knobs()
        beside = self._beside_point(load)
        beside_w = beside.power_w if beside else 0.0
        point = self._main_point(load, beside_w)
        self._near = point.mhz
        self._last_main_w = point.power_w
        fan_w = fan_power_w(design.cooling, self._heat.fan_percent)
        board = point.power_w + knobs.memory_w + design.board_w
        if beside and design.shared:
            # one piece of silicon under one cooler
            self._heat = step_heat(
                design.cooling, self._heat, point.power_w + beside_w, self.room_c, dt, self.at.fan_percent
            )
            self._beside_heat = self._heat
        else:
            self._heat = step_heat(design.cooling, self._heat, point.power_w, self.room_c, dt, self.at.fan_percent)
            if beside and design.beside_cooling:
                self._beside_heat = step_heat(design.beside_cooling, self._beside_heat, beside_w, self.room_c, dt)
        if self._heat.die_c > design.temp_limit_c:
            self._heat_steps += 2 * dt
        elif self._heat.die_c < design.temp_limit_c - 2:
            self._heat_steps = max(0.0, self._heat_steps - dt)
        self._limits.took(beside_w, dt)
        if design.main_long_w is not None:
            self._main_limits.long_w = self.at.long_w or design.main_long_w
            self._main_limits.took(point.power_w, dt)
        core_over, memory_over = self._past_edges(point, load)
        self._clock_s += dt
        self.now = Now(
            point=point,
            memory_mhz=knobs.memory_mhz,
            beside=beside,
            core_over_mhz=core_over,
            memory_over_mhz=memory_over,
            board_w=board,
            total_w=board + beside_w + fan_w + design.rest_w,
            heat=self._heat,
            beside_heat=self._beside_heat if beside else None,
            busy=self._busy,
        )
        return self.now

    def _knobs(self) -> _Knobs:
        if self._known.at is not self.at:
            self._known = _by_knobs(self.rig, self.at)
        return self._known

    def _main_point(self, load: Load, beside_w: float = 0.0) -> Point:
        design, knobs = self.rig.design, self._knobs()
        top = knobs.top_mhz - math.floor(self._heat_steps) * design.main.grid_mhz
        limit = knobs.limit_w
        if design.shared:
            # what the other leaves, and never less than its own
            limit = max((1 - design.beside_share) * limit, limit - beside_w)
        limit = min(limit, self._main_limits.limit_w())
        activity = load.activity * (0.2 + 0.8 * self._busy)
        return walk_down(
            chip=self.rig.chip,
            top_mhz=max(top, design.main.floor_mhz),
            offset_mhz=knobs.offset_mhz,
            turned=self.at,
            temp_c=self._heat.die_c,
            activity=activity,
            limit_w=limit,
            near_mhz=self._near,
        )

    def _beside_point(self, load: Load) -> Point | None:
        design, chip = self.rig.design, self.rig.beside
        if chip is None or design.beside is None:
            return None
        stock, temp = Turned(), self._beside_heat.die_c
        limit = self._limits.limit_w()
        if design.shared:
            budget = (self.at.cap_w or design.limit_w) - self._knobs().memory_w - design.board_w
            # its share, or what the other leaves; what the other needs at its lowest clock comes first, so that the cap is kept
            least = run_at(
                self.rig.chip, design.main.floor_mhz, 0.0, self.at, temp, load.activity * (0.2 + 0.8 * self._busy)
            )
            limit = min(max(design.beside_share * budget, budget - self._last_main_w), budget - least.power_w)
        if self.at.beside_cap_w is not None:
            limit = min(limit, self.at.beside_cap_w)
        near = self._beside_near or design.beside.stock_mhz
        point = walk_down(
            chip=chip,
            top_mhz=design.beside.stock_mhz,
            offset_mhz=0.0,
            turned=stock,
            temp_c=temp,
            activity=load.beside_activity,
            limit_w=limit,
            near_mhz=near,
        )
        self._beside_near = point.mhz
        return point

    def _pace(self, load: Load, now: Now) -> float:
        design, gap = self.rig.design, self.rig.chip.gap_mhz
        beside = now.beside.mhz / design.beside.stock_mhz if now.beside and design.beside else 1.0
        core = (now.point.mhz - gap) / (design.main.stock_mhz - gap)
        found = pace(load, core, self._knobs().memory_ratio, beside)
        self._busy = found.busy
        return found.ratio

    def _past_edges(self, point: Point, load: Load) -> tuple[float, float]:
        """How far chip and memory stand past their edges, in MHz."""
        lost = self.fault.edge_lost_mhz(self.driver) if self.fault else 0.0
        core = point.mhz - edge_mhz(self.rig.chip, point.volt, self._heat.die_c) + load.stress_mhz + lost
        return core, self._knobs().memory_over_mhz

    def _nearer(self, core_over: float, memory_over: float) -> tuple[float, float]:
        """The edge that is passed further, in decades of its own: MHz past it, and its decade."""
        core, memory = self.rig.chip.decade_mhz, self.rig.design.memory.decade_mhz
        return (memory_over, memory) if memory_over / memory > core_over / core else (core_over, core)

    def hazards(self) -> tuple[float, float]:
        """Failures an hour at this moment: of chip and memory together, and from anything else."""
        if self.now is None:
            raise RuntimeError("nothing has run yet")
        core = hazard_per_h(self.now.core_over_mhz, self.rig.chip.decade_mhz)
        memory = hazard_per_h(self.now.memory_over_mhz, self.rig.design.memory.decade_mhz)
        return core + memory, self.fault.besides_per_h(self._load_name, self.now.board_w) if self.fault else 0.0

    def failure(self, now: Now) -> Failure:
        """How it fails: by what failed."""
        edge, besides = self.hazards()
        if besides and float(self.rng.random()) * (edge + besides) < besides:
            return "system crash" if self.fault and self.fault.kind == "supply or cable" else "program crash"
        over, decade = self._nearer(now.core_over_mhz, now.memory_over_mhz)
        kind = failure_kind(over, decade, float(self.rng.random()))
        return "system crash" if kind == "no start" else kind

    def _ending(self, run: _Run) -> Ending | None:
        now, load, lasted = self.now, run.load, run.steps * self.step_s
        if now and run.suffered >= run.patience:
            return Ending(self.failure(now), lasted, None)
        if load.yields == "seconds":
            if run.work < 1:
                return None
            last = run.work - 1
            return Ending("completed", lasted, round(lasted - last / (run.work / lasted), 2))
        if lasted < run.minutes * 60 - 1e-9:
            return None
        # what the frames come to is known once they are computed
        return Ending("completed", lasted, round(run.work / lasted * 60) if load.yields == "points" else None)


SETTLED_S = 600.0


def used_for(bench: Bench, values: Mapping[str, float], load_name: str, hours: float) -> Ending:
    """Hours of use in one go: settled for ten minutes as it is, then at the rate of failures that it has then."""
    bench.start(values, load_name, SETTLED_S / 60 + 1)
    begun = bench.advance(SETTLED_S).ending
    if begun is not None and begun.outcome != "completed":
        return begun
    now, rate = bench.now, sum(bench.hazards())
    after_h = float(bench.rng.exponential()) / rate if rate else math.inf
    if now is None or SETTLED_S / 3600 + after_h >= hours:
        return Ending("completed", hours * 3600, None)
    return Ending(bench.failure(now), SETTLED_S + after_h * 3600, None)


def true_edge_mhz(rig: SimulatorRig, values: Mapping[str, float], load: Load, temp_c: float) -> float:
    """How far the clock set stands past the edge at a temperature, power limits left aside: the truth to check against."""
    at = turned(rig.design, values)
    offset = on_grid(rig.design.main, at.core_mhz)
    point = run_at(rig.chip, rig.design.main.stock_mhz + offset, offset, at, temp_c, load.activity)
    return point.mhz - edge_mhz(rig.chip, point.volt, temp_c) + load.stress_mhz
