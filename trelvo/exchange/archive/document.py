"""Read a campaign from the logbook into the document that an archive is made of."""

import base64
from typing import Any
from uuid import UUID

from trelvo.exchange.archive.entries import (
    RUN_FIELDS,
    SERIES_FIELDS,
    BuildEntry,
    CampaignDocument,
    CampaignEntry,
    FigureEntry,
    InstrumentEntry,
    KnobEntry,
    MarkEntry,
    PartEntry,
    RigEntry,
    RunEntry,
    SafetyLimitEntry,
    SeriesEntry,
    SettingEntry,
    TargetEntry,
    WorkloadEntry,
)
from trelvo.exchange.archive.kept_setting_entries import cautions_in, journal_in, kept_settings_in
from trelvo.logbook.models import Build, Campaign, InstrumentRow, Rig, Variant
from trelvo.logbook.rows.lookups import testable


def rig_entry(rig: Rig) -> RigEntry:
    uids = {row.pk: row.uid for row in rig.instruments.all()}
    return RigEntry(
        uid=rig.uid,
        name=rig.name,
        created_at=rig.created_at,
        simulator=rig.simulator,
        simulator_seed=rig.simulator_seed,
        builds=[_build(build) for build in rig.builds.prefetch_related("parts")],
        instruments=[_instrument(row, uids) for row in rig.instruments.all()],
    )


def campaign_document(campaign: Campaign) -> CampaignDocument:
    """The campaign with its rig, settings, runs and logs as one document."""
    rig = campaign.rig
    uids = {row.pk: row.uid for row in rig.instruments.all()}
    retired = list(campaign.retired.all())
    # a number of workloads may have no other place than the runs that were made with them
    variants = list(dict.fromkeys([*testable(campaign), *retired]))
    return CampaignDocument(
        rig=rig_entry(rig),
        campaign=CampaignEntry.model_validate(campaign),
        knobs=[KnobEntry.model_validate(knob) for knob in campaign.knobs.all()],
        safety_limits=[SafetyLimitEntry.model_validate(safety_limit) for safety_limit in campaign.safety_limits.all()],
        workloads=[_workload(variant) for variant in variants],
        test_suite=[variant.uid for variant in campaign.test_suite.all()],
        retired=[variant.uid for variant in retired],
        targets=[TargetEntry.model_validate(target) for target in campaign.targets.all()],
        settings=[SettingEntry.model_validate(setting) for setting in campaign.settings.all()],
        runs=_runs(campaign, uids),
        kept_settings=kept_settings_in(campaign),
        journal=journal_in(rig),
        cautions=cautions_in(campaign),
    )


def _build(build: Build) -> BuildEntry:
    parts = [PartEntry.model_validate(part) for part in build.placed]
    fields = {name: getattr(build, name) for name in BuildEntry.model_fields if name != "parts"}
    return BuildEntry.model_validate({**fields, "parts": parts})


def _instrument(row: InstrumentRow, uids: dict[int, UUID]) -> InstrumentEntry:
    fields = {name: getattr(row, name) for name in InstrumentEntry.model_fields if name != "replaced_by"}
    return InstrumentEntry.model_validate({**fields, "replaced_by": uids.get(row.replaced_by_id or 0)})


def _workload(variant: Variant) -> WorkloadEntry:
    own = ("uid", "options", "minutes", "cap_fps")
    fields = {name: getattr(variant if name in own else variant.workload, name) for name in WorkloadEntry.model_fields}
    return WorkloadEntry.model_validate(fields)


def _runs(campaign: Campaign, uids: dict[int, UUID]) -> list[RunEntry]:
    runs = []
    found = campaign.runs.select_related("setting", "variant", "build")
    for run in found.prefetch_related("series", "marks", "figures"):
        logs = [
            SeriesEntry(
                **{name: getattr(series, name) for name in SERIES_FIELDS},
                parquet_base64=base64.b64encode(series.parquet).decode(),
            )
            for series in run.series.all()
        ]
        figures = [
            FigureEntry.model_validate(
                {name: getattr(figure, name) for name in FigureEntry.model_fields if name != "instrument"}
                | {"instrument": uids.get(figure.instrument_id or 0)}
            )
            for figure in run.figures.all()
        ]
        own: dict[str, Any] = {name: getattr(run, name) for name in RUN_FIELDS}
        places: dict[str, Any] = {"setting": run.setting.uid, "workload": run.variant.uid, "build": run.build.uid}
        marks = [MarkEntry.model_validate(mark) for mark in run.marks.all()]
        runs.append(RunEntry(**own, **places, figures=figures, marks=marks, series=logs))
    return runs
