"""Writes rigs and their builds."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

from django.db import transaction

from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import Build, Part, Rig
from trelvo.logbook.tokens import rig_changed
from trelvo.simulator.rigs import RIGS


@dataclass(frozen=True)
class PartDraft:
    role: str
    name: str
    specimen: str = ""


@dataclass(frozen=True)
class BuildDraft:
    """How a rig is put together, as typed."""

    parts: Sequence[PartDraft] = field(default_factory=tuple)
    cooling: str = ""
    enclosure: str = ""
    driver: str = ""
    firmware: str = ""
    system: str = ""
    note: str = ""


@transaction.atomic
def create_rig(name: str, build: BuildDraft, now: datetime, simulator: str = "", simulator_seed: int = 0) -> Rig:
    """A new rig with its first build. simulator, simulator_seed: kind and seed of a rig of the simulator's; empty for a real
    one."""
    if simulator and simulator not in RIGS:
        kinds = ", ".join(RIGS)
        raise Refused(Problem("rig.simulator", "unknown_simulator", {"simulator": simulator, "known": kinds}))
    if Rig.objects.filter(name__iexact=name.strip()).exists():
        raise Refused(Problem("rig.name", "rig_there_already", {"name": name.strip()}))
    rig = Rig.objects.create(name=name.strip(), created_at=now, simulator=simulator, simulator_seed=simulator_seed)
    add_build(rig, build, now)
    return rig


@transaction.atomic
def rename_rig(rig: Rig, name: str) -> Rig:
    """Another name for it; one that another rig has is refused."""
    if not name.strip():
        raise Refused(Problem("name", "rig_name_missing"))
    if Rig.objects.filter(name__iexact=name.strip()).exclude(pk=rig.pk).exists():
        raise Refused(Problem("name", "rig_name_taken", {"name": name.strip()}))
    rig.name = name.strip()
    rig.save(update_fields=["name"])
    rig_changed(rig.pk)
    return rig


@transaction.atomic
def add_build(rig: Rig, draft: BuildDraft, now: datetime) -> Build:
    """The rig's next build. The one before stays as it was, with the runs made under it."""
    present = rig.present_build()
    build = Build.objects.create(
        rig=rig,
        number=present.number + 1 if present else 1,
        since=now,
        cooling=draft.cooling,
        enclosure=draft.enclosure,
        driver=draft.driver,
        firmware=draft.firmware,
        system=draft.system,
        note=draft.note,
    )
    Part.objects.bulk_create(
        Part(build=build, position=position, role=part.role, name=part.name, specimen=part.specimen)
        for position, part in enumerate(draft.parts)
    )
    rig_changed(rig.pk)
    return build
