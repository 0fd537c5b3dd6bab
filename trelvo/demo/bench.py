"""Works a campaign on the simulator and logs what it measures as a person would: typed figures and dropped logs."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Literal

import numpy as np

from trelvo.bench.runs import simulator_draft
from trelvo.core.base.figures import FigureKey
from trelvo.exchange.logs.drafting import draft_log
from trelvo.exchange.logs.guess import guess_choice
from trelvo.exchange.logs.long_format import read_any_table
from trelvo.logbook.commands.live import Batch, add_mark, finish, open_run, take_batch
from trelvo.logbook.commands.logs import attach_log
from trelvo.logbook.commands.runs import FigureDraft, RunDraft, figure, log_run
from trelvo.logbook.models import Build, Campaign, Mark, Run, Setting, Variant
from trelvo.logbook.rows.series_bytes import Numbers
from trelvo.simulator.bench import Bench, Stretch
from trelvo.simulator.rigs import SimulatorRig, draw_rig

COLD_AFTER_S = 2400.0
# What the rest of the dome machine draws, how much of the wall's power its supply passes on, how late the meter is.
REST_W, SUPPLY_EFFICIENCY, METER_LATE_S = 61.0, 0.9, 2.0
# columns of a dropped log: header, and the bench's channel behind it
LOGGED = {
    "core clock MHz": "core clock",
    "memory clock MHz": "memory clock",
    "voltage V": "voltage",
    "board power W": "power",
    "hot spot °C": "die",
    "fan %": "fan",
    "load %": "load",
}


@dataclass
class DemoBench:
    """One person at one rig: keeps the clock going; the rig keeps its heat from run to run.

    wall_rng: for the meter at the wall, where one is read too; listens: to which runs somebody holds a sound meter
    counts_apart: whether the watts of both chips are written down as well
    """

    campaign: Campaign
    build: Build
    bench: Bench
    clock: datetime
    now: datetime
    room_c: float
    rng: np.random.Generator
    last_setting: int | None = field(default=None)
    wall_rng: np.random.Generator | None = None
    listens: Literal["none", "with a log", "all"] = "none"
    counts_apart: bool = False

    def run(
        self, setting: Setting, workload: Variant, *, note: str = "", log: bool = False, minutes: float | None = None
    ) -> Run:
        """One run of `workload` at `setting`, logged; with its telemetry and frame times where asked."""
        lasts = minutes or workload.minutes
        first = self.last_setting != setting.pk
        self.last_setting = setting.pk
        self.bench.room_c = self.room_c + float(self.rng.normal(0, 0.4))
        self.bench.start(setting.values, workload.name, lasts)
        stretch = self.bench.advance(lasts * 60 * 3)
        draft = self._draft(stretch, workload, note, typed=not log)
        run = log_run(self.campaign, setting, workload, draft, self.now, self.build)
        ended = stretch.ending
        if ended is None:
            raise RuntimeError(f"{workload.name} did not end within three times its length")
        if log and ended.outcome == "completed":
            self._attach(run, workload, stretch)
        pause_s = 60.0 if first else 20.0
        if ended.outcome in ("system crash", "no start"):
            self.bench.restart()
            # a person runs everything once to fill the caches before the log goes on
            self.settle()
            pause_s = 600.0
        self.bench.rest(pause_s)
        self.clock += timedelta(seconds=ended.after_s + pause_s)
        return run

    def run_live(self, setting: Setting, workload: Variant, confirmation: str, note: str) -> Run:
        """One run by the protocol, as the simulator makes it under the user's eyes; ended by itself or by a safety limit."""
        draft = simulator_draft(self.bench, setting, workload.minutes, confirmation=confirmation)
        live = open_run(self.campaign, setting, workload, replace(draft, room_c=self.room_c), self.clock)
        self.bench.start(setting.values, workload.name, workload.minutes)
        for number in range(1, 1000):
            stretch = self.bench.advance(2.0)
            moment = self.clock + timedelta(seconds=float(stretch.time_s[-1]) if stretch.time_s.size else 0.0)
            stop = take_batch(live.pk, Batch(number, stretch.time_s, stretch.values, stretch.frames_ms), moment).stop
            if number == 1 and not stop:
                add_mark(live.pk, Mark.Kind.NOTE, note, moment)
            if stretch.ending and not stop:
                finish(live.pk, stretch.ending.outcome, None, "", moment)
            if stretch.ending or stop:
                break
        self.bench.rest(30.0)
        self.clock = moment + timedelta(seconds=60)
        live.run.refresh_from_db()
        return live.run

    def cool_down(self) -> None:
        """Everything off until it is as cold as the room."""
        self.bench.rest(COLD_AFTER_S)
        self.clock += timedelta(seconds=COLD_AFTER_S)

    def settle(self) -> None:
        """Fills the caches of the campaign's workloads and warms the rig up for ten minutes; nothing is logged."""
        for workload in self.campaign.workloads.all():
            self.bench.start({}, workload.name, 0.05)
            self.bench.advance(3)
        for _ in range(5):
            self.bench.start({}, workload.name, 2)
            self.bench.advance(120)

    def _heard(self, seen: Mapping[str, Numbers]) -> FigureDraft:
        return figure("noise_dba", loudness(float(seen["fan"][-50:].mean())), "unknown")

    def _draft(self, stretch: Stretch, workload: Variant, note: str, *, typed: bool) -> RunDraft:
        room = round(self.bench.room_c, 1)
        ended = stretch.ending
        if ended is None or ended.outcome == "no start":
            return RunDraft("no start", self.clock, note=note, figures=[figure("room_c", room)])
        names = [channel.name for channel in self.bench.channels()]
        # a person looks at what is shown once it has settled
        shown = stretch.values[stretch.values.shape[0] // 3 :]
        seen = {name: shown[:, i] for i, name in enumerate(names)}
        if not typed and ended.outcome == "completed":
            value = ended.value if workload.measure != "frame rate" else None
            heard = [] if self.listens == "none" else [self._heard(seen)]
            return RunDraft(
                "completed", self.clock, value, fan="automatic", note=note, figures=[figure("room_c", room), *heard]
            )
        read = {
            "temp_max_c": round(float(seen["die"].max()), 1),
            "room_c": room,
            "core_mhz": round(float(seen["core clock"][-50:].mean())),
            "memory_mhz": round(float(seen["memory clock"].mean())),
            "voltage_v": round(float(seen["voltage"].mean()), 3),
        }
        if ended.value is not None and workload.measure == "frame rate":
            read["low_1_fps"] = round(1000 / float(np.quantile(stretch.frames_ms, 0.99)), 1)
        watts = round(float(seen["power"].mean()), 1)
        figures = [*(figure(word, float(value)) for word, value in read.items()), figure("power_w", watts, "software")]
        if self.counts_apart:
            figures += [
                FigureDraft(
                    FigureKey("power", part, "mean"), round(float(seen[f"{part} power"].mean()), 1), None, "software"
                )
                for part in ("processor", "graphics")
            ]
        if self.listens == "all":
            figures.append(self._heard(seen))
        if self.wall_rng is not None:
            figures.append(at_the_wall(watts, self.wall_rng))
        return RunDraft(
            outcome=ended.outcome,
            started_at=self.clock,
            value=None if ended.value is None else round(ended.value, 2 if workload.measure == "time" else 1),
            duration_s=round(max(ended.after_s, 0.2), 1),
            fan="automatic",
            note=note,
            figures=figures,
        )

    def _attach(self, run: Run, workload: Variant, stretch: Stretch) -> None:
        names = [channel.name for channel in self.bench.channels()]
        columns = [stretch.values[:, names.index(name)] for name in LOGGED.values()]
        named = [*LOGGED]
        if self.wall_rng is not None:
            named.append("meter at the wall W")
            columns.append(wall_column(stretch.time_s, columns[named.index("board power W")], self.wall_rng))
        rows = np.column_stack([stretch.time_s, *columns])
        header = ";".join(["elapsed s", *named])
        self._store(run, workload, "bench-log.csv", semicolon_table(header, rows))
        if workload.measure == "frame rate":
            frames = "frame time ms\n" + "\n".join(f"{ms:.3f}" for ms in stretch.frames_ms)
            self._store(run, workload, "frames.csv", frames.encode())

    def _store(self, run: Run, workload: Variant, name: str, data: bytes) -> None:
        table = read_any_table(data)
        draft = draft_log(table, guess_choice(table).choice, name, workload.measure)
        attach_log(run, draft, [], self.clock)


def loudness(percent: float) -> float:
    """What a sound meter beside a blower shows, to half a dB(A): 46 at 39 %, and 50 log10 of the speed. Common practice."""
    return round(2 * (46.0 + 50 * math.log10(max(percent, 10.0) / 39))) / 2


def at_the_wall(watts: float, rng: np.random.Generator) -> FigureDraft:
    """What a meter at the wall shows beside a card's watts: the rest of the machine, the supply's losses, whole watts."""
    return figure("power_w", round((watts + REST_W + float(rng.normal(0, 1.2))) / SUPPLY_EFFICIENCY), "wall")


def wall_column(time_s: Numbers, watts: Numbers, rng: np.random.Generator) -> Numbers:
    """The same from second to second, as a meter with a memory writes it down: a moment late."""
    late = np.interp(time_s - METER_LATE_S, time_s, watts)
    return np.round((late + REST_W + rng.normal(0, 1.2, late.size)) / SUPPLY_EFFICIENCY)


def semicolon_table(header: str, rows: np.ndarray) -> bytes:
    """A table with semicolons and decimal commas, as programs write it in half of Europe."""
    lines = [";".join(f"{number:.4g}" if abs(number) < 10 else f"{number:.1f}" for number in row) for row in rows]
    return (header + "\n" + "\n".join(lines).replace(".", ",")).encode()


def demo_bench(
    campaign: Campaign, start: datetime, now: datetime, room_c: float, seed: int, drawn: SimulatorRig | None = None
) -> DemoBench:
    """A person at a rig of the tower, as it stands. drawn: the specimen, where Trelvo is not to know it"""
    build = campaign.rig.present_build()
    if build is None:
        raise RuntimeError("every rig of the tower was made with a build")
    rng = np.random.default_rng(seed)
    # half-second steps: the log shows what a person would read off, and loading stays quick
    drawn = drawn or draw_rig(campaign.rig.simulator, campaign.rig.simulator_seed)
    bench = Bench(drawn, room_c, rng, step_s=0.5)
    return DemoBench(campaign, build, bench, start, now, room_c, rng)
