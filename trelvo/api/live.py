"""Live runs as the screens see them: start on the simulator, watch, note, end, answer."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign
from trelvo.api.schema import Schema
from trelvo.bench.runs import SPEEDS, open_on_simulator
from trelvo.core.base.knobs import describe_setting
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.watch.contact import Likely
from trelvo.core.watch.safety_limits import SafetyLimit, beyond_ceiling, wanted_words
from trelvo.logbook.answers.live_news import LiveStanding, news_of, unwatched_safety_limits
from trelvo.logbook.commands.live import add_mark, finish, likely
from trelvo.logbook.commands.safety_limits import set_safety_limits
from trelvo.logbook.models import LiveRun, Mark, Setting, Variant
from trelvo.logbook.rows.lookups import knobs_of, safety_limits_of

router = Router(tags=["live"])


class MarkOut(Schema):
    kind: str
    made_at: datetime
    at_s: float | None
    text: str


class LiveOut(Schema):
    """A live run: what it is, how it stands, and what its bench can and cannot watch."""

    run_id: int
    campaign_id: int
    campaign_name: str
    rig_name: str
    setting_id: int
    workload_id: int
    setting_title: str
    workload_name: str
    bench: str
    simulator: bool
    speed: float
    opened_at: datetime
    standing: LiveStanding
    channels: list[dict[str, Any]]
    limits: dict[str, float]
    safety_limits: list[SafetyLimit]
    unwatched: list[SafetyLimit]
    marks: list[MarkOut]
    likely: Likely | None


def live_out(live: LiveRun) -> LiveOut:
    run = live.run
    # one look for both, so that a run that falls silent just now is not shown without its question
    standing = news_of(run.pk, 2**62).standing
    return LiveOut(
        run_id=run.pk,
        campaign_id=run.campaign_id,
        campaign_name=run.campaign.name,
        rig_name=run.campaign.rig.name,
        setting_id=run.setting_id,
        workload_id=run.variant_id,
        setting_title=describe_setting(knobs_of(run.campaign), run.setting.values),
        workload_name=run.variant.name,
        bench=live.bench,
        simulator=live.simulator,
        speed=live.speed,
        opened_at=live.opened_at,
        standing=standing,
        channels=live.channels,
        limits=live.limits,
        safety_limits=safety_limits_of(run.campaign),
        unwatched=unwatched_safety_limits(live),
        marks=[MarkOut.from_orm(mark) for mark in run.marks.all()],
        likely=likely(live) if standing.state == LiveRun.State.LOST else None,
    )


def found_live(run_id: int) -> LiveRun:
    lives = LiveRun.objects.select_related("run__campaign__rig", "run__setting", "run__variant__workload")
    return get_object_or_404(lives, run_id=run_id)


@router.get("/live", response=list[LiveOut])
def list_live(request: HttpRequest) -> list[LiveOut]:
    """Runs that have not ended: those that go on, and those whose bench fell silent and that wait for an answer."""
    lives = LiveRun.objects.exclude(state=LiveRun.State.ENDED)
    return [
        live_out(live) for live in lives.select_related("run__campaign__rig", "run__setting", "run__variant__workload")
    ]


class StartIn(Schema):
    setting_id: int
    workload_id: int
    speed: float = 1.0
    minutes: float | None = None
    confirmation: str = Field("", max_length=300)


class Ceiling(Schema):
    """What has to be typed before a setting beyond a ceiling is opened; empty when it is below."""

    words: str


@router.get("/campaigns/{int:campaign_id}/ceiling", response={200: Ceiling, 404: Problems})
def show_ceiling(request: HttpRequest, campaign_id: int, setting_id: Query[int]) -> Ceiling:
    """Whether a setting stands beyond a voltage ceiling."""
    campaign = found_campaign(campaign_id)
    setting = get_object_or_404(campaign.settings, pk=setting_id)
    return Ceiling(words=wanted_words(beyond_ceiling(knobs_of(campaign), setting.values, safety_limits_of(campaign))))


@router.post("/campaigns/{int:campaign_id}/live", response={201: LiveOut, 404: Problems, 422: Problems})
def start_live(request: HttpRequest, campaign_id: int, body: StartIn) -> Status[LiveOut]:
    """Opens a run on the campaign's simulator rig; it begins at once."""
    campaign = found_campaign(campaign_id)
    setting = get_object_or_404(Setting, pk=body.setting_id)
    workload = get_object_or_404(Variant, pk=body.workload_id)
    live = open_on_simulator(campaign, setting, workload, body.speed, timezone.now(), body.minutes, body.confirmation)
    return Status(201, live_out(live))


@router.get("/runs/{int:run_id}/live", response={200: LiveOut, 404: Problems})
def show_live(request: HttpRequest, run_id: int) -> LiveOut:
    """A live run, also after it has ended."""
    return live_out(found_live(run_id))


class NoteIn(Schema):
    text: str = Field(max_length=1000)


@router.post("/runs/{int:run_id}/live/notes", response={201: MarkOut, 404: Problems, 422: Problems})
def note_live(request: HttpRequest, run_id: int, body: NoteIn) -> Status[Mark]:
    """A remark at the present moment of the run."""
    return Status(201, add_mark(found_live(run_id).pk, Mark.Kind.NOTE, body.text, timezone.now()))


class EndIn(Schema):
    """How the run ended, by whoever saw it; also the answer to connection lost."""

    outcome: Outcome
    value: float | None = None
    note: str = Field("", max_length=900)


@router.post("/runs/{int:run_id}/live/end", response={200: LiveOut, 404: Problems, 422: Problems})
def end_live(request: HttpRequest, run_id: int, body: EndIn) -> LiveOut:
    """Ends a live run; the bench is told to stop with the next batch it sends."""
    finish(found_live(run_id).pk, body.outcome, body.value, body.note, timezone.now())
    return live_out(found_live(run_id))


class SafetyLimitsIO(Schema):
    safety_limits: list[SafetyLimit] = Field(max_length=40)


class SafetyLimitsChange(SafetyLimitsIO):
    """seen: as they stood in the form; where they are others by now, the change is refused"""

    seen: list[SafetyLimit] | None = Field(None, max_length=40)


class BenchOptions(Schema):
    """Speeds of the simulator."""

    speeds: list[float]


@router.get("/bench-options", response=BenchOptions)
def bench_options(request: HttpRequest) -> BenchOptions:
    """What can be chosen for live runs."""
    return BenchOptions(speeds=list(SPEEDS))


@router.get("/campaigns/{int:campaign_id}/safety-limits", response={200: SafetyLimitsIO, 404: Problems})
def show_safety_limits(request: HttpRequest, campaign_id: int) -> SafetyLimitsIO:
    """The campaign's safety limits."""
    return SafetyLimitsIO(safety_limits=safety_limits_of(found_campaign(campaign_id)))


@router.put("/campaigns/{int:campaign_id}/safety-limits", response={200: SafetyLimitsIO, 404: Problems, 422: Problems})
def keep_safety_limits(request: HttpRequest, campaign_id: int, body: SafetyLimitsChange) -> SafetyLimitsIO:
    """Safety limits from now on: runs that go on are checked against them too."""
    campaign = found_campaign(campaign_id)
    set_safety_limits(campaign, body.safety_limits, body.seen)
    return SafetyLimitsIO(safety_limits=safety_limits_of(campaign))
