"""Store a campaign's document in the logbook, in one transaction."""

import logging
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime

from django.db import IntegrityError, transaction

from trelvo.core.base.knobs import fingerprint
from trelvo.core.campaign_climbs.view import climb_view
from trelvo.core.goal.service import goal_view
from trelvo.core.keep.service import keep_view
from trelvo.core.next_step.summary import summary_of
from trelvo.core.problems import Problem, Refused
from trelvo.exchange.archive.checks import check_document, knob_of
from trelvo.exchange.archive.document import campaign_document
from trelvo.exchange.archive.entries import (
    RUN_FIELDS,
    SERIES_FIELDS,
    BuildEntry,
    CampaignDocument,
    InstrumentEntry,
    RigEntry,
    WorkloadEntry,
)
from trelvo.exchange.archive.kept_setting_entries import write_kept_settings
from trelvo.logbook.answers.kept_settings import kept_setting_views
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.campaigns import WorkloadDraft, add_workloads, knob_row
from trelvo.logbook.kept_logs import first_pass_columns
from trelvo.logbook.models import (
    Build,
    Campaign,
    Figure,
    InstrumentRow,
    KeptSetting,
    Mark,
    Part,
    Rig,
    Run,
    SafetyLimitRow,
    Series,
    Setting,
    Target,
    Variant,
)
from trelvo.logbook.tokens import campaign_changed, rig_changed, workloads_changed

BATCH = 500
logger = logging.getLogger(__name__)


def restore(document: CampaignDocument, now: datetime, *, as_copy: bool = False) -> Campaign:
    """The campaign of the file, in the logbook. Raises Refused when it is there already or does not hold together.

    as_copy: give everything new identities, so that it is next to the one that is there
    """
    if as_copy:
        document = copy_of(document)
    elif Campaign.objects.filter(uid=document.campaign.uid).exists():
        raise Refused(Problem("campaign", "campaign_there_already", {"campaign": document.campaign.name}))
    parquet = check_document(document, now)
    with stored_together():
        campaign = write_document(document, parquet)
        check_answers(campaign, now)
        return campaign


@contextmanager
def stored_together() -> Iterator[None]:
    """One transaction. Raises Refused where an identity in the document belongs to something else here."""
    try:
        with transaction.atomic():
            yield
    except IntegrityError as trouble:
        raise Refused(Problem("campaign", "identity_taken")) from trouble


def check_answers(campaign: Campaign, now: datetime) -> None:
    """Compute summary, goal, climb, kept settings and export of a campaign before its import is acknowledged.

    Raises Refused where one cannot be given: what passed every check and still stops a page is not stored.
    """
    try:
        case = case_alone(Campaign.objects.select_related("rig").get(pk=campaign.pk))
        goal_view(case)
        if summary_of(case, now).trouble:
            raise ValueError("its summary cannot be worked out")
        keep_view(case, None)
        climb_view(case, None, None)
        kept_setting_views(KeptSetting.objects.filter(campaign=campaign), now)
        campaign_document(campaign)
    except Refused:
        raise
    except Exception as trouble:
        logger.exception("A file that passed every check cannot be answered from")
        raise Refused(
            Problem("campaign", "cannot_be_worked_with", {"campaign": campaign.name, "error": type(trouble).__name__})
        ) from trouble


def restore_rig(entry: RigEntry) -> Rig:
    """A rig with its builds and instruments; what is there already stays."""
    return _rig(entry)[0]


def _rig(entry: RigEntry) -> tuple[Rig, dict[uuid.UUID, Build], dict[uuid.UUID, InstrumentRow]]:
    rig, _ = Rig.objects.get_or_create(
        uid=entry.uid, defaults=entry.model_dump(exclude={"uid", "builds", "instruments"})
    )
    builds = {build.uid: _build(rig, build) for build in entry.builds}
    instruments = {instrument.uid: _instrument(rig, instrument) for instrument in entry.instruments}
    for instrument in entry.instruments:
        if instrument.replaced_by is not None and instruments[instrument.uid].replaced_by is None:
            instruments[instrument.uid].replaced_by = instruments[instrument.replaced_by]
            instruments[instrument.uid].save(update_fields=["replaced_by"])
    rig_changed(rig.pk)
    return rig, builds, instruments


