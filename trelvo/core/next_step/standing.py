"""Where a campaign stands: every stage's state from its runs."""

from collections import defaultdict

from trelvo.core.base.knobs import describe_setting
from trelvo.core.baseline.model import noise_meter
from trelvo.core.campaign import titles_of
from trelvo.core.campaign_climbs.service import climbs_of
from trelvo.core.case import Case
from trelvo.core.goal.service import chance_to_hold, goal_view
from trelvo.core.memo import on_snapshot
from trelvo.core.prove.service import proved_by
from trelvo.core.stages import Progress, SettingProgress, Standing, WorkloadProgress, stand
from trelvo.core.stats.noise import BASELINE_RUNS


@on_snapshot
def standing_of(case: Case) -> Standing:
    """Where the campaign stands, counted under the rig's present build; beyond the baseline by the goal."""
    begun = _stand(case, None)
    if begun.missing or begun.state_of("Baseline") in ("to do", "stale"):
        return begun
    climbs, best = climbs_of(case), goal_view(case).best
    open_ = (
        sum(condition.state == "not shown yet" and condition.key != "stability" for condition in best.conditions)
        if best
        else 0
    )
    done = sum(climb.done for climb in climbs)
    found = Progress(
        done,
        len(climbs),
        best.title if best else "",
        best.standing if best else "",
        open_,
        tuple(case.campaign.kept.values()),
    )
    return _stand(case, found)


def _stand(case: Case, progress: Progress | None) -> Standing:
    present_id = case.campaign.present_build.id if case.campaign.present_build else None
    stock_id = case.campaign.stock.id
    measured = {workload.id for workload in case.campaign.workloads}
    now: dict[int, int] = defaultdict(int)
    earlier: dict[int, int] = defaultdict(int)
    completed: dict[int, set[int]] = defaultdict(set)
    failures: dict[int, int] = defaultdict(int)
    for run in case.campaign.runs:
        if run.setting_id != stock_id and run.failed:
            failures[run.setting_id] += 1
        if not case.campaign.was_made(run) or run.variant_id not in measured:
            continue
        if run.setting_id != stock_id:
            completed[run.setting_id].add(run.variant_id)
        elif run.build_id == present_id:
            now[run.variant_id] += 1
        else:
            earlier[run.variant_id] += 1
    noise = case.noise(case.campaign.present_build)
    campaign, titles = case.campaign, titles_of(case.campaign.workloads)

    def resolved(variant_id: int) -> bool:
        pooled, runs = noise.get(variant_id), now[variant_id]
        if variant_id in case.campaign.without_result:
            return runs > 0
        return pooled is not None and runs >= 2 and noise_meter(pooled, runs).now <= campaign.wished_resolution

    terms, by_id = case.terms, {setting.id: setting for setting in case.campaign.settings}
    passed = [by_id[pk] for pk in proved_by(case) if not failures[pk]]
    sure = {one.id for one in passed if (chance_to_hold(case, one, 1 / terms.hours) or 0.0) >= terms.sure}
    titled = {setting.id: describe_setting(case.campaign.knobs, setting.values) for setting in case.campaign.settings}
    return stand(
        knob_count=sum(not knob.retired for knob in case.campaign.knobs),
        has_build=present_id is not None,
        workloads=[
            WorkloadProgress(
                titles[one.id],
                now[one.id],
                earlier[one.id],
                resolved(one.id),
                1 if one.id in case.campaign.without_result else BASELINE_RUNS,
            )
            for one in case.campaign.workloads
        ],
        settings=[
            SettingProgress(titled[s.id], len(completed[s.id]), failures[s.id])
            for s in case.campaign.settings
            if s.id != stock_id
        ],
        wished_resolution=campaign.wished_resolution,
        enough_said=campaign.enough_said_at is not None,
        proved=[titled[one.id] for one in passed if one.id in sure],
        progress=progress,
        passed=[titled[one.id] for one in passed if one.id not in sure],
    )
