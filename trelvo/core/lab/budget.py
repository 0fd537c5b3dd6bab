"""The laboratory's budget: watts that processor and graphics share, who gets what, and which split pays."""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.base.figures import FigureKey
from trelvo.core.base.knobs import Knob, describe_setting, describe_value, part_limits, whole_limit
from trelvo.core.base.runs import RunFacts, counts, mean_of
from trelvo.core.campaign import Setting
from trelvo.core.case import Case
from trelvo.core.climb_line.scores import USUAL_NOISE
from trelvo.core.compare.sides import workload_facts
from trelvo.core.counted_runs import counted_at
from trelvo.core.laws.budget import Ceiling, LimitPlan, Split, Use, best_ceiling, best_limit, best_split, held_back
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.power_split import SplitLaw, SplitPlace, fit_split
from trelvo.core.message import Message, message
from trelvo.core.problems import Problem, Refused
from trelvo.core.terms import Terms

FIRST, SECOND = FigureKey("power", "processor", "mean"), FigureKey("power", "graphics", "mean")
PARTS = ("processor", "graphics")
# A limit this far below what the part draws shows what its watts are worth.
TEST_SHARE = 0.75


@dataclass(frozen=True)
class BudgetCell:
    """A setting under a workload: mean watts of both parts and of all together, speed against stock, what holds it back

    rest_w: what neither of them draws; to_first, to_second: speed as a ratio when one watt goes to that part from the other
    split: how the same watts would best be split; None where no law tells it, or nothing holds it back
    """

    workload_id: int
    first_w: float
    second_w: float
    whole_w: float | None
    rest_w: float | None
    runs: int
    ratio: float | None
    held: bool
    to_first: Interval | None
    to_second: Interval | None
    split: Split | None


@dataclass(frozen=True)
class PartLimit:
    """A limit on one part by itself that would bring most over all workloads. says: what to set

    values: the setting that makes it; empty where it is there already, or no knob makes it: then no_knob says so
    """

    says: Message
    watts: float
    gain: Interval
    ratio: Interval
    values: dict[str, float]
    no_knob: Message | None


@dataclass(frozen=True)
class PartTest:
    """A setting with a limit on one part that has not been run. values: by knob key"""

    title: str
    values: dict[str, float]


@dataclass(frozen=True)
class BudgetRow:
    """part_limit: None where no law tells it for every workload, or none would bring more"""

    setting_id: int
    title: str
    cells: list[BudgetCell]
    whole_w: float | None
    ratio: float | None
    part_limit: PartLimit | None


@dataclass(frozen=True)
class BudgetWorkload:
    """first_share: how much of its work the processor decides, 0 to 1; why: what is missing to tell it, empty where nothing"""

    id: int
    name: str
    first_share: Interval | None
    fits: bool
    misfit: float
    why: tuple[Problem, ...]


@dataclass(frozen=True)
class BudgetView:
    """refused: why there is nothing to tell, empty where there is

    test: what would tell of the split where only the shared limit was turned; None where nothing more is needed
    goal_at: the setting whose shared limit the goal asks for, with the part limit told there; None where none meets it
    """

    refused: tuple[Problem, ...]
    workloads: list[BudgetWorkload]
    rows: list[BudgetRow]
    goal_at: int | None
    test: PartTest | None


@dataclass(frozen=True)
class _Read:
    """Means of the runs of one setting under one workload."""

    first_w: float
    second_w: float
    whole_w: float | None
    log_speed: float | None
    deviation: float
    runs: int


