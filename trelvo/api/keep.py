from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.found import found_case, found_row_and_case, one_of
from trelvo.api.schema import Schema
from trelvo.api.seen import Seen, check_seen
from trelvo.bench.later import probe_on_simulator, repaired, time_passes, use_on_simulator
from trelvo.core.climb.failures_in_use import ProbeKey, Suspect
from trelvo.core.keep.kept_view import KeptSettingView
from trelvo.core.keep.service import KeepView, evidence_of, keep_view, proof_of
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import Outcome
from trelvo.logbook.answers.kept_settings import kept_setting_view, kept_setting_views
from trelvo.logbook.commands.kept_settings import (
    keep,
    log_probe,
    log_use,
    put_in_use,
    remove_use,
    rename_kept_setting,
    settle_failure,
    take_back,
    take_out_of_use,
)
from trelvo.logbook.models import KeptSetting, KeptSettingUse, UseEntry, Variant
from trelvo.messages.texts import rendered

router = Router(tags=["keep"])


class KeptSettingIn(Schema):
    """components: of the setting, the ones that are kept, by their key; in_use: the rig runs with it from now on"""

    setting_id: int
    name: str = Field(max_length=80)
    use: KeptSettingUse = KeptSettingUse.EVERY_DAY
    components: list[str] = Field(default_factory=list, max_length=20)
    in_use: bool = True


class KeptSettingName(Schema):
    """seen: name and use as they stood in the form"""

    name: str = Field(max_length=80)
    use: KeptSettingUse
    seen: Seen = None


class InUseIn(Schema):
    in_use: bool


class TakeBackIn(Schema):
    """taken_back: false keeps it again"""

    taken_back: bool = True
    reason: str = Field("", max_length=400)


class UseIn(Schema):
    """outcome: how it failed, left out where it went well; minutes: how long it ran until then"""

    hours: float = 0.0
    outcome: Outcome | None = None
    minutes: float | None = None
    workload_id: int | None = None
    room_c: float | None = None
    note: str = Field("", max_length=4000)


class ProbeIn(Schema):
    key: ProbeKey
    failed: bool
    minutes: float


class VerdictIn(Schema):
    """verdict: who is to blame; null opens it again"""

    verdict: Suspect | None


class SimulatorUseIn(Schema):
    """hours of use in one go, or as many as it lasts"""

    hours: float
    workload_id: int


class TimeIn(Schema):
    """workload_id: what the rig is used with; seed: the same again, the same; by chance where left out"""

    workload_id: int
    seed: int | None = Field(None, ge=0, le=2_000_000_000)


class SimulatorProbeIn(Schema):
    key: ProbeKey
    minutes: float = Field(gt=0, le=1440)


class UseLogged(Schema):
    """entry_id: to take it back with, or to go on with where it failed"""

    entry_id: int
    kept_setting: KeptSettingView


def _kept_setting(kept_setting_id: int) -> KeptSetting:
    rows = KeptSetting.objects.filter(campaign__deleted_at=None).select_related("rig", "campaign", "setting", "build")
    return get_object_or_404(rows, pk=kept_setting_id)


@router.get("/campaigns/{int:campaign_id}/keep", response={200: KeepView, 404: Problems})
def show_keep(request: HttpRequest, campaign_id: int, setting_id: int | None = None) -> KeepView:
    """What may be kept of a campaign, and what each component of a setting brings."""
    return keep_view(found_case(campaign_id), setting_id)


@router.post(
    "/campaigns/{int:campaign_id}/kept-settings", response={201: KeptSettingView, 404: Problems, 422: Problems}
)
def make_kept_setting(request: HttpRequest, campaign_id: int, body: KeptSettingIn) -> Status[KeptSettingView]:
    """Keeps a setting for use, with what it rests on as it is at this moment."""
    (row, case), now = found_row_and_case(campaign_id), timezone.now()
    setting = one_of(case.campaign.settings, body.setting_id)
    if case.campaign.judged_build is None:
        raise Refused(Problem("setting", "rig_not_described"))
    evidence, proof = rendered(evidence_of(case, setting, now)), proof_of(case, setting, case.campaign.rig.used)
    kept_setting = keep(
        campaign=row,
        setting_id=setting.id,
        build_id=case.campaign.judged_build.id,
        name=body.name,
        use=body.use,
        components=body.components,
        evidence=evidence,
        proof=proof,
        now=now,
        in_use=body.in_use,
    )
    return Status(201, kept_setting_view(_kept_setting(kept_setting.id), now))


@router.get("/kept-settings", response=list[KeptSettingView])
def list_kept_settings(
    request: HttpRequest, campaign_id: int | None = None, rig_id: int | None = None, past: bool = False
) -> list[KeptSettingView]:
    """Every setting that is kept, of one campaign, one rig or all; those in use first. past: also those taken back"""
    rows = KeptSetting.objects.filter(campaign__deleted_at=None)
    if campaign_id is not None:
        rows = rows.filter(campaign_id=campaign_id)
    if rig_id is not None:
        rows = rows.filter(rig_id=rig_id)
    if not past:
        rows = rows.filter(taken_back_at=None)
    found = kept_setting_views(rows, timezone.now())
    return sorted(found, key=lambda one: (one.taken_back_at is not None, one.since is None, one.rig, one.id))


@router.get("/kept-settings/{int:kept_setting_id}", response={200: KeptSettingView, 404: Problems})
def show_kept_setting(request: HttpRequest, kept_setting_id: int) -> KeptSettingView:
    return kept_setting_view(_kept_setting(kept_setting_id), timezone.now())


