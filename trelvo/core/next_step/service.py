"""What to do next in a campaign: the situation from its rows, and the core's one step."""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime

from trelvo.core.base.knobs import describe_setting, describe_value, fingerprint
from trelvo.core.baseline.model import noise_meter
from trelvo.core.campaign import Setting, titles_of
from trelvo.core.campaign_climbs.service import KnobClimb, climbs_of
from trelvo.core.case import Case
from trelvo.core.climb.harder import asks_no_more_than_stock
from trelvo.core.goal.judging import Judged
from trelvo.core.goal.service import goal_view
from trelvo.core.keep.kept_step import KeptNow
from trelvo.core.keep.kept_view import kept_now
from trelvo.core.lab.response import predicted_of
from trelvo.core.message import message
from trelvo.core.next_step.rules import (
    KnobAdvice,
    NextStep,
    ProofItem,
    Situation,
    StockShort,
    Unanswered,
    best_of,
    next_step,
)
from trelvo.core.prove.service import proof_by, proved_by
from trelvo.core.registry.approaches import Approach
from trelvo.core.stages import Standing
from trelvo.core.stats.noise import BASELINE_RUNS


def next_of(case: Case, standing: Standing, now: datetime, minutes: float | None = None) -> NextStep:
    """The one step of a campaign. standing: what its description and baseline still lack"""
    return next_step(situation_of(case, standing, now, minutes))


def situation_of(
    case: Case, standing: Standing, now: datetime, minutes: float | None = None, far_ahead: bool = False
) -> Situation:
    """What the next step hangs on. far_ahead: also what comes into it only when what blocks it is done"""
    found = _situation_of(case, standing, minutes, far_ahead)
    return replace(found, in_use=_in_use(case, now))


def _situation_of(case: Case, standing: Standing, minutes: float | None, far_ahead: bool) -> Situation:
    titles = titles_of(case.campaign.testable)
    settings = {setting.id: setting for setting in case.campaign.settings}
    run_minutes = {one.id: one.minutes for one in case.campaign.testable}
    begun = Situation(
        missing=standing.missing,
        unanswered=[
            Unanswered(
                run.id,
                titles.get(run.variant_id, message("some_workload")),
                describe_setting(case.campaign.knobs, settings[run.setting_id].values),
            )
            for run in case.campaign.runs
            if run.outcome == "connection lost" and run.aside is None
        ],
        short=_short(case, standing, titles),
        stock_id=case.campaign.stock.id,
        enough=case.terms.goal in ("frame rate", "target"),
        smallest_gain=case.campaign.smallest_gain,
        workloads={workload.id: titles[workload.id] for workload in case.campaign.workloads},
        minutes=run_minutes,
        runs_at=_runs_at(case),
        kept=case.campaign.kept,
        loads={one.name: one.id for one in case.campaign.testable},
    )
    blocked = begun.unanswered or any(not one.coarse for one in begun.short)
    if begun.missing or (blocked and not far_ahead):
        return begun
    goal, climbs = goal_view(case), climbs_of(case, minutes)
    marks = {setting.fingerprint: setting.id for setting in case.campaign.settings}
    found = replace(begun, knobs=[_knob_advice(case, climb, titles, marks) for climb in climbs], judged=goal.judged)
    # of the setting that the step turns to, which need not be the first by the goal
    best = best_of(found)
    if best is not None and not asks_no_more_than_stock(case.campaign.knobs, settings[best.setting_id].values):
        found = replace(found, proof=_proof_item(case, best, titles))
    # with more settings than are judged, not all figures are at hand
    if goal.terms.improve != "power" or goal.left_out:
        return found
    return replace(found, predicted=predicted_of(case))


def _in_use(case: Case, now: datetime) -> list[KeptNow]:
    marks = {setting.fingerprint: setting.id for setting in case.campaign.settings}
    return [
        replace(one, lower_id=marks.get(fingerprint(one.lower), 0)) if one.lower is not None else one
        for one in kept_now(case, now)
    ]


def _runs_at(case: Case) -> dict[tuple[int, int], int]:
    found: dict[tuple[int, int], int] = defaultdict(int)
    build_id = case.campaign.judged_build.id if case.campaign.judged_build else None
    for run in case.campaign.runs:
        if run.build_id == build_id and case.campaign.was_made(run):
            found[run.setting_id, run.variant_id] += 1
    return found


