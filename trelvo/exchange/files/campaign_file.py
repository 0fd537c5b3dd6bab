"""The campaign file: one JSON document that holds a campaign number for number. Described in docs/formats.md."""

import base64
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

import orjson
from pydantic import Field, ValidationError

from trelvo.core.base.figures import Part as FigurePart
from trelvo.core.base.figures import Statistic
from trelvo.core.base.instruments import InstrumentKind, Point, Trust
from trelvo.core.base.loads import LoadKind, Part, Technique
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.workloads import Measure
from trelvo.core.registry.approaches import School, Strategy
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.registry.quantities import Quantity
from trelvo.core.registry.roles import Role
from trelvo.core.watch.guard_rails import Kind
from trelvo.exchange.field_problems import field_problem
from trelvo.exchange.files.earlier_versions import from_earlier
from trelvo.exchange.files.keeper_entries import (
    CautionFileEntry,
    JournalFileEntry,
    KeeperEntry,
    cautions_in,
    journal_in,
    keepers_in,
)
from trelvo.exchange.files.shapes import CorrectionShape, SummaryShape, TermsShape, TypedShape
from trelvo.exchange.files.strict import Strict, shaped
from trelvo.logbook.models import Campaign, Fitting, Goal, InstrumentRow, Rig, Variant
from trelvo.logbook.rows.lookups import testable

FORMAT: Literal["trelvo-campaign"] = "trelvo-campaign"
VERSION: Literal[7] = 7


class PartEntry(Strict):
    role: str = Field(min_length=1, max_length=60)
    name: str = Field(min_length=1, max_length=160)
    specimen: str = Field(max_length=120)


class FittingEntry(Strict):
    uid: UUID
    number: int = Field(ge=1)
    since: datetime
    cooling: str = Field(max_length=200)
    enclosure: str = Field(max_length=200)
    driver: str = Field(max_length=120)
    firmware: str = Field(max_length=120)
    system: str = Field(max_length=120)
    note: str = Field(max_length=4000)
    parts: list[PartEntry] = Field(max_length=60)


class InstrumentEntry(Strict):
    uid: UUID
    name: str = Field(min_length=1, max_length=80)
    kind: InstrumentKind
    quantity: Quantity
    part: FigurePart
    place: str = Field(max_length=160)
    resolution: float | None
    offset: float
    offset_sd: float
    factor: float
    factor_sd: float
    trust: Trust
    trust_since: datetime | None
    trust_why: str = Field(max_length=300)
    replaced_by: UUID | None


class RigEntry(Strict):
    uid: UUID
    name: str = Field(min_length=1, max_length=120)
    created_at: datetime
    standin: str = Field(max_length=20)
    standin_seed: int = Field(ge=0)
    fittings: list[FittingEntry]
    instruments: list[InstrumentEntry]


class WayEntry(Strict):
    """Empty as long as the usual way has not been left."""

    strategy: Strategy = "by the numbers"
    wary: bool = False
    largest_steps: dict[str, float] = {}
    school: School = "mixed load"


class CurveEntry(Strict):
    voltage_v: float
    core_mhz: float


class CampaignEntry(Strict):
    uid: UUID
    name: str = Field(min_length=1, max_length=160)
    goal: Goal
    aim: str = Field(max_length=300)
    created_at: datetime
    smallest_gain: float = Field(gt=0, lt=1)
    wished_resolution: float = Field(gt=0, lt=1)
    stale_days: float = Field(gt=0)
    enough_said_at: datetime | None
    weights: dict[str, Annotated[float, Field(ge=0)]]
    temp_limit_c: float | None
    power_limit_w: float | None
    price: float | None = Field(ge=0)
    currency: str = Field(max_length=8)
    counting: dict[Quantity, str]
    terms: Annotated[dict[str, Any], shaped(TermsShape)]
    way: WayEntry
    curve: list[CurveEntry] = Field(default_factory=list, max_length=500)
    archived_at: datetime | None


class KnobEntry(Strict):
    key: str = Field(max_length=24)
    name: str = Field(min_length=1, max_length=80)
    unit: str = Field(max_length=12)
    stock: float
    step: float
    low: float
    high: float
    away: Literal[1, -1]
    role: Role
    part: FigurePart
    retired_at: datetime | None
    component: str = Field("", max_length=80)


