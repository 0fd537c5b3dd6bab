"""What a setting that was not run would reach, draw and heat up to, with what the rig's logs say of its coolers."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from trelvo.core.base.knobs import describe_setting
from trelvo.core.campaign import Variant
from trelvo.core.case import Case
from trelvo.core.lab.heat import coolings_of
from trelvo.core.lab.heat_logs import logged_heat
from trelvo.core.laws.cooling import by_build, predicted
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.power_prediction import predict
from trelvo.core.logs.kept import Logs
from trelvo.core.message import Message
from trelvo.core.predicted_power import read_power
from trelvo.core.problems import Problem
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.safety_limits import predicted_breaches


@dataclass(frozen=True)
class PredictedView:
    """What a setting not tried would reach and draw; temp_c: where it would settle with the build's cooler;
    safety limits: safety limits that it would or may break"""

    title: str
    core_mhz: Interval | None
    voltage_v: Interval | None
    power_w: Interval | None
    held: bool
    why: tuple[Problem, ...]
    temp_c: Interval | None
    room_c: float | None
    safety_limits: tuple[Message, ...]


def predicted_view(
    case: Case, rig: Sequence[Case], logs: Logs, values: Mapping[str, float], variant: Variant
) -> PredictedView:
    """A setting not tried, under one workload; where nothing can be told, why."""
    read = read_power(case)
    title = describe_setting(case.campaign.knobs, values)
    why: tuple[Problem, ...] = read.refused
    if read.model and variant.id not in read.model.law.workloads:
        why = (Problem("workload", "workload_without_power", {"workload": variant.name}),)
    elif read.model and not read.model.law.fits:
        why = (Problem("power", "power_law_does_not_fit"),)
    if read.model is None or why:
        return PredictedView(
            title=title,
            core_mhz=None,
            voltage_v=None,
            power_w=None,
            held=False,
            why=why,
            temp_c=None,
            room_c=None,
            safety_limits=(),
        )
    found = predict(read.model, variant.id, values)
    temp, room = _settles(case, rig, logs, found.power_w)
    told: dict[Quantity, Interval | None] = {"temperature": temp, "power": found.power_w}
    beyond = predicted_breaches(
        case.campaign.safety_limits, {name: (one.value, one.high) for name, one in told.items() if one}
    )
    return PredictedView(
        title=title,
        core_mhz=found.core_mhz,
        voltage_v=found.voltage_v,
        power_w=found.power_w,
        held=found.held,
        why=found.why,
        temp_c=temp,
        room_c=room,
        safety_limits=tuple(one.says for one in beyond),
    )


def _settles(
    case: Case, rig: Sequence[Case], logs: Logs, power: Interval | None
) -> tuple[Interval | None, float | None]:
    """Where the part would settle at these watts, with the build's cooler in the room of its newest log."""
    own, room = _cooling_of(case, rig, logs)
    if own is None or power is None or room is None:
        return None, room
    return predicted(own, power.value, room), room


def _cooling_of(case: Case, rig: Sequence[Case], logs: Logs) -> tuple[Interval | None, float | None]:
    """Thermal resistance of the build's cooler, and the room in the newest log."""
    logged, _ = logged_heat(rig, logs)
    build = case.campaign.judged_build
    own = next((one for one in by_build(coolings_of(logged)) if build and one.build_id == build.id), None)
    room = next((one.trace.room_c for one in reversed(logged) if one.trace.room_c is not None), None)
    return own.resistance if own else None, room
