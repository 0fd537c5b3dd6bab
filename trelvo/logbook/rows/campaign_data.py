"""A campaign's data, read once an answer: rows in, the core's dataclasses out.

`CampaignData` asks for each kind of row when it is first needed, once, and for all campaigns that were loaded together: the
list of campaigns takes as many questions as one campaign does.
"""

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime
from functools import cached_property
from typing import Any, NamedTuple, TypeVar, cast

import numpy as np
from django.db.models import Model, OuterRef, Q, Subquery, TextField, Value
from django.db.models.functions import Cast
from numpy.typing import NDArray

from trelvo.core.base.figures import BY_WORD, FigureKey, Quantity
from trelvo.core.base.instruments import Instrument, Reading, counted
from trelvo.core.base.knobs import Knob
from trelvo.core.base.runs import FAILURES, Outcome, RunFacts
from trelvo.core.measure.noise import PooledNoise, noise_by_workload
from trelvo.core.measure.series import BenchMemory, memory_of
from trelvo.core.watch.guard_rails import GuardRail
from trelvo.logbook.models import (
    Campaign,
    Figure,
    Fitting,
    GuardRailRow,
    InstrumentRow,
    Keeper,
    KnobRow,
    Part,
    Run,
    Setting,
    Target,
    Variant,
    Workload,
)
from trelvo.logbook.rows.keepers import KeeperRows, rows_of
from trelvo.logbook.rows.together import read_together


class RunRow(NamedTuple):
    """A run without its figures. started: as the database holds it, since few answers need it as a moment"""

    id: int
    campaign_id: int
    setting_id: int
    variant_id: int
    fitting_id: int
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
        """Whether its value may enter a mean: the same rule as the core's `counts`."""
        return self.outcome == "completed" and self.value is not None and self.aside is None

    @property
    def failed(self) -> bool:
        return self.outcome in FAILURES and self.aside is None

    @property
    def shows_stability(self) -> bool:
        """Whether how it ended says anything: not set aside, and it is known how it ended."""
        return self.aside is None and self.outcome not in ("contact lost", "stopped by hand")


