"""The limit over two knobs at once, clock and voltage, from the runs at pairs of them."""

from collections.abc import Mapping
from dataclasses import dataclass

from trelvo.core.base.runs import mean_of
from trelvo.core.case import Case
from trelvo.core.climb.edge_plane import (
    EdgePlane,
    PlaneTrial,
    edge_plane,
    slope_of,
)
from trelvo.core.climb_line.trials import TrialMark, marks_on_both_sides
from trelvo.core.memo import on_snapshot
from trelvo.core.predicted_power import read_power

BESIDES = ("power limit",)


@dataclass(frozen=True)
class Seen:
    """The belief over both knobs with the runs that it rests on: their marks, and where the voltage stood in each."""

    plane: EdgePlane
    marks: tuple[TrialMark, ...]
    voltage_at: Mapping[int, float]


@on_snapshot
def seen_plane(case: Case) -> Seen | None:
    """The edge over a core clock and a voltage knob; None where the campaign has not both, in MHz and mV or V."""
    read = read_power(case)
    clock = next((knob for knob in case.campaign.knobs if knob.role == "core clock"), None)
    voltage = next(
        (knob for knob in case.campaign.knobs if knob.role == "voltage" and clock and knob.part == clock.part), None
    )
    mhz, volt = (mean_of(getattr(point, name) for point in read.points) for name in ("core_mhz", "voltage_v"))
    if clock is None or voltage is None or mhz is None or volt is None:
        return None
    slope = slope_of(clock, voltage, mhz, volt)
    if slope is None:
        return None
    besides = {clock.key, voltage.key, *(knob.key for knob in case.campaign.knobs if knob.role in BESIDES)}
    pairs = {setting.id: setting.values for setting in case.campaign.settings if set(setting.values) <= besides}
    steepness = case.priors.steepness_of(clock)
    under = {case.campaign.judged_build.id} if case.campaign.judged_build else set()
    clocks = {pk: values.get(clock.key, clock.stock) for pk, values in pairs.items()}
    marks = marks_on_both_sides(case.campaign, clock.part, clocks, steepness, under)
    setting_of = {run.id: run.setting_id for run in case.campaign.runs}
    at = {mark.run_id: pairs[setting_of[mark.run_id]].get(voltage.key, voltage.stock) for mark in marks}
    trials = [PlaneTrial((at[mark.run_id] - voltage.stock) * voltage.away, mark.trial) for mark in marks]
    return Seen(edge_plane(clock, voltage, trials, slope, steepness), tuple(marks), at)
