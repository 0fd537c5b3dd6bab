"""The laboratory: models fitted from a campaign's runs and logs, and what they predict."""

from collections.abc import Sequence
from typing import Annotated, Any

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign, found_case, found_case_alone, found_rig, one_of
from trelvo.api.queue import QueueOut, queue_out
from trelvo.api.schema import Schema
from trelvo.bench.sweep import line_up_sweep
from trelvo.core.base.knobs import checked_values
from trelvo.core.case import Case
from trelvo.core.lab.budget import BudgetView, budget_view
from trelvo.core.lab.curve import CurveView, Wish, curve_view
from trelvo.core.lab.droop import DroopView, droop_view
from trelvo.core.lab.heat import HeatView, heat_view
from trelvo.core.lab.heat_logs import HeatNow, heat_now
from trelvo.core.lab.power import PowerView, power_view
from trelvo.core.lab.predicted import PredictedView, predicted_view
from trelvo.core.lab.response import ResponseView, response_view
from trelvo.core.lab.sweep import SweepView, SweepWish, sweep_view
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.sound import fit_noise, together
from trelvo.core.laws.supply import (
    RATINGS,
    Delivered,
    Rating,
    from_the_wall,
    less_the_rest,
    load_line_mohm,
    rail_w,
)
from trelvo.core.laws.vf_curve import GRID_MHZ, MOST_OFFSET_MHZ, read_curve
from trelvo.core.watch.held_back import HeldBack
from trelvo.logbook.answers.held_back import held_back_in
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.curve import set_curve
from trelvo.logbook.kept_logs import KeptLogs, sent_part
from trelvo.logbook.models import LiveRun, Series
from trelvo.logbook.rows.live_series import sent_of

router = Router(tags=["lab"])


def _logs(cases: Sequence[Case]) -> KeptLogs:
    return KeptLogs([case.campaign.id for case in cases])


Number = Annotated[float | None, Query(ge=-1e6, le=1e6)]
Degrees = Annotated[float | None, Query(ge=-60, le=150)]


@router.get("/campaigns/{int:campaign_id}/heat", response={200: HeatView, 404: Problems, 422: Problems})
def show_heat(
    request: HttpRequest,
    campaign_id: int,
    run_id: Query[int | None] = None,
    limit_c: Degrees = None,
    room_c: Degrees = None,
    setting_id: Query[int | None] = None,
) -> Any:
    """What the campaign's logs say of heat: where each settles, what the cooler is worth, what a limit asks of it.

    run_id: the log to draw; limit_c, room_c: what the cooler's need is computed for; setting_id: whose watts (stock)
    """
    case, rig = found_rig(campaign_id)
    if setting_id is not None:
        one_of(case.campaign.settings, setting_id)
    return heat_view(case, rig, _logs(rig), run_id, limit_c, room_c, setting_id)


@router.get("/live/{int:run_id}/heat", response={200: HeatNow, 404: Problems, 422: Problems})
def show_heat_now(request: HttpRequest, run_id: int) -> Any:
    """What a run that goes on predicts of its temperature."""
    live = get_object_or_404(LiveRun.objects.select_related("run"), run_id=run_id)
    case, rig = found_rig(live.run.campaign_id)
    run = one_of(case.campaign.runs, run_id)
    return heat_now(rig, _logs(rig), run, sent_part(live, sent_of(live, list(live.chunks.all()))))


@router.get("/series/{int:series_id}/held-back", response={200: HeldBack, 404: Problems, 422: Problems})
def show_held_back(request: HttpRequest, series_id: int) -> Any:
    """What held the part back in each second of a kept log, and the levels of its clock."""
    series = Series.objects.select_related("run__campaign", "run__setting", "run__variant__workload")
    return held_back_in(get_object_or_404(series, pk=series_id, kind=Series.Kind.TELEMETRY))


class PredictIn(Schema):
    """values: by knob key, what is at stock left out"""

    values: dict[str, float] = Field(default_factory=dict, max_length=20)
    workload_id: int