class Loader:
    """Reads rows of some campaigns, each kind in one question for all of them, when it is first asked for."""

    def __init__(self, campaigns: Sequence[Campaign]) -> None:
        self.ids = [campaign.pk for campaign in campaigns]
        self.rig_ids = list({campaign.rig_id for campaign in campaigns})
        self._figures: dict[frozenset[int] | None, dict[int, list[Reading]]] = {}
        self._hottest: dict[int, float] | None = None

    @cached_property
    def fittings(self) -> dict[int, list[Fitting]]:
        """With their parts."""
        read = read_together(
            fittings=Fitting.objects.filter(rig_id__in=self.rig_ids),
            parts=Part.objects.filter(fitting__rig_id__in=self.rig_ids),
        )
        parts: dict[int, list[Part]] = _by(read["parts"], "fitting_id")
        for one in read["fittings"]:
            one.parts_read = parts.get(one.pk, [])
        return _by(read["fittings"], "rig_id")

    @cached_property
    def in_use(self) -> dict[int, KeeperRows]:
        """By campaign, the kept settings of it that are in use, each with all that happened since."""
        rows = rows_of(
            Keeper.objects.filter(campaign_id__in=self.ids, taken_back_at=None, spans__until=None, spans__isnull=False)
        )
        return {pk: replace(rows, keepers=some) for pk, some in _by(rows.keepers, "campaign_id").items()}

    @cached_property
    def knobs(self) -> dict[int, list[KnobRow]]:
        return _by(KnobRow.objects.filter(campaign_id__in=self.ids), "campaign_id")

    @cached_property
    def settings(self) -> dict[int, list[Setting]]:
        kept = Keeper.objects.filter(setting=OuterRef("pk"), taken_back_at=None).values("name")
        rows = Setting.objects.filter(campaign_id__in=self.ids)
        return _by(rows.annotate(kept_as=Subquery(kept[:1])), "campaign_id")

    @cached_property
    def rails(self) -> dict[int, list[GuardRailRow]]:
        return _by(GuardRailRow.objects.filter(campaign_id__in=self.ids), "campaign_id")

    @cached_property
    def targets(self) -> dict[int, list[Target]]:
        return _by(Target.objects.filter(campaign_id__in=self.ids), "campaign_id")

    @cached_property
    def instruments(self) -> dict[int, list[InstrumentRow]]:
        return _by(InstrumentRow.objects.filter(rig_id__in=self.rig_ids), "rig_id")

    @cached_property
    def _variants(self) -> dict[str, dict[int, list[Variant]]]:
        """What each campaign measures, proves with, and has retired: by that word, then by campaign."""
        of_variant = [f"variant__{field.attname}" for field in Variant._meta.concrete_fields]
        of_workload = [f"variant__workload__{field.attname}" for field in Workload._meta.concrete_fields]
        links = [
            through.objects.filter(campaign_id__in=self.ids).values_list(
                Value(word), "campaign_id", *of_variant, *of_workload
            )
            for word, through in (
                ("measured", Campaign.workloads.through),
                ("battery", Campaign.battery.through),
                ("retired", Campaign.retired.through),
            )
        ]
        known: dict[int, Variant] = {}
        of: dict[str, dict[int, list[Variant]]] = defaultdict(lambda: defaultdict(list))
        for word, campaign_id, *values in links[0].union(*links[1:], all=True):
            variant = Variant(*values[: len(of_variant)])
            if variant.pk not in known:
                variant.workload = Workload(*values[len(of_variant) :])
                known[variant.pk] = variant
            of[word][campaign_id].append(known[variant.pk])
        for of_word in of.values():
            for variants in of_word.values():
                variants.sort(key=lambda one: (one.position, one.pk))
        return of

    def variants(self, word: str, campaign_id: int) -> list[Variant]:
        return self._variants[word].get(campaign_id, [])

    @cached_property
    def runs(self) -> dict[int, list[RunRow]]:
        """In the order they were made. Texts instead of moments: reading those would take most of the time."""
        rows = Run.objects.filter(campaign_id__in=self.ids).order_by("started_at", "id")
        rows = rows.annotate(started=Cast("started_at", TextField()), aside=Cast("set_aside_at", TextField()))
        found: dict[int, list[RunRow]] = defaultdict(list)
        for row in rows.values_list(*RunRow._fields):
            found[row[1]].append(RunRow._make(row))
        return found

    @property
    def hottest(self) -> dict[int, float]:
        """By run, of every campaign here, the highest temperature of the tuned part that any instrument read."""
        if self._hottest is None:
            self.figures(frozenset())
        return self._hottest or {}

    def figures(self, settings: frozenset[int] | None) -> dict[int, list[Reading]]:
        """Readings by run: of all runs, or of those at some settings; highest temperatures of every run besides."""
        if settings is not None:
            # what was read for more settings holds these as well
            known = (read for asked, read in self._figures.items() if asked is None or settings <= asked)
            if (read := next(known, None)) is not None:
                return read
        if settings not in self._figures:
            rows = Figure.objects.filter(replaced=False, run__campaign_id__in=self.ids).order_by()
            hot = BY_WORD["temp_max_c"].key
            if settings is not None:
                asked = Q(run__setting_id__in=settings)
                if self._hottest is None:
                    asked |= Q(quantity=hot.quantity, part=hot.part, statistic=hot.statistic)
                rows = rows.filter(asked)
            keys: dict[tuple[str, str, str], FigureKey] = {}
            found: dict[int, list[Reading]] = defaultdict(list)
            hottest: dict[int, float] = {}
            columns = ("run_id", "quantity", "part", "statistic", "value", "instrument_id")
            for run_id, quantity, part, statistic, value, instrument_id in rows.values_list(*columns):
                mark = (quantity, part, statistic)
                key = keys.get(mark) or keys.setdefault(mark, FigureKey(*mark))
                found[run_id].append(Reading(key, value, instrument_id))
                if key == hot:
                    hottest[run_id] = max(value, hottest.get(run_id, value))
            self._figures[settings] = found
            self._hottest = hottest if self._hottest is None else self._hottest
        return self._figures[settings]


Row = TypeVar("Row", bound=Model)