class GuardRailEntry(Strict):
    kind: Kind
    limit: float
    channel: str = Field(max_length=120)


class WorkloadEntry(Strict):
    uid: UUID
    name: str = Field(min_length=1, max_length=120)
    measure: Measure
    unit: str = Field(max_length=20)
    higher_is_better: bool
    options: dict[str, str] = Field(max_length=20)
    minutes: float = Field(gt=0, le=100_000)
    cap_fps: float | None = Field(ge=0, le=100_000)
    kind: LoadKind
    parts: list[Part] = Field(max_length=10)
    techniques: list[Technique] = Field(max_length=10)
    corrections: Annotated[list[dict[str, Any]], shaped(CorrectionShape)]


class SettingEntry(Strict):
    uid: UUID
    values: dict[str, float]
    note: str = Field(max_length=2000)
    created_at: datetime


class ChannelEntry(Strict):
    """A column of a log. What logs of earlier versions did not note is left out, not made up."""

    column: str = Field(min_length=1, max_length=300)
    header: str = Field(min_length=1, max_length=300)
    quantity: Quantity | Literal["frame time"]
    unit: str = Field(max_length=40)
    part: FigurePart | None = None
    point: Point | None = None
    tells: bool | None = None


class SeriesEntry(Strict):
    uid: UUID
    kind: Literal["telemetry", "frames"]
    file_name: str = Field(max_length=200)
    rows: int = Field(ge=0)
    channels: Annotated[list[dict[str, Any]], Field(max_length=1000), shaped(ChannelEntry)]
    summary: Annotated[dict[str, Any], shaped(SummaryShape)]
    added_at: datetime
    digest: str = Field(default="", max_length=64)
    parquet_base64: str


class MarkEntry(Strict):
    kind: Literal["phase", "note", "breach", "confirmation", "contact", "outcome", "correction"]
    made_at: datetime
    at_s: float | None
    text: str = Field(max_length=1000)


class FigureEntry(Strict):
    quantity: Quantity
    part: FigurePart
    statistic: Statistic
    instrument: UUID | None
    value: float
    source: Literal["typed", "log", "live"]
    replaced: bool


class RunEntry(Strict):
    uid: UUID
    setting: UUID
    workload: UUID
    fitting: UUID
    started_at: datetime
    outcome: Outcome
    duration_s: float | None = Field(ge=0, le=1e8)
    value: float | None
    frames: int | None = Field(ge=0, le=10**12)
    fan: str = Field(max_length=60)
    note: str = Field(max_length=4000)
    typed: Annotated[dict[str, Any], shaped(TypedShape)]
    log_figures: list[str]
    set_aside_at: datetime | None
    set_aside_reason: str = Field(max_length=300)
    figures: list[FigureEntry]
    marks: list[MarkEntry]
    series: list[SeriesEntry]


class TargetEntry(Strict):
    uid: UUID
    name: str = Field(min_length=1, max_length=120)
    price: float | None = Field(ge=0)
    source: str = Field(max_length=300)
    conditions: str = Field(max_length=300)
    results: dict[str, float]


class CampaignFile(Strict):
    format: Literal["trelvo-campaign"]
    version: Literal[7]
    written_at: datetime
    rig: RigEntry
    campaign: CampaignEntry
    knobs: list[KnobEntry]
    guard_rails: list[GuardRailEntry]
    workloads: list[WorkloadEntry]
    battery: list[UUID]
    retired: list[UUID]
    settings: list[SettingEntry]
    targets: list[TargetEntry]
    runs: list[RunEntry]
    keepers: list[KeeperEntry]
    journal: list[JournalFileEntry]
    cautions: list[CautionFileEntry]


# Fields of a run that stand in the file under the same name as in the logbook.
RUN_FIELDS = tuple(
    name
    for name in RunEntry.model_fields
    if name not in ("setting", "workload", "fitting", "figures", "marks", "series")
)
SERIES_FIELDS = tuple(name for name in SeriesEntry.model_fields if name != "parquet_base64")


