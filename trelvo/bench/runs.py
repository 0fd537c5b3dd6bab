"""Runs on the simulator: opened like any other, then driven by the server."""

from dataclasses import asdict
from datetime import datetime

import numpy as np
from django.db import transaction

from trelvo.core.problems import Problem, Refused
from trelvo.logbook.commands.live import LiveDraft, open_run
from trelvo.logbook.models import Campaign, LiveRun, Rig, Setting, Variant
from trelvo.simulator.bench import Bench
from trelvo.simulator.faults import Fault
from trelvo.simulator.rigs import RIGS, draw_rig, turned

SPEEDS = (1.0, 10.0, 60.0, 600.0, 1800.0)
ROOM_C = 24.0


def bench_of(rig: Rig, room_c: float = ROOM_C) -> Bench:
    """The rig's bench, at rest. Its luck follows from the specimen and the runs it has behind it: the same again, the same."""
    behind = LiveRun.objects.filter(run__campaign__rig=rig, simulator=True).count()
    luck = np.random.default_rng((rig.simulator_seed, behind, 5))
    return as_it_is(Bench(draw_rig(rig.simulator, rig.simulator_seed), room_c, luck), rig)


def as_it_is(bench: Bench, rig: Rig) -> Bench:
    """The bench with what time has done to the rig, and under the driver that is in use now."""
    build = rig.present_build()
    bench.fault = Fault(**rig.simulator_fault) if rig.simulator_fault else None
    bench.driver = build.driver if build else ""
    return bench


@transaction.atomic
def open_on_simulator(
    campaign: Campaign,
    setting: Setting,
    workload: Variant,
    speed: float,
    now: datetime,
    minutes: float | None = None,
    confirmation: str = "",
) -> LiveRun:
    """Opens a run on the campaign's simulator rig. Refused when the rig is real, busy, or lacks knob or workload.

    speed: seconds of bench time a second; minutes: how long it is to last, the workload's own length where left out
    """
    rig = campaign.rig
    check_on_simulator(campaign, setting, workload)
    if not SPEEDS[0] <= speed <= SPEEDS[-1]:
        raise Refused(Problem("speed", "speed_out_of_range", {"speed": speed, "low": SPEEDS[0], "high": SPEEDS[-1]}))
    if minutes is not None and not 0 < minutes <= 24 * 60:
        raise Refused(Problem("minutes", "run_minutes_out_of_range", {"minutes": minutes}))
    if busy := busy_run(rig):
        raise Refused(Problem("bench", "bench_busy", {"bench": rig.name, "run": busy.run.variant.name}))
    draft = simulator_draft(bench_of(rig), setting, minutes or workload.minutes, speed, confirmation)
    return open_run(campaign, setting, workload, draft, now)


def simulator_draft(
    bench: Bench, setting: Setting, minutes: float, speed: float = 1.0, confirmation: str = ""
) -> LiveDraft:
    """What the simulator says of itself when it opens a run."""
    design = bench.rig.design
    at = turned(design, setting.values)
    budget = at.cap_w if at.cap_w is not None else design.limit_w * at.power_ratio
    limits = {"temp_c": design.temp_limit_c}
    if budget < 1e5:
        # as the same readout shows it
        limits["power_w"] = budget * bench.rig.tools.power_scale
    return LiveDraft(
        bench=f"simulator {design.name.lower()}",
        channels=[asdict(channel) | {"factor": 1.0, "offset": 0.0} for channel in bench.channels()],
        planned_s=minutes * 60,
        limits=limits,
        simulator=True,
        speed=speed,
        room_c=ROOM_C,
        fan="automatic",
        confirmation=confirmation,
    )


def check_on_simulator(campaign: Campaign, setting: Setting, workload: Variant) -> None:
    """Refused when the simulator cannot do this: a real rig, or a knob or workload that it does not have."""
    rig = campaign.rig
    if rig.simulator not in RIGS:
        raise Refused(Problem("bench", "real_machine_run", {"bench": rig.name}))
    design = RIGS[rig.simulator]
    if unknown := set(setting.values) - {knob.key for knob in design.knobs}:
        raise Refused(
            Problem(
                "setting",
                "simulator_lacks_knob",
                {"unknown": tuple(sorted(unknown)), "known": tuple(knob.key for knob in design.knobs)},
            )
        )
    if workload.name not in design.loads:
        raise Refused(
            Problem("workload", "simulator_lacks_workload", {"workload": workload.name, "known": tuple(design.loads)})
        )


def busy_run(rig: Rig) -> LiveRun | None:
    """The simulator's run on this rig that has not ended."""
    runs = LiveRun.objects.filter(run__campaign__rig=rig, simulator=True, state=LiveRun.State.OPEN)
    return runs.select_related("run__variant__workload").first()
