"""The wall of pictures in the foyer: the same pictures for half the watts, by a cap and by less voltage, with logs of both."""

from dataclasses import replace
from datetime import datetime, timedelta

from trelvo.bench.rigs import knobs_for, workloads_for
from trelvo.demo import tower
from trelvo.demo.bench import DemoBench, demo_bench
from trelvo.logbook.commands.campaigns import create_campaign, set_test_suite
from trelvo.logbook.commands.rigs import create_rig
from trelvo.logbook.commands.safety_limits import set_safety_limits
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.commands.what_counts import WhatCounts, set_what_counts
from trelvo.logbook.models import Campaign, Setting

SEED = 76
CAPS = (90.0, 80.0, 70.0, 60.0)
LOWER_MV = (-25.0, -50.0, -75.0, -100.0)
STEPS: tuple[dict[str, float], ...] = (
    *({"power": cap} for cap in CAPS),
    *({"voltage": lower} for lower in LOWER_MV),
    {"voltage": -75, "core": 60},
    {"voltage": -100, "core": 90},
)
USED = ("Kiln", "Resting desk", "Leafing the atlas", "Unpacking plates")


def wall(start: datetime, now: datetime) -> None:
    """Two evenings: stock, a cap step by step, a lower voltage step by step, and both at once."""
    rig = create_rig("Foyer wall", tower.FOYER_BUILD, start - timedelta(days=3), "dome", SEED)
    power, core, _, voltage = knobs_for("dome")
    gorge, rings, _, show, *others = workloads_for("dome")
    campaign = create_campaign(
        rig,
        "Foyer wall: same pictures, half the heat",
        "efficiency",
        "It runs ten hours a day, and the foyer has no air.",
        [replace(power, away=-1), replace(core, high=240), replace(voltage, low=-150, high=0)],
        [gorge, rings, show],
        start,
    )
    set_safety_limits(campaign, tower.FOYER_SAFETY_LIMITS)
    set_what_counts(
        campaign,
        WhatCounts(
            smallest_gain=0.01,
            wished_resolution=0.01,
            stale_days=30,
            weights={},
            temp_limit_c=80,
            power_limit_w=178,
            price=None,
            currency="",
        ),
    )
    set_test_suite(campaign, [], [other for other in others if other.name in USED])
    bench = demo_bench(campaign, start, now, room_c=23.5, seed=SEED)
    stock = campaign.settings.get(fingerprint="")
    _warm_up(bench, campaign, stock)
    for workload in campaign.workloads.all():
        for repeat in range(3):
            bench.run(stock, workload, log=repeat == 0)
    for workload in campaign.test_suite.exclude(workload__name="Kiln"):
        bench.run(stock, workload)
    for values in STEPS:
        setting = add_setting(campaign, values, "", bench.clock)
        for workload in campaign.workloads.all():
            for repeat in range(2):
                bench.run(setting, workload, log=repeat == 0 and workload.name == "Gorge flythrough")


def _warm_up(bench: DemoBench, campaign: Campaign, stock: Setting) -> None:
    """Caches filled, everything cold again, and the heaviest load there is from the first second on, logged."""
    bench.settle()
    bench.cool_down()
    bench.run(
        stock, campaign.test_suite.get(workload__name="Kiln"), log=True, note="from cold, to see where it settles"
    )
