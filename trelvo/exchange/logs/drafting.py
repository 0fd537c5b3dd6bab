"""From a dropped file to a log that can be kept: reads, converts and summarises, all before anything is stored."""

import hashlib
from dataclasses import asdict, replace
from typing import Any

import numpy as np

from trelvo.core.base.workloads import Measure
from trelvo.core.logs.figures import figures_of_frames, figures_of_telemetry
from trelvo.core.logs.loaded_stretch import loaded_stretch, within
from trelvo.core.logs.telemetry import middle_step
from trelvo.core.problems import Problem, Refused
from trelvo.exchange.logs.choice import LogChoice
from trelvo.exchange.logs.encoding import as_utf8
from trelvo.exchange.logs.reading import FrameLog, TelemetryLog, columns_of, read_log
from trelvo.exchange.logs.text_table import TextTable
from trelvo.logbook.rows.log_draft import LogDraft, channel_entry
from trelvo.logbook.rows.series_bytes import FRAME_COLUMN, TIME_COLUMN, to_parquet


def _stretch(log: TelemetryLog, choice: LogChoice) -> dict[str, Any] | None:
    """From when to when the log gives the run's figures, and what tells it; None for the whole of it.

    Raises Refused where the stretch that was typed holds no readings.
    """
    ends = float(log.time_s[-1])
    if choice.stretch == "whole":
        return None
    if choice.stretch == "loaded":
        found = loaded_stretch(log.time_s, log.channels)
        return {**asdict(found), "of_s": ends} if found else None
    from_s, to_s = choice.from_s or 0.0, ends if choice.to_s is None else choice.to_s
    if not (0 <= from_s < to_s) or log.time_s[within(log.time_s, from_s, to_s)].size < 2:
        raise Refused(Problem("stretch", "no_readings_between", {"from_s": from_s, "to_s": to_s, "end_s": ends}))
    return {"from_s": from_s, "to_s": min(to_s, ends), "by": "as typed", "of_s": ends}


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
        summary: dict[str, Any] = {"frames": asdict(frames)}
        rows = int(log.frame_times_ms.size)
    else:
        stretch = _stretch(log, choice)
        part = within(log.time_s, stretch["from_s"], stretch["to_s"]) if stretch else slice(None)
        cut = [replace(one, values=one.values[part]) for one in log.channels]
        figures, channel_summaries = figures_of_telemetry(log.time_s[part], cut)
        channels = [channel_entry(c) for c in log.channels]
        summary = {"channels": {name: asdict(channel) for name, channel in channel_summaries.items()}}
        if stretch:
            summary["stretch"] = stretch
        rows = int(log.time_s.size)
    kept = columns_of(log)
    time_s = np.asarray(kept[TIME_COLUMN], dtype=np.float64)
    gap_s = float(np.diff(time_s).max()) if time_s.size > 1 else 0.0
    every_s = middle_step(time_s)
    return LogDraft(
        kind=choice.kind,
        file_name=file_name,
        rows=rows,
        channels=channels,
        parquet=to_parquet(kept),
        figures=figures,
        summary=summary,
        every_s=every_s,
        longest_gap_s=gap_s,
        digest=digest,
    )
