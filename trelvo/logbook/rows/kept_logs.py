"""Telemetry that lies beside runs, as the laboratory takes it: the tuned part's first channel of each quantity."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any, cast
from uuid import UUID

import numpy as np

from trelvo.core.base.figures import Quantity
from trelvo.logbook.models import LiveRun, Series
from trelvo.logbook.rows.live_series import Sent, channels_of
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, Numbers, from_parquet


@dataclass(frozen=True)
class LogRow:
    """A kept telemetry log without its readings. uid: names it for ever, where a number may come again"""

    id: int
    uid: UUID
    run_id: int
    rows: int
    channels: list[dict[str, Any]]


@dataclass(frozen=True)
class PartLog:
    """What a log read of the tuned part. time_s: n, from the first reading; readings: n each, NaN where missing"""

    time_s: Numbers
    readings: dict[Quantity, Numbers]


def telemetry_of(campaign_ids: Collection[int]) -> list[LogRow]:
    """Every telemetry log of some campaigns' runs that are not set aside."""
    rows = Series.objects.filter(run__campaign_id__in=campaign_ids, kind=Series.Kind.TELEMETRY, run__set_aside_at=None)
    return [LogRow(*row) for row in rows.values_list("id", "uid", "run_id", "rows", "channels")]


def readings_of(rows: Collection[LogRow]) -> dict[int, PartLog]:
    """The readings of some logs, by their number, in one question."""
    kept = dict(Series.objects.filter(pk__in=[row.id for row in rows]).order_by().values_list("pk", "parquet"))
    found = {}
    for row in rows:
        chosen = _first_of_each(row.channels)
        columns = from_parquet(bytes(kept[row.id]), [TIME_COLUMN, *chosen.values()])
        found[row.id] = _from_start(
            columns[TIME_COLUMN], {quantity: columns[name] for quantity, name in chosen.items()}
        )
    return found


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
