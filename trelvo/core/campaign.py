"""A campaign as it was at one moment: the input of every computation. Nothing in it ever changes."""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime
from functools import cached_property
from typing import Any, NamedTuple, Protocol
from uuid import UUID

from trelvo.core.base.figures import BY_WORD
from trelvo.core.base.instruments import Instrument, Reading
from trelvo.core.base.knobs import Knob
from trelvo.core.base.load_kinds import Load, LoadKind, Part, Technique
from trelvo.core.base.workloads import Measure, describe_options
from trelvo.core.laws.vf_curve import VoltagePoint
from trelvo.core.memo import Memo
from trelvo.core.registry.outcomes import FAILURES, Outcome
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.held_back import FirstPass
from trelvo.core.watch.safety_limits import SafetyLimit

_HOTTEST = BY_WORD["temp_max_c"].key


@dataclass(frozen=True)
class Workload:
    """A benchmark, title, stress test or everyday task. parts, techniques: what it touches."""

    id: int
    name: str
    measure: Measure
    unit: str
    higher_is_better: bool
    kind: LoadKind
    parts: tuple[Part, ...] = ()
    techniques: tuple[Technique, ...] = ()


@dataclass(frozen=True)
class Variant:
    """A workload with one set of options. minutes: how long one run lasts; cap_fps: a frame cap in force."""

    id: int
    uid: UUID
    workload: Workload
    minutes: float
    options: Mapping[str, str] = field(default_factory=dict, hash=False)
    cap_fps: float | None = None
    position: int = 0

    @property
    def name(self) -> str:
        return self.workload.name

    @property
    def measure(self) -> Measure:
        return self.workload.measure

    @property
    def unit(self) -> str:
        return self.workload.unit

    @property
    def higher_is_better(self) -> bool:
        return self.workload.higher_is_better

    @property
    def kind(self) -> LoadKind:
        return self.workload.kind

    @property
    def options_in_words(self) -> str:
        return describe_options(self.options)

    def in_full(self) -> str:
        """With its options, for lists in which it is next to another variant of the same workload."""
        return f"{self.name} ({self.options_in_words})" if self.options else self.name

    def as_load(self) -> Load:
        """The workload as a test of stability."""
        return self._load

    @cached_property
    def _load(self) -> Load:
        of = self.workload
        return Load(
            self.id,
            of.name,
            of.kind,
            self.minutes,
            frozenset(of.parts),
            frozenset(of.techniques),
            by_itself=of.measure == "time",
        )


@dataclass(frozen=True)
class Setting:
    """Values of the knobs that differ from stock. kept_as: the name under which it is kept, empty where it is not."""

    id: int
    uid: UUID
    fingerprint: str
    values: Mapping[str, float] = field(default_factory=dict, hash=False)
    note: str = ""
    created_at: datetime | None = None
    kept_as: str = ""

    @property
    def is_stock(self) -> bool:
        return self.fingerprint == ""


@dataclass(frozen=True)
class PlacedPart:
    """A part of a build: its role, what it is, and which specimen."""

    role: str
    name: str
    specimen: str = ""

    def __str__(self) -> str:
        specimen = f" ({self.specimen})" if self.specimen else ""
        return f"{self.role}: {self.name}{specimen}"


@dataclass(frozen=True)
class Build:
    """How a rig is put together at one time."""

    id: int
    number: int
    since: datetime
    cooling: str = ""
    enclosure: str = ""
    driver: str = ""
    firmware: str = ""
    system: str = ""
    note: str = ""
    placed: tuple[PlacedPart, ...] = ()


class Run(NamedTuple):
    """A run without its figures. started: in ISO 8601 and UTC, since few computations need it as a moment; aside: when it was
    set aside; fan: how the fans were set, in words"""

    id: int
    uid: UUID
    campaign_id: int
    setting_id: int
    variant_id: int
    build_id: int
    outcome: Outcome
    value: float | None
    duration_s: float | None
    frames: int | None
    started: str
    aside: str | None
    fan: str

    @property
    def started_at(self) -> datetime:
        return datetime.fromisoformat(self.started).replace(tzinfo=UTC)

    @property
    def started_h(self) -> float:
        """When it began, in hours."""
        return self.started_at.timestamp() / 3600

    @property
    def counts(self) -> bool:
        """Whether its value may enter a mean: the same rule as `core.base.runs.counts`."""
        return self.outcome == "completed" and self.value is not None and self.aside is None

    @property
    def failed(self) -> bool:
        return self.outcome in FAILURES and self.aside is None

    @property
    def shows_stability(self) -> bool:
        """Whether how it ended says anything: not set aside, and it is known how it ended."""
        return self.aside is None and self.outcome not in ("connection lost", "stopped by hand")


