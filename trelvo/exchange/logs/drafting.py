"""From a dropped file to a log that can be kept: reads, converts and summarises, all before anything is stored."""

import hashlib
from dataclasses import asdict

import numpy as np

from trelvo.core.base.workloads import Measure
from trelvo.core.measure.logs import figures_of_frames, figures_of_telemetry
from trelvo.core.measure.telemetry import middle_step
from trelvo.exchange.logs.choice import LogChoice
from trelvo.exchange.logs.encoding import as_utf8
from trelvo.exchange.logs.reading import FrameLog, columns_of, read_log
from trelvo.exchange.logs.text_table import TextTable
from trelvo.logbook.rows.log_draft import LogDraft, channel_entry
from trelvo.logbook.rows.series_bytes import FRAME_COLUMN, TIME_COLUMN, to_parquet


def digest_of(data: bytes) -> str:
    """Names a file by its text: the same for any encoding and line end."""
    return hashlib.sha256(as_utf8(data)[0].rstrip()).hexdigest()


def draft_log(table: TextTable, choice: LogChoice, file_name: str, measure: Measure, digest: str = "") -> LogDraft:
    """A log ready to be kept, with the figures it supplies. Raises Refused, naming row and column.

    digest: what names the file it came from
    measure: how the run's workload is measured; only a frame rate becomes the run's value
    """
    log = read_log(table, choice)
    if isinstance(log, FrameLog):
        figures, frames = figures_of_frames(log.frame_times_ms, measure)
        channels = [{"column": FRAME_COLUMN, "header": choice.frame_column, "quantity": "frame time", "unit": "ms"}]
        summary, rows = {"frames": asdict(frames)}, int(log.frame_times_ms.size)
    else:
        figures, channel_summaries = figures_of_telemetry(log.time_s, log.channels)
        channels = [channel_entry(c) for c in log.channels]
        summary = {"channels": {name: asdict(channel) for name, channel in channel_summaries.items()}}
        rows = int(log.time_s.size)
    kept = columns_of(log)
    time_s = np.asarray(kept[TIME_COLUMN], dtype=np.float64)
    gap_s = float(np.diff(time_s).max()) if time_s.size > 1 else 0.0
    every_s = middle_step(time_s)
    return LogDraft(choice.kind, file_name, rows, channels, to_parquet(kept), figures, summary, every_s, gap_s, digest)
