"""Works through a sweep on the simulator: settings made, what is missing lined up."""

from datetime import datetime

from django.db import transaction

from trelvo.bench.queue import line_up
from trelvo.core.lab.sweep import SweepView
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign


@transaction.atomic
def line_up_sweep(campaign: Campaign, view: SweepView, repeats: int, speed: float, now: datetime) -> None:
    """Every cell without a completed run, value by value; nothing is made or lined up when one of them cannot be run.

    Values at which something failed are left out: what failed once is not run again by itself.
    """
    settings = {one.pk: one for one in campaign.settings.all()}
    workloads = {workload.pk: workload for workload in campaign.workloads.all()}
    lined_up = False
    for row in view.rows:
        if any(cell.failed for cell in row.cells):
            continue
        missing = [workloads[cell.workload_id] for cell in row.cells if not cell.runs]
        if not missing:
            continue
        setting = settings[row.setting_id] if row.setting_id else None
        if setting is None:
            setting = add_setting(campaign, {view.knob.key: row.value}, "Sweep", now)
        line_up(campaign, [setting], missing, repeats, speed)
        lined_up = True
    if not lined_up:
        raise Refused(Problem("values", "sweep_all_run"))
