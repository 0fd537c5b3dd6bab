from collections.abc import Sequence
from itertools import pairwise

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign
from trelvo.api.schema import Schema
from trelvo.bench.queue import cancel, line_up, set_paused
from trelvo.core.base.knobs import describe_setting
from trelvo.core.problems import Problem, Refused
from trelvo.core.watch.contact import queue_left_s, time_left_s
from trelvo.logbook.models import Campaign, LiveRun, Queue, QueueItem
from trelvo.logbook.rows.lookups import knobs_of, testable

router = Router(tags=["queue"])


class QueueIn(Schema):
    setting_ids: list[int] = Field(max_length=200)
    workload_ids: list[int] = Field(max_length=60)
    repeats: int = 1
    speed: float = 60.0
    confirmation: str = Field("", max_length=300)
    interleave: bool = False


class ItemOut(Schema):
    id: int
    setting_title: str
    workload_name: str
    state: QueueItem.State
    run_id: int | None
    outcome: str
    why: str


class QueueOut(Schema):
    """left_s: seconds of real time until all of it is done, what runs cost besides their own time counted; None where nothing is
    left"""

    paused: bool
    speed: float
    items: list[ItemOut]
    waiting: int
    done: int
    left_s: float | None


def queue_out(campaign: Campaign) -> QueueOut:
    queue = Queue.objects.filter(campaign=campaign).first()
    if queue is None:
        return QueueOut(paused=False, speed=60.0, items=[], waiting=0, done=0, left_s=None)
    knobs = knobs_of(campaign)
    found = list(queue.items.select_related("setting", "variant__workload", "run__live"))
    waiting = [item for item in found if item.state == QueueItem.State.WAITING]
    items = [
        ItemOut(
            id=item.pk,
            setting_title=describe_setting(knobs, item.setting.values),
            workload_name=item.variant.name,
            state=QueueItem.State(item.state),
            run_id=item.run_id,
            outcome=item.run.outcome if item.run and item.state == QueueItem.State.DONE else "",
            why=item.why,
        )
        for item in found
    ]
    done = sum(item.state == QueueItem.State.DONE for item in found)
    left_s = _left_s(queue, found, waiting)
    return QueueOut(paused=queue.paused, speed=queue.speed, items=items, waiting=len(waiting), done=done, left_s=left_s)


def _left_s(queue: Queue, items: Sequence[QueueItem], waiting: Sequence[QueueItem]) -> float | None:
    lives = [item.run.live for item in items if item.run and hasattr(item.run, "live")]
    going = next((live for live in lives if live.state == LiveRun.State.OPEN), None)
    if not waiting and going is None:
        return None
    begun = sorted(lives, key=lambda one: one.opened_at)
    behind = [
        (one.elapsed_s, (after.opened_at - one.opened_at).total_seconds())
        for one, after in pairwise(begun)
        if one.ended_at and not queue.paused
    ]
    running = time_left_s(going.elapsed_s, going.planned_s) if going else None
    return queue_left_s([item.variant.minutes * 60 for item in waiting], running, queue.speed, behind)


@router.get("/campaigns/{int:campaign_id}/queue", response={200: QueueOut, 404: Problems})
def show_queue(request: HttpRequest, campaign_id: int) -> QueueOut:
    """What the simulator is to work through for this campaign."""
    return queue_out(found_campaign(campaign_id))


@router.post("/campaigns/{int:campaign_id}/queue", response={200: QueueOut, 404: Problems, 422: Problems})
def add_to_queue(request: HttpRequest, campaign_id: int, body: QueueIn) -> QueueOut:
    """Lines up every workload at every setting, so many times each; two settings in the order A B B A where asked for."""
    campaign = found_campaign(campaign_id)
    settings = [get_object_or_404(campaign.settings, pk=pk) for pk in dict.fromkeys(body.setting_ids)]
    there = {workload.pk: workload for workload in testable(campaign)}
    if unknown := set(body.workload_ids) - set(there):
        raise Refused(Problem("workload_ids", "no_such_workload_number", {"workload": min(unknown)}))
    workloads = [there[pk] for pk in dict.fromkeys(body.workload_ids)]
    line_up(campaign, settings, workloads, body.repeats, body.speed, body.confirmation, interleave=body.interleave)
    return queue_out(campaign)


@router.post("/campaigns/{int:campaign_id}/queue/pause", response={200: QueueOut, 404: Problems})
def pause(request: HttpRequest, campaign_id: int) -> QueueOut:
    """Holds the queue after the present run."""
    set_paused(get_object_or_404(Queue, campaign_id=campaign_id), True)
    return show_queue(request, campaign_id)


@router.post("/campaigns/{int:campaign_id}/queue/resume", response={200: QueueOut, 404: Problems})
def resume(request: HttpRequest, campaign_id: int) -> QueueOut:
    """Lets a held queue go on."""
    set_paused(get_object_or_404(Queue, campaign_id=campaign_id), False)
    return show_queue(request, campaign_id)


@router.post("/campaigns/{int:campaign_id}/queue/cancel", response={200: QueueOut, 404: Problems})
def drop(request: HttpRequest, campaign_id: int) -> QueueOut:
    """Leaves out all that waits."""
    cancel(get_object_or_404(Queue, campaign_id=campaign_id))
    return show_queue(request, campaign_id)