@router.get("/campaigns/{int:campaign_id}/power", response={200: PowerView, 404: Problems, 422: Problems})
def show_power(
    request: HttpRequest,
    campaign_id: int,
    workload_id: Query[int | None] = None,
    setting_id: Query[int | None] = None,
    hours_a_day: Annotated[float, Query(ge=0, le=24)] = 3.0,
    price: Annotated[float | None, Query(ge=0, le=1e6)] = None,
) -> Any:
    """The law of the part's watts, what each knob costs (at a setting, stock where none is named), and a year's energy."""
    case = found_case_alone(campaign_id)
    if setting_id is not None:
        one_of(case.campaign.settings, setting_id)
    return power_view(case, workload_id, setting_id, hours_a_day, price)


@router.post("/campaigns/{int:campaign_id}/predict", response={200: PredictedView, 404: Problems, 422: Problems})
def predict_setting(request: HttpRequest, campaign_id: int, body: PredictIn) -> Any:
    """What a setting not yet tried would reach, draw and heat up to under a workload. Stores nothing."""
    case, rig = found_rig(campaign_id)
    variant = one_of(case.campaign.known_variants, body.workload_id)
    return predicted_view(case, rig, _logs(rig), checked_values(case.campaign.knobs, body.values), variant)


@router.get("/campaigns/{int:campaign_id}/response", response={200: ResponseView, 404: Problems, 422: Problems})
def show_response(request: HttpRequest, campaign_id: int) -> ResponseView:
    """Speed against power by each way of saving: curves, what is retained at round watts, both ways at equal speed and power."""
    return response_view(found_case(campaign_id))


@router.get("/campaigns/{int:campaign_id}/budget", response={200: BudgetView, 404: Problems, 422: Problems})
def show_budget(request: HttpRequest, campaign_id: int) -> Any:
    """Watts that processor and graphics share: who gets what, what a watt moved brings, limit and split for the goal."""
    return budget_view(found_case_alone(campaign_id))


@router.get("/campaigns/{int:campaign_id}/sweep", response={200: SweepView, 404: Problems, 422: Problems})
def show_sweep(
    request: HttpRequest,
    campaign_id: int,
    knob: Annotated[str | None, Query(max_length=80)] = None,
    first: Number = None,
    last: Number = None,
    every: Number = None,
) -> SweepView:
    """A knob's values against the workloads: speed, watts and degrees of each, and what nobody has run yet."""
    return sweep_view(found_case_alone(campaign_id), SweepWish(knob, first, last, every))


class SweepIn(Schema):
    """The values to run, as they were shown; repeats and speed of the simulator for what is missing"""

    knob: str = Field(max_length=80)
    first: float
    last: float
    every: float
    repeats: int = 1
    speed: float = 60.0


@router.post("/campaigns/{int:campaign_id}/sweep", response={200: QueueOut, 404: Problems, 422: Problems})
def run_sweep(request: HttpRequest, campaign_id: int, body: SweepIn) -> QueueOut:
    """Makes the settings of a sweep that are not there, and lines up every cell that was not run, on the simulator."""
    campaign = found_campaign(campaign_id)
    view = sweep_view(case_alone(campaign), SweepWish(body.knob, body.first, body.last, body.every))
    line_up_sweep(campaign, view, body.repeats, body.speed, timezone.now())
    return queue_out(campaign)


class CurveIn(Schema):
    """text: a voltage and a clock a line; empty forgets the curve"""

    text: str = Field(max_length=40_000)


