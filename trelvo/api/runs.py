from datetime import datetime
from typing import Any

from django.db.models import Prefetch
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Query, Router, Schema, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.core.base.instruments import Point
from trelvo.core.base.knobs import describe_setting
from trelvo.core.base.runs import Outcome
from trelvo.logbook.acts.runs import RunDraft, log_run, set_aside, take_back
from trelvo.logbook.models import Campaign, Run, Series, Setting, Workload
from trelvo.logbook.rows.facts import knobs_of

router = Router(tags=["runs"])


class RunFigures(Schema):
    """What a run can hold, typed or read from a log."""

    setting_id: int
    workload_id: int
    outcome: Outcome
    value: float | None = None
    duration_s: float | None = None
    low_1_fps: float | None = None
    low_01_fps: float | None = None
    power_w: float | None = None
    power_point: Point = "unknown"
    temp_max_c: float | None = None
    room_c: float | None = None
    core_mhz: float | None = None
    memory_mhz: float | None = None
    voltage_v: float | None = None
    fan: str = Field("", max_length=60)
    note: str = Field("", max_length=4000)


class RunIn(RunFigures):
    started_at: datetime | None = None

    def draft(self) -> RunDraft:
        return RunDraft(**self.dict(exclude={"setting_id", "workload_id"}))


class SeriesOut(Schema):
    id: int
    kind: str
    file_name: str
    rows: int
    channels: list[dict[str, Any]]
    summary: dict[str, Any]


class RunOut(RunFigures):
    id: int
    campaign_id: int
    fitting_number: int
    setting_title: str
    workload_name: str
    unit: str
    started_at: datetime
    temp_mean_c: float | None
    typed: dict[str, Any]
    log_figures: list[str]
    set_aside_at: datetime | None
    set_aside_reason: str
    series: list[SeriesOut]
    live_state: str

    @staticmethod
    def resolve_live_state(run: Run) -> str:
        """Empty for a run that was logged by hand."""
        return run.live.state if hasattr(run, "live") else ""

    @staticmethod
    def resolve_fitting_number(run: Run) -> int:
        return run.fitting.number

    @staticmethod
    def resolve_setting_title(run: Run) -> str:
        return describe_setting(knobs_of(run.campaign), run.setting.values)

    @staticmethod
    def resolve_workload_name(run: Run) -> str:
        return run.workload.name

    @staticmethod
    def resolve_unit(run: Run) -> str:
        return run.workload.unit

    @staticmethod
    def resolve_series(run: Run) -> list[Series]:
        return list(run.series.all())


class Reason(Schema):
    reason: str = Field(max_length=300)


def found_run(run_id: int) -> Run:
    runs = Run.objects.select_related("campaign", "setting", "workload", "fitting", "live")
    return get_object_or_404(runs.prefetch_related(Prefetch("series", Series.objects.defer("parquet"))), pk=run_id)


@router.get("/campaigns/{int:campaign_id}/runs", response={200: list[RunOut], 404: Problems})
def list_runs(
    request: HttpRequest, campaign_id: int, setting_id: Query[int | None] = None, workload_id: Query[int | None] = None
) -> list[Run]:
    """Runs of a campaign in the order they were made, of one setting or workload where asked."""
    campaign = get_object_or_404(Campaign.objects.prefetch_related("knobs"), pk=campaign_id)
    runs = campaign.runs.select_related("setting", "workload", "fitting", "live").prefetch_related(
        Prefetch("series", Series.objects.defer("parquet"))
    )
    if setting_id is not None:
        runs = runs.filter(setting_id=setting_id)
    if workload_id is not None:
        runs = runs.filter(workload_id=workload_id)
    found = list(runs)
    for run in found:
        run.campaign = campaign  # one instance for all, with its knobs read once
    return found


@router.post("/campaigns/{int:campaign_id}/runs", response={201: RunOut, 404: Problems, 422: Problems})
def make_run(request: HttpRequest, campaign_id: int, body: RunIn) -> Status[Run]:
    """Logs a run that has taken place."""
    campaign = get_object_or_404(Campaign, pk=campaign_id)
    setting = get_object_or_404(Setting, pk=body.setting_id)
    workload = get_object_or_404(Workload, pk=body.workload_id)
    return Status(201, log_run(campaign, setting, workload, body.draft(), timezone.now()))


@router.get("/runs/{int:run_id}", response={200: RunOut, 404: Problems})
def show_run(request: HttpRequest, run_id: int) -> Run:
    """One run with its logs."""
    return found_run(run_id)


@router.post("/runs/{int:run_id}/set-aside", response={200: RunOut, 404: Problems, 422: Problems})
def leave_out(request: HttpRequest, run_id: int, body: Reason) -> Run:
    """Leaves a run out of every mean; it stays in the log with the reason."""
    return set_aside(found_run(run_id), body.reason, timezone.now())


@router.post("/runs/{int:run_id}/take-back", response={200: RunOut, 404: Problems})
def count_again(request: HttpRequest, run_id: int) -> Run:
    """Lets a run that was set aside count again."""
    return take_back(found_run(run_id))
