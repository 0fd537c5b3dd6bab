"""How a workload's start flatters, by the newest log of each at one setting."""

from uuid import UUID

from trelvo.core.compare.sides import Side
from trelvo.core.watch.held_back import FirstPass, clock_levels, first_pass
from trelvo.logbook.models import Series
from trelvo.logbook.rows.kept_logs import LogRow, readings_of

# What each log's start shows: a kept log never changes, and so many are remembered.
_known: dict[UUID, FirstPass | None] = {}
MOST_KEPT = 2000


def first_passes(side: Side) -> dict[int, FirstPass]:
    """By workload, where its newest log at that side's setting shows a faster start. Two questions, however many logs."""
    runs = {run.id: run for run in side.case.campaign.runs_at(side.setting, side.fitting) if run.counts}
    kept = Series.objects.filter(
        run_id__in=list(runs),
        kind=Series.Kind.TELEMETRY,
        run__set_aside_at=None,
    )
    newest: dict[int, LogRow] = {}
    for row in kept.order_by("added_at", "id").values_list("id", "uid", "run_id", "rows", "channels", "summary"):
        log = LogRow(*row)
        if log.run_id in runs:
            newest[runs[log.run_id].variant_id] = log
    unread = {log.uid: log for log in newest.values() if log.uid not in _known}
    if unread:
        readings = readings_of(list(unread.values()))
        for uid, log in unread.items():
            clock = readings[log.id].readings.get("core clock")
            levels = clock_levels(readings[log.id].time_s, clock) if clock is not None else []
            _known[uid] = first_pass(levels)
    found = {variant_id: _known.get(log.uid) for variant_id, log in newest.items()}
    while len(_known) > MOST_KEPT:
        _known.pop(next(iter(_known)), None)
    return {variant_id: one for variant_id, one in found.items() if one is not None}
