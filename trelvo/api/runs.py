from datetime import datetime
from typing import Annotated, Any, cast
from uuid import UUID

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign
from trelvo.api.schema import Schema
from trelvo.core.base.figures import FigureKey, Part, Statistic
from trelvo.core.base.instruments import Point
from trelvo.core.base.knobs import describe_setting
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.registry.quantities import Quantity
from trelvo.core.stats.plausible import far_off, figure_far_off
from trelvo.logbook.answers.runs import FigureView, figures_of, with_figures
from trelvo.logbook.commands.corrections import Correction, FigureFix, correct_run
from trelvo.logbook.commands.runs import FigureDraft, RunDraft, log_run, set_aside, take_back, typed_before
from trelvo.logbook.models import Campaign, Run, Setting, Variant
from trelvo.logbook.rows.lookups import knobs_of, known_figures, known_results

router = Router(tags=["runs"])

# So many runs are given in full at once.
MOST_RUNS = 200


class FigureIn(Schema):
    """A figure as typed, in its quantity's own unit. point: where power was read, on rigs without described instruments"""

    quantity: Quantity
    part: Part = "tuned part"
    statistic: Statistic = "mean"
    value: float
    instrument_id: int | None = None
    point: Point = "unknown"

    def draft(self) -> FigureDraft:
        return FigureDraft(
            FigureKey(self.quantity, self.part, self.statistic), self.value, self.instrument_id, self.point
        )


class RunIn(Schema):
    """sure: the run stands as it is, however far from what is known, or like one in the log

    uid: of the sender's choice; sent again under it, the run is the one that was logged the first time
    """

    uid: UUID | None = None
    setting_id: int
    workload_id: int
    outcome: Outcome
    value: float | None = None
    duration_s: float | None = None
    fan: str = Field("", max_length=60)
    note: str = Field("", max_length=4000)
    started_at: datetime | None = None
    figures: list[FigureIn] = Field(default_factory=list, max_length=60)
    sure: bool = False

    def draft(self) -> RunDraft:
        fields = self.dict(exclude={"setting_id", "workload_id", "figures", "sure"})
        return RunDraft(**fields, figures=[figure.draft() for figure in self.figures])


class SeriesOut(Schema):
    id: int
    kind: str
    file_name: str
    rows: int
    channels: list[dict[str, Any]]
    summary: dict[str, Any]


class RunOut(Schema):
    """A run with its figures. live_state: empty for a run that was logged by hand; corrections: what was changed afterwards"""

    id: int
    campaign_id: int
    campaign_name: str
    rig_id: int
    rig_name: str
    setting_id: int
    setting_title: str
    workload_id: int
    workload_name: str
    options_in_words: str
    unit: str
    build_number: int
    outcome: Outcome
    value: float | None
    duration_s: float | None
    frames: int | None
    fan: str
    note: str
    started_at: datetime
    figures: list[FigureView]
    typed: dict[str, Any]
    log_figures: list[str]
    set_aside_at: datetime | None
    set_aside_reason: str
    series: list[SeriesOut]
    live_state: str
    corrections: list[str]


def run_out(run: Run | int) -> RunOut:
    """A run as it is shown; by its number, or as `with_figures` has read it."""
    if isinstance(run, int):
        run = with_figures(Run.objects.all()).get(pk=run)
    return RunOut(
        id=run.pk,
        campaign_id=run.campaign_id,
        campaign_name=run.campaign.name,
        rig_id=run.campaign.rig_id,
        rig_name=run.campaign.rig.name,
        setting_id=run.setting_id,
        setting_title=describe_setting(knobs_of(run.campaign), run.setting.values),
        workload_id=run.variant_id,
        workload_name=run.variant.name,
        options_in_words=run.variant.options_in_words,
        unit=run.variant.unit,
        build_number=run.build.number,
        outcome=cast(Outcome, run.outcome),
        value=run.value,
        duration_s=run.duration_s,
        frames=run.frames,
        fan=run.fan,
        note=run.note,
        started_at=run.started_at,
        figures=figures_of(run),
        typed=run.typed,
        log_figures=run.log_figures,
        set_aside_at=run.set_aside_at,
        set_aside_reason=run.set_aside_reason,
        series=[SeriesOut.from_orm(series) for series in run.series.all()],
        live_state=run.live.state if hasattr(run, "live") else "",
        corrections=[mark.text for mark in run.marks.all() if mark.kind == "correction"],
    )


def ask_about(campaign: Campaign, setting: Setting | None, workload: Variant, draft: RunDraft) -> None:
    """Raises Refused, as a question, where something typed is far from all that was measured here, or was typed before."""
    if draft.uid is not None and Run.objects.filter(uid=draft.uid).exists():
        return
    asked: list[Problem | None] = []
    if setting and typed_before(campaign, setting, workload, draft):
        asked.append(Problem("sure", "run_typed_before"))
    if draft.value is not None:
        asked.append(far_off(draft.value, known_results(campaign, workload)))
    asked += [
        figure_far_off(figure.key, figure.value, known_figures(campaign, workload, figure.key))
        for figure in draft.figures
    ]
    if problems := [problem for problem in asked if problem]:
        raise Refused(*problems)


