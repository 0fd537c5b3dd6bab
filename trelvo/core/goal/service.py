"""A campaign's goal: its terms, every setting judged by it, the best so far, and how far the goal is met."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from trelvo.core.base.knobs import describe_setting
from trelvo.core.base.runs import RunFacts, figures_count, mean_of
from trelvo.core.campaign import CampaignSnapshot, Setting
from trelvo.core.case import Case
from trelvo.core.climb.harder import asks_no_more, asks_no_more_than_stock
from trelvo.core.climb_line.line import stability_line
from trelvo.core.climb_line.trials import minutes_of
from trelvo.core.climb_line.use import failed_in_use
from trelvo.core.compare.conditions import Condition
from trelvo.core.compare.sides import workload_facts
from trelvo.core.goal.alternatives import TargetRatio, target_ratio
from trelvo.core.goal.judging import Bench, Judged, SettingFacts, best_of_many, how_far, judge_settings
from trelvo.core.goal.ran import Ran
from trelvo.core.memo import on_snapshot
from trelvo.core.message import Message
from trelvo.core.prove.service import proved_by
from trelvo.core.stats.looks import Drawn
from trelvo.core.terms import Cap, Terms, contradictions, in_words

# So many settings are judged, those run last; more would take longer to compute than anyone looks at.
MOST_JUDGED = 80


@dataclass(frozen=True)
class GoalView:
    """words: the goal with its conditions; against: why it cannot be reached as it stands; far: how far it is met

    judged: settings that were run, best first; drawn: the best's measure, counted that it was picked from many
    """

    terms: Terms
    words: Message
    against: tuple[Message, ...]
    far: Message
    judged: tuple[Judged, ...]
    best: Judged | None
    drawn: Drawn | None
    left_out: int


@on_snapshot
def settings_to_judge(campaign: CampaignSnapshot) -> tuple[Setting, ...]:
    """Those with a run under the judged build, stock first, then those run last."""
    build_id = campaign.judged_build.id if campaign.judged_build else None
    last: dict[int, int] = {}
    for place, run in enumerate(campaign.runs):
        if run.build_id == build_id and run.shows_stability:
            last[run.setting_id] = place
    ran = sorted((setting for setting in campaign.settings if setting.id in last), key=lambda one: -last[one.id])
    return (campaign.stock, *(one for one in ran if one.id != campaign.stock.id))


@on_snapshot
def goal_view(case: Case) -> GoalView:
    """Every setting by the goal."""
    terms = case.terms
    chosen = settings_to_judge(case.campaign)
    left_out = max(0, len(chosen) - MOST_JUDGED)
    chosen = chosen[:MOST_JUDGED]
    ran = ran_by_setting(case)
    every = [run for one in chosen for some in ran.get(one.id, Ran()).values() for run in some]
    approaches = proved_by(case)
    facts = {one.id: _facts(case, one, ran.get(one.id, Ran()), approaches.get(one.id, ())) for one in chosen}
    bench = Bench(
        workload_facts(case),
        case.noise(case.campaign.judged_build),
        case.bench_memory(case.campaign.judged_build),
        _targets(case),
        case.campaign.smallest_gain,
    )
    judged = judge_settings(terms, facts[case.campaign.stock.id], list(facts.values()), bench)
    able = [one for one in judged if one.standing in ("meets it", "may meet it") and one.measure is not None]
    best = able[0] if able else None
    return GoalView(
        terms=terms,
        words=in_words(terms),
        against=_against(case, terms, every),
        far=how_far(terms, judged if case.campaign.runs else [], best, case.campaign.stock.id),
        judged=tuple(judged),
        best=best,
        drawn=best_of_many(judged, best),
        left_out=left_out,
    )


def _facts(
    case: Case,
    setting: Setting,
    ran: Ran,
    approaches: tuple[str, ...],
) -> SettingFacts:
    variants = case.campaign.variants
    rows = case.campaign.runs_at(setting, case.campaign.judged_build)
    return SettingFacts(
        setting_id=setting.id,
        title=describe_setting(case.campaign.knobs, setting.values),
        groups=ran,
        failures=sum(row.failed for row in rows),
        holds=chance_to_hold(case, setting, 1 / case.terms.hours),
        proved_by=approaches,
        hours=sum(minutes_of(row, variants) for row in rows) / 60,
        as_stock=asks_no_more_than_stock(case.campaign.knobs, setting.values),
        louder=any(
            knob.role == "fan" and setting.values.get(knob.key, knob.stock) * knob.away > knob.stock * knob.away
            for knob in case.campaign.knobs
        ),
        in_use=_failed_in_use(case, setting),
    )


@on_snapshot
def ran_by_setting(case: Case) -> Mapping[int, Ran]:
    """By setting that is judged, what was run at it under the judged build."""
    chosen = settings_to_judge(case.campaign)[:MOST_JUDGED]
    ran = {one.id: case.campaign.runs_at(one, case.campaign.judged_build) for one in chosen}
    return {setting_id: _ran(case.facts(some)) for setting_id, some in ran.items() if some}


def _ran(runs: Sequence[RunFacts]) -> Ran:
    groups: dict[int, list[RunFacts]] = defaultdict(list)
    for run in runs:
        groups[run.workload_id].append(run)
    return Ran(groups)


def _failed_in_use(case: Case, setting: Setting) -> int:
    """Failures in use of this setting when it was kept, and of kept ones that ask no more than it does of any part."""
    failed = failed_in_use(case.campaign)
    return sum(
        failed[one.id]
        for one in case.campaign.settings
        if one.id in failed and not one.is_stock and asks_no_more(case.campaign.knobs, one.values, setting.values)
    )


def chance_to_hold(case: Case, setting: Setting, per_h: float) -> float | None:
    """Chance that the setting fails no more often than accepted; None at stock."""
    cautious = case.way.cautious
    judged = stability_line(case.campaign, case.priors, setting, per_h, cautious=cautious)
    if judged is None or not judged[0].trials:
        return None
    line, value = judged
    return line.belief.chance_stable(value, per_h, cautious=cautious)


def target_ratios(case: Case) -> list[TargetRatio]:
    """Overall speed of every target against stock, as far as they share workloads."""
    stock: Mapping[int, Sequence[RunFacts]] = ran_by_setting(case).get(case.campaign.stock.id, {})
    ids = {str(workload.uid): workload.id for workload in case.campaign.workloads}
    found = []
    for target in case.campaign.targets:
        results = {ids[uid]: value for uid, value in target.results.items() if uid in ids}
        found.append(target_ratio(target.name, results, target.price, stock, workload_facts(case)))
    return [one for one in found if one is not None]


def best_settings(case: Case) -> list[Setting]:
    """The three best settings by the goal that meet it or may meet it, best first.

    Where none does: those that miss the fewest conditions, the fastest first.
    """
    ran = [one for one in goal_view(case).judged if one.speed and one.setting_id != case.campaign.stock.id]
    able = [one for one in ran if one.standing in ("meets it", "may meet it")]
    closest = sorted(ran, key=lambda one: (sum(c.state == "broken" for c in one.conditions), -_speed_ratio(one)))
    best = [one.setting_id for one in (able or closest)[:3]]
    found = {setting.id: setting for setting in case.campaign.settings}
    return [found[setting_id] for setting_id in best]


def _speed_ratio(judged: Judged) -> float:
    return judged.speed.ratio if judged.speed else 0.0


def speed_conditions(case: Case) -> Mapping[int, Condition]:
    """By setting, the goal's condition on its speed; settings without one are left out."""
    return {
        judged.setting_id: condition
        for judged in goal_view(case).judged
        for condition in judged.conditions
        if condition.key == "speed"
    }