@router.get("/campaigns/{int:campaign_id}/curve", response={200: CurveView, 404: Problems, 422: Problems})
def show_curve(
    request: HttpRequest,
    campaign_id: int,
    cap_v: Annotated[float | None, Query(gt=0, le=20)] = None,
    target_mhz: Annotated[float | None, Query(gt=0, le=20_000)] = None,
    grid_mhz: Annotated[float, Query(gt=0, le=500)] = GRID_MHZ,
    most_offset_mhz: Annotated[float, Query(ge=0, le=5000)] = MOST_OFFSET_MHZ,
    for_clock: Number = None,
) -> Any:
    """The part's clock over voltage, shaped for a voltage cap and a target clock; and the edge over both knobs."""
    case = found_case(campaign_id)
    return curve_view(case, _logs([case]), Wish(cap_v, target_mhz, grid_mhz, most_offset_mhz, for_clock))


@router.put("/campaigns/{int:campaign_id}/curve", response={200: CurveView, 404: Problems, 422: Problems})
def keep_curve(request: HttpRequest, campaign_id: int, body: CurveIn) -> Any:
    """Takes over a curve from text, or forgets the one there is; what was learnt from logs counts then."""
    set_curve(found_campaign(campaign_id), read_curve(body.text) if body.text.strip() else [])
    case = found_case(campaign_id)
    return curve_view(case, _logs([case]), Wish())


class SupplyOut(Schema):
    """delivered: behind the supply; part_w: less everything else there, None where that was not said"""

    delivered: Delivered
    part_w: Interval | None


@router.get("/lab/supply", response={200: SupplyOut, 422: Problems})
def show_supply(
    request: HttpRequest,
    wall_w: Query[float],
    rated_w: Query[float],
    rating: Rating = "Gold",
    rest_w: Annotated[float | None, Query(ge=0, le=3000)] = None,
    rest_give_or_take_w: Annotated[float, Query(ge=0, le=1000)] = 0.0,
) -> SupplyOut:
    """From a meter at the wall to direct current, and to one part where the watts of all else are known."""
    delivered = from_the_wall(wall_w, rated_w, RATINGS[rating])
    if rest_w is None:
        return SupplyOut(delivered=delivered, part_w=None)
    return SupplyOut(delivered=delivered, part_w=less_the_rest(delivered.dc_w, rest_w, rest_give_or_take_w))


class DroopOut(Schema):
    """The load line's resistance, and the watts at that voltage and current"""

    load_line_mohm: float
    load_w: float


@router.get("/lab/droop", response={200: DroopOut, 422: Problems})
def show_droop(
    request: HttpRequest,
    idle_v: Annotated[float, Query(ge=0.001, le=20)],
    load_v: Annotated[float, Query(ge=0.001, le=20)],
    amperes: Annotated[float, Query(ge=0.001, le=2000)],
) -> DroopOut:
    """What the voltage loses under a current."""
    return DroopOut(load_line_mohm=load_line_mohm(idle_v, load_v, amperes), load_w=rail_w(load_v, amperes))


@router.get("/campaigns/{int:campaign_id}/droop", response={200: DroopView, 404: Problems})
def show_learnt_droop(request: HttpRequest, campaign_id: int) -> Any:
    """What the tuned part's voltage loses under current, learnt from logs, at each setting of the load line."""
    case = found_case_alone(campaign_id)
    return droop_view(case, _logs([case]))


class SoundOut(Schema):
    """at_fan_dba: at the other fan speed, by the fan laws; both_dba: with a second source"""

    at_fan_dba: Interval | None
    both_dba: float | None


@router.get("/lab/sound", response={200: SoundOut, 422: Problems})
def show_sound(
    request: HttpRequest,
    dba: Annotated[float, Query(ge=0, le=140)],
    fan: Annotated[float | None, Query(gt=0, le=110)] = None,
    other_fan: Annotated[float | None, Query(gt=0, le=110)] = None,
    other_dba: Annotated[float | None, Query(ge=0, le=140)] = None,
) -> SoundOut:
    """Noise at another fan speed, and of two sources at once."""
    law = fit_noise([(fan, dba)]) if fan is not None and other_fan is not None else None
    return SoundOut(
        at_fan_dba=law.at(other_fan) if law and other_fan is not None else None,
        both_dba=together([dba, other_dba]) if other_dba is not None else None,
    )
