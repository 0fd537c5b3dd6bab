"""The run protocol for real benches, behind a token; described in docs/formats.md."""

from uuid import UUID

from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from ninja.security import HttpBearer
from pydantic import Field, FiniteFloat

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.core.base.instruments import Instrument
from trelvo.core.base.knobs import fingerprint
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.core.watch.contact import HEARTBEAT_S, LOST_AFTER_S
from trelvo.core.watch.safety_limits import SafetyLimit
from trelvo.exchange.protocol.agent_file import agent_file
from trelvo.exchange.protocol.messages import declared_channels, read_batch
from trelvo.logbook.answers.live_news import unwatched_safety_limits
from trelvo.logbook.commands.bench_tokens import known_token
from trelvo.logbook.commands.live import LiveDraft, Receipt, add_mark, finish, heartbeat, open_run, take_batch_of
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.disk import without_waiting_for_the_disk
from trelvo.logbook.models import BenchToken, Campaign, LiveRun, Mark, Setting
from trelvo.logbook.rows.lookups import safety_limits_of, testable


class BenchKey(HttpBearer):
    """Lets in who shows a token that is known and not withdrawn."""

    def authenticate(self, request: HttpRequest, token: str) -> BenchToken | None:
        return known_token(token, timezone.now())


router = Router(tags=["bench"], auth=BenchKey())


@router.get("/bench/agent.pyz", auth=None, include_in_schema=False)
def send_agent(request: HttpRequest) -> HttpResponse:
    """The agent as one file. It holds no secret, and is fetched by a machine that has nothing yet."""
    headers = {"Content-Disposition": 'attachment; filename="trelvo-agent.pyz"'}
    return HttpResponse(agent_file(), content_type="application/zip", headers=headers)


class ChannelIn(Schema):
    name: str = Field(min_length=1, max_length=120)
    quantity: str = Field(max_length=40)
    unit: str = Field("", max_length=20)
    point: str = Field("", max_length=20)
    part: str = Field("", max_length=20)
    instrument: str = Field("", max_length=80)


class OpenIn(Schema):
    """uid: made by the bench, so that asking twice opens one run. setting: knob keys to values, stock where left out."""

    uid: UUID
    bench: str = Field(min_length=1, max_length=120)
    campaign_id: int
    workload: str = Field(max_length=120)
    setting: dict[str, FiniteFloat] = Field(default_factory=dict)
    minutes: FiniteFloat | None = Field(None, gt=0, le=24 * 60)
    channels: list[ChannelIn]
    limits: dict[str, FiniteFloat] = Field(default_factory=dict)
    room_c: FiniteFloat | None = None
    fan: str = Field("", max_length=60)
    note: str = Field("", max_length=4000)
    confirmation: str = Field("", max_length=300)


class Opened(Schema):
    """heartbeat_s: how often at least to speak; lost_after_s: silence that counts as connection lost."""

    run_id: int
    planned_s: float
    through: int
    heartbeat_s: float
    lost_after_s: float
    safety_limits: list[SafetyLimit]
    unwatched: list[SafetyLimit]
    possible: dict[str, tuple[float, float]]


class BatchIn(Schema):
    """sequence: from 1, one more each time. values: by channel, as many as times, null where a reading is missing."""

    sequence: int = Field(ge=1, le=2_000_000_000)
    time_s: list[FiniteFloat]
    values: dict[str, list[FiniteFloat | None]] = Field(default_factory=dict)
    frames_ms: list[FiniteFloat] = Field(default_factory=list, max_length=200_000)


class MarkIn(Schema):
    kind: Mark.Kind = Mark.Kind.NOTE
    text: str = Field(min_length=1, max_length=1000)
    at_s: FiniteFloat | None = Field(None, ge=0)


class FinishIn(Schema):
    outcome: Outcome
    value: FiniteFloat | None = Field(None, gt=0)
    note: str = Field("", max_length=900)


class BenchWorkload(Schema):
    name: str
    unit: str
    minutes: float


class BenchKnob(Schema):
    key: str
    name: str
    unit: str
    stock: float
    step: float


class BenchInstrument(Schema):
    """One that a channel can name."""

    name: str
    quantity: str


class BenchCampaign(Schema):
    id: int
    name: str
    workloads: list[BenchWorkload]
    knobs: list[BenchKnob]
    instruments: list[BenchInstrument]


def token_of(request: HttpRequest) -> BenchToken:
    token: BenchToken = request.auth  # type: ignore[attr-defined]  # put there by BenchKey
    return token


def _instruments(token: BenchToken) -> list[Instrument]:
    return [row.as_instrument() for row in token.rig.instruments.all()]


def own_live(request: HttpRequest, run_id: int) -> LiveRun:
    """The run, if this token opened it; to everyone else it is not there."""
    return get_object_or_404(LiveRun, run_id=run_id, token=token_of(request))


