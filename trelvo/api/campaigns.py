from dataclasses import replace
from datetime import datetime
from typing import Any

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign, found_row_and_case
from trelvo.api.instruments import InstrumentOut
from trelvo.api.knobs import KnobChange, KnobIO
from trelvo.api.rigs import BuildOut, RigIn, WorkloadIn, WorkloadOut, build_out, workloads_out
from trelvo.api.schema import Schema
from trelvo.api.seen import check_seen
from trelvo.core.base.instruments import usual_reader
from trelvo.core.base.knobs import Knob
from trelvo.core.campaign import CampaignSnapshot
from trelvo.core.case import Case
from trelvo.core.compare.sides import workload_facts
from trelvo.core.goal.judging import Standing
from trelvo.core.goal.measures import GoalMeasure
from trelvo.core.message import Message
from trelvo.core.next_step.rules import NextStep
from trelvo.core.next_step.summary import Summary, summary_of
from trelvo.core.problems import Problem, Refused
from trelvo.core.stages import StageName
from trelvo.core.stages import Standing as StandingOut
from trelvo.core.stats.comparison import Comparison
from trelvo.core.stats.looks import Drawn
from trelvo.core.task import Task
from trelvo.core.terms import Terms, in_words
from trelvo.core.way import Way
from trelvo.exchange.quick_line.logging import begin_line
from trelvo.logbook.cases import case_of, terms_of, way_of
from trelvo.logbook.commands.campaigns import (
    Going,
    add_knob,
    add_workload,
    archive,
    change_knob,
    create_campaign,
    delete_campaign,
    retire_knob,
    retire_workload,
    take_back_deletion,
    what_goes,
)
from trelvo.logbook.commands.rigs import create_rig
from trelvo.logbook.models import Campaign, Goal, Rig, Variant
from trelvo.logbook.summaries import cards_of

router = Router(tags=["campaigns"])


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
    """The best setting so far by the goal, and what it is worth; drawn: once it is counted that it was picked from many."""

    setting_id: int
    title: str
    standing: Standing
    measure: GoalMeasure
    speed: Comparison | None
    drawn: Drawn | None


class CampaignCard(Schema):
    """goal_words: the goal as a sentence; goal_far: how far it is met; current: the stage that the next step belongs to

    standing, best, next: None where trouble says why they cannot be told, and while waiting, until they are computed
    """

    id: int
    name: str
    goal: str
    goal_label: str
    aim: str
    rig_name: str
    created_at: datetime
    archived_at: datetime | None
    run_count: int
    goal_words: Message | None
    goal_far: Message | None
    standing: StandingOut | None
    best: BestOut | None
    next: NextStep | None
    current: StageName
    trouble: Message | None
    waiting: bool = False


class CampaignOut(CampaignCard):
    """power_reader: the instrument that is taken to read watts where nobody says which; None: none is described"""

    rig_id: int
    simulator: str
    simulator_seed: int
    smallest_gain: float
    wished_resolution: float
    stale_days: float
    enough_said_at: datetime | None
    weights: dict[int, float]
    temp_limit_c: float | None
    power_limit_w: float | None
    price: float | None
    currency: str
    counting: dict[str, int]
    power_reader: int | None
    terms: Terms
    way: Way
    builds: list[BuildOut]
    knobs: list[Knob]
    workloads: list[WorkloadOut]
    test_suite: list[WorkloadOut]
    retired: list[WorkloadOut]
    instruments: list[InstrumentOut]


def _card(campaign: Campaign, case: Case, summary: Summary) -> dict[str, Any]:
    goal = summary.goal
    best = goal.best if goal else None
    shown = None
    if goal is not None and best is not None and best.measure is not None:
        shown = BestOut(
            setting_id=best.setting_id,
            title=best.title,
            standing=best.standing,
            measure=best.measure,
            speed=best.speed,
            drawn=goal.drawn,
        )
    return _named(campaign, len(case.campaign.runs)) | {
        "goal_words": goal.words if goal else None,
        "goal_far": goal.far if goal else None,
        "standing": summary.standing,
        "best": shown,
        "next": summary.next,
        "current": summary.next.step.stage if summary.next else "Prepare",
        "trouble": summary.trouble,
    }


def _named(campaign: Campaign, runs: int) -> dict[str, Any]:
    """What a card says of a campaign without working anything out."""
    return {
        "id": campaign.pk,
        "name": campaign.name,
        "goal": campaign.goal,
        "goal_label": Goal(campaign.goal).label,
        "aim": campaign.aim,
        "rig_name": campaign.rig.name,
        "created_at": campaign.created_at,
        "archived_at": campaign.archived_at,
        "run_count": runs,
    }


def _waiting(campaign: Campaign, runs: int) -> dict[str, Any]:
    """What is known of a campaign before anything of it is computed."""
    return _named(campaign, runs) | {
        "goal_words": in_words(terms_of(campaign)),
        "goal_far": None,
        "standing": None,
        "best": None,
        "next": None,
        "current": "Prepare",
        "trouble": None,
        "waiting": True,
    }


