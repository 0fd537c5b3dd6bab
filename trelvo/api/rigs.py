from collections import defaultdict
from collections.abc import Sequence
from datetime import datetime

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.api.seen import Seen, check_seen
from trelvo.core import campaign
from trelvo.core.base.load_kinds import LoadKind, Part, Technique
from trelvo.core.base.workloads import Measure
from trelvo.core.campaign import titles_of
from trelvo.logbook.commands.campaigns import WorkloadDraft
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build, create_rig, rename_rig
from trelvo.logbook.commands.workload_corrections import correct_workload
from trelvo.logbook.models import Build, Campaign, Rig, Variant

router = Router(tags=["rigs"])


class PartIO(Schema):
    role: str = Field(min_length=1, max_length=60)
    name: str = Field(min_length=1, max_length=160)
    specimen: str = Field("", max_length=120)


class BuildIn(Schema):
    parts: list[PartIO] = Field(default_factory=list, max_length=60)
    cooling: str = Field("", max_length=200)
    enclosure: str = Field("", max_length=200)
    driver: str = Field("", max_length=120)
    firmware: str = Field("", max_length=120)
    system: str = Field("", max_length=120)
    note: str = Field("", max_length=4000)

    def draft(self) -> BuildDraft:
        parts = tuple(PartDraft(part.role, part.name, part.specimen) for part in self.parts)
        return BuildDraft(parts, self.cooling, self.enclosure, self.driver, self.firmware, self.system, self.note)


class BuildOut(BuildIn):
    id: int
    number: int
    since: datetime


def build_out(build: Build | campaign.Build) -> BuildOut:
    parts = [PartIO(role=part.role, name=part.name, specimen=part.specimen) for part in build.placed]
    fields = {name: getattr(build, name) for name in BuildOut.model_fields if name != "parts"}
    return BuildOut(**fields, parts=parts)


class WorkloadIn(Schema):
    name: str = Field(min_length=1, max_length=120)
    measure: Measure
    unit: str = Field("", max_length=20)
    higher_is_better: bool
    minutes: float
    options: dict[str, str] = Field(default_factory=dict, max_length=20)
    cap_fps: float | None = None
    kind: LoadKind = "title"
    parts: list[Part] = Field(default_factory=list, max_length=10)
    techniques: list[Technique] = Field(default_factory=list, max_length=10)

    def draft(self) -> WorkloadDraft:
        fields = self.dict() | {"parts": tuple(self.parts), "techniques": tuple(self.techniques)}
        return WorkloadDraft(**fields)


class WorkloadChange(WorkloadIn):
    """seen: the workload as it stood in the form"""

    seen: Seen = None

    def draft(self) -> WorkloadDraft:
        fields = self.dict(exclude={"seen"}) | {"parts": tuple(self.parts), "techniques": tuple(self.techniques)}
        return WorkloadDraft(**fields)


class WorkloadOut(Schema):
    """A workload with its options, as runs are made of it. title: with its options where another has the same name

    corrections: what was corrected of it, oldest first
    """

    id: int
    name: str
    title: str
    measure: str
    unit: str
    higher_is_better: bool
    options: dict[str, str]
    options_in_words: str
    minutes: float
    cap_fps: float | None
    kind: LoadKind
    parts: list[Part]
    techniques: list[Technique]
    corrections: list[str]


def workloads_out(variants: Sequence[Variant], among: Sequence[Variant] | None = None) -> list[WorkloadOut]:
    """Variants as answers hold them. among: all that are in the same lists"""
    titles = titles_of(variants if among is None else among)
    return [
        WorkloadOut(
            id=variant.pk,
            name=variant.name,
            title=titles[variant.pk],
            measure=variant.measure,
            unit=variant.unit,
            higher_is_better=variant.higher_is_better,
            options=variant.options,
            options_in_words=variant.options_in_words,
            minutes=variant.minutes,
            cap_fps=variant.cap_fps,
            kind=variant.kind,
            parts=variant.workload.parts,
            techniques=variant.workload.techniques,
            corrections=[entry["text"] for entry in variant.workload.corrections],
        )
        for variant in variants
    ]