@dataclass(frozen=True)
class LogStart:
    """How the start of a telemetry log flatters its run; None where it does not."""

    run_id: int
    first_pass: FirstPass | None


@dataclass(frozen=True)
class Target:
    """A rival's results to be reached. results: value by the workload's uid, in its unit."""

    id: int
    name: str
    price: float | None = None
    source: str = ""
    conditions: str = ""
    results: Mapping[str, float] = field(default_factory=dict, hash=False)


@dataclass(frozen=True)
class InUse:
    """A time during which a rig ran with a kept setting. until: None while it does."""

    since: datetime
    until: datetime | None


@dataclass(frozen=True)
class Use:
    """Hours of use of a kept setting. outcome: how it failed, empty where it did not; minutes: how long it ran until then

    probes: what was tried to find the cause; verdict: who is to blame, empty while that is open
    """

    id: int
    at: datetime
    hours: float
    outcome: Outcome | None
    minutes: float | None
    variant: Variant | None
    room_c: float | None
    probes: tuple[Mapping[str, Any], ...] = field(default=(), hash=False)
    verdict: str = ""


@dataclass(frozen=True)
class KeptSetting:
    """A setting kept for use. components: those of its components that are kept; evidence, proof: as they were frozen

    taken_back_at: since when it is no longer kept, with the reason
    """

    id: int
    name: str
    use: str
    setting: Setting
    build_id: int
    kept_at: datetime
    components: tuple[str, ...] = ()
    evidence: Mapping[str, Any] = field(default_factory=dict, hash=False)
    proof: Mapping[str, Any] = field(default_factory=dict, hash=False)
    taken_back_at: datetime | None = None
    reason: str = ""
    spans: tuple[InUse, ...] = ()
    entries: tuple[Use, ...] = ()

    @property
    def in_use(self) -> InUse | None:
        """The time during which the rig has been running with it until now; None where it does not."""
        return next((span for span in self.spans if span.until is None), None)


@dataclass(frozen=True)
class RoomReading:
    at: datetime
    room_c: float


@dataclass(frozen=True, eq=False)
class RigSnapshot:
    """A rig: how it is and was put together, its instruments, and what its campaigns measure or prove with

    rooms: how warm the journal says the room was, oldest first
    """

    id: int
    name: str
    simulator: bool = False
    builds: tuple[Build, ...] = ()
    instruments: tuple[Instrument, ...] = ()
    used: tuple[Variant, ...] = ()
    rooms: tuple[RoomReading, ...] = ()