def _by(rows: Iterable[Row], field: str) -> dict[int, list[Row]]:
    found: dict[int, list[Row]] = defaultdict(list)
    for row in rows:
        found[getattr(row, field)].append(row)
    return found


def _hours(started: Sequence[str]) -> NDArray[np.float64]:
    """Texts of moments as hours, all at once: one by one it would take most of the time."""
    return np.array(started, dtype="datetime64[us]").astype(np.int64) / 3.6e9


class CampaignData:
    """What answers about one campaign are made of."""

    def __init__(self, campaign: Campaign, loader: Loader | None = None) -> None:
        self.campaign, self.loader = campaign, loader or Loader([campaign])
        self.id = campaign.pk
        # other campaigns, for what they have shown of knobs like this one's; read only where a climb is judged
        self.earlier: list[CampaignData] = []
        # what one answer needs several times, by what it is made of
        self.found: dict[object, Any] = {}

    @cached_property
    def knobs(self) -> list[Knob]:
        """Every knob, those retired too: settings that turned them are still described by them."""
        return [row.as_knob() for row in self.loader.knobs.get(self.id, [])]

    @property
    def settings(self) -> list[Setting]:
        return self.loader.settings.get(self.id, [])

    @cached_property
    def stock(self) -> Setting:
        return next(setting for setting in self.settings if setting.fingerprint == "")

    @property
    def workloads(self) -> list[Variant]:
        """What is measured and compared."""
        return self.loader.variants("measured", self.id)

    @property
    def battery(self) -> list[Variant]:
        return self.loader.variants("battery", self.id)

    @property
    def testable(self) -> list[Variant]:
        """What a run can be made with: what is measured, then what it is proved with besides."""
        return [*self.workloads, *self.battery]

    @property
    def retired(self) -> list[Variant]:
        return self.loader.variants("retired", self.id)

    @property
    def known_variants(self) -> list[Variant]:
        """Everything that runs of this campaign can have been made with, what is retired too."""
        return [*self.testable, *self.retired]

    @property
    def fittings(self) -> list[Fitting]:
        return self.loader.fittings.get(self.campaign.rig_id, [])

    @property
    def present_fitting(self) -> Fitting | None:
        return self.fittings[-1] if self.fittings else None

    @cached_property
    def judged_fitting(self) -> Fitting | None:
        """The newest fitting with runs of this campaign, else the rig's present one: results are compared within it."""
        made_under = {run.fitting_id for run in self.runs}
        return next((one for one in reversed(self.fittings) if one.pk in made_under), self.present_fitting)

    @property
    def runs(self) -> list[RunRow]:
        return self.loader.runs.get(self.id, [])

    @cached_property
    def _runs_at(self) -> dict[tuple[int, int | None], list[RunRow]]:
        found: dict[tuple[int, int | None], list[RunRow]] = defaultdict(list)
        for run in self.runs:
            found[run.setting_id, run.fitting_id].append(run)
        return found

    def runs_at(self, setting: Setting, fitting: Fitting | None) -> list[RunRow]:
        """The runs of one setting under one fitting."""
        return self._runs_at.get((setting.pk, fitting.pk if fitting else None), [])

    def counting(self, fitting: Fitting | None) -> list[RunRow]:
        """The runs under one fitting that count."""
        key = fitting.pk if fitting else None
        if key not in self._counting:
            self._counting[key] = [run for run in self.runs if run.fitting_id == key and run.counts]
        return self._counting[key]

    @cached_property
    def _counting(self) -> dict[int | None, list[RunRow]]:
        return {}

    @property
    def kept(self) -> dict[int, str]:
        """Names of the keepers that are kept, by the setting that they keep."""
        return {one.pk: name for one in self.settings if (name := getattr(one, "kept_as", None))}

    @property
    def in_use(self) -> KeeperRows:
        """The kept settings that the rig runs with."""
        return self.loader.in_use.get(self.id) or KeeperRows([])

    @property
    def rails(self) -> list[GuardRail]:
        return [row.as_rail() for row in self.loader.rails.get(self.id, [])]

    @property
    def targets(self) -> list[Target]:
        return self.loader.targets.get(self.id, [])

    @property
    def instrument_rows(self) -> list[InstrumentRow]:
        return self.loader.instruments.get(self.campaign.rig_id, [])

    @cached_property
    def instruments(self) -> dict[int, Instrument]:
        return {row.pk: row.as_instrument() for row in self.instrument_rows}

    @cached_property
    def chosen(self) -> dict[Quantity, int]:
        """Which instrument counts for a quantity, where the user has said so."""
        ids = {str(row.uid): row.pk for row in self.instrument_rows}
        counting = cast(Mapping[Quantity, str], self.campaign.counting)
        return {quantity: ids[uid] for quantity, uid in counting.items() if uid in ids}

    def facts(self, runs: Iterable[RunRow], settings: Collection[int] | None = None) -> list[RunFacts]:
        """Runs as the core takes them, with their figures as they count.

        settings: what the runs are limited to, so that only their figures are read; all of the campaign's where left out
        """
        figures = self.loader.figures(None if settings is None else frozenset(settings))
        return [self._facts(run, figures.get(run.id, ())) for run in runs]

    def _facts(self, run: RunRow, readings: Sequence[Reading]) -> RunFacts:
        found = {key.word: one for key, one in counted(readings, self.instruments, self.chosen, run.started_at).items()}

        def figure(word: str) -> float | None:
            return found[word].value if word in found else None

        power = found.get("power_w")
        return RunFacts(
            id=run.id,
            setting_id=run.setting_id,
            workload_id=run.variant_id,
            outcome=run.outcome,
            value=run.value,
            set_aside=run.aside is not None,
            power_w=power.value if power else None,
            power_point=power.instrument.point if power and power.instrument else "unknown",
            power_instrument=power.instrument.name if power and power.instrument else "",
            temp_max_c=figure("temp_max_c"),
            room_c=figure("room_c"),
            low_1_fps=figure("low_1_fps"),
            low_01_fps=figure("low_01_fps"),
            core_mhz=figure("core_mhz"),
            memory_mhz=figure("memory_mhz"),
            voltage_v=figure("voltage_v"),
            noise_dba=figure("noise_dba"),
            started_h=run.started_h,
            temp_start_c=figure("temp_start_c"),
            frames=run.frames,
            duration_s=run.duration_s,
            corrected=tuple(word for word, one in found.items() if one.corrected),
        )

    def noise(self, fitting: Fitting | None) -> dict[int, PooledNoise | None]:
        """Noise of every workload, pooled over all settings of the campaign under this fitting."""
        if fitting is None:
            return dict.fromkeys((one.pk for one in self.workloads), None)
        if fitting.pk not in self._noise:
            rows = [(run.value, run.setting_id, run.variant_id) for run in self.counting(fitting)]
            table = np.array(rows, dtype=np.float64).reshape(-1, 3)
            measures = {one.pk: one.measure for one in self.workloads}
            self._noise[fitting.pk] = noise_by_workload(table[:, 0], table[:, 1], table[:, 2], measures)
        return self._noise[fitting.pk]

    def memory(self, fitting: Fitting | None) -> BenchMemory:
        """What all repeats under this fitting say of the bench's time: memory, drift, days."""
        key = fitting.pk if fitting else 0
        if key not in self._memory:
            kept = [run for run in self.counting(fitting) if cast(float, run.value) > 0]
            numbers = np.array([(run.variant_id, run.setting_id) for run in kept], dtype=np.int64).reshape(-1, 2)
            logs = np.log(np.array([run.value for run in kept], dtype=np.float64))
            every = [run.started for run in self.runs if run.fitting_id == key]
            hours = _hours([run.started for run in kept])
            self._memory[key] = memory_of(numbers[:, 0], numbers[:, 1], hours, logs, _hours(every))
        return self._memory[key]

    @cached_property
    def _memory(self) -> dict[int, BenchMemory]:
        return {}

    @cached_property
    def _noise(self) -> dict[int, dict[int, PooledNoise | None]]:
        return {}


def data_of(campaign: Campaign) -> CampaignData:
    """The data of one campaign."""
    return CampaignData(campaign)


def data_of_many(campaigns: Sequence[Campaign]) -> list[CampaignData]:
    """The data of several campaigns, read together."""
    loader = Loader(campaigns)
    return [CampaignData(campaign, loader) for campaign in campaigns]
