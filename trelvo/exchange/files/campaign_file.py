"""The campaign file: one JSON document that holds a campaign number for number. Described in docs/formats.md."""

import base64
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

import orjson
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from trelvo.core.base.instruments import Point
from trelvo.core.base.loads import LoadKind, Part, Technique
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.base.runs import Outcome
from trelvo.core.base.workloads import Measure
from trelvo.core.watch.guard_rails import Kind
from trelvo.logbook.models import Campaign, Goal
from trelvo.logbook.rows.facts import testable

FORMAT: Literal["trelvo-campaign"] = "trelvo-campaign"
VERSION: Literal[2] = 2


class Strict(BaseModel):
    """Unknown fields are refused: a file with them comes from another version, and dropping them would lose data."""

    model_config = ConfigDict(extra="forbid", from_attributes=True, allow_inf_nan=False)


class PartEntry(Strict):
    role: str = Field(max_length=60)
    name: str = Field(max_length=160)
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
    note: str
    parts: list[PartEntry]


class RigEntry(Strict):
    uid: UUID
    name: str = Field(min_length=1, max_length=120)
    created_at: datetime
    standin: str = Field(max_length=20)
    standin_seed: int = Field(ge=0)
    fittings: list[FittingEntry]


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
    weights: dict[str, float]
    temp_limit_c: float | None
    power_limit_w: float | None
    price: float | None
    currency: str = Field(max_length=8)


class KnobEntry(Strict):
    key: str
    name: str = Field(max_length=80)
    unit: str = Field(max_length=12)
    stock: float
    step: float
    low: float
    high: float
    away: Literal[1, -1]


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
    options: str = Field(max_length=300)
    minutes: float
    cap_fps: float | None
    kind: LoadKind
    parts: list[Part]
    techniques: list[Technique]


class SettingEntry(Strict):
    uid: UUID
    values: dict[str, float]
    note: str
    created_at: datetime


class SeriesEntry(Strict):
    uid: UUID
    kind: Literal["telemetry", "frames"]
    file_name: str = Field(max_length=200)
    rows: int
    channels: list[dict[str, Any]]
    summary: dict[str, Any]
    added_at: datetime
    parquet_base64: str


class MarkEntry(Strict):
    kind: Literal["phase", "note", "breach", "confirmation", "contact", "outcome"]
    made_at: datetime
    at_s: float | None
    text: str = Field(max_length=1000)


class RunEntry(Strict):
    uid: UUID
    setting: UUID
    workload: UUID
    fitting: UUID
    started_at: datetime
    outcome: Outcome
    duration_s: float | None
    value: float | None
    low_1_fps: float | None
    low_01_fps: float | None
    power_w: float | None
    power_point: Point
    temp_max_c: float | None
    temp_mean_c: float | None
    temp_start_c: float | None
    frames: int | None
    room_c: float | None
    core_mhz: float | None
    memory_mhz: float | None
    voltage_v: float | None
    fan: str = Field(max_length=60)
    note: str
    typed: dict[str, Any]
    log_figures: list[str]
    set_aside_at: datetime | None
    set_aside_reason: str = Field(max_length=300)
    marks: list[MarkEntry]
    series: list[SeriesEntry]


class TargetEntry(Strict):
    uid: UUID
    name: str = Field(min_length=1, max_length=120)
    price: float | None
    source: str = Field(max_length=300)
    conditions: str = Field(max_length=300)
    results: dict[str, float]


class CampaignFile(Strict):
    format: Literal["trelvo-campaign"]
    version: Literal[2]
    written_at: datetime
    rig: RigEntry
    campaign: CampaignEntry
    knobs: list[KnobEntry]
    guard_rails: list[GuardRailEntry]
    workloads: list[WorkloadEntry]
    battery: list[UUID]
    settings: list[SettingEntry]
    targets: list[TargetEntry]
    runs: list[RunEntry]


# Fields of a run that stand in the file under the same name as in the logbook.
RUN_FIELDS = tuple(
    name for name in RunEntry.model_fields if name not in ("setting", "workload", "fitting", "marks", "series")
)
SERIES_FIELDS = tuple(name for name in SeriesEntry.model_fields if name != "parquet_base64")


