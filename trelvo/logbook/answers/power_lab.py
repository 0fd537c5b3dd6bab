"""The laboratory's power: the law of watts from clock and voltage, what an untried setting would draw, the year's bill."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from trelvo.core.base.instruments import Doubt, half_of
from trelvo.core.base.knobs import describe_setting
from trelvo.core.base.problems import Refused
from trelvo.core.base.runs import RunFacts, mean_of
from trelvo.core.campaign import Variant, titles_of
from trelvo.core.decide.case import Case
from trelvo.core.memo import on_snapshot
from trelvo.core.physics.cooling import by_fitting, foretold
from trelvo.core.physics.energy import Yearly, yearly
from trelvo.core.physics.heat import Interval
from trelvo.core.physics.power_foretold import KnobCost, Model, fit_model, foretell, knob_costs
from trelvo.core.physics.power_model import PowerPoint, fit_power
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.guard_rails import predicted_breaches
from trelvo.logbook.answers.heat import coolings_of
from trelvo.logbook.answers.heat_logs import logged_heat


@dataclass(frozen=True)
class PowerRung:
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
    """workload: whose rungs, costs and bills these are; refused: why there is no law yet, empty where there is one

    base_w: what does not follow clock and voltage; limit_says: how the power limit's part in it is known
    """

    workloads: list[WorkloadName]
    workload_id: int | None
    read_by: str
    refused: str
    readings: int
    base_w: Interval | None
    misfit: float
    fits: bool
    leaks: bool
    limit_says: str
    rungs: list[PowerRung]
    costs_at: str
    costs: list[KnobCost]
    bills: list[Bill]


@dataclass(frozen=True)
class ForetoldView:
    """What a setting not tried would reach and draw; temp_c: where it would settle with the fitting's cooler;
    rails: guard rails that it would or may break"""

    title: str
    core_mhz: Interval | None
    voltage_v: Interval | None
    power_w: Interval | None
    held: bool
    why: str
    temp_c: Interval | None
    room_c: float | None
    rails: list[str]


@dataclass(frozen=True)
class Read:
    """What power is known: every run with it, the points of the law, the law with what foretells the knobs' part in it."""

    facts: list[RunFacts]
    points: list[PowerPoint]
    model: Model | None
    refused: str
    read_by: str


def power_view(
    case: Case, workload_id: int | None, setting_id: int | None, hours_a_day: float, price: float | None
) -> PowerView:
    """The campaign's power law for one workload (the one with most readings where none is chosen)."""
    read = read_power(case)
    titles = titles_of(case.campaign.known_variants)
    used = Counter(one.workload_id for one in read.points)
    names = [WorkloadName(pk, titles[pk]) for pk in titles if pk in used]
    chosen = workload_id if workload_id in used else max(used, key=lambda pk: used[pk], default=None)
    model = read.model
    at = next((one for one in case.campaign.settings if one.id == setting_id), case.campaign.stock)
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
        rungs=_rungs(case, read, chosen),
        costs_at=describe_setting(case.campaign.knobs, at.values),
        costs=costs,
        bills=_bills(case, read, chosen, hours_a_day, price),
    )


@on_snapshot
def read_power(case: Case) -> Read:
    """Readings of one instrument under the judged fitting: the one that read most of them."""
    fitting = case.campaign.judged_fitting
    runs = [run for run in case.campaign.runs if fitting and run.fitting_id == fitting.id]
    facts = [one for one in case.facts(runs) if one.outcome == "completed" and not one.set_aside and one.power_w]
    by = Counter((one.power_point, one.power_instrument) for one in facts)
    if not by:
        return Read([], [], None, "No completed run has its power read yet.", "")
    (point, instrument), _ = by.most_common(1)[0]
    own = [one for one in facts if (one.power_point, one.power_instrument) == (point, instrument)]
    points = [
        PowerPoint(one.setting_id, one.workload_id, one.core_mhz, one.voltage_v, one.power_w or 0.0, one.temp_max_c)
        for one in own
        if one.core_mhz is not None and one.voltage_v is not None
    ]
    settings = {one.id: one.values for one in case.campaign.settings}
    try:
        law = fit_power(points)
        model = fit_model(law, points, settings, case.campaign.knobs, case.campaign.power_limit_w)
    except Refused as refused:
        return Read(
            own, points, None, " ".join(f"{one.what} {one.todo}" for one in refused.problems), instrument or point
        )
    return Read(own, points, model, "", instrument or point)