def _short(case: Case, standing: Standing, titles: Mapping[int, str]) -> list[StockShort]:
    """Workloads that the baseline still asks for; none where it is done or was called enough."""
    if standing.state_of("Baseline") == "done":
        return []
    build, noise = case.campaign.present_build, case.noise(case.campaign.present_build)
    now: dict[int, int] = defaultdict(int)
    before: dict[int, int] = defaultdict(int)
    for run in case.campaign.runs:
        if run.setting_id == case.campaign.stock.id and case.campaign.was_made(run):
            (now if build and run.build_id == build.id else before)[run.variant_id] += 1
    found = []
    for workload in case.campaign.workloads:
        pooled, done = noise.get(workload.id), now[workload.id]
        if workload.id in case.campaign.without_result and done:
            # its figures are read, and nothing else is to be distinguished
            continue
        if pooled and done >= 2 and noise_meter(pooled, done).now <= case.campaign.wished_resolution:
            continue
        wanted = 1 if workload.id in case.campaign.without_result else max(BASELINE_RUNS, done + 1)
        again = before[workload.id] >= BASELINE_RUNS and done < BASELINE_RUNS
        found.append(
            StockShort(workload.id, titles[workload.id], done, wanted, workload.minutes, again, done >= BASELINE_RUNS)
        )
    return found


def _knob_advice(case: Case, one: KnobClimb, titles: Mapping[int, str], marks: Mapping[str, int]) -> KnobAdvice:
    knob, advice = one.knob, one.advice
    values = {**one.line.base, knob.key: advice.value}
    if advice.value == knob.stock:
        values.pop(knob.key)
    setting_id = marks.get(fingerprint(values))
    return KnobAdvice(
        key=knob.key,
        name=knob.name,
        act=advice.act,
        done=one.done,
        value=describe_value(knob, advice.value),
        values=values,
        setting_id=setting_id,
        minutes=advice.minutes,
        reason=advice.reason,
        teaches=advice.teaches,
        load_id=advice.load_id,
        load=titles.get(advice.load_id or 0, ""),
        base=describe_setting(case.campaign.knobs, one.line.base),
        hold_id=setting_id if one.done and advice.value != knob.stock else None,
        to_find=one.to_find,
        at_stock=advice.value == knob.stock,
    )


def _proof_item(case: Case, best: Judged, titles: Mapping[int, str]) -> ProofItem | None:
    """What the proof of the best setting asks for next: by the approach that was chosen; where that has passed and the belief
    is not sure enough yet, the hours that it still needs."""
    setting = next(one for one in case.campaign.settings if one.id == best.setting_id)
    if not setting.values:
        return None
    chosen = case.way.approach
    item = _item_of(case, setting, chosen, titles)
    if item is not None and not item.proved:
        return item
    stable = all(condition.state == "shown" for condition in best.conditions if condition.key == "stability")
    if not stable and chosen != "statistical":
        more = _item_of(case, setting, "statistical", titles)
        if more is not None and not more.proved and more.minutes_left > 0:
            return more
    return item


def _item_of(case: Case, setting: Setting, approach: Approach, titles: Mapping[int, str]) -> ProofItem | None:
    proof = proof_by(case, setting, approach, case.terms)
    item = next((one for one in proof.items if one.state in ("missing", "under way") and one.load_id is not None), None)
    if proof.state == "proved" or item is None:
        # another approach's proof is as good where this one has nothing left to ask for
        proved = proof.state == "proved" or setting.id in proved_by(case)
        if not proved and item is None:
            return None
        return ProofItem(
            setting_id=setting.id,
            approach=approach,
            proved=proved,
            item=None,
            load_id=None,
            load="",
            minutes=0,
            minutes_left=0,
        )
    runs = item.runs if item.run_minutes is None else 1
    load = titles.get(item.load_id or 0, "")
    return ProofItem(
        setting_id=setting.id,
        approach=approach,
        proved=False,
        item=item.title,
        load_id=item.load_id,
        load=load,
        minutes=item.run_minutes,
        minutes_left=proof.minutes_left,
        runs=runs,
    )
