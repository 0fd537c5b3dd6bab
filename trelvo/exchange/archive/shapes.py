"""Shapes of what the logbook keeps as JSON: the numbers of a goal, what a proof rests on, earlier wordings."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from trelvo.core.base.figures import Part
from trelvo.core.base.load_kinds import LoadKind, Technique
from trelvo.core.climb.failures_in_use import ProbeKey
from trelvo.core.prove.rate_belief import PLACES
from trelvo.core.terms import QuietBy
from trelvo.exchange.archive.strict import Strict

Share = Annotated[float, Field(ge=0, le=1)]
RoomC = Annotated[float, Field(ge=-100, le=100)]


class TermsShape(Strict):
    """The goal's numbers that the user has changed; null takes a limit away."""

    least_speed: float | None = None
    lows_too: bool | None = None
    most_power_w: float | None = None
    frames: float | None = None
    low_frames: float | None = None
    most_temp_c: float | None = None
    shown: float = 0.95
    hours: float = 50.0
    sure: float = 0.95
    quiet_by: QuietBy = "degrees"
    part: Part = "tuned part"


class CircumstancesShape(Strict):
    """Under which a setting was proved."""

    driver: str
    firmware: str
    system: str
    cooling: str
    enclosure: str
    parts: dict[str, str]
    tuned: list[str]
    workloads: dict[str, LoadKind]
    techniques: list[Technique]
    room_c: RoomC | None
    accepted_per_h: float = Field(gt=0, le=100)
    sure: float = Field(ge=0.5, lt=1)


class ProofShape(Strict):
    weights: list[Share] = Field(min_length=PLACES, max_length=PLACES)
    circumstances: CircumstancesShape
    heaviest: str


class _Ratio(BaseModel):
    model_config = ConfigDict(extra="forbid")

    value: float
    low: float | None = None
    high: float | None = None
    unit: str = ""


class _Condition(BaseModel):
    model_config = ConfigDict(extra="forbid")

    name: str
    state: str
    says: str


class EvidenceShape(Strict):
    """What a kept setting rested on, as it was shown then. Older files have fewer fields."""

    goal: str = ""
    standing: str = ""
    measure: _Ratio | None = None
    conditions: list[_Condition]
    speed: _Ratio | None = None
    watts: float | None = None
    power: _Ratio | None = None
    degrees: _Ratio | None = None
    noise: _Ratio | None = None
    approaches: list[str] = []
    hours: float = Field(0.0, ge=0)
    failures: int = Field(0, ge=0)
    runs: list[str]
    build: int | None = None
    workloads: list[str] = []
    instruments: list[str] = []
    kept: datetime | None = None
    version: str = ""


class ProbeShape(Strict):
    """A test of the search for the cause of a failure in use."""

    key: ProbeKey
    failed: bool
    minutes: float = Field(gt=0, le=1440)
    at: datetime | None = None


class EarlierShape(Strict):
    """What a journal entry said before it was corrected."""

    kind: str
    text: str
    at: datetime
    until: datetime


class CorrectionShape(Strict):
    at: datetime
    text: str


class StretchShape(BaseModel):
    from_s: float = Field(ge=0, allow_inf_nan=False)
    to_s: float = Field(ge=0, allow_inf_nan=False)


class SummaryShape(BaseModel):
    """What was computed of a log; only what answers read is checked here."""

    stretch: StretchShape | None = None


class TypedShape(Strict):
    """What was typed before a log replaced it."""

    value: float | None = None
    duration_s: float | None = None
    frames: int | None = None
