"""What an archive holds of a campaign and its rig, entry by entry. Described in docs/formats.md."""

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field

from trelvo.core.base.figures import Part as FigurePart
from trelvo.core.base.figures import Statistic
from trelvo.core.base.instruments import InstrumentKind, Point, Trust
from trelvo.core.base.load_kinds import LoadKind, Part, Technique
from trelvo.core.base.workloads import Measure
from trelvo.core.registry.approaches import Approach, Strategy
from trelvo.core.registry.outcomes import Outcome
from trelvo.core.registry.quantities import Quantity
from trelvo.core.registry.roles import Role
from trelvo.core.watch.safety_limits import Kind
from trelvo.exchange.archive.kept_setting_entries import CautionFileEntry, JournalFileEntry, KeptSettingEntry
from trelvo.exchange.archive.shapes import CorrectionShape, SummaryShape, TermsShape, TypedShape
from trelvo.exchange.archive.strict import Strict, shaped
from trelvo.logbook.models import Goal


class PartEntry(Strict):
    role: str = Field(min_length=1, max_length=60)
    name: str = Field(min_length=1, max_length=160)
    specimen: str = Field(max_length=120)


class BuildEntry(Strict):
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
    simulator: str = Field(max_length=20)
    simulator_seed: int = Field(ge=0)
    builds: list[BuildEntry]
    instruments: list[InstrumentEntry]


class WayEntry(Strict):
    """Empty as long as the usual way has not been left."""

    strategy: Strategy = "adaptive"
    cautious: bool = False
    largest_steps: dict[str, float] = {}
    approach: Approach = "mixed load"


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


class SafetyLimitEntry(Strict):
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
    build: UUID
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


class CampaignDocument(Strict):
    """A campaign with everything it rests on."""

    rig: RigEntry
    campaign: CampaignEntry
    knobs: list[KnobEntry]
    safety_limits: list[SafetyLimitEntry]
    workloads: list[WorkloadEntry]
    test_suite: list[UUID]
    retired: list[UUID]
    settings: list[SettingEntry]
    targets: list[TargetEntry]
    runs: list[RunEntry]
    kept_settings: list[KeptSettingEntry]
    journal: list[JournalFileEntry]
    cautions: list[CautionFileEntry]


# Fields of a run that have the same name in the archive and in the logbook.
RUN_FIELDS = tuple(
    name for name in RunEntry.model_fields if name not in ("setting", "workload", "build", "figures", "marks", "series")
)
SERIES_FIELDS = tuple(name for name in SeriesEntry.model_fields if name != "parquet_base64")