def campaign_file(campaign: Campaign, now: datetime) -> CampaignFile:
    """The campaign with its rig, settings, runs and logs as one document."""
    runs = []
    for run in campaign.runs.select_related("setting", "workload", "fitting").prefetch_related("series", "marks"):
        logs = [
            SeriesEntry(
                **{name: getattr(series, name) for name in SERIES_FIELDS},
                parquet_base64=base64.b64encode(series.parquet).decode(),
            )
            for series in run.series.all()
        ]
        figures: dict[str, Any] = {name: getattr(run, name) for name in RUN_FIELDS}
        places: dict[str, Any] = {"setting": run.setting.uid, "workload": run.workload.uid, "fitting": run.fitting.uid}
        marks = [MarkEntry.model_validate(mark) for mark in run.marks.all()]
        runs.append(RunEntry(**figures, **places, marks=marks, series=logs))
    rig = campaign.rig
    fittings = [
        FittingEntry.model_validate(
            {name: getattr(fitting, name) for name in FittingEntry.model_fields if name != "parts"}
            | {"parts": [PartEntry.model_validate(part) for part in fitting.parts.all()]}
        )
        for fitting in rig.fittings.prefetch_related("parts")
    ]
    return CampaignFile(
        format=FORMAT,
        version=VERSION,
        written_at=now,
        rig=RigEntry(
            uid=rig.uid,
            name=rig.name,
            created_at=rig.created_at,
            standin=rig.standin,
            standin_seed=rig.standin_seed,
            fittings=fittings,
        ),
        campaign=CampaignEntry.model_validate(campaign),
        knobs=[KnobEntry.model_validate(knob) for knob in campaign.knobs.all()],
        guard_rails=[GuardRailEntry.model_validate(rail) for rail in campaign.guard_rails.all()],
        workloads=[WorkloadEntry.model_validate(workload) for workload in testable(campaign)],
        battery=[workload.uid for workload in campaign.battery.all()],
        targets=[TargetEntry.model_validate(target) for target in campaign.targets.all()],
        settings=[SettingEntry.model_validate(setting) for setting in campaign.settings.all()],
        runs=runs,
    )


def to_json(document: CampaignFile) -> bytes:
    """The document as indented UTF-8 JSON. Numbers are written so that they read back exactly."""
    return orjson.dumps(document.model_dump(mode="python"), option=orjson.OPT_INDENT_2)


def _from_earlier(raw: dict[str, Any]) -> dict[str, Any]:
    """A document of version 1 as one of version 2: no stand-in, guard rail, mark or battery was there to write down."""
    lists = all(isinstance(raw.get(word), list) for word in ("runs", "workloads"))
    if raw.get("version") != 1 or not isinstance(raw.get("rig"), dict) or not lists:
        return raw
    tests = {"kind": "title", "parts": [], "techniques": []}
    workloads = [{**tests, **one} if isinstance(one, dict) else one for one in raw["workloads"]]
    runs = [{**run, "marks": []} if isinstance(run, dict) else run for run in raw["runs"]]
    rig = {**raw["rig"], "standin": "", "standin_seed": 0}
    added: dict[str, Any] = {"guard_rails": [], "battery": []}
    return {**raw, **added, "version": VERSION, "rig": rig, "runs": runs, "workloads": workloads}


def from_json(data: bytes) -> CampaignFile:
    """The document in `data`, checked field by field. Raises Refused with the path of each field that is wrong."""
    try:
        raw = orjson.loads(data)
    except orjson.JSONDecodeError as trouble:
        raise Refused(
            Problem("file", f"This is not JSON: {trouble}.", "Choose a campaign file that Trelvo has written.")
        ) from trouble
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise Refused(
            Problem("format", "This is not a Trelvo campaign file.", "Choose a file exported from a campaign.")
        )
    raw = _from_earlier(raw)
    if raw.get("version") != VERSION:
        raise Refused(
            Problem(
                "version",
                f"The file has version {raw.get('version')}; this Trelvo reads version {VERSION} and earlier.",
                "Read it with the Trelvo that wrote it, or a newer one.",
            )
        )
    try:
        return CampaignFile.model_validate(raw)
    except ValidationError as trouble:
        problems = [
            Problem(".".join(str(word) for word in error["loc"]), f"{error['msg']}.", "Correct it in the file.")
            for error in trouble.errors()[:20]
        ]
        raise Refused(*problems) from trouble
