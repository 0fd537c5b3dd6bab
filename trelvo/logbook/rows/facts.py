"""Reads rows and hands them to the core as its dataclasses."""

from dataclasses import dataclass
from typing import cast

import numpy as np
from django.db.models import Count, Exists, OuterRef, QuerySet

from trelvo.core.base.knobs import Knob
from trelvo.core.base.runs import FAILURES
from trelvo.core.base.workloads import Measure
from trelvo.core.climb.ladder import Ladder, Place, Rung, best_rung, build_ladder
from trelvo.core.measure.baseline import BaselineOfWorkload, build_baseline
from trelvo.core.measure.noise import PooledNoise, noise_by_workload
from trelvo.core.watch.guard_rails import GuardRail
from trelvo.logbook.models import Campaign, Fitting, Run, Setting, Workload
from trelvo.logbook.models.run import facts_of


def knobs_of(campaign: Campaign) -> list[Knob]:
    return [row.as_knob() for row in campaign.knobs.all()]


def rails_of(campaign: Campaign) -> list[GuardRail]:
    return [row.as_rail() for row in campaign.guard_rails.all()]


def testable(campaign: Campaign) -> list[Workload]:
    """What a run of the campaign can be made with: its workloads, then what it is proved with besides."""
    return [*campaign.workloads.all(), *campaign.battery.all()]


def stock_of(campaign: Campaign) -> Setting:
    return next(setting for setting in campaign.settings.all() if setting.fingerprint == "")


def judged_fitting(campaign: Campaign) -> Fitting | None:
    """The newest fitting with runs of this campaign, else the rig's present one: results are compared within it."""
    made_under = Run.objects.filter(campaign=campaign, fitting=OuterRef("pk"))
    last = campaign.rig.fittings.filter(Exists(made_under)).order_by("-number").first()
    return last or campaign.rig.present_fitting()


def counting_runs(campaign: Campaign, fitting: Fitting | None) -> QuerySet[Run]:
    """Runs whose value may enter a mean: the same rule as the core's `counts`."""
    return campaign.runs.filter(fitting=fitting, outcome="completed", value__isnull=False, set_aside_at__isnull=True)


def noise_of(campaign: Campaign, fitting: Fitting | None) -> dict[int, PooledNoise | None]:
    """Noise of every workload, pooled over all settings of the campaign under this fitting."""
    rows = counting_runs(campaign, fitting).order_by().values_list("value", "setting_id", "workload_id")
    table = np.array(list(rows), dtype=np.float64).reshape(-1, 3)
    measures = {workload.pk: workload.measure for workload in campaign.workloads.all()}
    return noise_by_workload(table[:, 0], table[:, 1], table[:, 2], measures)


def ladder_of(campaign: Campaign, workload: Workload, fitting: Fitting | None) -> Ladder:
    runs = campaign.runs.filter(workload=workload, fitting=fitting)
    return build_ladder(
        knobs_of(campaign),
        [Place(setting.pk, setting.values) for setting in campaign.settings.all()],
        facts_of(runs),
        stock_id=stock_of(campaign).pk,
        pooled=noise_of(campaign, fitting).get(workload.pk),
        measure=cast(Measure, workload.measure),
        higher_is_better=workload.higher_is_better,
        failures_elsewhere=_failures_elsewhere(campaign, workload, fitting),
    )


def _failures_elsewhere(campaign: Campaign, workload: Workload, fitting: Fitting | None) -> dict[int, int]:
    """Failures in the campaign's other workloads, by setting."""
    others = campaign.runs.filter(fitting=fitting, outcome__in=FAILURES, set_aside_at__isnull=True).exclude(
        workload=workload
    )
    return dict(others.order_by().values_list("setting_id").annotate(Count("pk")))


def baseline_of(campaign: Campaign, fitting: Fitting | None) -> list[BaselineOfWorkload]:
    workloads = [workload.pk for workload in campaign.workloads.all()]
    runs = campaign.runs.filter(setting=stock_of(campaign), fitting=fitting, workload__in=workloads)
    return build_baseline(
        workloads,
        facts_of(runs),
        noise_of(campaign, fitting),
        campaign.wished_resolution,
        campaign.temp_limit_c,
        campaign.power_limit_w,
    )


@dataclass(frozen=True)
class Achievement:
    """The best rung so far on the campaign's main (first) workload."""

    workload: Workload
    rung: Rung


def achievement_of(campaign: Campaign) -> Achievement | None:
    main = next(iter(campaign.workloads.all()), None)
    if main is None:
        return None
    rung = best_rung(ladder_of(campaign, main, judged_fitting(campaign)))
    return Achievement(main, rung) if rung else None
