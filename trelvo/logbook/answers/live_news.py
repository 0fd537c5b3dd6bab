"""What is new in a live run since someone last looked: readings thinned for a chart, and how things stand."""

from dataclasses import dataclass
from datetime import datetime

import numpy as np

from trelvo.core.logs.telemetry import thin_keeping_extremes
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.contact import time_left_s
from trelvo.core.watch.limiter import Limiter, Limits, limiter_now
from trelvo.core.watch.safety_limits import SafetyLimit, unwatched
from trelvo.logbook.models import Chunk, LiveRun
from trelvo.logbook.rows.live_series import channels_of, sent_of
from trelvo.logbook.rows.lookups import safety_limits_of
from trelvo.logbook.rows.series_bytes import Numbers

# points a channel in one piece of news: when someone comes in, and then at each step
HISTORY_POINTS = 1200
STEP_POINTS = 80


@dataclass(frozen=True)
class Points:
    """A channel's readings, thinned by keeping every stretch's lowest and highest."""

    name: str
    quantity: str
    unit: str
    time_s: Numbers
    values: Numbers


@dataclass(frozen=True)
class LiveStanding:
    """How a live run stands. Seconds are of bench time, but left_real_s, which is the watcher's own."""

    state: str
    outcome: str
    phase: str
    elapsed_s: float
    planned_s: float
    left_s: float
    left_real_s: float
    limiter: Limiter
    through: int
    heard_at: datetime


@dataclass(frozen=True)
class News:
    """cursor: give it back to be told what came after; rows: readings a channel before thinning."""

    cursor: int
    rows: int
    points: list[Points]
    standing: LiveStanding


def news_of(run_id: int, after: int) -> News:
    """Readings that came in after `after` (a cursor, 0 for all), and how the run stands."""
    live = LiveRun.objects.select_related("run__variant__workload").get(run_id=run_id)
    chunks = list(live.chunks.filter(pk__gt=after).order_by("pk"))
    sent = sent_of(live, chunks)
    most = STEP_POINTS if after else HISTORY_POINTS
    points = [
        _thinned(name, quantity, channel["unit"], sent.time_s, sent.values[:, column], most)
        for column, ((name, quantity), channel) in enumerate(zip(channels_of(live), live.channels, strict=True))
    ]
    if sent.frames_ms.size:
        points.append(_thinned("frame time", "frame time", "ms", *_frame_times(live, chunks), most))
    if not chunks:
        # how it stands is told by the newest readings, also when there is nothing new to draw
        sent = sent_of(live, list(live.chunks.order_by("-pk")[:2]))
    latest = _latest(live, sent.values)
    rows = sum(chunk.rows for chunk in chunks)
    return News(chunks[-1].pk if chunks else after, rows, points, _standing(live, latest))


def _thinned(name: str, quantity: str, unit: str, time_s: Numbers, values: Numbers, most: int) -> Points:
    present = np.isfinite(values)
    t, v = time_s[present], values[present]
    keep = thin_keeping_extremes(v, most)
    return Points(name, quantity, unit, np.round(t[keep], 3), np.round(v[keep], 4))


def _frame_times(live: LiveRun, chunks: list[Chunk]) -> tuple[Numbers, Numbers]:
    """Frames with the time at which each ended: those of a batch end with its last reading."""
    times, frames = [], []
    for chunk in chunks:
        sent = sent_of(live, [chunk])
        if sent.frames_ms.size and sent.time_s.size:
            before = np.cumsum(sent.frames_ms[::-1])[::-1] - sent.frames_ms
            times.append(sent.time_s[-1] - before / 1000)
            frames.append(sent.frames_ms)
    return np.concatenate(times or [np.empty(0)]), np.concatenate(frames or [np.empty(0)])


def _latest(live: LiveRun, values: Numbers) -> dict[Quantity, float]:
    """The newest reading of the first channel of each quantity."""
    latest: dict[Quantity, float] = {}
    for column, (_, quantity) in enumerate(channels_of(live)):
        readings = values[-25:, column]
        readings = readings[np.isfinite(readings)]
        if readings.size:
            latest.setdefault(quantity, float(readings[-1]))
    return latest


def _standing(live: LiveRun, latest: dict[Quantity, float]) -> LiveStanding:
    left_s = time_left_s(live.elapsed_s, live.planned_s)
    limits = Limits(
        live.limits.get("power_w"), live.limits.get("temp_c"), live.run.variant.cap_fps, live.limits.get("threads")
    )
    return LiveStanding(
        state=live.state,
        outcome=live.run.outcome,
        phase=live.phase,
        elapsed_s=live.elapsed_s,
        planned_s=live.planned_s,
        left_s=left_s,
        left_real_s=left_s / live.speed,
        limiter=limiter_now(latest, limits),
        through=live.through,
        heard_at=live.heard_at,
    )


def unwatched_safety_limits(live: LiveRun) -> list[SafetyLimit]:
    """Safety limits of the campaign that this bench's readings cannot keep."""
    return unwatched(safety_limits_of(live.run.campaign), channels_of(live))
