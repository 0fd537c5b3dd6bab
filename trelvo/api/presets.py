from django.http import HttpRequest
from ninja import Router

from trelvo.api.knobs import KnobIO
from trelvo.api.rigs import BuildIn, PartIO, WorkloadIn
from trelvo.api.schema import Schema
from trelvo.bench.this_machine import read_this_machine
from trelvo.core.base.presets import STARTERS, USUAL_KNOBS

router = Router(tags=["rigs"])


class StarterOut(Schema):
    """A campaign to begin with, by what is tuned."""

    key: str
    name: str
    says: str
    goal: str
    parts: list[str]
    knobs: list[KnobIO]
    workloads: list[WorkloadIn]


class StartersOut(Schema):
    """knobs: those that are usual anywhere, to be added one by one"""

    starters: list[StarterOut]
    knobs: list[KnobIO]


class ThisMachineOut(Schema):
    """silent: what the system did not tell"""

    name: str
    build: BuildIn
    silent: list[str]


@router.get("/starters", response=StartersOut)
def list_starters(request: HttpRequest) -> StartersOut:
    """What a new campaign can begin with: knobs, grids and kinds of workload by what is tuned."""
    starters = [
        StarterOut(
            key=one.key,
            name=one.name,
            says=one.says,
            goal=one.goal,
            parts=list(one.parts),
            knobs=[KnobIO.from_orm(knob) for knob in one.knobs],
            workloads=[WorkloadIn.from_orm(load) for load in one.workloads],
        )
        for one in STARTERS
    ]
    return StartersOut(starters=starters, knobs=[KnobIO.from_orm(knob) for knob in USUAL_KNOBS])


@router.get("/this-machine", response=ThisMachineOut)
def show_this_machine(request: HttpRequest) -> ThisMachineOut:
    """What the machine that Trelvo runs on says of itself; nothing is stored."""
    found = read_this_machine()
    said = found.build
    build = BuildIn(
        parts=[PartIO(role=part.role, name=part.name, specimen=part.specimen) for part in said.parts],
        cooling=said.cooling,
        enclosure=said.enclosure,
        driver=said.driver,
        firmware=said.firmware,
        system=said.system,
        note=said.note,
    )
    return ThisMachineOut(name=found.name, build=build, silent=list(found.silent))
