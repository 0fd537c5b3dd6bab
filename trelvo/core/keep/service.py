"""The Keep page: settings that may be kept side by side, and what each component brings."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

import trelvo
from trelvo.core.base.knobs import describe_setting, fingerprint
from trelvo.core.base.load_kinds import heaviest, loads_for
from trelvo.core.campaign import Setting, Variant
from trelvo.core.campaign_climbs.service import within_goal
from trelvo.core.case import Case
from trelvo.core.climb.least_stable import hold_along
from trelvo.core.climb_line.line import stability_lines, within_safety_limits
from trelvo.core.compare.sides import workload_facts
from trelvo.core.goal.judging import Judged
from trelvo.core.goal.measures import GoalMeasure, as_power
from trelvo.core.goal.service import goal_view, ran_by_setting, settings_to_judge
from trelvo.core.keep.attribution import Brought, Effect, TriedSetting, brought, components_of
from trelvo.core.keep.components import ComponentDecision, decide_components, part_of, sums_up
from trelvo.core.keep.kept import TypeLine, to_type
from trelvo.core.keep.kept_view import circumstances_as_kept, circumstances_of
from trelvo.core.message import Message, message
from trelvo.core.prove.rate_belief import RateBelief
from trelvo.core.prove.service import climb_belief, hours_of, proved_by
from trelvo.core.stats.comparison import Comparison
from trelvo.core.way import policy_for

# So many settings stand side by side, stock besides.
MOST_SIDE_BY_SIDE = 4


@dataclass(frozen=True)
class Kept:
    """A setting that may be kept. judged: by the goal; power: against stock as people say it; lines: what to type, in order

    hours: tested; kept: is kept already
    """

    judged: Judged
    power: GoalMeasure | None
    lines: list[TypeLine]
    hours: float
    kept: bool


@dataclass(frozen=True)
class ComponentRow:
    """A component of the chosen setting: what it brings and what to do with it; setting_id: of the run that would tell"""

    part: Message
    decision: ComponentDecision
    settle_id: int | None
    settle_title: str


@dataclass(frozen=True)
class KeepView:
    """stock_says: why stock may be the answer; chosen_id: the setting whose components are shown

    kept_values: what is left of the chosen setting when every component is kept as decided; kept_title: the same in words
    """

    goal: Message
    far: Message
    candidates: list[Kept]
    stock: Kept
    stock_says: Message
    chosen_id: int
    components: list[ComponentRow]
    sums_up: list[Message]
    kept_values: dict[str, float]
    kept_title: str
    kept_id: int | None


def keep_view(case: Case, setting_id: int | None) -> KeepView:
    """What may be kept of a campaign. setting_id: whose components are looked at; the best by the goal where none is named"""
    goal = goal_view(case)
    settings = {setting.id: setting for setting in case.campaign.settings}
    able = [
        one
        for one in goal.judged
        if one.standing in ("meets it", "may meet it") and one.setting_id != case.campaign.stock.id
    ]
    stock = next(one for one in goal.judged if one.setting_id == case.campaign.stock.id)
    chosen = settings.get(setting_id or 0) or (settings[able[0].setting_id] if able else case.campaign.stock)
    kept_ids = set(case.campaign.kept)
    shown = able[:MOST_SIDE_BY_SIDE]
    if chosen.id not in {case.campaign.stock.id, *(one.setting_id for one in shown)}:
        # what is asked about is in the table, however it ranks
        asked = [one for one in goal.judged if one.setting_id == chosen.id]
        shown = [*able[: MOST_SIDE_BY_SIDE - len(asked)], *asked]
    rows, sums, kept = _components(case, chosen)
    marks = {setting.fingerprint: setting.id for setting in case.campaign.settings}
    return KeepView(
        goal=goal.words,
        far=goal.far,
        candidates=[_kept(case, settings[one.setting_id], one, kept_ids) for one in shown],
        stock=_kept(case, case.campaign.stock, stock, kept_ids),
        stock_says=_why_stock(able, stock),
        chosen_id=chosen.id,
        components=rows,
        sums_up=sums,
        kept_values=kept,
        kept_title=describe_setting(case.campaign.knobs, kept),
        kept_id=marks.get(fingerprint(kept)),
    )


def _why_stock(able: Sequence[Judged], stock: Judged) -> Message:
    if stock.standing == "meets it":
        return message("stock_meets_goal")
    if stock.standing == "does not":
        return message("stock_misses_goal")
    if not able:
        return message("stock_costs_nothing")
    if able[0].standing == "meets it":
        return message("stock_gives_up_gains")
    return message("stock_until_shown")


def _kept(case: Case, setting: Setting, judged: Judged, kept_ids: set[int]) -> Kept:
    lines = to_type(case.campaign.knobs, setting.values, case.terms.goal)
    drawn = as_power(judged.power) if judged.power else None
    return Kept(judged, drawn, lines, hours_of(case, setting), setting.id in kept_ids)


Components = tuple[list[ComponentRow], list[Message], dict[str, float]]


def _components(case: Case, chosen: Setting) -> Components:
    components = components_of([knob for knob in case.campaign.knobs if not knob.retired or knob.key in chosen.values])
    tried, complete = _tried(case)
    noise = case.noise(case.campaign.judged_build)
    found, together = brought(chosen.values, tried, components, workload_facts(case), noise)
    found = _alone_as_judged(case, chosen, found)
    terms = case.terms
    holds = _hold_of(case, chosen)
    decided = decide_components(
        chosen.values, found, terms.improve, holds, case.campaign.smallest_gain, frozenset(complete)
    )
    marks = {setting.fingerprint: setting.id for setting in case.campaign.settings}
    rows = []
    for one in decided:
        settle = one.settle.values if one.settle else None
        rows.append(
            ComponentRow(
                part_of(one.brought),
                one,
                marks.get(fingerprint(settle)) if settle is not None else None,
                describe_setting(case.campaign.knobs, settle) if settle is not None else "",
            )
        )
    return rows, sums_up(found, together), _left(chosen, decided)


def _alone_as_judged(case: Case, chosen: Setting, found: Sequence[Brought]) -> list[Brought]:
    """Where one component is all that a setting turns, what it brings is what the setting brings: the same figure, everywhere."""
    judged = next((one for one in goal_view(case).judged if one.setting_id == chosen.id), None)
    if judged is None or sum(one.tuned for one in found) != 1:
        return list(found)
    return [
        replace(one, speed=_as(one.speed, judged.speed), saving=_as(one.saving, judged.power)) if one.tuned else one
        for one in found
    ]


def _as(effect: Effect | None, compared: Comparison | None) -> Effect | None:
    if effect is None or compared is None:
        return effect
    return replace(effect, value=compared.ratio, low=compared.low, high=compared.high)


def _hold_of(case: Case, chosen: Setting) -> dict[str, float]:
    """How far each knob of a setting is stable by its climb; nothing where the setting is shown to be stable, or is untried."""
    judged = next((one for one in goal_view(case).judged if one.setting_id == chosen.id), None)
    stable = judged is not None and any(
        condition.key == "stability" and condition.state == "shown" for condition in judged.conditions
    )
    if stable:
        return {}
    way, terms = case.way, case.terms
    holds: dict[str, float] = {}
    for line, _ in stability_lines(case.campaign, case.priors, chosen):
        if line.trials and line.knob.key not in holds:
            policy = within_goal(
                case, line, within_safety_limits(case.campaign, line.knob, policy_for(way, terms, line.knob.key))
            )
            holds[line.knob.key] = hold_along(line.knob, line.belief, policy)
    return holds


def _left(chosen: Setting, decided: Sequence[ComponentDecision]) -> dict[str, float]:
    """What remains of a setting when every component is kept as decided; what is not known yet stays as it is."""
    values = {key: float(value) for key, value in chosen.values.items()}
    for one in decided:
        for knob in one.brought.component.knobs:
            if one.decision == "back to stock":
                values.pop(knob.key, None)
            elif one.at_less and knob.key in one.at_less:
                values[knob.key] = one.at_less[knob.key]
                if values[knob.key] == knob.stock:
                    values.pop(knob.key)
    return values


def _tried(case: Case) -> tuple[list[TriedSetting], set[str]]:
    """Every setting with its runs under the judged build; and the marks of those that ran every workload."""
    tried, complete = [], set()
    wanted = {workload.id for workload in case.campaign.workloads}
    for setting in settings_to_judge(case.campaign):
        rows = case.campaign.runs_at(setting, case.campaign.judged_build)
        facts = [run for some in ran_by_setting(case).get(setting.id, {}).values() for run in some]
        tried.append(TriedSetting(setting.values, facts, sum(row.failed for row in rows), hours_of(case, setting)))
        if wanted <= {run.workload_id for run in facts if run.value is not None}:
            complete.add(setting.fingerprint)
    return tried, complete


def evidence_of(case: Case, setting: Setting, now: datetime) -> dict[str, Any]:
    """What a setting rests on at this moment, to be frozen with its kept setting once its statements are rendered."""
    goal = goal_view(case)
    judged = next((one for one in goal.judged if one.setting_id == setting.id), None)
    runs = case.campaign.runs_at(setting, case.campaign.judged_build)
    variants = {variant.id: variant for variant in case.campaign.known_variants}
    facts = [run for some in ran_by_setting(case).get(setting.id, {}).values() for run in some]
    build = case.campaign.judged_build
    return {
        "goal": goal.words,
        "standing": judged.standing if judged else "",
        "measure": _measure(judged),
        "conditions": [
            {"name": one.name, "state": one.state, "says": one.says} for one in (judged.conditions if judged else ())
        ],
        "speed": _ratio(judged.speed) if judged else None,
        "watts": round(judged.measure.watts, 1)
        if judged and judged.measure and judged.measure.watts is not None
        else None,
        "power": _ratio(judged.power) if judged else None,
        "degrees": _difference(judged.heat) if judged else None,
        "noise": _difference(judged.noise) if judged else None,
        "approaches": list(proved_by(case).get(setting.id, ())),
        "hours": hours_of(case, setting),
        "failures": sum(row.failed for row in runs),
        "runs": [str(row.uid) for row in runs],
        "build": build.number if build else None,
        "workloads": sorted({variants[row.variant_id].in_full() for row in runs if row.variant_id in variants}),
        "instruments": sorted({run.power_instrument for run in facts if run.power_instrument}),
        "kept": now.isoformat(),
        "version": trelvo.__version__,
    }


def _measure(judged: Judged | None) -> dict[str, Any] | None:
    one = judged.measure if judged else None
    return {"value": one.value, "low": one.low, "high": one.high, "unit": one.unit} if one else None


def _ratio(one: Comparison | None) -> dict[str, Any] | None:
    return {"value": one.ratio, "low": one.low, "high": one.high} if one else None


def _difference(one: GoalMeasure | None) -> dict[str, Any] | None:
    return {"value": one.value, "low": one.low, "high": one.high, "unit": one.unit} if one else None


def proof_of(case: Case, setting: Setting, in_use: Sequence[Variant]) -> dict[str, Any]:
    """What is believed of a setting at this moment, and under which circumstances. in_use: workloads of its rig"""
    terms = case.terms
    belief = climb_belief(case, setting, 1 / terms.hours)
    if belief is None:
        rows = case.campaign.runs_at(setting, case.campaign.judged_build)
        belief = RateBelief.from_hours(hours_of(case, setting), sum(row.failed for row in rows))
    at = [setting] if setting.values else case.campaign.settings
    facts = case.facts([run for one in at for run in case.campaign.runs_at(one, case.campaign.judged_build)])
    rooms = [run.room_c for run in facts if run.room_c is not None]
    build = next(
        one for one in case.campaign.builds if case.campaign.judged_build and one.id == case.campaign.judged_build.id
    )
    parts = [knob.part for knob in case.campaign.knobs if knob.key in setting.values]
    variants = {one.name: one for one in [*in_use, *case.campaign.testable]}
    found = circumstances_of(
        build, list(variants.values()), parts, max(rooms, default=None), 1 / terms.hours, terms.sure
    )
    load = heaviest(loads_for(parts, [one.as_load() for one in case.campaign.testable]))
    return {
        "weights": [round(weight, 9) for weight in belief.weights],
        "circumstances": circumstances_as_kept(found),
        "heaviest": load.name if load else "",
    }
