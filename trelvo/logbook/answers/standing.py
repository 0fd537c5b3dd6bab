"""Where a campaign stands: every stage's state from its runs."""

from collections import defaultdict

from trelvo.core.base.knobs import describe_setting
from trelvo.core.decide.stages import Progress, RungProgress, Standing, WorkloadProgress, stand
from trelvo.core.measure.baseline import BASELINE_RUNS, noise_meter
from trelvo.logbook.answers.climbs import climbs_of
from trelvo.logbook.answers.goal import chance_to_hold, goal_view, terms_of
from trelvo.logbook.answers.proof import proved_by
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.lookups import titles_of


def standing_of(data: CampaignData) -> Standing:
    """Where the campaign stands, counted under the rig's present fitting; beyond the baseline by the goal."""
    return data.worked_out("standing", lambda: _standing_of(data))


def _standing_of(data: CampaignData) -> Standing:
    begun = _stand(data, None)
    if begun.missing or begun.state_of("Baseline") in ("to do", "stale"):
        return begun
    climbs, best = climbs_of(data), goal_view(data).best
    open_ = sum(one.state == "not shown yet" and one.key != "stability" for one in best.conditions) if best else 0
    done = sum(one.done for one in climbs)
    found = Progress(
        done, len(climbs), best.title if best else "", best.standing if best else "", open_, tuple(data.kept.values())
    )
    return _stand(data, found)


def _stand(data: CampaignData, progress: Progress | None) -> Standing:
    present_id = data.present_fitting.pk if data.present_fitting else None
    stock_id = data.stock.pk
    measured = {workload.pk for workload in data.workloads}
    now: dict[int, int] = defaultdict(int)
    earlier: dict[int, int] = defaultdict(int)
    completed: dict[int, set[int]] = defaultdict(set)
    failures: dict[int, int] = defaultdict(int)
    for run in data.runs:
        if run.setting_id != stock_id and run.failed:
            failures[run.setting_id] += 1
        if not data.was_made(run) or run.variant_id not in measured:
            continue
        if run.setting_id != stock_id:
            completed[run.setting_id].add(run.variant_id)
        elif run.fitting_id == present_id:
            now[run.variant_id] += 1
        else:
            earlier[run.variant_id] += 1
    noise = data.noise(data.present_fitting)
    campaign, titles = data.campaign, titles_of(data.workloads)

    def resolved(variant_id: int) -> bool:
        pooled, runs = noise.get(variant_id), now[variant_id]
        if variant_id in data.without_result:
            return runs > 0
        return pooled is not None and runs >= 2 and noise_meter(pooled, runs).now <= campaign.wished_resolution

    terms, by_id = terms_of(campaign), {one.pk: one for one in data.settings}
    passed = [by_id[pk] for pk in proved_by(data) if not failures[pk]]
    sure = {one.pk for one in passed if (chance_to_hold(data, one, 1 / terms.hours) or 0.0) >= terms.sure}
    titled = {one.pk: describe_setting(data.knobs, one.values) for one in data.settings}
    return stand(
        sum(not knob.retired for knob in data.knobs),
        present_id is not None,
        [
            WorkloadProgress(
                titles[one.pk],
                now[one.pk],
                earlier[one.pk],
                resolved(one.pk),
                1 if one.pk in data.without_result else BASELINE_RUNS,
            )
            for one in data.workloads
        ],
        [RungProgress(titled[s.pk], len(completed[s.pk]), failures[s.pk]) for s in data.settings if s.pk != stock_id],
        campaign.wished_resolution,
        campaign.enough_said_at is not None,
        [titled[one.pk] for one in passed if one.pk in sure],
        progress,
        [titled[one.pk] for one in passed if one.pk not in sure],
    )