def write_document(document: CampaignDocument, parquet: dict[uuid.UUID, bytes]) -> Campaign:
    """Into the logbook; within a transaction of the caller's. parquet: what `check_document` gave"""
    rig, builds, instruments = _rig(document.rig)
    campaign = Campaign.objects.create(rig=rig, **document.campaign.model_dump())
    for position, k in enumerate(document.knobs):
        row = knob_row(campaign, position, knob_of(k))
        row.retired_at = k.retired_at
        row.save()
    for position, safety_limit in enumerate(document.safety_limits):
        SafetyLimitRow.objects.create(campaign=campaign, position=position, **safety_limit.model_dump())
    workloads = {entry.uid: _variant(entry) for entry in document.workloads}
    other = {*document.test_suite, *document.retired}
    campaign.workloads.set(one for uid, one in workloads.items() if uid not in other)
    campaign.test_suite.set(workloads[uid] for uid in document.test_suite)
    campaign.retired.set(workloads[uid] for uid in document.retired)
    known = {str(uid): str(variant.uid) for uid, variant in workloads.items()}
    campaign.weights = {known.get(uid, uid): weight for uid, weight in campaign.weights.items()}
    read_by = {str(uid): str(row.uid) for uid, row in instruments.items()}
    campaign.counting = {quantity: read_by.get(uid, uid) for quantity, uid in campaign.counting.items()}
    campaign.save(update_fields=["weights", "counting"])
    settings = {
        entry.uid: Setting.objects.create(
            campaign=campaign, fingerprint=fingerprint(entry.values), **entry.model_dump()
        )
        for entry in document.settings
    }
    for target in document.targets:
        fields = target.model_dump()
        fields["results"] = {known.get(uid, uid): value for uid, value in target.results.items()}
        Target.objects.create(campaign=campaign, **fields)
    runs = [
        Run(
            campaign=campaign,
            setting=settings[one.setting],
            variant=workloads[one.workload],
            build=builds[one.build],
            **{name: getattr(one, name) for name in RUN_FIELDS},
        )
        for one in document.runs
    ]
    # one by one would take minutes for a large campaign
    Run.objects.bulk_create(runs, batch_size=BATCH)
    together = list(zip(runs, document.runs, strict=True))
    Figure.objects.bulk_create(
        (
            Figure(
                run=run,
                instrument=instruments[figure.instrument] if figure.instrument else None,
                **figure.model_dump(exclude={"instrument"}),
            )
            for run, entry in together
            for figure in entry.figures
        ),
        batch_size=BATCH,
    )
    Mark.objects.bulk_create(
        (Mark(run=run, **mark.model_dump()) for run, entry in together for mark in entry.marks), batch_size=BATCH
    )
    for run, entry in together:
        for series in entry.series:
            kept = {name: getattr(series, name) for name in SERIES_FIELDS}
            start = first_pass_columns(series.kind, parquet[series.uid], series.channels, series.summary)
            Series.objects.create(run=run, parquet=parquet[series.uid], **kept, **start)
    write_kept_settings(
        campaign, document.kept_settings, document.journal, document.cautions, settings, workloads, builds
    )
    campaign_changed(campaign.pk)
    return campaign


def _variant(entry: WorkloadEntry) -> Variant:
    """The variant of that identity, or one that is the same in all that is told of it; made where there is neither."""
    draft = WorkloadDraft(**entry.model_dump(exclude={"uid", "corrections"}))
    found: Variant | None = Variant.objects.filter(uid=entry.uid).first()
    if found is not None:
        return found
    variant = add_workloads([draft])[0]
    if not variant.runs.exists() and not variant.campaigns.exists() and not variant.test_suite_of.exists():
        # made just now: it keeps the identity that it has in the file
        variant.uid = entry.uid
        variant.save(update_fields=["uid"])
        variant.workload.corrections = variant.workload.corrections or entry.corrections
        variant.workload.save(update_fields=["corrections"])
        workloads_changed()
    return variant


def _instrument(rig: Rig, entry: InstrumentEntry) -> InstrumentRow:
    """The rig's instrument of that identity, or of that name; made when the rig has neither."""
    if found := rig.instruments.filter(uid=entry.uid).first():
        return found
    if found := rig.instruments.filter(name=entry.name, quantity=entry.quantity).first():
        return found
    return InstrumentRow.objects.create(rig=rig, **entry.model_dump(exclude={"replaced_by"}))


def _build(rig: Rig, entry: BuildEntry) -> Build:
    """The rig's build of that identity; made, with the next free number, when the rig does not have it yet."""
    if found := rig.builds.filter(uid=entry.uid).first():
        return found
    taken = set(rig.builds.values_list("number", flat=True))
    number = entry.number if entry.number not in taken else max(taken) + 1
    build = Build.objects.create(rig=rig, **entry.model_dump(exclude={"parts", "number"}), number=number)
    for position, part in enumerate(entry.parts):
        Part.objects.create(build=build, position=position, **part.model_dump())
    return build


def copy_of(document: CampaignDocument) -> CampaignDocument:
    """The same document with a new identity for everything in it; references follow."""
    fresh: dict[uuid.UUID, uuid.UUID] = {}

    # a workload is the same one on every rig, so it keeps its identity
    for workload in document.workloads:
        fresh[workload.uid] = workload.uid
    # texts that are identities: which instrument counts, and which runs a kept setting rests on
    uids = [*(instrument.uid for instrument in document.rig.instruments), *(run.uid for run in document.runs)]
    known = {str(uid): uid for uid in uids}

    def renew(value: object) -> object:
        if isinstance(value, uuid.UUID):
            return fresh.setdefault(value, uuid.uuid4())
        if isinstance(value, dict):
            return {key: renew(item) for key, item in value.items()}
        if isinstance(value, str) and value in known:
            return str(renew(known[value]))
        return [renew(item) for item in value] if isinstance(value, list) else value

    copy = CampaignDocument.model_validate(renew(document.model_dump()))
    copy.campaign.name = f"{copy.campaign.name} (copy)"[:160]
    copy.rig.name = f"{copy.rig.name} (copy)"[:120]
    return copy