def campaign_out(campaign: Campaign) -> CampaignOut:
    """One campaign with all that its pages need around their own answers."""
    return _in_full(campaign, case_of(campaign))


def _in_full(campaign: Campaign, case: Case) -> CampaignOut:
    snapshot = case.campaign
    card = _card(campaign, case, summary_of(case, timezone.now()))
    workloads, test_suite = list(campaign.workloads.all()), list(campaign.test_suite.all())
    known = [*workloads, *test_suite]
    if card["next"] is not None:
        card["next"] = _with_lines(snapshot, card["next"])
    return CampaignOut(
        **card,
        rig_id=campaign.rig_id,
        simulator=campaign.rig.simulator,
        simulator_seed=campaign.rig.simulator_seed,
        smallest_gain=campaign.smallest_gain,
        wished_resolution=campaign.wished_resolution,
        stale_days=campaign.stale_days,
        enough_said_at=campaign.enough_said_at,
        weights={facts.id: facts.weight for facts in workload_facts(case)},
        temp_limit_c=campaign.temp_limit_c,
        power_limit_w=campaign.power_limit_w,
        price=campaign.price,
        currency=campaign.currency,
        terms=terms_of(campaign),
        way=way_of(campaign),
        counting={str(quantity): pk for quantity, pk in snapshot.chosen.items()},
        power_reader=usual_reader(snapshot.rig.instruments, snapshot.chosen, "power", timezone.now()),
        builds=[build_out(build) for build in snapshot.builds],
        knobs=list(snapshot.knobs),
        workloads=workloads_out(workloads, known),
        test_suite=workloads_out(test_suite, known),
        retired=workloads_out(list(campaign.retired.all())),
        instruments=[InstrumentOut.from_orm(row) for row in campaign.rig.instruments.all()],
    )


def _with_lines(campaign: CampaignSnapshot, step: NextStep) -> NextStep:
    """The next step and the others, each with the quick line that logs it."""
    known = {setting.id: setting.values for setting in campaign.settings}

    def lined(task: Task) -> Task:
        values = task.values if task.values is not None else known.get(task.setting_id or 0)
        if values is None or task.workload_id is None:
            return task
        return replace(
            task, line=begin_line(campaign.knobs, campaign.testable, values, task.workload_id, task.minutes or None)
        )

    return NextStep(lined(step.step), tuple(lined(task) for task in step.instead))


@router.get("/campaigns", response=list[CampaignCard])
def list_campaigns(
    request: HttpRequest, archived: Query[bool] = False, in_parts: Query[bool] = False
) -> list[CampaignCard]:
    """Campaigns, newest first, with where each stands and what it has gained; those archived where asked for.

    in_parts: with much to compute, an answer that comes soon and says which are still waiting; asking again goes on
    """
    rows = Campaign.objects.present().filter(archived_at__isnull=not archived).select_related("rig")

    def card(campaign: Campaign, case: Case, summary: Summary) -> dict[str, Any]:
        return CampaignCard(**_card(campaign, case, summary)).model_dump(mode="json")

    waiting = _waiting if in_parts else None
    return [CampaignCard(**one) for one in cards_of(list(rows), timezone.now(), card, waiting)]


class CampaignName(Schema):
    id: int
    name: str


@router.get("/campaigns/names", response=list[CampaignName])
def list_names(request: HttpRequest) -> list[CampaignName]:
    """What the campaigns are called, newest first, those archived too; without where they stand."""
    rows = Campaign.objects.present().order_by("-pk").values_list("id", "name")
    return [CampaignName(id=pk, name=name) for pk, name in rows]


@router.get("/campaigns/{int:campaign_id}", response={200: CampaignOut, 404: Problems})
def show_campaign(request: HttpRequest, campaign_id: int) -> CampaignOut:
    """One campaign with its rig's builds, knobs, workloads and instruments."""
    return _in_full(*found_row_and_case(campaign_id))


@router.post("/campaigns", response={201: CampaignOut, 422: Problems})
@transaction.atomic
def make_campaign(request: HttpRequest, body: CampaignIn) -> Status[CampaignOut]:
    """A campaign on a rig that is there or a new one; all of it is stored, or nothing."""
    now = timezone.now()
    if body.rig is not None:
        rig = create_rig(body.rig.name, body.rig.build.draft(), now, body.rig.simulator, body.rig.simulator_seed)
    elif body.rig_id is not None and (found := Rig.objects.filter(pk=body.rig_id).first()) is not None:
        rig = found
    else:
        raise Refused(Problem("rig", "no_rig_chosen"))
    kept = list(Variant.objects.filter(pk__in=body.workload_ids))
    if len(kept) != len(set(body.workload_ids)):
        raise Refused(Problem("workload_ids", "workload_gone"))
    knobs: list[Knob] = []
    unclear: list[Problem] = []
    for index, knob in enumerate(body.knobs):
        try:
            knobs.append(knob.knob(f"knobs.{index}."))
        except Refused as refused:
            unclear += refused.problems
    if unclear:
        raise Refused(*unclear)
    drafts = [workload.draft() for workload in body.workloads]
    campaign = create_campaign(
        rig=rig,
        name=body.name,
        goal=body.goal,
        aim=body.aim,
        knobs=knobs,
        workloads=drafts,
        now=now,
        kept_workloads=kept,
    )
    return Status(201, campaign_out(campaign))


