"""Campaigns made up so that Compare notices what the demo never shows: eight more traps, and verdicts seen too often."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from tests.conftest import CORE, POWER
from tests.drafts import run_draft
from trelvo.core.base.knobs import fingerprint
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, create_rig
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, Setting

TITLE = WorkloadDraft("Gorge", "frame rate", "fps", True, 10)
MINUTES = timedelta(minutes=12)
# What the demo shows none of.
TRAPS = {
    "power read at different points", "stale baseline", "first run kept", "run far off", "score falls while the clock rises",
    "clock set but not got", "drift", "sudden change",
}  # fmt: skip


class Bench:
    """One campaign on a rig of its own; runs follow each other every twelve minutes."""

    def __init__(self, name: str, begun: datetime) -> None:
        rig = create_rig(name, BuildDraft(parts=(PartDraft("Graphics card", "Card"),), driver="41.2"), begun)
        self.campaign: Campaign = create_campaign(rig, name, "speed", "", [POWER, CORE], [TITLE], begun)
        self.workload = self.campaign.workloads.get()
        self.now = begun

    def at(self, **values: float) -> Setting:
        there: Setting | None = self.campaign.settings.filter(
            fingerprint=fingerprint({key: float(one) for key, one in values.items()})
        ).first()
        return there or add_setting(self.campaign, values, "", self.now)

    def run(self, setting: Setting, values: Sequence[float], **read: object) -> None:
        for value in values:
            self.now += MINUTES
            log_run(
                self.campaign, setting, self.workload, run_draft("completed", self.now, value, 600, **read), self.now
            )


def make(now: datetime) -> list[Campaign]:
    """All of the campaigns. now: when the last of their runs was made, give or take a day"""
    begun = now - timedelta(days=1)
    fell = Bench("The clock that was too high", begun)
    fell.run(fell.at(), (93.4, 93.6, 93.5), core_mhz=2400)
    for clock, mean in ((30, 94.8), (60, 96.2), (90, 94.9), (120, 93.4)):
        values = (mean - 0.1, mean, mean + 0.1)
        fell.run(fell.at(core=clock), values, core_mhz=2405)
    meters = Bench("Two meters", begun)
    meters.run(meters.at(), (93.4, 93.6, 93.5), power_w=330, power_point="wall")
    meters.run(meters.at(power=110), (95.0, 95.1, 95.2), power_w=212, power_point="cables")
    old = Bench("Measured in spring", begun - timedelta(days=60))
    old.run(old.at(), (93.4, 93.6, 93.5))
    old.now = begun
    old.run(old.at(core=60), (95.4, 95.5, 95.6))
    first = Bench("First runs", begun)
    first.run(first.at(), (90.0, 93.6, 93.5, 93.6, 93.5, 93.55))
    first.run(first.at(core=60), (22.0, 57.7, 57.8, 57.6))
    warm = Bench("A room that warms up", begun)
    sag = Bench("A program in the background", begun)
    for place in range(24):
        setting = {"core": 60} if place % 2 else {}
        for bench, factor in ((warm, 1 - 0.002 * place), (sag, 1.0 if place < 12 else 0.96)):
            value = (96.0 if setting else 93.0) * factor * (1 + 0.0004 * (place % 5 - 2))
            bench.run(bench.at(**setting), [round(value, 2)])
    looked = Bench("Looked at after every run", begun)
    looked.run(looked.at(), (100.0, 101.4, 98.9))
    tuned = looked.at(core=60)
    # so close that the difference would stand if it had been looked at once
    gain = 1.06
    looked.run(tuned, (100.0 + gain, 101.4 + gain, 98.9 + gain))
    for more in (100.4, 99.2, 100.9, 99.5):
        looked.run(looked.at(), (more,))
        looked.run(tuned, (more + gain,))
    absurd = Bench("Typed at two in the morning", begun)
    absurd.run(absurd.at(), (0.01, 9e4))
    absurd.run(absurd.at(core=60), (93.0, 0.01))
    return [one.campaign for one in (fell, meters, old, first, warm, sag, looked, absurd)]
