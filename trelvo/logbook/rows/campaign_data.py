"""A campaign's data, read once: rows in, the core's dataclasses out. `kept_data` has it at hand for the next answer.

`CampaignData` asks for each kind of row when it is first needed, once, and for all campaigns that were loaded together: the
list of campaigns takes as many questions as one campaign does. Whoever answers reads it and changes nothing of it.
"""

from collections import Counter, OrderedDict, defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import suppress
from copy import copy
from dataclasses import replace
from functools import cached_property
from typing import Any, TypeVar, cast

import numpy as np
from django.db.models import F, Model, OuterRef, Subquery, Value
from numpy.typing import NDArray

from trelvo.core.base.figures import NAMED, PARTS, FigureKey
from trelvo.core.base.instruments import Instrument, Reading, counted
from trelvo.core.base.knobs import Knob
from trelvo.core.base.parts import SHOWN, SHOWN_OF_PART, PartOrder, part_order, standing_for
from trelvo.core.base.runs import PartFigure, RunFacts
from trelvo.core.climb.steepness import Steepness
from trelvo.core.climb.stress import Offset
from trelvo.core.measure.noise import FAR_OFF_RUNS, PooledNoise, far_off, noise_by_workload
from trelvo.core.measure.series import BenchMemory, believable_hours, memory_of
from trelvo.core.registry.quantities import Quantity
from trelvo.core.watch.guard_rails import GuardRail
from trelvo.logbook.models import (
    Campaign,
    Fitting,
    GuardRailRow,
    InstrumentRow,
    Keeper,
    KnobRow,
    Part,
    Setting,
    Target,
    UseEntry,
    Variant,
    Workload,
)
from trelvo.logbook.rows.keepers import KeeperRows, counts_against, rows_of
from trelvo.logbook.rows.one_maker import OneMaker
from trelvo.logbook.rows.run_rows import RunRow, RunRows, read_figures, read_runs
from trelvo.logbook.rows.together import read_together

# So many answers are kept that hang on what a user asks.
MOST_LATELY = 24
Answer = TypeVar("Answer")


