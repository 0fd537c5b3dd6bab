"""A setting that nobody has run and that should do better, by the laws fitted to the runs: when it is worth its own runs."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from trelvo.core.laws.heat import Interval
from trelvo.core.message import Message, message
from trelvo.core.task import Task, once_with


@dataclass(frozen=True)
class PredictedSetting:
    """What the laws say of a setting. setting_id: None where it is no setting yet

    power_w: mean over the workloads; ratio: speed against stock; meets_speed: whether that is as much as the goal asks for
    """

    title: str
    values: Mapping[str, float]
    setting_id: int | None
    power_w: Interval
    ratio: Interval
    meets_speed: bool


@dataclass(frozen=True)
class PredictedPower:
    """Settings predicted, the most efficient that keeps the speed first. drawn_w: of each setting measured, as the same law
    has it"""

    settings: Sequence[PredictedSetting] = ()
    drawn_w: Mapping[int, float] = field(default_factory=dict)

    def better_than(self, setting_id: int, smallest_gain: float) -> tuple[PredictedSetting, float] | None:
        """The first that keeps the speed and surely draws less than a setting, as far as matters; with what that one draws."""
        drawn = self.drawn_w.get(setting_id)
        if drawn is None:
            return None
        return next(
            (
                (setting, drawn)
                for setting in self.settings
                if setting.meets_speed
                and setting.power_w.high < drawn
                and setting.power_w.value <= drawn * (1 - smallest_gain)
            ),
            None,
        )


def predicted_task(
    predicted: PredictedPower,
    best_id: int,
    best: str | Message,
    smallest_gain: float,
    workloads: Mapping[int, str],
    minutes: Mapping[int, float],
    runs_at: Mapping[tuple[int, int], int],
) -> Task | None:
    """Every workload once at a setting that should beat the best so far; None where none surely does.

    Whether it holds was asked before it was predicted; a law that was wrong about one such setting is less sure of the next.
    """
    found = predicted.better_than(best_id, smallest_gain)
    if found is None:
        return None
    one, drawn = found
    lacks = [pk for pk in workloads if not runs_at.get((one.setting_id or 0, pk), 0)]
    if not lacks:
        return None
    power = one.power_w
    why = message(
        "draws_less_by_the_laws",
        watts=power.value, low_w=power.low, high_w=power.high, best=best, drawn_w=drawn, percent=one.ratio.value * 100,
    )  # fmt: skip
    return Task(
        act="run", stage="Compare", title=once_with(lacks, workloads, one.title), why=why, settles=message("whether_it_saves"),
        setting_id=one.setting_id, values=one.values, workload_id=lacks[0], runs=1, minutes=minutes.get(lacks[0]),
        workload_ids=tuple(lacks),
    )  # fmt: skip
