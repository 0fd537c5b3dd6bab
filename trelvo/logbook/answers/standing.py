"""Where a campaign stands: every stage's state from its runs."""

from collections import defaultdict

from trelvo.core.base.knobs import describe_setting
from trelvo.core.base.runs import FAILURES
from trelvo.core.decide.stages import RungProgress, Standing, WorkloadProgress, stand
from trelvo.logbook.answers.proof import proved_settings
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.facts import baseline_of, knobs_of, stock_of


def standing_of(campaign: Campaign) -> Standing:
    """Where the campaign stands, counted under the rig's present fitting."""
    present = campaign.rig.present_fitting()
    present_id = present.pk if present else None
    stock = stock_of(campaign)
    earlier: dict[int, int] = defaultdict(int)
    completed: dict[int, set[int]] = defaultdict(set)
    failures: dict[int, int] = defaultdict(int)
    names = {workload.pk: workload.name for workload in campaign.workloads.all()}
    columns = ("setting_id", "workload_id", "fitting_id", "outcome", "value", "set_aside_at")
    for setting_id, workload_id, fitting_id, outcome, value, set_aside_at in campaign.runs.order_by().values_list(
        *columns
    ):
        if set_aside_at is not None:
            continue
        if setting_id != stock.pk and outcome in FAILURES:
            failures[setting_id] += 1
        if outcome != "completed" or value is None or workload_id not in names:
            continue
        if setting_id != stock.pk:
            completed[setting_id].add(workload_id)
        elif fitting_id != present_id:
            earlier[workload_id] += 1
    knobs = knobs_of(campaign)
    return stand(
        len(knobs),
        present is not None,
        [
            WorkloadProgress(
                names[one.workload_id], one.summary.n if one.summary else 0, earlier[one.workload_id], one.reached
            )
            for one in baseline_of(campaign, present)
        ],
        [
            RungProgress(describe_setting(knobs, s.values), len(completed[s.pk]), failures[s.pk])
            for s in campaign.settings.all()
            if s.pk != stock.pk
        ],
        campaign.wished_resolution,
        campaign.enough_said_at is not None,
        proved_settings(campaign),
    )