@router.put("/kept-settings/{int:kept_setting_id}", response={200: KeptSettingView, 404: Problems, 422: Problems})
@transaction.atomic
def change_kept_setting(request: HttpRequest, kept_setting_id: int, body: KeptSettingName) -> KeptSettingView:
    """Another name or use; what it sets and rests on never changes."""
    kept_setting = _kept_setting(kept_setting_id)
    check_seen(
        "kept_setting_changed", body.seen, {"name": kept_setting.name, "use": kept_setting.use}, kept_setting.name
    )
    return kept_setting_view(rename_kept_setting(kept_setting, body.name, body.use), timezone.now())


@router.post(
    "/kept-settings/{int:kept_setting_id}/in-use", response={200: KeptSettingView, 404: Problems, 422: Problems}
)
def set_in_use(request: HttpRequest, kept_setting_id: int, body: InUseIn) -> KeptSettingView:
    """Whether the rig runs with it; one at a time."""
    kept_setting, now = _kept_setting(kept_setting_id), timezone.now()
    if body.in_use:
        put_in_use(kept_setting, now)
    else:
        take_out_of_use(kept_setting, now)
    return kept_setting_view(kept_setting, now)


@router.post("/kept-settings/{int:kept_setting_id}/take-back", response={200: KeptSettingView, 404: Problems})
def take_kept_setting_back(request: HttpRequest, kept_setting_id: int, body: TakeBackIn) -> KeptSettingView:
    """No longer kept, with the reason; or kept again."""
    now = timezone.now()
    return kept_setting_view(
        take_back(_kept_setting(kept_setting_id), body.reason, now if body.taken_back else None), now
    )


@router.post("/kept-settings/{int:kept_setting_id}/use", response={201: UseLogged, 404: Problems, 422: Problems})
def log_hours(request: HttpRequest, kept_setting_id: int, body: UseIn) -> Status[UseLogged]:
    """Hours of use, or a failure in use."""
    kept_setting, now = _kept_setting(kept_setting_id), timezone.now()
    variant = get_object_or_404(Variant, pk=body.workload_id) if body.workload_id is not None else None
    entry = log_use(
        kept_setting, body.hours, now, outcome=body.outcome or "", minutes=body.minutes, variant=variant, room_c=body.room_c,
        note=body.note,
    )  # fmt: skip
    return Status(201, UseLogged(entry_id=entry.id, kept_setting=kept_setting_view(kept_setting, now)))


def _entry(entry_id: int) -> UseEntry:
    return get_object_or_404(UseEntry.objects.filter(kept_setting__campaign__deleted_at=None), pk=entry_id)


@router.delete("/use/{int:entry_id}", response={200: KeptSettingView, 404: Problems})
def take_use_back(request: HttpRequest, entry_id: int) -> KeptSettingView:
    """Takes an entry back that was just logged."""
    entry = _entry(entry_id)
    kept_setting_id = entry.kept_setting_id
    remove_use(entry)
    return kept_setting_view(_kept_setting(kept_setting_id), timezone.now())


@router.post("/use/{int:entry_id}/probes", response={200: KeptSettingView, 404: Problems, 422: Problems})
def add_probe(request: HttpRequest, entry_id: int, body: ProbeIn) -> KeptSettingView:
    """One test of the search for the cause of a failure in use."""
    entry, now = _entry(entry_id), timezone.now()
    log_probe(entry, body.key, body.minutes, now, failed=body.failed)
    return kept_setting_view(_kept_setting(entry.kept_setting_id), now)


@router.post("/use/{int:entry_id}/verdict", response={200: KeptSettingView, 404: Problems, 422: Problems})
def set_verdict(request: HttpRequest, entry_id: int, body: VerdictIn) -> KeptSettingView:
    """Who is to blame for a failure in use."""
    entry, now = _entry(entry_id), timezone.now()
    repaired(settle_failure(entry, body.verdict or "", now))
    return kept_setting_view(_kept_setting(entry.kept_setting_id), now)


@router.post(
    "/kept-settings/{int:kept_setting_id}/simulator-use", response={201: UseLogged, 404: Problems, 422: Problems}
)
def use_simulator(request: HttpRequest, kept_setting_id: int, body: SimulatorUseIn) -> Status[UseLogged]:
    """Hours of use on the simulator in one go, logged like any other use."""
    kept_setting, now = _kept_setting(kept_setting_id), timezone.now()
    entry = use_on_simulator(kept_setting, body.hours, get_object_or_404(Variant, pk=body.workload_id), now)
    return Status(201, UseLogged(entry_id=entry.id, kept_setting=kept_setting_view(kept_setting, now)))


@router.post(
    "/kept-settings/{int:kept_setting_id}/simulator-time", response={200: KeptSettingView, 404: Problems, 422: Problems}
)
def let_time_pass(request: HttpRequest, kept_setting_id: int, body: TimeIn) -> KeptSettingView:
    """Something happens to a rig of the simulator, and stays hidden: to practise with."""
    now = timezone.now()
    time_passes(_kept_setting(kept_setting_id), get_object_or_404(Variant, pk=body.workload_id), now, body.seed)
    return kept_setting_view(_kept_setting(kept_setting_id), now)


@router.post("/use/{int:entry_id}/simulator-probe", response={200: KeptSettingView, 404: Problems, 422: Problems})
def probe_simulator(request: HttpRequest, entry_id: int, body: SimulatorProbeIn) -> KeptSettingView:
    """One test of the search for a cause, made on the simulator in one go."""
    entry, now = _entry(entry_id), timezone.now()
    probe_on_simulator(entry, body.key, body.minutes, now)
    return kept_setting_view(_kept_setting(entry.kept_setting_id), now)