def _limit_says(model: Model | None) -> str:
    if model is None or model.cap is None:
        return ""
    name = model.cap.knob.name if model.cap.knob else "A power limit that no knob here turns"
    if not model.cap.shown:
        return f"{name} has not been seen to hold; below the lowest value tried, nothing is foretold."
    held = len(model.held)
    return (
        f"{name} held the part at {held} of the settings tried." if held else f"{name} held the part at none of them."
    )


def _rungs(case: Case, read: Read, workload_id: int | None) -> list[PowerRung]:
    at: dict[int, list[PowerPoint]] = defaultdict(list)
    for one in read.points:
        if one.workload_id == workload_id:
            at[one.setting_id].append(one)
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
            PowerRung(
                setting.id,
                describe_setting(case.campaign.knobs, setting.values),
                own[0].workload_id,
                mhz,
                volt,
                watts,
                law_w,
                len(own),
                bool(model and setting.id in model.held),
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
    titles = {one.id: describe_setting(case.campaign.knobs, one.values) for one in case.campaign.settings}
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


def predicted_power(case: Case, values: Mapping[str, float], variant_id: int) -> Interval | None:
    """Watts of a setting under one workload, tried or not; None where nothing is known."""
    model = read_power(case).model
    if model is None or variant_id not in model.law.workloads or not model.law.fits:
        return None
    return foretell(model, variant_id, values).power_w


def foretold_view(case: Case, rig: Sequence[Case], values: Mapping[str, float], variant: Variant) -> ForetoldView:
    """A setting not tried, under one workload; where nothing can be told, why."""
    read = read_power(case)
    title = describe_setting(case.campaign.knobs, values)
    why = read.refused
    if read.model and variant.id not in read.model.law.workloads:
        why = f"No run of {variant.name} has power, core clock and voltage yet."
    elif read.model and not read.model.law.fits:
        why = "The law of power does not fit the runs there are."
    if read.model is None or why:
        return ForetoldView(title, None, None, None, False, why, None, None, [])
    found = foretell(read.model, variant.id, values)
    temp, room = _settles(case, rig, found.power_w)
    told: dict[Quantity, Interval | None] = {"temperature": temp, "power": found.power_w}
    beyond = predicted_breaches(case.campaign.rails, {name: (one.value, one.high) for name, one in told.items() if one})
    return ForetoldView(
        title,
        found.core_mhz,
        found.voltage_v,
        found.power_w,
        found.held,
        found.why,
        temp,
        room,
        [f"{one.words[0].upper()}{one.words[1:]}" for one in beyond],
    )


def _settles(case: Case, rig: Sequence[Case], power: Interval | None) -> tuple[Interval | None, float | None]:
    """Where the part would settle at these watts, with the fitting's cooler in the room of its newest log."""
    own, room = _cooling_of(case, rig)
    if own is None or power is None or room is None:
        return None, room
    return foretold(own, power.value, room), room


Cooling = tuple[Interval | None, float | None]


def _cooling_of(case: Case, rig: Sequence[Case]) -> Cooling:
    """Thermal resistance of the fitting's cooler, and the room in the newest log."""
    logged, _ = logged_heat(rig)
    fitting = case.campaign.judged_fitting
    own = next((one for one in by_fitting(coolings_of(logged)) if fitting and one.fitting_id == fitting.id), None)
    room = next((one.trace.room_c for one in reversed(logged) if one.trace.room_c is not None), None)
    return own.resistance if own else None, room