def budget_view(case: Case) -> BudgetView:
    """Who gets what at each setting and workload, what a watt moved brings, and the limit and split that the goal asks for."""
    read = _read(case)
    if not read:
        return BudgetView((Problem("power", "no_part_power_read"),), [], [], None, None)
    limits = {knob.key for knob in case.campaign.knobs if knob.role == "power limit"}
    # another voltage or clock makes other speed of the same watts: the law is of settings that turn power limits alone
    alike = {one.id for one in case.campaign.settings if set(one.values) <= limits}
    laws, workloads = _laws(case, {at: one for at, one in read.items() if at[0] in alike})
    limit = whole_limit(case.campaign.knobs)
    settings = {one.id: one for one in case.campaign.settings}
    stock = case.campaign.stock.id
    held = _held(read, settings, limit)
    weights = {one.id: one.weight for one in workload_facts(case)}
    rows, plans = [], []
    terms = case.terms
    for setting in case.campaign.settings:
        own = {pk: one for (at, pk), one in sorted(read.items()) if at == setting.id}
        if not own:
            continue
        ratios = {pk: _log_ratio(one, read.get((stock, pk))) for pk, one in own.items()}
        told = laws if setting.id in alike else {}
        cells = [_cell(pk, one, ratios[pk], (setting.id, pk) in held, told.get(pk)) for pk, one in own.items()]
        known = {pk: value for pk, value in ratios.items() if value is not None}
        total = math.fsum(weights[pk] for pk in known)
        overall = math.exp(math.fsum(weights[pk] * one for pk, one in known.items()) / total) if total else None
        uses = [
            Use(told[pk], one.first_w, one.second_w, weights[pk], (setting.id, pk) in held, known[pk])
            for pk, one in own.items()
            if pk in told and pk in known and weights[pk] > 0
        ]
        every = len(uses) == sum(weights[workload.id] > 0 for workload in workloads) > 0
        # what is told is for the shared limit alone
        ceiling = best_ceiling(uses) if every and not _turns_apart(setting, case.campaign.knobs) else None
        whole = mean_of(one.whole_w for one in own.values())
        title = describe_setting(case.campaign.knobs, setting.values)
        part_limit = _part_limit(case, setting, ceiling) if ceiling and ceiling.part else None
        rows.append(BudgetRow(setting.id, title, cells, whole, overall, part_limit))
        if ceiling and whole is not None:
            most = max(one.whole_w or 0.0 for one in own.values())
            plans.append(LimitPlan(setting.id, most, ceiling, _frames(case, setting, terms)))
    chosen = best_limit(plans, terms.improve == "overall speed", terms.least_speed, terms.most_power_w, terms.frames)
    return BudgetView((), workloads, rows, chosen.setting_id if chosen else None, _test(case, read, held))


def _read(case: Case) -> dict[tuple[int, int], _Read]:
    """By setting and workload, under the judged build; workloads that are measured only."""
    build = case.campaign.judged_build
    variants = {workload.id: workload for workload in case.campaign.workloads}
    runs = [run for run in case.campaign.runs if build and run.build_id == build.id and run.variant_id in variants]
    watts = counted_at(case.campaign, runs, (FIRST, SECOND))
    noise = case.noise(build)
    groups: dict[tuple[int, int], list[RunFacts]] = defaultdict(list)
    for one in case.facts([run for run in runs if run.id in watts]):
        if counts(one) and min(watts[one.id].values()) > 0:
            groups[one.setting_id, one.workload_id].append(one)
    found = {}
    for (setting_id, pk), some in groups.items():
        logs = [math.log(one.value) for one in some if one.value is not None and one.value > 0]
        sign = 1.0 if variants[pk].higher_is_better else -1.0
        pooled = noise.get(pk)
        deviation = (pooled.sd_log if pooled else USUAL_NOISE) / math.sqrt(len(some))
        found[setting_id, pk] = _Read(
            math.fsum(watts[one.id][FIRST] for one in some) / len(some),
            math.fsum(watts[one.id][SECOND] for one in some) / len(some),
            mean_of(one.power_w for one in some),
            sign * math.fsum(logs) / len(logs) if logs else None,
            deviation,
            len(some),
        )
    return found


def _laws(case: Case, read: Mapping[tuple[int, int], _Read]) -> tuple[dict[int, SplitLaw], list[BudgetWorkload]]:
    """Every workload's law, of those that fit; and what is to be said of each workload that was read."""
    laws: dict[int, SplitLaw] = {}
    told = []
    names = {one.id: one.name for one in workload_facts(case)}
    for variant in case.campaign.workloads:
        own = {at: one for (at, pk), one in read.items() if pk == variant.id}
        if not own:
            continue
        places = [
            SplitPlace(at, one.first_w, one.second_w, one.log_speed, one.deviation)
            for at, one in own.items()
            if one.log_speed is not None
        ]
        name = names[variant.id]
        try:
            # always the same draws, so that the answer changes only with what is known
            law = fit_split(places, np.random.default_rng(1))
        except Refused as refused:
            told.append(BudgetWorkload(variant.id, name, None, False, 0.0, refused.problems))
            continue
        if law.fits:
            laws[variant.id] = law
        told.append(BudgetWorkload(variant.id, name, law.first_share, law.fits, law.misfit, ()))
    return laws, told


