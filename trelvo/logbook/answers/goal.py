"""A campaign's goal: its terms, every setting judged by it, the best so far, and how far the goal is met, as a sentence."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, cast

from trelvo.core.base.knobs import describe_setting
from trelvo.core.base.runs import RunFacts, figures_count, mean_of
from trelvo.core.climb.harder import asks_no_more, asks_no_more_than_stock
from trelvo.core.decide.alternatives import TargetRatio, target_ratio
from trelvo.core.decide.goals import Cap, Terms, contradictions, in_words, terms_from
from trelvo.core.decide.judging import Bench, Judged, SettingFacts, best_of_many, how_far, judge_settings
from trelvo.core.decide.ran import Ran
from trelvo.core.decide.way import Way
from trelvo.core.measure.looking import Drawn
from trelvo.core.registry.goals import GoalWord
from trelvo.logbook.answers.climb_line import minutes_of, stability_line
from trelvo.logbook.answers.proof import proved_by
from trelvo.logbook.answers.sides import workload_facts
from trelvo.logbook.models import Campaign, Goal, Setting, Variant
from trelvo.logbook.rows.campaign_data import CampaignData
from trelvo.logbook.rows.run_rows import RunRow

# So many settings are judged, those run last; more would take longer to work out than anyone looks at.
MOST_JUDGED = 80


@dataclass(frozen=True)
class GoalView:
    """words: the goal as a sentence; against: why it cannot be reached as it stands; far: how far it is met

    judged: settings that were run, best first; drawn: the best's measure, counted that it was picked from many
    """

    terms: Terms
    words: str
    against: list[str]
    far: str
    judged: list[Judged]
    best: Judged | None
    drawn: Drawn | None
    left_out: int


def terms_of(campaign: Campaign) -> Terms:
    return terms_from(cast(GoalWord, campaign.goal), cast(dict[str, Any], campaign.terms))


def way_of(campaign: Campaign) -> Way:
    return Way(**cast(dict[str, Any], campaign.way))


def settings_to_judge(data: CampaignData) -> list[Setting]:
    """Those with a run under the judged fitting, stock first, then those run last."""
    if "to judge" not in data.of_rows:
        data.of_rows["to judge"] = _settings_to_judge(data)
    return cast(list[Setting], data.of_rows["to judge"])


def _settings_to_judge(data: CampaignData) -> list[Setting]:
    fitting_id = data.judged_fitting.pk if data.judged_fitting else None
    last: dict[int, int] = {}
    for place, run in enumerate(data.runs):
        if run.fitting_id == fitting_id and run.shows_stability:
            last[run.setting_id] = place
    ran = sorted((one for one in data.settings if one.id in last), key=lambda one: -last[one.id])
    return [data.stock, *(one for one in ran if one.pk != data.stock.pk)]


def judged_of(data: CampaignData) -> frozenset[int]:
    """The settings whose figures the goal's view rests on."""
    return frozenset(one.pk for one in settings_to_judge(data)[:MOST_JUDGED])


def goal_view(data: CampaignData) -> GoalView:
    """Every setting by the goal."""
    return data.worked_out("goal", lambda: _goal_view(data))


def _goal_view(data: CampaignData) -> GoalView:
    terms = terms_of(data.campaign)
    chosen = settings_to_judge(data)
    left_out = max(0, len(chosen) - MOST_JUDGED)
    chosen = chosen[:MOST_JUDGED]
    runs = {one.pk: data.runs_at(one, data.judged_fitting) for one in chosen}
    every = data.facts([run for some in runs.values() for run in some])
    schools = proved_by(data)
    facts = {one.pk: _facts(data, one, runs[one.pk], every, schools.get(one.pk, ()), terms) for one in chosen}
    bench = Bench(
        workload_facts(data),
        data.noise(data.judged_fitting),
        data.memory(data.judged_fitting),
        _targets(data),
        data.campaign.smallest_gain,
    )
    judged = judge_settings(terms, facts[data.stock.pk], list(facts.values()), bench)
    able = [one for one in judged if one.standing in ("meets it", "may meet it") and one.measure is not None]
    best = able[0] if able else None
    return GoalView(
        terms,
        in_words(terms),
        _against(data, terms, every),
        how_far(terms, judged if data.runs else [], best, data.stock.pk),
        judged,
        best,
        best_of_many(judged, best),
        left_out,
    )


