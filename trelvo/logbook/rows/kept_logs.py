"""Telemetry that lies beside runs, as the laboratory takes it: the tuned part's first channel of each quantity."""

import threading
from collections import OrderedDict
from collections.abc import Collection
from dataclasses import dataclass, field
from typing import Any, cast
from uuid import UUID

import numpy as np

from trelvo.core.logs.loaded_stretch import within
from trelvo.core.registry.quantities import Quantity
from trelvo.logbook.models import LiveRun, Series
from trelvo.logbook.rows.live_series import Sent, channels_of
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, Numbers, from_parquet

# So many rows of logs are kept in memory, at most nine readings each: some 70 MB.
MOST_ROWS = 1_000_000


@dataclass(frozen=True)
class LogRow:
    """A kept telemetry log without its readings. uid: names it for ever, where a number may come again"""

    id: int
    uid: UUID
    run_id: int
    rows: int
    channels: list[dict[str, Any]]
    summary: dict[str, Any] = field(default_factory=dict)

    @property
    def stretch(self) -> tuple[float, float] | None:
        """From when to when the part was loaded, where idle was logged around it."""
        found = self.summary.get("stretch")
        return (float(found["from_s"]), float(found["to_s"])) if found else None


@dataclass(frozen=True)
class PartLog:
    """What a log read of the tuned part. time_s: n, from the first reading; readings: n each, NaN where missing"""

    time_s: Numbers
    readings: dict[Quantity, Numbers]


def telemetry_of(campaign_ids: Collection[int]) -> list[LogRow]:
    """Every telemetry log of some campaigns' runs that are not set aside."""
    rows = Series.objects.filter(run__campaign_id__in=campaign_ids, kind=Series.Kind.TELEMETRY, run__set_aside_at=None)
    return [LogRow(*row) for row in rows.values_list("id", "uid", "run_id", "rows", "channels", "summary")]


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


def readings_of(rows: Collection[LogRow]) -> dict[int, PartLog]:
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


def _first_of_each(channels: list[dict[str, Any]]) -> dict[Quantity, str]:
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


def _from_start(time_s: Numbers, readings: dict[Quantity, Numbers]) -> PartLog:
    first = float(time_s[0]) if time_s.size else 0.0
    return PartLog(np.asarray(time_s - first, dtype=np.float64), readings)
