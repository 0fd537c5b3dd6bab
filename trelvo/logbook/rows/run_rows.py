"""Runs of campaigns with their figures: read once, and again only where something of them has changed."""

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, NamedTuple, TypeVar, cast

from django.db.models import Q, TextField
from django.db.models.functions import Cast

from trelvo.core.base.figures import BY_WORD, FigureKey
from trelvo.core.base.instruments import Reading
from trelvo.core.base.runs import RunFacts
from trelvo.core.registry.outcomes import FAILURES, Outcome
from trelvo.logbook.models import Figure, Run
from trelvo.logbook.rows.one_maker import OneMaker

HOT = BY_WORD["temp_max_c"].key
Answer = TypeVar("Answer")


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


@dataclass
class RunRows:
    """A campaign's runs in the order they were made, and what was read of them so far.

    figures: readings by run, of the settings in `read` less the runs in `unread`
    hottest: by run, the highest temperature of the tuned part that any instrument read; None: not asked for yet
    facts: what was made of runs, by run, with what it is made of besides them
    made: by name, what was made of some of the runs, with what it is made of
    """

    campaign_id: int
    runs: list[RunRow]
    figures: dict[int, list[Reading]] = field(default_factory=dict)
    read: set[int] = field(default_factory=set)
    unread: set[int] = field(default_factory=set)
    hottest: dict[int, float] | None = None
    facts: tuple[object, dict[int, RunFacts]] = field(default_factory=lambda: (None, {}))
    made: dict[object, tuple[object, Any]] = field(default_factory=dict)
    making: OneMaker = field(default_factory=OneMaker)

    def kept(self, name: object, made_of: object, make: Callable[[], Answer]) -> Answer:
        """What was made under a name, for as long as what it is made of is the same: it outlives changes elsewhere."""

        def kept() -> tuple[object, Any] | None:
            found = self.made.get(name)
            return found if found is not None and found[0] == made_of else None

        def made() -> tuple[object, Any]:
            found = self.made[name] = made_of, make()
            return found

        return cast(Answer, self.making.result(name, kept, made)[1])

    def facts_for(self, made_of: object) -> dict[int, RunFacts]:
        """What was made of runs, by run; begun anew where what it is made of besides them has changed."""
        kept = self.facts
        if kept[0] != made_of:
            kept = self.facts = made_of, {}
        return kept[1]

    def after(self, changed: Collection[int], fresh: Iterable[RunRow]) -> "RunRows":
        """The same after some runs have changed, come, or gone. fresh: those of them that there are"""
        if not changed:
            return self
        runs = [run for run in self.runs if run.id not in changed] + list(fresh)
        runs.sort(key=lambda run: (run.started, run.id))
        # first what is still to be read, then what was: another thread may be reading it now
        unread = {run.id for run in runs if run.id in changed or run.id in self.unread}
        read, (made_of, facts) = set(self.read), self.facts
        made = RunRows(self.campaign_id, runs, dict(self.figures), read, unread)
        made.hottest = None if self.hottest is None else dict(self.hottest)
        made.facts, made.made, made.making = (made_of, dict(facts)), self.made, self.making
        for run_id in changed:
            made.figures.pop(run_id, None)
            made.facts[1].pop(run_id, None)
            if made.hottest is not None:
                made.hottest.pop(run_id, None)
        return made


def read_runs(campaign_ids: Sequence[int], known: Mapping[int, tuple[RunRows, frozenset[int]]]) -> dict[int, RunRows]:
    """By campaign, its runs. known: what was read before, and which runs have changed since; only those are read again"""
    wanted = Q(campaign_id__in=[one for one in campaign_ids if one not in known])
    changed = [run_id for _, some in known.values() for run_id in some]
    if changed:
        wanted |= Q(pk__in=changed, campaign_id__in=campaign_ids)
    found: dict[int, list[RunRow]] = defaultdict(list)
    if changed or any(one not in known for one in campaign_ids):
        rows = Run.objects.filter(wanted).order_by("started_at", "id")
        # texts instead of moments: reading those would take most of the time
        rows = rows.annotate(started=Cast("started_at", TextField()), aside=Cast("set_aside_at", TextField()))
        for row in rows.values_list(*RunRow._fields):
            found[row[1]].append(RunRow._make(row))
    every = {one: RunRows(one, found[one]) for one in campaign_ids if one not in known}
    return every | {one: rows.after(some, found[one]) for one, (rows, some) in known.items() if one in campaign_ids}


def read_figures(wanted: Mapping[int, frozenset[int]], every: Mapping[int, RunRows]) -> None:
    """Reads what is missing of some settings' figures, in one question; both by campaign.

    With it the highest temperatures of all campaigns' runs that were not asked for yet.
    """
    asked = Q()
    of_run: dict[int, RunRows] = {}
    for campaign_id, settings in wanted.items():
        rows = every[campaign_id]
        missing = settings - rows.read
        if missing:
            asked |= Q(run__setting_id__in=missing)
        if rows.unread:
            asked |= Q(run__in=rows.unread)
        if missing or rows.unread:
            of_run |= {run.id: rows for run in rows.runs if run.setting_id in missing or run.id in rows.unread}
    cold = [rows for rows in every.values() if rows.hottest is None]
    if cold:
        hot = Q(quantity=HOT.quantity, part=HOT.part, statistic=HOT.statistic)
        asked |= hot & Q(run__campaign_id__in=[rows.campaign_id for rows in cold])
    if not asked:
        return
    keys: dict[tuple[str, str, str], FigureKey] = {}
    found: dict[int, list[Reading]] = defaultdict(list)
    hottest: dict[int, float] = {}
    columns = ("run_id", "quantity", "part", "statistic", "value", "instrument_id")
    rows_read = Figure.objects.filter(asked, replaced=False).order_by().values_list(*columns)
    for run_id, quantity, part, statistic, value, instrument_id in rows_read.iterator(chunk_size=2000):
        mark = (quantity, part, statistic)
        key = keys.get(mark) or keys.setdefault(mark, FigureKey(*mark))
        if run_id in of_run:
            found[run_id].append(Reading(key, value, instrument_id))
        if key == HOT:
            hottest[run_id] = max(value, hottest.get(run_id, value))
    for run_id, rows in of_run.items():
        rows.figures[run_id] = found.get(run_id, [])
        if rows.hottest is not None and run_id in hottest:
            rows.hottest[run_id] = hottest[run_id]
    for rows in cold:
        rows.hottest = {run.id: hottest[run.id] for run in rows.runs if run.id in hottest}
    for campaign_id, settings in wanted.items():
        rows = every[campaign_id]
        rows.unread = set()
        rows.read |= settings
