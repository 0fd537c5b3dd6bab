"""Settings with runs, made up for the tests of goals."""

from trelvo.core.base.runs import RunFacts
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.goal.judging import Bench, SettingFacts
from trelvo.core.stats.noise import pool
from trelvo.core.stats.time_series import NO_MEMORY

GORGE = WorkloadFacts(1, "Gorge", "frame rate", "fps", True)
RENDER = WorkloadFacts(2, "Render", "time", "s", False)


def runs(setting_id, workload_id, values, watts=None, lows=None, hottest=60.0, room=22.0, **more):
    """Completed runs, all read by the part's own report."""
    return [
        RunFacts(
            100 * setting_id + place,
            setting_id,
            workload_id,
            "completed",
            value,
            power_w=watts[place] if watts else None,
            power_point="sensor",
            low_1_fps=lows[place] if lows else None,
            temp_max_c=hottest + 0.2 * place,
            room_c=room,
            **more,
        )
        for place, value in enumerate(values)
    ]


def setting(setting_id, title, values, watts=None, lows=None, **more):
    """A setting with runs of one workload, Gorge."""
    known = {key: more.pop(key) for key in ("failures", "holds", "proved_by") if key in more}
    return SettingFacts(setting_id, title, {1: runs(setting_id, 1, values, watts, lows, **more)}, **known)


def bench(*settings, workloads=(GORGE,), targets=None, smallest_gain=0.005):
    noise = {
        workload.id: pool([[run.value for run in facts.groups.get(workload.id, ())] for facts in settings])
        for workload in workloads
    }
    return Bench(workloads, noise, NO_MEMORY, targets or {}, smallest_gain)