def _held(
    read: Mapping[tuple[int, int], _Read], settings: Mapping[int, Setting], limit: Knob | None
) -> frozenset[tuple[int, int]]:
    if limit is None:
        return frozenset()
    return held_back(
        {
            at: (settings[at[0]].values.get(limit.key, limit.stock), one.whole_w)
            for at, one in read.items()
            if one.whole_w is not None
        }
    )


def _turns_apart(setting: Setting, knobs: Sequence[Knob]) -> bool:
    """Whether a part has a limit of its own there already: what is told is for the shared one."""
    return any(setting.values.get(knob.key, knob.stock) != knob.stock for knob in part_limits(knobs))


def _log_ratio(one: _Read, stock: _Read | None) -> float | None:
    if stock is None or stock.log_speed is None or one.log_speed is None:
        return None
    return one.log_speed - stock.log_speed


def _cell(pk: int, one: _Read, log_ratio: float | None, held: bool, law: SplitLaw | None) -> BudgetCell:
    tells = law is not None and held
    return BudgetCell(
        workload_id=pk,
        first_w=one.first_w,
        second_w=one.second_w,
        whole_w=one.whole_w,
        rest_w=one.whole_w - one.first_w - one.second_w if one.whole_w is not None else None,
        runs=one.runs,
        ratio=math.exp(log_ratio) if log_ratio is not None else None,
        held=held,
        to_first=law.moved(one.first_w, one.second_w, -1.0) if law and tells else None,
        to_second=law.moved(one.first_w, one.second_w, 1.0) if law and tells else None,
        split=best_split(law, one.first_w, one.second_w) if law and tells else None,
    )


def _part_limit(case: Case, setting: Setting, ceiling: Ceiling) -> PartLimit:
    part = PARTS[ceiling.part - 1]
    knob = next((one for one in part_limits(case.campaign.knobs) if one.part == part and not one.retired), None)
    says, values, no_knob = message("hold_part_to", part=part, watts=ceiling.watts), {}, None
    if knob is None or knob.unit != "W":
        no_knob = message("no_knob_limits_part", part=part)
    else:
        values = {**setting.values, knob.key: _on_grid(knob, ceiling.watts)}
        says = message("knob_at", knob=knob.name, value=describe_value(knob, values[knob.key]))
        if any(one.values == values for one in case.campaign.settings):
            values = {}
    return PartLimit(says, ceiling.watts, ceiling.gain, ceiling.ratio, values, no_knob)


def _on_grid(knob: Knob, watts: float) -> float:
    """The knob's value nearest to some watts, within its range."""
    return min(max(knob.stock + round((watts - knob.stock) / knob.step) * knob.step, knob.low), knob.high)


def _test(case: Case, read: Mapping[tuple[int, int], _Read], held: frozenset[tuple[int, int]]) -> PartTest | None:
    """A limit on one part, well below what it draws, at the middle one of the settings that the shared limit holds back."""
    settings = {setting.id: setting for setting in case.campaign.settings}
    at = sorted({pk for pk, _ in held}, key=lambda pk: read[min(one for one in held if one[0] == pk)].whole_w or 0.0)
    knob = next(
        (one for one in part_limits(case.campaign.knobs) if one.part in PARTS and not one.retired and one.unit == "W"),
        None,
    )
    if not at or knob is None or any(_turns_apart(settings[pk], case.campaign.knobs) for pk, _ in read):
        return None
    middle = at[len(at) // 2]
    drawn = [(one.first_w, one.second_w)[PARTS.index(knob.part)] for (pk, _), one in read.items() if pk == middle]
    values = {**settings[middle].values, knob.key: _on_grid(knob, TEST_SHARE * max(drawn))}
    return PartTest(describe_setting(case.campaign.knobs, values), values)


def _frames(case: Case, setting: Setting, terms: Terms) -> float | None:
    """The least frame rate of the workloads measured in frames at a setting; None where the goal does not ask."""
    if terms.frames is None:
        return None
    rates = {workload.id for workload in case.campaign.workloads if workload.measure == "frame rate"}
    found: dict[int, list[float]] = defaultdict(list)
    for run in case.campaign.runs_at(setting, case.campaign.judged_build):
        if run.variant_id in rates and run.counts and run.value is not None:
            found[run.variant_id].append(run.value)
    return min((math.fsum(some) / len(some) for some in found.values()), default=None)
