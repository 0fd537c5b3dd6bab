"""The ladder of a workload, and the best that a campaign has found so far."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.climb.ladder import Ladder, Place, Rung, best_rung, build_ladder, drawn_best
from trelvo.core.measure.looking import Drawn
from trelvo.logbook.models import Fitting, Variant
from trelvo.logbook.rows.campaign_data import CampaignData


@dataclass(frozen=True)
class Achievement:
    """The best rung so far on the campaign's main (first) workload. drawn: its gain, counted that it was picked from many"""

    workload: Variant
    rung: Rung
    drawn: Drawn | None


def ladder_of(data: CampaignData, workload: Variant, fitting: Fitting | None, *, with_figures: bool = True) -> Ladder:
    """The ladder of one workload within one fitting. with_figures: whether watts, degrees and the rest are asked for"""
    fitting_id = fitting.pk if fitting else None
    under = [run for run in data.runs if run.fitting_id == fitting_id]
    own = [run for run in under if run.variant_id == workload.pk]
    elsewhere = Counter(run.setting_id for run in under if run.variant_id != workload.pk and run.failed)
    return build_ladder(
        data.knobs,
        [Place(setting.pk, setting.values) for setting in data.settings],
        data.facts(own) if with_figures else data.facts(own, ()),
        stock_id=data.stock.pk,
        pooled=data.noise(fitting).get(workload.pk),
        bench=data.memory(fitting),
        measure=workload.measure,
        higher_is_better=workload.higher_is_better,
        failures_elsewhere=elsewhere,
    )


def achievements_of(campaigns: Sequence[CampaignData]) -> list[Achievement | None]:
    """The best rung of each campaign on its main workload. Figures are read of these rungs and of stock only."""
    best: list[tuple[CampaignData, Rung] | None] = []
    drawn: list[Drawn | None] = []
    for data in campaigns:
        ladder = ladder_of(data, data.workloads[0], data.judged_fitting, with_figures=False) if data.workloads else None
        rung = best_rung(ladder) if ladder else None
        best.append((data, rung) if rung else None)
        drawn.append(drawn_best(ladder, rung) if ladder and rung else None)
    needed = {setting_id for one in best if one for setting_id in (one[0].stock.pk, one[1].setting_id)}
    return [
        Achievement(one[0].workloads[0], _with_figures(*one, needed), picked) if one else None
        for one, picked in zip(best, drawn, strict=True)
    ]


def _with_figures(data: CampaignData, best: Rung, needed: set[int]) -> Rung:
    """The rung again, with watts and degrees. needed: all settings whose figures are read in one question"""
    workload, fitting = data.workloads[0], data.judged_fitting
    fitting_id = fitting.pk if fitting else None
    pair = (data.stock.pk, best.setting_id)
    runs = [
        run
        for run in data.runs
        if run.setting_id in pair and run.variant_id == workload.pk and run.fitting_id == fitting_id
    ]
    ladder = build_ladder(
        data.knobs,
        [Place(setting.pk, setting.values) for setting in data.settings if setting.pk in pair],
        data.facts(runs, needed),
        stock_id=data.stock.pk,
        pooled=data.noise(fitting).get(workload.pk),
        bench=data.memory(fitting),
        measure=workload.measure,
        higher_is_better=workload.higher_is_better,
    )
    return next(rung for rung in ladder.rungs if rung.setting_id == best.setting_id)