@dataclass(frozen=True, eq=False)
class CampaignSnapshot:
    """A campaign with everything that was run in it, as it was when its tokens were these.

    Goal, its numbers and the way of working are no part of it: they are arguments (`core.case`).

    token: of the campaign, its rig, and all workloads: each is replaced whenever one of them changes
    workloads: what is measured and compared; test suite: what is proved with besides; retired: what was measured once
    runs: in the order in which they were made; readings: their figures as they were read, by run
    log_starts: of their telemetry logs, in the order in which those were stored
    chosen: which instrument counts for a quantity, where the user has said so
    said_yes: by caution, when it had a clear yes
    """

    token: tuple[str, str, str]
    id: int
    uid: UUID
    name: str
    rig: RigSnapshot
    knobs: tuple[Knob, ...] = ()
    settings: tuple[Setting, ...] = ()
    workloads: tuple[Variant, ...] = ()
    test_suite: tuple[Variant, ...] = ()
    retired: tuple[Variant, ...] = ()
    runs: tuple[Run, ...] = ()
    readings: Mapping[int, tuple[Reading, ...]] = field(default_factory=dict)
    log_starts: tuple[LogStart, ...] = ()
    safety_limits: tuple[SafetyLimit, ...] = ()
    targets: tuple[Target, ...] = ()
    kept_settings: tuple[KeptSetting, ...] = ()
    said_yes: Mapping[str, datetime] = field(default_factory=dict)
    weights: Mapping[str, float] = field(default_factory=dict)
    chosen: Mapping[Quantity, int] = field(default_factory=dict)
    curve: tuple[VoltagePoint, ...] = ()
    smallest_gain: float = 0.0
    wished_resolution: float = 0.0
    stale_days: float = 0.0
    enough_said_at: datetime | None = None
    temp_limit_c: float | None = None
    power_limit_w: float | None = None
    price: float | None = None
    currency: str = ""
    memo: Memo = field(default_factory=Memo, init=False, repr=False)
    memo_key: None = field(default=None, init=False, repr=False)

    @property
    def rig_id(self) -> int:
        return self.rig.id

    @property
    def builds(self) -> tuple[Build, ...]:
        return self.rig.builds

    @cached_property
    def stock(self) -> Setting:
        return next(setting for setting in self.settings if setting.is_stock)

    @cached_property
    def testable(self) -> tuple[Variant, ...]:
        """What a run can be made with: what is measured, then what is proved with besides."""
        return (*self.workloads, *self.test_suite)

    @cached_property
    def known_variants(self) -> tuple[Variant, ...]:
        """Everything that runs can have been made with, what is retired too."""
        return (*self.testable, *self.retired)

    @cached_property
    def variants(self) -> Mapping[int, Variant]:
        """The same by id."""
        return {variant.id: variant for variant in self.known_variants}

    @property
    def present_build(self) -> Build | None:
        return self.builds[-1] if self.builds else None

    @cached_property
    def judged_build(self) -> Build | None:
        """The newest build with runs of this campaign, else the rig's present one: results are compared within it."""
        made_under = {run.build_id for run in self.runs}
        return next((build for build in reversed(self.builds) if build.id in made_under), self.present_build)

    @cached_property
    def instruments(self) -> Mapping[int, Instrument]:
        return {instrument.id: instrument for instrument in self.rig.instruments}

    @cached_property
    def hottest(self) -> Mapping[int, float]:
        """By run, the highest temperature of the tuned part that any instrument read, degrees Celsius."""
        hot = {run_id: [one.value for one in some if one.key == _HOTTEST] for run_id, some in self.readings.items()}
        return {run_id: max(values) for run_id, values in hot.items() if values}

    @cached_property
    def _runs_at(self) -> Mapping[tuple[int, int | None], tuple[Run, ...]]:
        found: dict[tuple[int, int | None], list[Run]] = defaultdict(list)
        for run in self.runs:
            found[run.setting_id, run.build_id].append(run)
        return {key: tuple(some) for key, some in found.items()}

    def runs_at(self, setting: Setting, build: Build | None) -> tuple[Run, ...]:
        """The runs of one setting under one build."""
        return self.runs_with(setting.id, build.id if build else None)

    def runs_with(self, setting_id: int, build_id: int | None) -> tuple[Run, ...]:
        """The same by id."""
        return self._runs_at.get((setting_id, build_id), ())

    @cached_property
    def without_result(self) -> frozenset[int]:
        """Variants of workloads in which nothing is measured but figures."""
        return frozenset(variant.id for variant in self.known_variants if variant.measure == "nothing")

    def was_made(self, run: Run) -> bool:
        """Whether a run is one of those that a workload asks for: with its result, where it has one."""
        done = run.outcome == "completed" and run.aside is None
        return run.counts or (done and run.variant_id in self.without_result)

    @cached_property
    def kept(self) -> Mapping[int, str]:
        """Names of the settings that are kept, by setting."""
        return {setting.id: setting.kept_as for setting in self.settings if setting.kept_as}

    @cached_property
    def in_use(self) -> tuple[KeptSetting, ...]:
        """The kept settings that the rig runs with."""
        return tuple(setting for setting in self.kept_settings if setting.in_use and setting.taken_back_at is None)


class Titled(Protocol):
    """Something that a list of workloads names: `Variant`, or its row."""

    @property
    def id(self) -> int: ...

    @property
    def name(self) -> str: ...

    def in_full(self) -> str: ...


def titles_of(variants: Iterable[Titled]) -> dict[int, str]:
    """What each is called among the others: by its name, with its options where another has the same name."""
    every = list(variants)
    names: dict[str, int] = defaultdict(int)
    for one in every:
        names[one.name.casefold()] += 1
    return {one.id: one.name if names[one.name.casefold()] == 1 else one.in_full() for one in every}