@router.post("/campaigns/{int:campaign_id}/knobs", response={200: CampaignOut, 404: Problems, 422: Problems})
def make_knob(request: HttpRequest, campaign_id: int, body: KnobIO) -> CampaignOut:
    """A further knob; settings that are there are at stock for it."""
    campaign = found_campaign(campaign_id)
    add_knob(campaign, body.knob())
    return campaign_out(campaign)


class Retired(Schema):
    retired: bool


@router.patch("/campaigns/{int:campaign_id}/knobs/{key}", response={200: CampaignOut, 404: Problems, 422: Problems})
@transaction.atomic
def change_knob_of(request: HttpRequest, campaign_id: int, key: str, body: KnobChange) -> CampaignOut:
    """A knob's name, role, part, step, range or direction changed. Settings and runs stay."""
    campaign = found_campaign(campaign_id)
    if row := campaign.knobs.filter(key=key).first():
        check_seen("knob_changed", body.seen, row.as_knob(), row.name)
    change_knob(campaign, key, body.model_dump(exclude_none=True, exclude={"seen"}))
    return campaign_out(campaign)


@router.put("/campaigns/{int:campaign_id}/knobs/{key}", response={200: CampaignOut, 404: Problems, 422: Problems})
def put_knob_away(request: HttpRequest, campaign_id: int, key: str, body: Retired) -> CampaignOut:
    """Retires a knob, or brings it back; settings that turned it stay."""
    campaign = found_campaign(campaign_id)
    retire_knob(campaign, key, timezone.now() if body.retired else None)
    return campaign_out(campaign)


class FurtherWorkload(Schema):
    """A workload that is there already, or a new one."""

    workload_id: int | None = None
    workload: WorkloadIn | None = None


@router.post("/campaigns/{int:campaign_id}/workloads", response={200: CampaignOut, 404: Problems, 422: Problems})
def make_workload(request: HttpRequest, campaign_id: int, body: FurtherWorkload) -> CampaignOut:
    """A further workload to be measured; one that was retired comes back."""
    campaign = found_campaign(campaign_id)
    if body.workload is not None:
        add_workload(campaign, body.workload.draft())
    else:
        add_workload(campaign, get_object_or_404(Variant, pk=body.workload_id))
    return campaign_out(campaign)


@router.delete(
    "/campaigns/{int:campaign_id}/workloads/{int:workload_id}",
    response={200: CampaignOut, 404: Problems, 422: Problems},
)
def put_workload_away(request: HttpRequest, campaign_id: int, workload_id: int) -> CampaignOut:
    """Retires a workload: it is no longer asked for, and its runs stay."""
    campaign = found_campaign(campaign_id)
    retire_workload(campaign, get_object_or_404(Variant, pk=workload_id))
    return campaign_out(campaign)


class Archived(Schema):
    archived: bool


@router.put("/campaigns/{int:campaign_id}/archived", response={200: CampaignOut, 404: Problems})
def put_in_archive(request: HttpRequest, campaign_id: int, body: Archived) -> CampaignOut:
    """Takes a campaign out of the list, or brings it back."""
    return campaign_out(archive(found_campaign(campaign_id), timezone.now() if body.archived else None))


@router.get("/campaigns/{int:campaign_id}/what-goes", response={200: Going, 404: Problems})
def show_what_goes(request: HttpRequest, campaign_id: int) -> Going:
    """What would go with the campaign if it were deleted."""
    return what_goes(found_campaign(campaign_id))


class DeleteIn(Schema):
    """name: the campaign's name, typed"""

    name: str = Field(max_length=200)


class Deleted(Schema):
    id: int
    name: str
    deleted_at: datetime


@router.post("/campaigns/{int:campaign_id}/delete", response={200: Deleted, 404: Problems, 422: Problems})
def drop_campaign(request: HttpRequest, campaign_id: int, body: DeleteIn) -> Deleted:
    """Deletes a campaign whose name is typed. It is removed at the next start; until then it can be undone."""
    return Deleted.from_orm(delete_campaign(found_campaign(campaign_id), body.name, timezone.now()))


@router.get("/deleted-campaigns", response=list[Deleted])
def list_deleted(request: HttpRequest) -> list[Campaign]:
    """Campaigns that will be removed at the next start."""
    return list(Campaign.objects.filter(deleted_at__isnull=False))


@router.post("/campaigns/{int:campaign_id}/undelete", response={200: CampaignOut, 404: Problems})
def bring_back(request: HttpRequest, campaign_id: int) -> CampaignOut:
    """Takes a deletion back."""
    deleted = Campaign.objects.filter(deleted_at__isnull=False).select_related("rig")
    return campaign_out(take_back_deletion(get_object_or_404(deleted, pk=campaign_id)))
