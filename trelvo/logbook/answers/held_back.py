"""What held the part back in a kept log, by what the part is allowed."""

from trelvo.core.base.problems import Refused
from trelvo.core.watch.held_back import HeldBack, held_back
from trelvo.core.watch.limiter import Limits
from trelvo.logbook.models import LiveRun, Series
from trelvo.logbook.rows.kept_logs import LogRow, readings_of


def held_back_in(series: Series) -> HeldBack:
    """Limits as the bench said them where the run was live, else as the campaign has them. A log too short tells nothing."""
    run = series.run
    live = LiveRun.objects.filter(run=run).first()
    said = live.limits if live else {}
    limits = Limits(
        said.get("power_w", run.campaign.power_limit_w if not run.setting.values else None),
        said.get("temp_c", run.campaign.temp_limit_c),
        run.variant.cap_fps,
        said.get("threads"),
    )
    log = readings_of([LogRow(series.pk, series.uid, run.pk, series.rows, series.channels)])[series.pk]
    try:
        return held_back(log.time_s, log.readings, limits)
    except Refused:
        return HeldBack([], [], [], [], "")
