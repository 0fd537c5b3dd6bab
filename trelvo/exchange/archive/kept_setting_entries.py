"""What a campaign file holds of keeping: kept settings with their use, the rig's journal, the yes to cautions; out and in."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Annotated, Any, get_args
from uuid import UUID

from pydantic import Field

from trelvo.core.climb.failures_in_use import Suspect
from trelvo.core.problems import Problem
from trelvo.exchange.archive.shapes import EarlierShape, EvidenceShape, ProbeShape, ProofShape
from trelvo.exchange.archive.strict import Strict, shaped
from trelvo.logbook.commands.journal import MOST_TEXT, check_entry
from trelvo.logbook.commands.kept_settings import MOST_HOURS, check_use
from trelvo.logbook.models import (
    Build,
    Campaign,
    CautionYes,
    InUse,
    JournalEntry,
    KeptSetting,
    KeptSettingUse,
    Rig,
    Setting,
    UseEntry,
    Variant,
)
from trelvo.logbook.tokens import campaign_changed, rig_changed


class UseEntryEntry(Strict):
    uid: UUID
    at: datetime
    hours: float = Field(ge=0, le=MOST_HOURS)
    outcome: str = Field(max_length=24)
    minutes: float | None
    workload: UUID | None
    room_c: float | None
    note: str = Field(max_length=4000)
    probes: Annotated[list[dict[str, Any]], Field(max_length=50), shaped(ProbeShape)]
    verdict: str = Field(max_length=24)
    settled_at: datetime | None


class SpanEntry(Strict):
    since: datetime
    until: datetime | None


class KeptSettingEntry(Strict):
    """evidence, proof: as they were frozen; in use now is for the rig to say, so an open span ends with the file"""

    uid: UUID
    setting: UUID
    build: UUID
    name: str = Field(min_length=1, max_length=80)
    use: str = Field(max_length=12)
    components: list[str] = Field(max_length=20)
    evidence: Annotated[dict[str, Any], shaped(EvidenceShape)]
    proof: Annotated[dict[str, Any], shaped(ProofShape)]
    kept_at: datetime
    taken_back_at: datetime | None
    reason: str = Field(max_length=400)
    spans: list[SpanEntry]
    entries: list[UseEntryEntry]


class JournalFileEntry(Strict):
    uid: UUID
    kind: str = Field(max_length=10)
    at: datetime
    text: str = Field(max_length=MOST_TEXT)
    room_c: float | None
    earlier: Annotated[list[dict[str, Any]], shaped(EarlierShape)]
    made_at: datetime


class CautionFileEntry(Strict):
    key: str = Field(max_length=40)
    words: str = Field(max_length=4000)
    said_at: datetime


def kept_settings_in(campaign: Campaign) -> list[KeptSettingEntry]:
    """Every kept setting of the campaign, those taken back too."""
    rows = campaign.kept_settings.select_related("setting", "build").prefetch_related("spans", "entries__variant")
    found = []
    for row in rows:
        own = {
            name: getattr(row, name)
            for name in KeptSettingEntry.model_fields
            if hasattr(row, name) and name not in _OF_KEPT_SETTING
        }
        entries = [
            UseEntryEntry(
                **{name: getattr(entry, name) for name in UseEntryEntry.model_fields if name != "workload"},
                workload=entry.variant.uid if entry.variant else None,
            )
            for entry in row.entries.all()
        ]
        spans = [SpanEntry(since=span.since, until=span.until) for span in row.spans.all()]
        found.append(
            KeptSettingEntry(**own, setting=row.setting.uid, build=row.build.uid, spans=spans, entries=entries)
        )
    return found


_OF_KEPT_SETTING = ("setting", "build", "spans", "entries")


def journal_in(rig: Rig) -> list[JournalFileEntry]:
    rows = rig.journal.filter(taken_out_at=None)
    return [JournalFileEntry(**{name: getattr(row, name) for name in JournalFileEntry.model_fields}) for row in rows]


def cautions_in(campaign: Campaign) -> list[CautionFileEntry]:
    return [
        CautionFileEntry(**{name: getattr(row, name) for name in CautionFileEntry.model_fields})
        for row in campaign.cautions.all()
    ]


def check_kept_settings(
    kept_settings: Sequence[KeptSettingEntry],
    journal: Sequence[JournalFileEntry],
    settings: set[UUID],
    workloads: set[UUID],
    builds: set[UUID],
    now: datetime,
) -> list[Problem]:
    """What does not hold together, with its place."""
    problems = []

    def wrong(where: str, code: str, **params: str) -> None:
        problems.append(Problem(where, code, params))

    for index, one in enumerate(kept_settings):
        where = f"kept_settings.{index}"
        if one.setting not in settings:
            wrong(f"{where}.setting", "no_such_thing_to_export", thing="setting")
        if one.build not in builds:
            wrong(f"{where}.build", "no_such_thing_to_export", thing="build")
        if one.use not in KeptSettingUse.values:
            wrong(f"{where}.use", "unknown_use_in_file", use=one.use)
        for number, entry in enumerate(one.entries):
            if entry.workload is not None and entry.workload not in workloads:
                wrong(f"{where}.entries.{number}.workload", "no_such_thing_to_export", thing="workload")
            used = check_use(entry.hours, entry.outcome, entry.minutes, entry.room_c)
            problems += [problem.within(f"{where}.entries.{number}") for problem in used]
            if entry.verdict and entry.verdict not in get_args(Suspect):
                wrong(f"{where}.entries.{number}.verdict", "unknown_suspect_in_file", suspect=entry.verdict)
    for index, written in enumerate(journal):
        said = check_entry(written.kind, written.text, written.at, now, written.room_c)
        problems += [problem.within(f"journal.{index}") for problem in said]
    return problems


def write_kept_settings(
    campaign: Campaign, kept_settings: Sequence[KeptSettingEntry], journal: Sequence[JournalFileEntry],
    cautions: Sequence[CautionFileEntry], settings: Mapping[UUID, Setting], variants: Mapping[UUID, Variant],
    builds: Mapping[UUID, Build],
) -> None:  # fmt: skip
    """Into the logbook, with a campaign that was just written."""
    for setting in kept_settings:
        own = setting.model_dump(exclude=set(_OF_KEPT_SETTING))
        kept_setting = KeptSetting.objects.create(
            campaign=campaign, rig=campaign.rig, setting=settings[setting.setting], build=builds[setting.build], **own
        )
        InUse.objects.bulk_create(InUse(kept_setting=kept_setting, **span.model_dump()) for span in setting.spans)
        UseEntry.objects.bulk_create(
            UseEntry(
                kept_setting=kept_setting,
                variant=variants[entry.workload] if entry.workload else None,
                **entry.model_dump(exclude={"workload"}),
            )
            for entry in setting.entries
        )
    # a rig runs with one setting at a time: what began last
    open_ = list(InUse.objects.filter(kept_setting__rig=campaign.rig, until=None).order_by("-since", "-id"))
    for before, after in zip(open_[1:], open_, strict=False):
        before.until = after.since
        before.save(update_fields=["until"])
        campaign_changed(before.kept_setting.campaign_id)
    for written in journal:
        fields = written.model_dump(exclude={"uid"})
        JournalEntry.objects.get_or_create(uid=written.uid, defaults={"rig": campaign.rig, **fields})
    rig_changed(campaign.rig_id)
    CautionYes.objects.bulk_create(CautionYes(campaign=campaign, **said.model_dump()) for said in cautions)
