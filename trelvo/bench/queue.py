"""The queue: settings times workloads times repeats, for the simulator to work through."""

from collections.abc import Sequence
from datetime import datetime

from django.db import transaction

from trelvo.bench.runs import busy_run, check_on_simulator, open_on_simulator
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import FAILURES
from trelvo.core.stats.in_time import interleaved
from trelvo.core.watch.safety_limits import beyond_ceiling, is_confirmed, wanted_words
from trelvo.logbook.models import Campaign, LiveRun, Queue, QueueItem, Setting, Variant
from trelvo.logbook.rows.lookups import knobs_of, safety_limits_of

MOST_REPEATS = 20
MOST_ITEMS = 500


@transaction.atomic
def line_up(
    campaign: Campaign,
    settings: Sequence[Setting],
    workloads: Sequence[Variant],
    repeats: int,
    speed: float,
    confirmation: str = "",
    *,
    interleave: bool = False,
) -> Queue:
    """Adds every workload at every setting so many times, setting by setting; nothing is added when one cannot be done.

    interleave: two settings in the order A B B A instead, so that a straight drift falls out of their comparison

    confirmation: the typed words, where exactly one of the settings stands beyond a voltage ceiling
    """
    if not settings or not workloads:
        raise Refused(Problem("items", "nothing_to_line_up"))
    if not 1 <= repeats <= MOST_REPEATS:
        raise Refused(Problem("repeats", "repeats_out_of_range", {"repeats": repeats, "most": MOST_REPEATS}))
    if interleave and len(settings) != 2:
        raise Refused(Problem("interleave", "not_two_settings", {"count": len(settings)}))
    knobs, safety_limits = knobs_of(campaign), safety_limits_of(campaign)
    for setting in settings:
        beyond = beyond_ceiling(knobs, setting.values, safety_limits)
        if beyond and not is_confirmed(beyond, confirmation):
            params = {"confirmation": wanted_words(beyond)}
            raise Refused(Problem("confirmation", "above_ceiling_in_queue", params))
        for workload in workloads:
            check_on_simulator(campaign, setting, workload)
    queue, _ = Queue.objects.get_or_create(campaign=campaign)
    new = len(settings) * len(workloads) * repeats
    waiting = queue.items.filter(state=QueueItem.State.WAITING).count()
    if waiting + new > MOST_ITEMS:
        raise Refused(Problem("repeats", "queue_too_long", {"new": new, "total": waiting + new, "most": MOST_ITEMS}))
    if not waiting and not queue.items.filter(state=QueueItem.State.RUNNING).exists():
        # what has been worked through makes room for the new list
        queue.items.all().delete()
        queue.paused = False
    queue.speed = speed
    queue.save()
    QueueItem.objects.bulk_create(
        QueueItem(queue=queue, setting=setting, variant=workload, confirmation=confirmation)
        for setting, workload in _order(settings, workloads, repeats, interleave)
    )
    return queue


def _order(
    settings: Sequence[Setting], workloads: Sequence[Variant], repeats: int, interleave: bool
) -> list[tuple[Setting, Variant]]:
    if interleave:
        named = {"A": settings[0], "B": settings[1]}
        return [(named[one], workload) for workload in workloads for one in interleaved("A", "B", repeats)]
    return [(setting, workload) for setting in settings for workload in workloads for _ in range(repeats)]


@transaction.atomic
def set_paused(queue: Queue, paused: bool) -> Queue:
    """Holds the queue after the present run, or lets it go on."""
    queue.paused = paused
    queue.save(update_fields=["paused"])
    return queue


@transaction.atomic
def cancel(queue: Queue) -> int:
    """Leaves out all that waits; the present run goes on to its end. How many were left out."""
    waiting = queue.items.filter(state=QueueItem.State.WAITING)
    return waiting.update(state=QueueItem.State.LEFT_OUT, why="cancelled")


@transaction.atomic
def begin_next(queue: Queue, now: datetime) -> LiveRun | None:
    """Opens the next waiting run when the bench is free, or None. A run that cannot be opened is left out with its reason."""
    if queue.paused or busy_run(queue.campaign.rig):
        return None
    item = queue.items.filter(state=QueueItem.State.WAITING).select_related("setting", "variant__workload").first()
    if item is None:
        return None
    try:
        live = open_on_simulator(
            queue.campaign, item.setting, item.variant, queue.speed, now, confirmation=item.confirmation
        )
    except Refused as trouble:
        item.state, item.why = QueueItem.State.LEFT_OUT, str(trouble)[:300]
        item.save()
        return None
    item.state, item.run = QueueItem.State.RUNNING, live.run
    item.save()
    return live


@transaction.atomic
def settle_items(queue: Queue) -> None:
    """Closes items whose run has ended. After a failure the rest of that setting is left out: it has shown what it does."""
    for item in queue.items.filter(state=QueueItem.State.RUNNING).select_related("run"):
        live = LiveRun.objects.filter(run=item.run).first()
        if live and live.state == LiveRun.State.OPEN:
            continue
        item.state = QueueItem.State.DONE
        item.save(update_fields=["state"])
        outcome = item.run.outcome if item.run else ""
        if outcome in FAILURES:
            rest = queue.items.filter(state=QueueItem.State.WAITING, setting_id=item.setting_id)
            rest.update(state=QueueItem.State.LEFT_OUT, why=f"this setting ended with: {outcome}")


@transaction.atomic
def hold_after_stop() -> None:
    """At start: queues that were being worked through are held, since nobody knows how things stand."""
    for queue in Queue.objects.filter(items__state=QueueItem.State.RUNNING).distinct():
        settle_items(queue)
        set_paused(queue, True)