class KnownWorkload(WorkloadOut):
    """A workload that is there already. rig_ids: rigs that have used it"""

    rig_ids: list[int]


class RigIn(Schema):
    """simulator, simulator_seed: kind and seed of a rig of the simulator's; left out for a real one."""

    name: str = Field(min_length=1, max_length=120)
    simulator: str = Field("", max_length=20)
    simulator_seed: int = Field(0, ge=0, le=2_000_000_000)
    build: BuildIn


class RigOut(Schema):
    id: int
    name: str
    simulator: str
    simulator_seed: int
    builds: list[BuildOut]


@router.get("/rigs", response=list[RigOut])
def list_rigs(request: HttpRequest) -> list[RigOut]:
    """Every rig with its builds, oldest first."""
    rigs = Rig.objects.order_by("name").prefetch_related("builds__parts")
    return [rig_out(rig) for rig in rigs]


def rig_out(rig: Rig) -> RigOut:
    return RigOut(
        id=rig.pk,
        name=rig.name,
        simulator=rig.simulator,
        simulator_seed=rig.simulator_seed,
        builds=[build_out(build) for build in rig.builds.all()],
    )


@router.get("/workloads", response=list[KnownWorkload])
def list_workloads(request: HttpRequest) -> list[KnownWorkload]:
    """Every workload that campaigns measure or prove with; the same one on every rig."""
    variants = list(Variant.objects.all())
    used: dict[int, set[int]] = defaultdict(set)
    for link in (Campaign.workloads.through, Campaign.test_suite.through):
        for variant_id, rig_id in link.objects.values_list("variant_id", "campaign__rig_id"):
            used[variant_id].add(rig_id)
    return [
        KnownWorkload(**one.dict(), rig_ids=sorted(used[one.id])) for one in workloads_out(variants) if used[one.id]
    ]


@router.put("/workloads/{int:workload_id}", response={200: WorkloadOut, 404: Problems, 422: Problems})
@transaction.atomic
def change_workload(request: HttpRequest, workload_id: int, body: WorkloadChange) -> WorkloadOut:
    """Corrects how a workload was described, in every campaign that uses it; what stood there before is kept beside it."""
    variant = get_object_or_404(Variant, pk=workload_id)
    check_seen("workload_changed", body.seen, workloads_out([variant])[0], variant.name)
    return workloads_out([correct_workload(variant, body.draft(), timezone.now())])[0]


class RigName(Schema):
    """seen: the name as it stood in the form"""

    name: str = Field(min_length=1, max_length=120)
    seen: Seen = None


@router.put("/rigs/{int:rig_id}", response={200: RigOut, 404: Problems, 422: Problems})
@transaction.atomic
def change_rig(request: HttpRequest, rig_id: int, body: RigName) -> RigOut:
    """Another name for a rig."""
    rig = get_object_or_404(Rig, pk=rig_id)
    check_seen("rig_changed", body.seen, {"name": rig.name})
    return rig_out(rename_rig(rig, body.name))


@router.post("/rigs", response={201: RigOut, 422: Problems})
def make_rig(request: HttpRequest, body: RigIn) -> Status[RigOut]:
    """A new rig with its first build."""
    rig = create_rig(body.name, body.build.draft(), timezone.now(), body.simulator, body.simulator_seed)
    return Status(201, rig_out(rig))


@router.post("/rigs/{int:rig_id}/builds", response={201: BuildOut, 404: Problems, 422: Problems})
def make_build(request: HttpRequest, rig_id: int, body: BuildIn) -> Status[BuildOut]:
    """The rig's next build; the earlier ones stay with the runs made under them."""
    return Status(201, build_out(add_build(get_object_or_404(Rig, pk=rig_id), body.draft(), timezone.now())))