class FigureFixIn(Schema):
    """A figure of the run as it should be. value: null takes it away"""

    figure_id: int
    value: float | None


class CorrectionIn(Schema):
    """What is left out stays as it is; null takes a number away. added: figures that were missing; why: what was wrong"""

    outcome: Outcome | None = None
    value: float | None = None
    duration_s: float | None = None
    setting_id: int | None = None
    workload_id: int | None = None
    started_at: datetime | None = None
    fan: str | None = Field(None, max_length=60)
    figures: list[FigureFixIn] = Field(default_factory=list, max_length=100)
    added: list[FigureIn] = Field(default_factory=list, max_length=60)
    why: str = Field("", max_length=300)

    def correction(self) -> Correction:
        said = self.dict(exclude_unset=True)
        changes: dict[str, Any] = {name: said[name] for name in ("value", "duration_s") if name in said}
        changes |= {name: said[name] for name in ("outcome", "started_at", "fan") if said.get(name) is not None}
        if self.setting_id is not None:
            changes["setting"] = get_object_or_404(Setting, pk=self.setting_id)
        if self.workload_id is not None:
            changes["variant"] = get_object_or_404(Variant, pk=self.workload_id)
        fixes = [FigureFix(figure.figure_id, figure.value) for figure in self.figures]
        return Correction(changes, self.why, fixes, [one.draft() for one in self.added])


class Reason(Schema):
    reason: str = Field(max_length=300)


def found_run(run_id: int) -> Run:
    there = Run.objects.filter(campaign__deleted_at__isnull=True)
    return get_object_or_404(there.select_related("campaign__rig", "setting", "variant__workload", "build"), pk=run_id)


class RunsPage(Schema):
    """A stretch of runs, in the order they were made. total: how many there are"""

    total: int
    runs: list[RunOut]


@router.get("/campaigns/{int:campaign_id}/runs", response={200: RunsPage, 404: Problems})
def list_runs(
    request: HttpRequest,
    campaign_id: int,
    setting_id: Query[int | None] = None,
    workload_id: Query[int | None] = None,
    skip: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    count: Annotated[int, Query(ge=1, le=MOST_RUNS)] = MOST_RUNS,
) -> RunsPage:
    """The last runs of a campaign, of one setting or workload where asked. skip: leaves out so many of the newest"""
    runs = found_campaign(campaign_id).runs.all()
    if setting_id is not None:
        runs = runs.filter(setting_id=setting_id)
    if workload_id is not None:
        runs = runs.filter(variant_id=workload_id)
    newest = list(with_figures(runs.order_by("-started_at", "-id"))[skip : skip + count])
    return RunsPage(total=runs.count(), runs=[run_out(run) for run in reversed(newest)])


@router.post("/campaigns/{int:campaign_id}/runs", response={201: RunOut, 404: Problems, 422: Problems})
def make_run(request: HttpRequest, campaign_id: int, body: RunIn) -> Status[RunOut]:
    """Logs a run that has taken place."""
    campaign = found_campaign(campaign_id)
    setting = get_object_or_404(Setting, pk=body.setting_id)
    workload = get_object_or_404(Variant, pk=body.workload_id)
    if not body.sure:
        ask_about(campaign, setting, workload, body.draft())
    return Status(201, run_out(log_run(campaign, setting, workload, body.draft(), timezone.now()).pk))


@router.get("/runs/{int:run_id}", response={200: RunOut, 404: Problems})
def show_run(request: HttpRequest, run_id: int) -> RunOut:
    """One run with its figures and logs."""
    return run_out(found_run(run_id).pk)


@router.post("/runs/{int:run_id}/set-aside", response={200: RunOut, 404: Problems, 422: Problems})
def leave_out(request: HttpRequest, run_id: int, body: Reason) -> RunOut:
    """Leaves a run out of every mean; it stays in the log with the reason."""
    return run_out(set_aside(found_run(run_id), body.reason, timezone.now()).pk)


@router.post("/runs/{int:run_id}/take-back", response={200: RunOut, 404: Problems})
def count_again(request: HttpRequest, run_id: int) -> RunOut:
    """Lets a run that was set aside count again."""
    return run_out(take_back(found_run(run_id)).pk)


@router.post("/runs/{int:run_id}/correct", response={200: RunOut, 404: Problems, 422: Problems})
def put_right(request: HttpRequest, run_id: int, body: CorrectionIn) -> RunOut:
    """Corrects what was written down wrongly; what stood there before is kept and shown."""
    return run_out(correct_run(found_run(run_id), body.correction(), timezone.now()).pk)