@router.get("/bench/campaigns", response=list[BenchCampaign])
def list_own(request: HttpRequest) -> list[BenchCampaign]:
    """Campaigns of the token's rig, with the workloads and knobs that a run is opened with."""
    token = token_of(request)
    instruments = [BenchInstrument(name=one.name, quantity=one.quantity) for one in _instruments(token)]
    return [
        BenchCampaign(
            id=campaign.pk,
            name=campaign.name,
            workloads=[BenchWorkload.from_orm(workload) for workload in testable(campaign)],
            knobs=[BenchKnob.from_orm(knob) for knob in campaign.knobs.all()],
            instruments=instruments,
        )
        for campaign in Campaign.objects.present().filter(rig=token.rig)
    ]


@router.post("/bench/runs", response={201: Opened, 401: Problems, 404: Problems, 422: Problems})
def open_on_bench(request: HttpRequest, body: OpenIn) -> Status[Opened]:
    """Writes the run before it starts."""
    token = token_of(request)
    campaign = Campaign.objects.present().filter(pk=body.campaign_id, rig=token.rig).first()
    if campaign is None:
        raise Http404
    wanted = body.workload.strip().casefold()
    workload = next((one for one in testable(campaign) if one.name.casefold() == wanted), None)
    if workload is None:
        known = ", ".join(one.name for one in testable(campaign))
        raise Refused(
            Problem(
                "workload",
                "no_such_workload_named",
                {"campaign": campaign.name, "workload": body.workload, "known": known},
            )
        )
    draft = LiveDraft(
        bench=body.bench.strip(),
        channels=declared_channels([channel.dict() for channel in body.channels], _instruments(token)),
        planned_s=(body.minutes or workload.minutes) * 60,
        limits={key: limit for key, limit in body.limits.items() if key in ("power_w", "temp_c")},
        room_c=body.room_c,
        fan=body.fan,
        note=body.note,
        confirmation=body.confirmation,
        uid=body.uid,
    )
    live = open_run(campaign, _setting(campaign, body.setting), workload, draft, timezone.now(), token)
    quantities = {channel["quantity"] for channel in live.channels}
    return Status(
        201,
        Opened(
            run_id=live.run_id,
            planned_s=live.planned_s,
            through=live.through,
            heartbeat_s=HEARTBEAT_S,
            lost_after_s=LOST_AFTER_S,
            safety_limits=safety_limits_of(campaign),
            unwatched=unwatched_safety_limits(live),
            possible={q: (kind.low, kind.high) for q, kind in QUANTITIES.items() if q in quantities and q != "other"},
        ),
    )


def _setting(campaign: Campaign, values: dict[str, float]) -> Setting:
    """The setting with these values; a new one when there is none yet."""
    stock = {knob.key: knob.stock for knob in campaign.knobs.all()}
    turned = {key: float(value) for key, value in values.items() if value != stock.get(key)}
    found = campaign.settings.filter(fingerprint=fingerprint(turned)).first()
    return found or add_setting(campaign, values, "", timezone.now())


@router.post("/bench/runs/{int:run_id}/batches", response={200: Receipt, 401: Problems, 404: Problems, 422: Problems})
def send_batch(request: HttpRequest, run_id: int, body: BatchIn) -> Receipt:
    """Takes readings in. The same batch again does no harm; batches may come in any order."""
    with without_waiting_for_the_disk(), transaction.atomic():
        live = own_live(request, run_id)
        batch = read_batch(live.channels, body.sequence, body.time_s, body.values, body.frames_ms)
        return take_batch_of(live, batch, timezone.now())


@router.post("/bench/runs/{int:run_id}/heartbeat", response={200: Receipt, 401: Problems, 404: Problems})
def beat(request: HttpRequest, run_id: int) -> Receipt:
    """The bench is there, even if it has nothing to send."""
    with without_waiting_for_the_disk():
        return heartbeat(own_live(request, run_id).pk, timezone.now())


@router.post("/bench/runs/{int:run_id}/marks", response={201: None, 401: Problems, 404: Problems, 422: Problems})
def send_mark(request: HttpRequest, run_id: int, body: MarkIn) -> Status[None]:
    """Notes a phase or a remark."""
    kind = body.kind if body.kind in (Mark.Kind.PHASE, Mark.Kind.NOTE) else Mark.Kind.NOTE
    add_mark(own_live(request, run_id).pk, kind, body.text, timezone.now(), body.at_s)
    return Status(201, None)


@router.post("/bench/runs/{int:run_id}/finish", response={200: Receipt, 401: Problems, 404: Problems, 422: Problems})
def end_on_bench(request: HttpRequest, run_id: int, body: FinishIn) -> Receipt:
    """Ends the run. Said twice it does no harm."""
    live = finish(own_live(request, run_id).pk, body.outcome, body.value, body.note, timezone.now())
    return Receipt(live.through, [], f"ended: {live.run.outcome}")
