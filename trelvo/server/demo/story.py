"""What the tower's volunteers have done so far: one campaign well advanced, one stale, one just begun, one empty."""

from datetime import datetime, timedelta

import numpy as np
from django.db import transaction

from trelvo.logbook.models import Campaign, Rig, Setting
from trelvo.logbook.services.campaigns import create_campaign
from trelvo.logbook.services.judgement import JudgementDraft, TargetDraft, keep_target, set_judgement
from trelvo.logbook.services.rigs import add_fitting, create_rig
from trelvo.logbook.services.runs import RunDraft, log_run, set_aside
from trelvo.logbook.services.settings import add_setting
from trelvo.server.demo import tower
from trelvo.server.demo.bench import DemoBench
from trelvo.standin.chip import draw_specimen

SEED = 70


@transaction.atomic
def load_story(now: datetime) -> None:
    """Writes the demo into an empty logbook, as if the days before `now` had been spent on it."""
    evening = now.replace(hour=17, minute=30, second=0, microsecond=0)
    dome = create_rig("Dome machine", tower.DOME_FITTING, now - timedelta(days=41))
    _relic(evening - timedelta(days=44))
    _first_try(dome, evening - timedelta(days=40), now)
    add_fitting(dome, tower.DOME_FITTING_NEXT, now - timedelta(days=6))
    _dome(dome, evening - timedelta(days=5), now)
    _loft(now - timedelta(hours=3), now)


def _relic(start: datetime) -> None:
    rig = create_rig("Relic", tower.RELIC_FITTING, start)
    create_campaign(
        rig,
        "Relic: past 66 for the open day",
        "revive",
        "Bus clock times multiplier; the cache parts are rated 20 ns.",
        tower.RELIC_KNOBS,
        tower.RELIC_WORKLOADS,
        start,
    )


def _first_try(rig: Rig, start: datetime, now: datetime) -> None:
    campaign = create_campaign(
        rig, "Dome: first try in the cold", "speed", "See what is in it.", tower.DOME_KNOBS, tower.DOME_WORKLOADS, start
    )
    bench = _dome_bench(campaign, start, now, room_c=12.5, seed=SEED + 1)
    stock = campaign.settings.get(fingerprint="")
    for workload in campaign.workloads.all():
        for _ in range(3):
            bench.run(stock, workload)
    rung = add_setting(campaign, {"core": 60}, "", bench.clock)
    for workload in campaign.workloads.all():
        bench.run(rung, workload)


def _dome(rig: Rig, start: datetime, now: datetime) -> None:
    first = rig.campaigns.get()
    campaign = create_campaign(
        rig,
        "Dome: hold 72 through the summer show",
        "frame rate",
        "72 frames a second, lows included, in a 28 °C attic, without being heard.",
        tower.DOME_KNOBS,
        (),
        start,
        kept_workloads=list(first.workloads.all()),
    )
    bench = _dome_bench(campaign, start, now, room_c=27.8, seed=SEED)
    _what_counts(campaign)
    gorge, rings, lantern, show = campaign.workloads.all()
    stock = campaign.settings.get(fingerprint="")

    cold = bench.run(stock, gorge, note="first run of the evening", cold=True)
    set_aside(cold, "First run after a cold start; caches were filling.", bench.clock)
    for repeat in range(4):
        bench.run(stock, gorge, log=repeat < 2)
    for workload in (rings, lantern, show):
        for repeat in range(4 if workload == rings else 3):
            bench.run(stock, workload, log=workload == show and repeat == 0)

    def climb(values: dict[str, float], repeats: int = 1, note: str = "") -> Setting:
        setting = add_setting(campaign, values, note, bench.clock)
        for workload in (gorge, rings, lantern, show):
            for repeat in range(repeats):
                run = bench.run(setting, workload, log=workload == gorge and repeat == 0 and repeats > 1)
                if run.outcome in ("machine down", "no start"):
                    return setting
        return setting

    climb({"power": 110}, note="Power first: the card is starved at stock.")
    climb({"power": 120}, repeats=3)
    for core in (30, 60, 90):
        climb({"power": 120, "core": core})
    climb({"power": 120, "core": 105}, repeats=3)
    for core in (120, 135, 150, 180, 210, 240):
        climb({"power": 120, "core": core})
    for memory in (300, 600, 900, 1200, 1500):
        climb({"power": 120, "core": 90, "memory": memory}, repeats=2 if memory == 600 else 1)
    climb({"power": 120, "core": 90, "memory": 900, "voltage": -25}, repeats=3)
    hot = add_setting(campaign, {"power": 120, "core": 90, "memory": 900, "voltage": -50}, "", bench.clock)
    bench.run(hot, gorge)
    note = "Stopped by hand: hot spot reached the limit of 84 °C, attic window was shut."
    draft = RunDraft("stopped by a guard rail", bench.clock, duration_s=61, temp_max_c=84.2, room_c=31.5, note=note)
    log_run(campaign, hot, rings, draft, now, bench.fitting)
    lost = RunDraft(
        "contact lost", bench.clock + timedelta(minutes=9), room_c=29.0, note="Found the desk dark at nine."
    )
    log_run(campaign, hot, show, lost, now, bench.fitting)


def _what_counts(campaign: Campaign) -> None:
    """What the volunteers judge by, and the card they could buy instead."""
    gorge, rings, lantern, show = campaign.workloads.all()
    set_judgement(
        campaign,
        JudgementDraft(
            smallest_gain=0.005,
            wished_resolution=0.01,
            stale_days=30,
            weights={gorge.pk: 1.0, rings.pk: 1.0, lantern.pk: 0.5, show.pk: 2.0},
            temp_limit_c=84,
            power_limit_w=178,
            price=240,
            currency="crowns",
        ),
    )
    keep_target(
        campaign,
        TargetDraft(
            name="Corvane Tessel 660, as delivered",
            price=330,
            source="the shop's own sheet on the counter",
            conditions="open bench, 21 °C, driver 41.4",
            results={gorge.pk: 108.0, rings.pk: 9870, lantern.pk: 101.5},
        ),
    )


def _loft(start: datetime, now: datetime) -> None:
    rig = create_rig("Loft box", tower.LOFT_FITTING, start - timedelta(days=2))
    campaign = create_campaign(
        rig,
        "Loft box: same tables, less heat",
        "efficiency",
        "Processor and graphics share 45 W; give each what it needs.",
        tower.LOFT_KNOBS,
        tower.LOFT_WORKLOADS,
        start,
    )
    fitting = rig.present_fitting()
    if fitting is None:
        raise RuntimeError("the loft box was made with a fitting")
    chip = draw_specimen(tower.LOFT_CHIP, SEED + 2)
    rng = np.random.default_rng(SEED + 2)
    bench = DemoBench(campaign, fitting, chip, tower.LOFT_LOADS, rng, start, now, room_c=24.0)
    stock = campaign.settings.get(fingerprint="")
    tables, _ = campaign.workloads.all()
    for _ in range(2):
        bench.run(stock, tables)


def _dome_bench(campaign: Campaign, start: datetime, now: datetime, room_c: float, seed: int) -> DemoBench:
    fitting = campaign.rig.present_fitting()
    if fitting is None:
        raise RuntimeError("the dome machine was made with a fitting")
    chip = draw_specimen(tower.DOME_CARD, SEED)
    return DemoBench(campaign, fitting, chip, tower.DOME_LOADS, np.random.default_rng(seed), start, now, room_c)
