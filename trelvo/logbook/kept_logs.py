"""Telemetry logs as they are kept: the tuned part's first channel of each quantity."""

import threading
from collections import OrderedDict
from collections.abc import Collection, Mapping, Sequence
from functools import cached_property
from typing import Any, cast

import numpy as np

from trelvo.core.logs.kept import LogHeader, PartLog
from trelvo.core.logs.loaded_stretch import within
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.held_back import clock_levels, first_pass
from trelvo.logbook.models import LiveRun, Series
from trelvo.logbook.rows.live_series import Sent, channels_of
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, Numbers, from_parquet

# So many rows of logs are kept in memory, at most nine readings each: some 70 MB.
MOST_ROWS = 1_000_000


class KeptLogs:
    """Every telemetry log of some campaigns' runs that are not set aside, as `core.logs.kept.Logs`."""

    def __init__(self, campaign_ids: Collection[int]) -> None:
        self._campaign_ids = campaign_ids

    @cached_property
    def headers(self) -> list[LogHeader]:
        """In the order in which they were stored; asked for once."""
        logs = Series.objects.filter(
            run__campaign_id__in=self._campaign_ids, kind=Series.Kind.TELEMETRY, run__set_aside_at=None
        )
        return [LogHeader(*row) for row in logs.values_list("id", "uid", "run_id", "rows", "channels", "summary")]

    def read(self, headers: Collection[LogHeader]) -> dict[int, PartLog]:
        """The readings of some logs, by the log's id, in at most one question."""
        return readings_of(headers)


class _Read:
    """Logs that were read lately, by their uid and what was read of them: a kept log never changes. Least used go first."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[object, ...], PartLog] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: tuple[object, ...]) -> PartLog | None:
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
            return found

    def put(self, key: tuple[object, ...], log: PartLog) -> None:
        with self._lock:
            self._kept[key] = log
            rows = sum(one.time_s.size for one in self._kept.values())
            while rows > MOST_ROWS and self._kept:
                rows -= self._kept.popitem(last=False)[1].time_s.size


_read = _Read()


def readings_of(rows: Collection[LogHeader]) -> dict[int, PartLog]:
    """The readings of some logs, by their number, in at most one question."""
    chosen = {row.id: _first_of_each(row.channels) for row in rows}
    keys = {row.id: (row.uid, row.stretch, *chosen[row.id].items()) for row in rows}
    stretches = {row.id: row.stretch for row in rows}
    found = {pk: log for pk, key in keys.items() if (log := _read.get(key)) is not None}
    missing = [row.id for row in rows if row.id not in found]
    kept = Series.objects.filter(pk__in=missing).order_by().values_list("pk", "parquet") if missing else []
    for pk, parquet in kept:
        columns = from_parquet(bytes(parquet), [TIME_COLUMN, *chosen[pk].values()])
        part = within(columns[TIME_COLUMN], *stretch) if (stretch := stretches[pk]) else slice(None)
        readings = {quantity: columns[name][part] for quantity, name in chosen[pk].items()}
        found[pk] = _from_start(columns[TIME_COLUMN][part], readings)
        _read.put(keys[pk], found[pk])
    return {row.id: found[row.id] for row in rows}


def _first_of_each(channels: Sequence[Mapping[str, Any]]) -> dict[Quantity, str]:
    """By quantity the column that reads it of the tuned part. Logs kept before parts were noted say nothing: the first counts."""
    found: dict[Quantity, str] = {}
    # what gives the run's figure goes before what is only kept beside it
    for channel in sorted(channels, key=lambda one: not one.get("tells", True)):
        if channel.get("part", "tuned part") == "tuned part" and channel.get("point", "unknown") in (
            "unknown",
            "software",
        ):
            found.setdefault(cast(Quantity, channel["quantity"]), str(channel["column"]))
    return found


def sent_part(live: LiveRun, sent: Sent) -> PartLog:
    """The same of a run that goes on."""
    columns: dict[Quantity, int] = {}
    for i, ((_, quantity), channel) in enumerate(zip(channels_of(live), live.channels, strict=True)):
        if (channel.get("part") or "tuned part") == "tuned part":
            columns.setdefault(quantity, i)
    return _from_start(sent.time_s, {quantity: sent.values[:, i] for quantity, i in columns.items()})


def _from_start(time_s: Numbers, readings: Mapping[Quantity, Numbers]) -> PartLog:
    first = float(time_s[0]) if time_s.size else 0.0
    return PartLog(np.asarray(time_s - first, dtype=np.float64), readings)


def first_pass_columns(
    kind: str, parquet: bytes, channels: Sequence[Mapping[str, Any]], summary: Mapping[str, Any]
) -> dict[str, float]:
    """How the start of a telemetry log flatters, as a row of `Series` has it; empty where it does not, or has no clock."""
    column = _first_of_each(channels).get("core clock") if kind == Series.Kind.TELEMETRY else None
    if column is None:
        return {}
    read = from_parquet(parquet, [TIME_COLUMN, column])
    stretch = summary.get("stretch")
    part = within(read[TIME_COLUMN], stretch["from_s"], stretch["to_s"]) if stretch else slice(None)
    found = first_pass(clock_levels(read[TIME_COLUMN][part], read[column][part]))
    return {"first_pass_s": found.lasts_s, "first_pass_ahead": found.ahead} if found else {}
