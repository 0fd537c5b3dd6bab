"""The laboratory's power: the law of watts from clock and voltage, what an untried setting would draw, the year's bill."""

from collections import Counter, defaultdict
from dataclasses import dataclass

from trelvo.core.base.instruments import Doubt, half_of
from trelvo.core.base.knobs import describe_setting
from trelvo.core.base.runs import mean_of
from trelvo.core.campaign import titles_of
from trelvo.core.case import Case
from trelvo.core.laws.energy import Yearly, yearly
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.power_model import PowerPoint
from trelvo.core.laws.power_prediction import KnobCost, Model, knob_costs
from trelvo.core.message import Message, message
from trelvo.core.predicted_power import Read, read_power
from trelvo.core.problems import Problem


@dataclass(frozen=True)
class PowerSetting:
    """A setting under a workload: means of its runs, and what the law says of that clock and voltage."""

    setting_id: int
    title: str
    workload_id: int
    core_mhz: float
    voltage_v: float
    power_w: float
    law_w: Interval | None
    runs: int
    held: bool


@dataclass(frozen=True)
class Bill:
    """A setting's watts over a year of use, and what it saves against stock."""

    setting_id: int
    title: str
    power_w: float
    year: Yearly
    saved: Yearly


@dataclass(frozen=True)
class WorkloadName:
    id: int
    name: str


@dataclass(frozen=True)
class PowerView:
    """workload: whose settings, costs and bills these are; refused: why there is no law yet, empty where there is one

    base_w: what does not follow clock and voltage; limit_says: how the power limit's part in it is known
    """

    workloads: list[WorkloadName]
    workload_id: int | None
    read_by: str
    refused: tuple[Problem, ...]
    readings: int
    base_w: Interval | None
    misfit: float
    fits: bool
    leaks: bool
    limit_says: Message | None
    settings: list[PowerSetting]
    costs_at: str
    costs: list[KnobCost]
    bills: list[Bill]


def power_view(
    case: Case, workload_id: int | None, setting_id: int | None, hours_a_day: float, price: float | None
) -> PowerView:
    """The campaign's power law for one workload (the one with most readings where none is chosen)."""
    read = read_power(case)
    titles = titles_of(case.campaign.known_variants)
    used = Counter(point.workload_id for point in read.points)
    names = [WorkloadName(pk, titles[pk]) for pk in titles if pk in used]
    chosen = workload_id if workload_id in used else max(used, key=lambda pk: used[pk], default=None)
    model = read.model
    at = next((setting for setting in case.campaign.settings if setting.id == setting_id), case.campaign.stock)
    costs = knob_costs(model, chosen, at.values) if model and chosen is not None and model.law.fits else []
    return PowerView(
        workloads=names,
        workload_id=chosen,
        read_by=read.read_by,
        refused=read.refused,
        readings=len(read.points),
        base_w=model.law.base_w if model else None,
        misfit=model.law.misfit if model else 0.0,
        fits=bool(model and model.law.fits),
        leaks=bool(model and model.law.leaks),
        limit_says=_limit_says(model),
        settings=_settings(case, read, chosen),
        costs_at=describe_setting(case.campaign.knobs, at.values),
        costs=costs,
        bills=_bills(case, read, chosen, hours_a_day, price),
    )


def _limit_says(model: Model | None) -> Message | None:
    if model is None or model.cap is None:
        return None
    name = model.cap.knob.name if model.cap.knob else message("limit_without_knob")
    if not model.cap.shown:
        return message("limit_not_seen_to_hold", knob=name)
    return message("limit_held_at", knob=name, settings=len(model.held))


def _settings(case: Case, read: Read, workload_id: int | None) -> list[PowerSetting]:
    at: dict[int, list[PowerPoint]] = defaultdict(list)
    for point in read.points:
        if point.workload_id == workload_id:
            at[point.setting_id].append(point)
    found = []
    for setting in case.campaign.settings:
        own = at[setting.id]
        mhz, volt, watts = (mean_of(getattr(one, name) for one in own) for name in ("core_mhz", "voltage_v", "power_w"))
        if mhz is None or volt is None or watts is None:
            continue
        temp = mean_of(one.temp_c for one in own)
        model = read.model
        law_w = model.law.watts(own[0].workload_id, mhz, volt, temp) if model else None
        found.append(
            PowerSetting(
                setting_id=setting.id,
                title=describe_setting(case.campaign.knobs, setting.values),
                workload_id=own[0].workload_id,
                core_mhz=mhz,
                voltage_v=volt,
                power_w=watts,
                law_w=law_w,
                runs=len(own),
                held=bool(model and setting.id in model.held),
            )
        )
    return found


def _bills(case: Case, read: Read, workload_id: int | None, hours_a_day: float, price: float | None) -> list[Bill]:
    """Every setting over a year, least first."""
    at: dict[int, list[float | None]] = defaultdict(list)
    doubts: dict[int, Doubt] = {}
    for one in read.facts:
        if one.workload_id == workload_id:
            at[one.setting_id].append(one.power_w)
            if "power_w" in one.doubts:
                doubts[one.setting_id] = one.doubts["power_w"]
    means = {pk: mean_of(some) for pk, some in at.items()}
    watts = {pk: mean for pk, mean in means.items() if mean is not None}
    stock = watts.get(case.campaign.stock.id)
    if stock is None:
        return []
    titles = {setting.id: describe_setting(case.campaign.knobs, setting.values) for setting in case.campaign.settings}
    return [
        Bill(
            pk,
            titles[pk],
            watts[pk],
            yearly(watts[pk], hours_a_day, price, half_of((watts[pk], doubts.get(pk)))),
            yearly(
                stock - watts[pk],
                hours_a_day,
                price,
                half_of((stock, doubts.get(case.campaign.stock.id)), (watts[pk], doubts.get(pk))),
            ),
        )
        for pk in sorted(watts, key=lambda pk: watts[pk])
    ]