def highest_mean_power(case: Case, setting_id: int) -> float | None:
    """Of the workloads that were measured at a setting, the highest mean power, W; None where none was read."""
    runs: Mapping[int, Sequence[RunFacts]] = ran_by_setting(case).get(setting_id, {})
    means = [mean_of(run.power_w for run in some if figures_count(run)) for some in runs.values()]
    return max((one for one in means if one is not None), default=None)


def _targets(case: Case) -> dict[int, float]:
    """The highest of the targets' results, by workload."""
    if case.terms.goal != "target":
        return {}
    uids = {str(one.uid): one for one in case.campaign.workloads}
    found: dict[int, float] = {}
    for target in case.campaign.targets:
        results = target.results
        for uid, value in results.items():
            workload = uids.get(uid)
            if workload is not None:
                best = max if workload.higher_is_better else min
                found[workload.id] = best(found.get(workload.id, value), value)
    return found


def _against(case: Case, terms: Terms, every: Sequence[RunFacts]) -> tuple[Message, ...]:
    caps = [Cap(workload.name, workload.cap_fps) for workload in case.campaign.workloads if workload.cap_fps]
    rooms = [run.room_c for run in every if run.room_c is not None]
    everyday = {variant.id for variant in case.campaign.known_variants if variant.kind == "everyday"}
    least = [run.power_w for run in every if run.workload_id in everyday and run.power_w is not None]
    lowest = min(least, default=math.nan)
    return tuple(contradictions(terms, caps, None if math.isnan(lowest) else lowest, rooms[-1] if rooms else None))
