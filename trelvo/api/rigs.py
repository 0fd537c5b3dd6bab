from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Schema, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.core.base.loads import LoadKind, Part, Technique
from trelvo.logbook.acts.rigs import FittingDraft, PartDraft, add_fitting, create_rig
from trelvo.logbook.models import Fitting, Rig, Workload

router = Router(tags=["rigs"])


class PartIO(Schema):
    role: str = Field(min_length=1, max_length=60)
    name: str = Field(min_length=1, max_length=160)
    specimen: str = Field("", max_length=120)


class FittingIn(Schema):
    parts: list[PartIO] = Field(default_factory=list, max_length=60)
    cooling: str = Field("", max_length=200)
    enclosure: str = Field("", max_length=200)
    driver: str = Field("", max_length=120)
    firmware: str = Field("", max_length=120)
    system: str = Field("", max_length=120)
    note: str = Field("", max_length=4000)

    def draft(self) -> FittingDraft:
        parts = tuple(PartDraft(part.role, part.name, part.specimen) for part in self.parts)
        return FittingDraft(parts, self.cooling, self.enclosure, self.driver, self.firmware, self.system, self.note)


class FittingOut(FittingIn):
    id: int
    number: int
    since: datetime
    parts: list[PartIO]

    @staticmethod
    def resolve_parts(fitting: Fitting) -> list[PartIO]:
        return [PartIO(role=part.role, name=part.name, specimen=part.specimen) for part in fitting.parts.all()]


class WorkloadOut(Schema):
    id: int
    name: str
    measure: str
    unit: str
    higher_is_better: bool
    options: str
    minutes: float
    cap_fps: float | None
    kind: LoadKind
    parts: list[Part]
    techniques: list[Technique]


class RigIn(Schema):
    """standin, standin_seed: kind and seed of a rig of the stand-in's; left out for a real one."""

    name: str = Field(min_length=1, max_length=120)
    standin: str = Field("", max_length=20)
    standin_seed: int = Field(0, ge=0, le=2_000_000_000)
    fitting: FittingIn


class RigOut(Schema):
    id: int
    name: str
    standin: str
    standin_seed: int
    fittings: list[FittingOut]
    workloads: list[WorkloadOut]

    @staticmethod
    def resolve_fittings(rig: Rig) -> list[Fitting]:
        return list(rig.fittings.prefetch_related("parts"))

    @staticmethod
    def resolve_workloads(rig: Rig) -> list[Workload]:
        return list(rig.workloads.all())


@router.get("/rigs", response=list[RigOut])
def list_rigs(request: HttpRequest) -> list[Rig]:
    """Every rig with its fittings, oldest first, and the workloads it has."""
    return list(Rig.objects.order_by("name"))


@router.post("/rigs", response={201: RigOut, 422: Problems})
def make_rig(request: HttpRequest, body: RigIn) -> Status[Rig]:
    """A new rig with its first fitting."""
    return Status(201, create_rig(body.name, body.fitting.draft(), timezone.now(), body.standin, body.standin_seed))


@router.post("/rigs/{int:rig_id}/fittings", response={201: FittingOut, 404: Problems, 422: Problems})
def make_fitting(request: HttpRequest, rig_id: int, body: FittingIn) -> Status[Fitting]:
    """The rig's next fitting; the earlier ones stay with the runs made under them."""
    return Status(201, add_fitting(get_object_or_404(Rig, pk=rig_id), body.draft(), timezone.now()))
