"""Works a campaign on the stand-in and logs what it measures as a person would: typed figures and dropped logs."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta

import numpy as np

from trelvo.core.gains import Measure
from trelvo.exchange.log_choice import guess_choice
from trelvo.exchange.log_import import draft_log
from trelvo.exchange.text_table import read_table
from trelvo.logbook.models import Campaign, Fitting, Run, Setting, Workload
from trelvo.logbook.services.logs import attach_log
from trelvo.logbook.services.runs import RunDraft, log_run
from trelvo.standin.chip import Knobs, Specimen
from trelvo.standin.workload import Load, Measured, run_load, telemetry, warming


@dataclass
class DemoBench:
    """One person at one rig: keeps the clock going and remembers the setting of the run before."""

    campaign: Campaign
    fitting: Fitting
    chip: Specimen
    loads: Mapping[str, Load]
    rng: np.random.Generator
    clock: datetime
    now: datetime
    room_c: float
    last_setting: int | None = field(default=None)

    def run(
        self, setting: Setting, workload: Workload, *, note: str = "", log: bool = False, cold: bool = False
    ) -> Run:
        """One run of `workload` at `setting`, logged; with its telemetry and frame times where asked.

        cold: the first run after switching on, with caches still empty
        """
        load = self.loads[workload.name]
        first = self.last_setting != setting.pk
        self.last_setting = setting.pk
        room = self.room_c + float(self.rng.normal(0, 0.4))
        measured = run_load(
            self.chip,
            knobs_of(setting),
            load,
            workload.minutes,
            room,
            self.rng,
            cap_fps=workload.cap_fps,
            first_after_change=cold,
        )
        draft = self._draft(measured, workload, room, note, typed=not log)
        run = log_run(self.campaign, setting, workload, draft, self.now, self.fitting)
        if log and measured.rate is not None:
            self._attach(run, workload, measured, room)
        self.clock += timedelta(minutes=measured.lasted_minutes + (6 if measured.failure else 2 if first else 1))
        return run

    def _draft(self, measured: Measured, workload: Workload, room: float, note: str, *, typed: bool) -> RunDraft:
        state = measured.state
        power = state.power_w + float(self.rng.normal(0, 1.0))
        value = None
        if measured.rate is not None and (typed or workload.measure != "frame rate"):
            value = figure(measured.rate, workload)
        low = None
        if measured.rate is not None and workload.measure == "frame rate":
            low = round(1000 / float(np.quantile(measured.frame_times_ms, 0.99)), 1)
        hottest = float(warming(self.chip, state, room, np.array([measured.lasted_minutes * 60]))[0])
        if measured.failure == "no start":
            return RunDraft("no start", self.clock, room_c=round(room, 1), note=note)
        return RunDraft(
            outcome=measured.failure or "completed",
            started_at=self.clock,
            value=value,
            duration_s=round(measured.lasted_minutes * 60, 1) if typed else None,
            low_1_fps=low if typed else None,
            power_w=round(power, 1) if typed else None,
            power_point="software" if typed else "unknown",
            temp_max_c=round(hottest + float(self.rng.normal(0, 0.3)), 1) if typed else None,
            room_c=round(room, 1),
            core_mhz=round(state.core_mhz) if typed else None,
            memory_mhz=round(state.memory_mhz) if typed else None,
            voltage_v=round(state.voltage_v, 3) if typed else None,
            fan="automatic",
            note=note,
        )

    def _attach(self, run: Run, workload: Workload, measured: Measured, room: float) -> None:
        readings = telemetry(self.chip, measured, room, self.rng)
        header = "elapsed s;core clock MHz;memory clock MHz;voltage V;board power W;hot spot °C;fan %"
        rows = np.column_stack(list(readings.values()))
        self._store(run, workload, "bench-log.csv", semicolon_table(header, rows))
        if workload.measure == "frame rate":
            frames = "frame time ms\n" + "\n".join(f"{ms:.3f}" for ms in measured.frame_times_ms)
            self._store(run, workload, "frames.csv", frames.encode())

    def _store(self, run: Run, workload: Workload, name: str, data: bytes) -> None:
        table = read_table(data)
        draft = draft_log(table, guess_choice(table), name, measure_of(workload))
        attach_log(run, draft, [], self.clock)


def knobs_of(setting: Setting) -> Knobs:
    """A setting of the dome's or the loft's campaign as the stand-in's knobs."""
    values = setting.values
    limit = values["cap"] / 45 if "cap" in values else values.get("power", 100) / 100
    return Knobs(values.get("core", 0), values.get("memory", 0), values.get("voltage", 0), limit)


def figure(rate: float, workload: Workload) -> float:
    """What the workload shows at its end: a rate, points, or seconds for one pass."""
    if workload.measure == "time":
        return round(1 / rate, 2)
    return round(rate * 60) if workload.measure == "score" else round(rate, 1)


def measure_of(workload: Workload) -> Measure:
    measures: dict[str, Measure] = {"frame rate": "frame rate", "score": "score", "time": "time"}
    return measures[workload.measure]


def semicolon_table(header: str, rows: np.ndarray) -> bytes:
    """A table with semicolons and decimal commas, as programs write it in half of Europe."""
    lines = [";".join(f"{number:.4g}" if abs(number) < 10 else f"{number:.1f}" for number in row) for row in rows]
    return (header + "\n" + "\n".join(lines).replace(".", ",")).encode()