def _facts(
    data: CampaignData,
    setting: Setting,
    rows: Sequence[RunRow],
    every: Sequence[RunFacts],
    schools: tuple[str, ...],
    terms: Terms,
) -> SettingFacts:
    if "facts by setting" not in data.found:
        by_setting: dict[int, list[RunFacts]] = defaultdict(list)
        for one in every:
            by_setting[one.setting_id].append(one)
        data.found["facts by setting"] = {
            pk: data.made_of_runs(("ran", pk), some, partial(_ran, some)) for pk, some in by_setting.items()
        }
    variants = _variants(data)
    return SettingFacts(
        setting.pk,
        describe_setting(data.knobs, setting.values),
        data.found["facts by setting"].get(setting.pk, Ran()),
        sum(row.failed for row in rows),
        chance_to_hold(data, setting, 1 / terms.hours),
        schools,
        sum(minutes_of(row, variants) for row in rows) / 60,
        asks_no_more_than_stock(data.knobs, setting.values),
        any(
            knob.role == "fan" and setting.values.get(knob.key, knob.stock) * knob.away > knob.stock * knob.away
            for knob in data.knobs
        ),
        _failed_in_use(data, setting),
    )


def _ran(runs: Sequence[RunFacts]) -> Ran:
    groups: dict[int, list[RunFacts]] = defaultdict(list)
    for run in runs:
        groups[run.workload_id].append(run)
    return Ran(groups)


def _failed_in_use(data: CampaignData, setting: Setting) -> int:
    """Failures in use of this setting when it was kept, and of kept ones that ask no more than it does of any part."""
    failed = data.failed_in_use
    return sum(
        failed[one.pk]
        for one in data.settings
        if failed[one.pk] and not one.is_stock and asks_no_more(data.knobs, one.values, setting.values)
    )


def _variants(data: CampaignData) -> dict[int, Variant]:
    if "variants" not in data.of_rows:
        data.of_rows["variants"] = {one.pk: one for one in data.known_variants}
    return cast(dict[int, Variant], data.of_rows["variants"])


def chance_to_hold(data: CampaignData, setting: Setting, per_h: float) -> float | None:
    """By the numbers, that the setting fails no more often than accepted; None at stock."""
    wary = way_of(data.campaign).wary
    judged = stability_line(data, setting, per_h, wary=wary)
    if judged is None or not judged[0].trials:
        return None
    line, value = judged
    return line.belief().chance_stable(value, per_h, wary=wary)


def target_ratios(data: CampaignData) -> list[TargetRatio]:
    """Overall speed of every target against stock, as far as they share workloads."""
    goal_view(data)
    stock = data.found["facts by setting"].get(data.stock.pk, {})
    ids = {str(one.uid): one.pk for one in data.workloads}
    found = []
    for target in data.targets:
        results = {ids[uid]: value for uid, value in cast(Mapping[str, float], target.results).items() if uid in ids}
        found.append(target_ratio(target.name, results, target.price, stock, workload_facts(data)))
    return [one for one in found if one is not None]


def highest_mean_power(data: CampaignData, setting_id: int) -> float | None:
    """Of the workloads that were measured at a setting, the highest mean power, W; None where none was read."""
    goal_view(data)
    runs = data.found["facts by setting"].get(setting_id, {})
    means = [mean_of(run.power_w for run in some if figures_count(run)) for some in runs.values()]
    return max((one for one in means if one is not None), default=None)


def _targets(data: CampaignData) -> dict[int, float]:
    """The highest of the targets' results, by workload."""
    if data.campaign.goal != Goal.TARGET:
        return {}
    uids = {str(one.uid): one for one in data.workloads}
    found: dict[int, float] = {}
    for target in data.targets:
        results = cast(Mapping[str, float], target.results)
        for uid, value in results.items():
            workload = uids.get(uid)
            if workload is not None:
                best = max if workload.higher_is_better else min
                found[workload.pk] = best(found.get(workload.pk, value), value)
    return found


def _against(data: CampaignData, terms: Terms, every: Sequence[RunFacts]) -> list[str]:
    caps = [Cap(one.name, one.cap_fps) for one in data.workloads if one.cap_fps]
    rooms = [run.room_c for run in every if run.room_c is not None]
    everyday = {one.pk for one in data.known_variants if one.kind == "everyday"}
    least = [run.power_w for run in every if run.workload_id in everyday and run.power_w is not None]
    lowest = min(least, default=math.nan)
    return contradictions(terms, caps, None if math.isnan(lowest) else lowest, rooms[-1] if rooms else None)
