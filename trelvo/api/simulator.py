from django.http import HttpRequest
from ninja import Router

from trelvo.api.knobs import KnobIO
from trelvo.api.rigs import WorkloadIn
from trelvo.api.schema import Schema
from trelvo.bench.rigs import knobs_for, workloads_for
from trelvo.simulator.rigs import RIGS

router = Router(tags=["simulator"])


class SimulatorKind(Schema):
    """A rig of the simulator, as a campaign begins with it."""

    key: str
    name: str
    parts: list[str]
    knobs: list[KnobIO]
    workloads: list[WorkloadIn]


@router.get("/simulator", response=list[SimulatorKind])
def list_simulator(request: HttpRequest) -> list[SimulatorKind]:
    """The rigs of the simulator, with what can be set and run on each."""
    return [
        SimulatorKind(
            key=key,
            name=rig.name,
            parts=[rig.main_word, *([rig.beside_word] if rig.beside else [])],
            knobs=[KnobIO.from_orm(knob) for knob in knobs_for(key)],
            workloads=[WorkloadIn.from_orm(workload) for workload in workloads_for(key)],
        )
        for key, rig in RIGS.items()
    ]
