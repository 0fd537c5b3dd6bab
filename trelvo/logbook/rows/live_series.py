"""What a live run has sent so far, and how it becomes a kept series."""

from dataclasses import asdict, dataclass
from typing import cast

import numpy as np

from trelvo.core.base.figures import Part
from trelvo.core.base.instruments import Point
from trelvo.core.logs.figures import Channel, Figures, figures_of_frames, figures_of_telemetry
from trelvo.core.logs.telemetry import ChannelSummary, middle_step, summarise_channel
from trelvo.core.registry.quantities import Quantity
from trelvo.logbook.models import Chunk, LiveRun
from trelvo.logbook.rows.log_draft import LogDraft, channel_entry
from trelvo.logbook.rows.series_bytes import FRAME_COLUMN, TIME_COLUMN, Numbers, to_parquet, unpack


@dataclass(frozen=True)
class Sent:
    """time_s: n; values: n by channels, NaN where missing; frames_ms: as many as were sent. In order of time."""

    time_s: Numbers
    values: Numbers
    frames_ms: Numbers


def channels_of(live: LiveRun) -> list[tuple[str, Quantity]]:
    """Name and quantity of each column."""
    return [(channel["name"], cast(Quantity, channel["quantity"])) for channel in live.channels]


def sent_of(live: LiveRun, chunks: list[Chunk]) -> Sent:
    """Chunks put together, in the order of their numbers and then of time."""
    width = len(live.channels) + 1
    rows = [unpack(chunk.readings, width) for chunk in sorted(chunks, key=lambda chunk: chunk.sequence)]
    table = np.concatenate(rows) if rows else np.empty((0, width))
    table = table[np.argsort(table[:, 0], kind="stable")]
    frames = [unpack(chunk.frames, 1).ravel() for chunk in sorted(chunks, key=lambda chunk: chunk.sequence)]
    return Sent(table[:, 0], table[:, 1:], np.concatenate(frames) if frames else np.empty(0))


def drafts_of(live: LiveRun, sent: Sent) -> list[LogDraft]:
    """The logs to keep beside the run: telemetry, even of a single reading, and frame times, where there are any."""
    drafts = []
    width = range(len(live.channels))
    present = [i for i in width if np.isfinite(sent.values[:, i]).any()]
    if present:
        named = [live.channels[i] for i in present]
        channels = [
            Channel(
                c["name"],
                cast(Quantity, c["quantity"]),
                c["unit"],
                sent.values[:, i],
                cast(Part, c.get("part") or "tuned part"),
                c.get("instrument_id"),
                cast(Point, c.get("point") or "unknown"),
            )
            for i, c in zip(present, named, strict=True)
        ]
        figures, summaries = _telemetry_figures(sent.time_s, channels)
        drafts.append(
            LogDraft(
                kind="telemetry",
                file_name=f"{live.bench}, live",
                rows=int(sent.time_s.size),
                channels=[channel_entry(c) for c in channels],
                parquet=to_parquet({TIME_COLUMN: sent.time_s, **{c.name: c.values for c in channels}}),
                figures=figures,
                summary={"channels": {name: asdict(one) for name, one in summaries.items()}},
                every_s=middle_step(sent.time_s),
            )
        )
    if sent.frames_ms.size:
        figures, frames = figures_of_frames(sent.frames_ms, live.run.variant.measure)
        drafts.append(
            LogDraft(
                kind="frames",
                file_name=f"{live.bench}, frame times",
                rows=int(sent.frames_ms.size),
                channels=[{"column": FRAME_COLUMN, "header": "frame time", "quantity": "frame time", "unit": "ms"}],
                parquet=to_parquet({TIME_COLUMN: np.cumsum(sent.frames_ms) / 1000, FRAME_COLUMN: sent.frames_ms}),
                figures=figures,
                summary={"frames": asdict(frames)},
                every_s=float(np.median(sent.frames_ms)) / 1000,
            )
        )
    return drafts


def _telemetry_figures(time_s: Numbers, channels: list[Channel]) -> tuple[Figures, dict[str, ChannelSummary]]:
    """A run that broke off at its first reading has no means yet, but its reading is kept."""
    if time_s[-1] > time_s[0]:
        return figures_of_telemetry(time_s, channels)
    return Figures(float(time_s[-1])), {c.name: summarise_channel(time_s, c.values) for c in channels}