class Loader:
    """Reads rows of some campaigns, each kind in one question for all of them, when it is first asked for.

    known: by campaign, its runs as they were read before, and which of them have changed since; the others are not read again
    """

    def __init__(
        self, campaigns: Sequence[Campaign], known: Mapping[int, tuple[RunRows, frozenset[int]]] | None = None
    ) -> None:
        self.ids = [campaign.pk for campaign in campaigns]
        self.rig_ids = list({campaign.rig_id for campaign in campaigns})
        self.known = known or {}

    @cached_property
    def fittings(self) -> dict[int, list[Fitting]]:
        """With their parts."""
        parts: dict[int, list[Part]] = _by(self._small["parts"], "fitting_id")
        for one in self._small["fittings"]:
            one.parts_read = parts.get(one.pk, [])
        return _by(self._small["fittings"], "rig_id")

    @cached_property
    def in_use(self) -> dict[int, KeeperRows]:
        """By campaign, the kept settings of it that are in use, each with all that happened since."""
        rows = rows_of(
            Keeper.objects.filter(campaign_id__in=self.ids, taken_back_at=None, spans__until=None, spans__isnull=False)
        )
        return {pk: replace(rows, keepers=some) for pk, some in _by(rows.keepers, "campaign_id").items()}

    @cached_property
    def _small(self) -> dict[str, list[Any]]:
        """What there are few rows of, all in one question."""
        return read_together(
            fittings=Fitting.objects.filter(rig_id__in=self.rig_ids),
            parts=Part.objects.filter(fitting__rig_id__in=self.rig_ids),
            knobs=KnobRow.objects.filter(campaign_id__in=self.ids),
            rails=GuardRailRow.objects.filter(campaign_id__in=self.ids),
            targets=Target.objects.filter(campaign_id__in=self.ids),
            instruments=InstrumentRow.objects.filter(rig_id__in=self.rig_ids),
            use_entries=UseEntry.objects.filter(keeper__campaign_id__in=self.ids)
            .order_by()
            .annotate(campaign_id=F("keeper__campaign_id"), setting_id=F("keeper__setting_id")),
        )

    @cached_property
    def use_entries(self) -> dict[int, list[Any]]:
        """By campaign, hours and failures of the settings that were kept, still in use or not."""
        return _by(self._small["use_entries"], "campaign_id")

    @cached_property
    def knobs(self) -> dict[int, list[KnobRow]]:
        return _by(self._small["knobs"], "campaign_id")

    @cached_property
    def settings(self) -> dict[int, list[Setting]]:
        kept = Keeper.objects.filter(setting=OuterRef("pk"), taken_back_at=None).values("name")
        rows = Setting.objects.filter(campaign_id__in=self.ids)
        return _by(rows.annotate(kept_as=Subquery(kept[:1])), "campaign_id")

    @cached_property
    def rails(self) -> dict[int, list[GuardRailRow]]:
        return _by(self._small["rails"], "campaign_id")

    @cached_property
    def targets(self) -> dict[int, list[Target]]:
        return _by(self._small["targets"], "campaign_id")

    @cached_property
    def instruments(self) -> dict[int, list[InstrumentRow]]:
        return _by(self._small["instruments"], "rig_id")

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
    def rows(self) -> dict[int, RunRows]:
        """By campaign, its runs with their figures as far as they were asked for."""
        return read_runs(self.ids, self.known)

    @property
    def has_rows(self) -> bool:
        """Whether the runs were read already."""
        return "rows" in self.__dict__

    def read_figures(self, settings: Mapping[int, frozenset[int]]) -> None:
        """Sees to it that the figures of some settings' runs are there, by campaign; all in one question."""
        read_figures(settings, self.rows)


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
        # what earlier campaigns have shown of knobs like this one's; nothing where no climb is judged
        self.learnt: Mapping[Knob, Steepness] = {}
        # the same of this one's workloads, by variant: how far they lie from what their kind says
        self.offsets: Mapping[int, tuple[Offset, ...]] = {}
        # what is worked out once, by what it is made of; and what was asked for lately, by what was asked
        self.found: dict[object, Any] = {}
        # the same where it hangs on nothing but the rows: neither on the goal nor on what other campaigns have shown
        self.of_rows: dict[object, Any] = {}
        self._noise: dict[int, dict[int, PooledNoise | None]] = {}
        self._memory: dict[int, BenchMemory] = {}
        self._counting: dict[int | None, list[RunRow]] = {}
        self._lately: OrderedDict[object, Any] = OrderedDict()
        self._making = OneMaker()

    def lately(self, asked: object, answer: Callable[[], Answer]) -> Answer:
        """An answer that hangs on what a user asks: kept while it is one of the last few."""

        def made() -> tuple[Answer]:
            kept = self._lately[asked] = (answer(),)
            while len(self._lately) > MOST_LATELY:
                with suppress(KeyError):
                    self._lately.popitem(last=False)
            return kept

        return self._making.result(("lately", asked), lambda: self._lately.get(asked), made)[0]

    def worked_out(self, name: str, answer: Callable[[], Answer]) -> Answer:
        """What is worked out once, by name; several threads that ask at once wait for one."""

        def made() -> Answer:
            found = self.found[name] = answer()
            return found

        return self._making.result(("found", name), lambda: self.found.get(name), made)

    def knowing(self, learnt: Mapping[Knob, Steepness], offsets: Mapping[int, tuple[Offset, ...]]) -> "CampaignData":
        """The same with what earlier campaigns have shown; the one made last is kept, with all that was worked out from it."""

        def kept() -> CampaignData | None:
            found = self.found.get("knowing")
            return found if found is not None and (found.learnt, found.offsets) == (learnt, offsets) else None

        def made() -> CampaignData:
            found = self.found["knowing"] = self._with(self.campaign, learnt, offsets)
            return found

        return self._making.result("knowing", kept, made)

    def _with(
        self, campaign: Campaign, learnt: Mapping[Knob, Steepness], offsets: Mapping[int, tuple[Offset, ...]]
    ) -> "CampaignData":
        """The same rows with another campaign's goal or other things learnt; what hangs on neither is worked out once for all."""
        other = copy(self)
        other.campaign, other.learnt, other.offsets = campaign, learnt, offsets
        other.found, other._lately, other._making = {}, OrderedDict(), OneMaker()
        return other

    def supposing(self, goal: str, terms: Mapping[str, Any]) -> "CampaignData":
        """The same if its goal and the goal's numbers were others."""
        campaign = copy(self.campaign)
        campaign.goal, campaign.terms = goal, dict(terms)
        return self._with(campaign, self.learnt, self.offsets)

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
        return self._rows.runs

    @property
    def _rows(self) -> RunRows:
        return self.loader.rows[self.id]

    def made_of_runs(self, name: object, made_of: object, make: Callable[[], Answer]) -> Answer:
        """What hangs on a few runs, for as long as these stay the same, whatever else changes."""
        return self._rows.kept(name, made_of, make)

    @property
    def hottest(self) -> Mapping[int, float]:
        """By run, the highest temperature of the tuned part that any instrument read."""
        if self._rows.hottest is None or self._rows.unread:
            self.loader.read_figures({self.id: frozenset()})
        return self._rows.hottest or {}

    @cached_property
    def _runs_at(self) -> dict[tuple[int, int | None], list[RunRow]]:
        found: dict[tuple[int, int | None], list[RunRow]] = defaultdict(list)
        for run in self.runs:
            found[run.setting_id, run.fitting_id].append(run)
        return found

    def runs_at(self, setting: Setting, fitting: Fitting | None) -> list[RunRow]:
        """The runs of one setting under one fitting."""
        return self._runs_at.get((setting.pk, fitting.pk if fitting else None), [])

    @property
    def hours(self) -> Mapping[int, float]:
        """When each run began, in hours, as far as its time can be true (`believable_hours`)."""
        return self._times[0]

    @property
    def _times(self) -> tuple[Mapping[int, float], Mapping[int, float]]:
        """The hours, and those of them that differ from what was typed."""
        if "times" not in self.of_rows:
            minutes = {one.pk: one.minutes for one in self.known_variants}
            lasted = [
                (run.duration_s or (60 * minutes.get(run.variant_id, 0.0) if run.outcome == "completed" else 0.0))
                / 3600
                for run in self.runs
            ]
            begun = _hours([run.started for run in self.runs])
            hours = believable_hours(begun, np.array(lasted))
            moved = {self.runs[place].id: float(hours[place]) for place in np.flatnonzero(hours != begun)}
            # both in one step: another thread may ask at any moment
            self.of_rows["times"] = {run.id: float(hour) for run, hour in zip(self.runs, hours, strict=True)}, moved
        return cast(tuple[Mapping[int, float], Mapping[int, float]], self.of_rows["times"])

    @property
    def far_off(self) -> frozenset[int]:
        """Runs whose result is far from all others of their setting, workload and fitting."""
        if "far off" not in self.of_rows:
            groups: dict[tuple[int, int, int], list[RunRow]] = defaultdict(list)
            for run in self.runs:
                if run.counts:
                    groups[run.setting_id, run.variant_id, run.fitting_id].append(run)
            found = [
                some[place].id
                for some in groups.values()
                if len(some) >= FAR_OFF_RUNS
                for place in far_off([cast(float, run.value) for run in some])
            ]
            self.of_rows["far off"] = frozenset(found)
        return cast(frozenset[int], self.of_rows["far off"])

    @cached_property
    def without_result(self) -> frozenset[int]:
        """Variants of workloads in which nothing is measured but figures."""
        return frozenset(one.pk for one in self.known_variants if one.measure == "nothing")

    def was_made(self, run: RunRow) -> bool:
        """Whether a run is one of those that a workload asks for: with its result, where it has one."""
        done = run.outcome == "completed" and run.aside is None
        return run.counts or (done and run.variant_id in self.without_result)

    def counting(self, fitting: Fitting | None) -> list[RunRow]:
        """The runs under one fitting that count."""
        key = fitting.pk if fitting else None
        if key not in self._counting:
            self._counting[key] = [
                run for run in self.runs if run.fitting_id == key and run.counts and run.id not in self.far_off
            ]
        return self._counting[key]

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
    def failed_in_use(self) -> Counter[int]:
        """By setting that was kept, its failures in use that count against it."""
        return Counter(one.setting_id for one in self.use_entries if one.outcome and counts_against(one))

    @property
    def use_entries(self) -> list[Any]:
        """Use of every setting that was kept, oldest first; each entry names its `setting_id`."""
        return sorted(self.loader.use_entries.get(self.id, []), key=lambda one: (one.at, one.pk))

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

    def facts(self, runs: Sequence[RunRow]) -> list[RunFacts]:
        """Runs as the core takes them, with their figures as they count."""
        self.loader.read_figures({self.id: frozenset(run.setting_id for run in runs)})
        rows = self._rows
        order, (hours, moved) = self.part_order, self._times
        # only the moved hours: others' facts stay as they are when one more run is logged
        kept = rows.facts_for((tuple(self.instruments.items()), tuple(self.chosen.items()), order, self.far_off, moved))
        found = []
        for run in runs:
            facts = kept.get(run.id)
            if facts is None:
                facts = kept[run.id] = self._facts(run, rows.figures.get(run.id, ()), order, hours[run.id])
            found.append(facts)
        return found

    @property
    def part_order(self) -> PartOrder:
        """Whose figures stand for what is tuned: by the goal, else by the knobs."""
        chosen = cast(Mapping[str, Any], self.campaign.terms).get("part", "tuned part")
        return part_order(self.knobs, chosen if chosen in PARTS else "tuned part")

    def _facts(self, run: RunRow, readings: Sequence[Reading], order: PartOrder, hour: float) -> RunFacts:
        counting = counted(readings, self.instruments, self.chosen, run.started_at)
        found = {key.word: one for key, one in counting.items()}
        read_by = {word: one.instrument.name for word, one in found.items() if one.instrument}
        for kind in NAMED:
            if kind.key.part != "tuned part":
                continue
            own = standing_for(counting, kind.key, order)
            if own is None:
                found.pop(kind.word, None)
                read_by.pop(kind.word, None)
                continue
            part, found[kind.word] = own
            name = own[1].instrument.name if own[1].instrument else ""
            read_by[kind.word] = ", ".join(one for one in (name, order.named(part)) if one)

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
            far_off=run.id in self.far_off,
            power_w=power.value if power else None,
            power_point=power.instrument.point if power and power.instrument else "unknown",
            temp_max_c=figure("temp_max_c"),
            room_c=figure("room_c"),
            low_1_fps=figure("low_1_fps"),
            low_01_fps=figure("low_01_fps"),
            core_mhz=figure("core_mhz"),
            memory_mhz=figure("memory_mhz"),
            voltage_v=figure("voltage_v"),
            noise_dba=figure("noise_dba"),
            started_h=hour,
            temp_start_c=figure("temp_start_c"),
            frames=run.frames,
            duration_s=run.duration_s,
            corrected=tuple(word for word, one in found.items() if one.corrected),
            doubts={
                word: one.instrument.doubt for word, one in found.items() if one.instrument and one.instrument.doubt
            },
            read_by={word: name for word, name in read_by.items() if name},
            of_parts=tuple(
                PartFigure(
                    key.part, key.quantity, key.statistic, one.value, one.instrument.name if one.instrument else ""
                )
                for key, one in counting.items()
                if (key.quantity, key.statistic) in SHOWN_OF_PART and key.part in SHOWN
            ),
        )

    def counted_at(self, runs: Sequence[RunRow], keys: Sequence[FigureKey]) -> dict[int, dict[FigureKey, float]]:
        """Figures beside those that all runs have, as they count; by run, those that have all of them."""
        self.loader.read_figures({self.id: frozenset(run.setting_id for run in runs)})
        found: dict[int, dict[FigureKey, float]] = {}
        for run in runs:
            readings = [one for one in self._rows.figures.get(run.id, ()) if one.key in keys]
            if len(readings) >= len(keys):
                own = counted(readings, self.instruments, self.chosen, run.started_at)
                if len(own) == len(keys):
                    found[run.id] = {key: one.value for key, one in own.items()}
        return found

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
            every = [self.hours[run.id] for run in self.runs if run.fitting_id == key]
            hours = np.array([self.hours[run.id] for run in kept], dtype=np.float64)
            self._memory[key] = memory_of(numbers[:, 0], numbers[:, 1], hours, logs, np.array(every))
        return self._memory[key]


def read_figures_at(settings: Iterable[tuple[CampaignData, Iterable[int]]]) -> None:
    """Reads the figures of runs at some settings of several campaigns, in one question for all that were loaded together."""
    wanted: dict[Loader, dict[int, frozenset[int]]] = defaultdict(dict)
    for data, some in settings:
        of = wanted[data.loader]
        of[data.id] = of.get(data.id, frozenset()) | frozenset(some)
    for loader, of in wanted.items():
        loader.read_figures(of)