def rig_entry(rig: Rig) -> RigEntry:
    uids = {row.pk: row.uid for row in rig.instruments.all()}
    return RigEntry(
        uid=rig.uid,
        name=rig.name,
        created_at=rig.created_at,
        standin=rig.standin,
        standin_seed=rig.standin_seed,
        fittings=[_fitting(fitting) for fitting in rig.fittings.prefetch_related("parts")],
        instruments=[_instrument(row, uids) for row in rig.instruments.all()],
    )


def campaign_file(campaign: Campaign, now: datetime) -> CampaignFile:
    """The campaign with its rig, settings, runs and logs as one document."""
    rig = campaign.rig
    uids = {row.pk: row.uid for row in rig.instruments.all()}
    retired = list(campaign.retired.all())
    # a number of workloads may have no other place than the runs that were made with them
    variants = list(dict.fromkeys([*testable(campaign), *retired]))
    return CampaignFile(
        format=FORMAT,
        version=VERSION,
        written_at=now,
        rig=rig_entry(rig),
        campaign=CampaignEntry.model_validate(campaign),
        knobs=[KnobEntry.model_validate(knob) for knob in campaign.knobs.all()],
        guard_rails=[GuardRailEntry.model_validate(rail) for rail in campaign.guard_rails.all()],
        workloads=[_workload(variant) for variant in variants],
        battery=[variant.uid for variant in campaign.battery.all()],
        retired=[variant.uid for variant in retired],
        targets=[TargetEntry.model_validate(target) for target in campaign.targets.all()],
        settings=[SettingEntry.model_validate(setting) for setting in campaign.settings.all()],
        runs=_runs(campaign, uids),
        keepers=keepers_in(campaign),
        journal=journal_in(rig),
        cautions=cautions_in(campaign),
    )


def _fitting(fitting: Fitting) -> FittingEntry:
    parts = [PartEntry.model_validate(part) for part in fitting.placed]
    fields = {name: getattr(fitting, name) for name in FittingEntry.model_fields if name != "parts"}
    return FittingEntry.model_validate({**fields, "parts": parts})


def _instrument(row: InstrumentRow, uids: dict[int, UUID]) -> InstrumentEntry:
    fields = {name: getattr(row, name) for name in InstrumentEntry.model_fields if name != "replaced_by"}
    return InstrumentEntry.model_validate({**fields, "replaced_by": uids.get(row.replaced_by_id or 0)})


def _workload(variant: Variant) -> WorkloadEntry:
    own = ("uid", "options", "minutes", "cap_fps")
    fields = {name: getattr(variant if name in own else variant.workload, name) for name in WorkloadEntry.model_fields}
    return WorkloadEntry.model_validate(fields)


def _runs(campaign: Campaign, uids: dict[int, UUID]) -> list[RunEntry]:
    runs = []
    found = campaign.runs.select_related("setting", "variant", "fitting")
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
        places: dict[str, Any] = {"setting": run.setting.uid, "workload": run.variant.uid, "fitting": run.fitting.uid}
        marks = [MarkEntry.model_validate(mark) for mark in run.marks.all()]
        runs.append(RunEntry(**own, **places, figures=figures, marks=marks, series=logs))
    return runs


def to_json(document: CampaignFile) -> bytes:
    """The document as indented UTF-8 JSON. Numbers are written so that they read back exactly."""
    return orjson.dumps(document.model_dump(mode="python"), option=orjson.OPT_INDENT_2)


def from_json(data: bytes) -> CampaignFile:
    """The document in `data`, checked field by field. Raises Refused with the path of each field that is wrong."""
    try:
        raw = orjson.loads(data)
    except orjson.JSONDecodeError as trouble:
        raise Refused(Problem("file", "not_json", {"reason": trouble})) from trouble
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise Refused(Problem("format", "not_a_campaign_file"))
    raw = from_earlier(raw, VERSION)
    if raw.get("version") != VERSION:
        raise Refused(Problem("version", "file_of_newer_version", {"found": raw.get("version"), "known": VERSION}))
    try:
        return CampaignFile.model_validate(raw)
    except ValidationError as trouble:
        problems = [
            field_problem(error, ".".join(str(word) for word in error["loc"])) for error in trouble.errors()[:20]
        ]
        raise Refused(*problems) from trouble
