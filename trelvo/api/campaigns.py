from datetime import datetime
from typing import Literal

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Schema, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.rigs import FittingOut, RigIn, WorkloadOut
from trelvo.core.base.knobs import Knob
from trelvo.core.base.loads import LoadKind, Part, Technique
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.workloads import Measure
from trelvo.core.decide.stages import Standing
from trelvo.core.measure.comparison import Comparison
from trelvo.logbook.acts.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.acts.rigs import create_rig
from trelvo.logbook.answers.compare_runs import workload_facts
from trelvo.logbook.answers.standing import standing_of
from trelvo.logbook.models import Campaign, Fitting, Goal, Rig, Workload
from trelvo.logbook.rows.facts import achievement_of, knobs_of

router = Router(tags=["campaigns"])


class KnobIO(Schema):
    key: str = Field(max_length=24)
    name: str = Field(min_length=1, max_length=80)
    unit: str = Field("", max_length=12)
    stock: float
    step: float
    low: float
    high: float
    away: Literal[1, -1] = 1

    def knob(self) -> Knob:
        return Knob(self.key, self.name, self.unit, self.stock, self.step, self.low, self.high, self.away)


class WorkloadIn(Schema):
    name: str = Field(min_length=1, max_length=120)
    measure: Measure
    unit: str = Field(min_length=1, max_length=20)
    higher_is_better: bool
    minutes: float
    options: str = Field("", max_length=300)
    cap_fps: float | None = None
    kind: LoadKind = "title"
    parts: list[Part] = Field(default_factory=list, max_length=10)
    techniques: list[Technique] = Field(default_factory=list, max_length=10)

    def draft(self) -> WorkloadDraft:
        fields = self.dict() | {"parts": tuple(self.parts), "techniques": tuple(self.techniques)}
        return WorkloadDraft(**fields)


class CampaignIn(Schema):
    """rig_id names a rig that is there; rig describes a new one. workload_ids are workloads the rig already has."""

    name: str = Field(min_length=1, max_length=160)
    goal: Goal
    aim: str = Field("", max_length=300)
    rig_id: int | None = None
    rig: RigIn | None = None
    knobs: list[KnobIO] = Field(max_length=24)
    workloads: list[WorkloadIn] = Field(max_length=60)
    workload_ids: list[int] = Field(default_factory=list)


class BestOut(Schema):
    """The best rung so far, on the main workload."""

    setting_id: int
    title: str
    workload: str
    gain: Comparison
    watts_saved: float | None
    efficiency_ratio: float | None


class CampaignCard(Schema):
    id: int
    name: str
    goal: str
    goal_label: str
    aim: str
    rig_name: str
    created_at: datetime
    run_count: int
    standing: Standing
    best: BestOut | None

    @staticmethod
    def resolve_goal_label(campaign: Campaign) -> str:
        return Goal(campaign.goal).label

    @staticmethod
    def resolve_rig_name(campaign: Campaign) -> str:
        return campaign.rig.name

    @staticmethod
    def resolve_run_count(campaign: Campaign) -> int:
        return campaign.runs.count()

    @staticmethod
    def resolve_standing(campaign: Campaign) -> Standing:
        return standing_of(campaign)

    @staticmethod
    def resolve_best(campaign: Campaign) -> BestOut | None:
        best = achievement_of(campaign)
        if best is None or best.rung.gain is None:
            return None
        return BestOut(
            setting_id=best.rung.setting_id,
            title=best.rung.title,
            workload=best.workload.name,
            gain=best.rung.gain,
            watts_saved=best.rung.watts_saved,
            efficiency_ratio=best.rung.efficiency_ratio,
        )


class CampaignOut(CampaignCard):
    rig_id: int
    standin: str
    standin_seed: int
    smallest_gain: float
    wished_resolution: float
    stale_days: float
    enough_said_at: datetime | None
    weights: dict[int, float]
    temp_limit_c: float | None
    power_limit_w: float | None
    price: float | None
    currency: str
    fittings: list[FittingOut]
    knobs: list[Knob]
    workloads: list[WorkloadOut]
    battery: list[WorkloadOut]

    @staticmethod
    def resolve_standin(campaign: Campaign) -> str:
        return campaign.rig.standin

    @staticmethod
    def resolve_standin_seed(campaign: Campaign) -> int:
        return campaign.rig.standin_seed

    @staticmethod
    def resolve_weights(campaign: Campaign) -> dict[int, float]:
        return {facts.id: facts.weight for facts in workload_facts(campaign)}

    @staticmethod
    def resolve_fittings(campaign: Campaign) -> list[Fitting]:
        return list(campaign.rig.fittings.prefetch_related("parts"))

    @staticmethod
    def resolve_knobs(campaign: Campaign) -> list[Knob]:
        return knobs_of(campaign)

    @staticmethod
    def resolve_workloads(campaign: Campaign) -> list[Workload]:
        return list(campaign.workloads.all())

    @staticmethod
    def resolve_battery(campaign: Campaign) -> list[Workload]:
        return list(campaign.battery.all())


class GoalOut(Schema):
    value: str
    label: str


@router.get("/goals", response=list[GoalOut])
def list_goals(request: HttpRequest) -> list[GoalOut]:
    """The goals a campaign can have."""
    return [GoalOut(value=goal.value, label=goal.label) for goal in Goal]


@router.get("/campaigns", response=list[CampaignCard])
def list_campaigns(request: HttpRequest) -> list[Campaign]:
    """Every campaign, newest first, with where it stands and what it has gained."""
    return list(Campaign.objects.whole())


@router.get("/campaigns/{int:campaign_id}", response={200: CampaignOut, 404: Problems})
def show_campaign(request: HttpRequest, campaign_id: int) -> Campaign:
    """One campaign with its rig's fittings, knobs and workloads."""
    return get_object_or_404(Campaign.objects.whole(), pk=campaign_id)


@router.post("/campaigns", response={201: CampaignOut, 422: Problems})
@transaction.atomic
def make_campaign(request: HttpRequest, body: CampaignIn) -> Status[Campaign]:
    """A campaign on a rig that is there or a new one; all of it is stored, or nothing."""
    now = timezone.now()
    if body.rig is not None:
        rig = create_rig(body.rig.name, body.rig.fitting.draft(), now, body.rig.standin, body.rig.standin_seed)
    elif body.rig_id is not None and (found := Rig.objects.filter(pk=body.rig_id).first()) is not None:
        rig = found
    else:
        raise Refused(Problem("rig", "No rig is chosen.", "Choose a rig or describe a new one."))
    kept = list(rig.workloads.filter(pk__in=body.workload_ids))
    if len(kept) != len(set(body.workload_ids)):
        raise Refused(Problem("workload_ids", "A workload belongs to another rig.", "Choose this rig's workloads."))
    knobs = [knob.knob() for knob in body.knobs]
    drafts = [workload.draft() for workload in body.workloads]
    return Status(201, create_campaign(rig, body.name, body.goal, body.aim, knobs, drafts, now, kept))
