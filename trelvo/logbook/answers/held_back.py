"""What held the part back in a kept log, by what the part is allowed."""

import numpy as np

from trelvo.core.logs.kept import LogHeader
from trelvo.core.logs.loaded_stretch import within
from trelvo.core.problems import Refused
from trelvo.core.watch.held_back import HeldBack, held_back, moved
from trelvo.core.watch.limit_flags import FlagOf, limit_flag
from trelvo.core.watch.limiter import Limits
from trelvo.logbook.kept_logs import readings_of
from trelvo.logbook.models import LiveRun, Series
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, Numbers, from_parquet


def held_back_in(series: Series) -> HeldBack:
    """Limits as the bench said them where the run was live, else as the campaign has them. A log too short tells nothing.

    Only where the part was loaded: idle before and after is no part of the run. Times are counted from the start of the log.
    """
    run = series.run
    live = LiveRun.objects.filter(run=run).first()
    said = live.limits if live else {}
    limits = Limits(
        said.get("power_w", run.campaign.power_limit_w if not run.setting.values else None),
        said.get("temp_c", run.campaign.temp_limit_c),
        run.variant.cap_fps,
        said.get("threads"),
    )
    row = LogHeader(series.pk, series.uid, run.pk, series.rows, series.channels, series.summary)
    log = readings_of([row])[series.pk]
    try:
        found = held_back(log.time_s, log.readings, limits, _flags(series, row))
    except Refused:
        return HeldBack([], [], [], [])
    return moved(found, row.stretch[0]) if row.stretch else found


def _flags(series: Series, row: LogHeader) -> dict[FlagOf, Numbers]:
    """By limit, the column of the log that says when it was reached."""
    named = {str(channel["column"]): limit_flag(str(channel.get("header", ""))) for channel in series.channels}
    wanted = {column: what for column, what in named.items() if what is not None}
    if not wanted:
        return {}
    columns = from_parquet(bytes(series.parquet), [TIME_COLUMN, *wanted])
    part = within(columns[TIME_COLUMN], *row.stretch) if row.stretch else slice(None)
    found: dict[FlagOf, Numbers] = {}
    for column, what in wanted.items():
        values = columns[column][part]
        if np.isin(values[np.isfinite(values)], (0.0, 1.0)).all():
            found[what] = np.fmax(found[what], values) if what in found else values
    return found
