"""Merge an archive into the logbook: by identity, all of it or nothing."""

from collections.abc import Collection
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal
from uuid import UUID

from trelvo.core.message import Message, message
from trelvo.exchange.archive.document import campaign_document
from trelvo.exchange.archive.entries import CampaignDocument
from trelvo.exchange.archive.read import Archive
from trelvo.exchange.archive.restore import check_answers, restore, restore_rig, stored_together, write_document
from trelvo.logbook.models import Campaign, JournalEntry, Rig
from trelvo.logbook.tokens import rig_changed


@dataclass(frozen=True)
class CampaignPlan:
    """One campaign of the archive.

    Attributes
    ----------
    differences: what differs between the archive and this logbook, a statement for each table; empty unless `state` is "differs"
    """

    name: str
    uid: UUID
    runs: int
    state: Literal["new", "there already", "differs"]
    differences: tuple[Message, ...] = ()


@dataclass(frozen=True)
class ImportPlan:
    """What importing an archive does.

    Attributes
    ----------
    rigs: names of the rigs that are new
    runs, journal: number of new runs and journal entries
    imported: identities of the campaigns that were stored, copies included; empty before the import
    """

    campaigns: tuple[CampaignPlan, ...]
    rigs: tuple[str, ...]
    runs: int
    journal: int
    imported: tuple[int, ...] = ()


def plan_of(archive: Archive) -> ImportPlan:
    """Compare an archive with the logbook, and write nothing."""
    there = {campaign.uid: campaign for campaign in Campaign.objects.present().select_related("rig")}
    campaigns = tuple(_campaign_plan(document, there.get(document.campaign.uid)) for document in archive.documents)
    known = set(Rig.objects.values_list("uid", flat=True))
    rigs = {one.uid: one.name for one in [*(d.rig for d in archive.documents), *archive.rigs]}
    entries = {e.uid for d in archive.documents for e in d.journal} | {
        e.uid for some in archive.journal.values() for e in some
    }
    new_entries = len(entries) - JournalEntry.objects.filter(uid__in=entries).count()
    return ImportPlan(
        campaigns=campaigns,
        rigs=tuple(name for uid, name in rigs.items() if uid not in known),
        runs=sum(campaign.runs for campaign in campaigns if campaign.state == "new"),
        journal=new_entries,
    )


def _campaign_plan(document: CampaignDocument, own: Campaign | None) -> CampaignPlan:
    name, uid, runs = document.campaign.name, document.campaign.uid, len(document.runs)
    if own is None:
        return CampaignPlan(name, uid, runs, "new")
    differences = _differences(campaign_document(own), document)
    return CampaignPlan(name, uid, runs, "differs" if differences else "there already", differences)


def import_archive(archive: Archive, now: datetime, copies: Collection[UUID] = ()) -> ImportPlan:
    """Store what is new in an archive: all of it or nothing. What this logbook has already is not changed.

    copies: campaigns that this logbook has already, and that are stored as copies with new identities
    """
    plan = plan_of(archive)
    states = {campaign.uid: campaign.state for campaign in plan.campaigns}
    imported = []
    with stored_together():
        for document, parquet in zip(archive.documents, archive.parquet, strict=True):
            if states[document.campaign.uid] == "new":
                campaign = write_document(document, parquet)
                check_answers(campaign, now)
                imported.append(campaign.pk)
            elif document.campaign.uid in copies:
                imported.append(restore(document, now, as_copy=True).pk)
        for entry in archive.rigs:
            rig = restore_rig(entry)
            for written in archive.journal[entry.uid]:
                fields = written.model_dump(exclude={"uid"})
                JournalEntry.objects.get_or_create(uid=written.uid, defaults={"rig": rig, **fields})
            rig_changed(rig.pk)
    return replace(plan, imported=tuple(imported))


def _differences(own: CampaignDocument, other: CampaignDocument) -> tuple[Message, ...]:
    """List what differs between two states of a campaign, one statement for each table."""
    differences = []
    for word in ("campaign", "knobs", "safety_limits", "settings", "targets", "runs", "kept_settings", "cautions"):
        here, there = getattr(own, word), getattr(other, word)
        if here == there:
            continue
        if not isinstance(here, list):
            differences.append(message("campaign_itself_differs"))
            continue
        own_rows, other_rows = (
            {getattr(entry, "uid", place): entry for place, entry in enumerate(side)} for side in (here, there)
        )
        both = own_rows.keys() & other_rows.keys()
        differences.append(
            message(
                "table_differs",
                table=word.replace("_", " "),
                only_here=len(own_rows.keys() - both),
                only_there=len(other_rows.keys() - both),
                changed=sum(own_rows[uid] != other_rows[uid] for uid in both),
            )
        )
    return tuple(differences)
