"""A knob against workloads: what each value gives, costs and heats, and which cells of the grid nobody has run yet."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from trelvo.core.base.knobs import Knob, checked_values, whole_limit
from trelvo.core.base.runs import RunFacts, highest_of, mean_of, values_of
from trelvo.core.campaign import Setting, titles_of
from trelvo.core.case import Case
from trelvo.core.laws.response import Response, ResponsePlace, response
from trelvo.core.problems import Problem, Refused
from trelvo.core.stats.comparison import compare
from trelvo.core.stats.same_instrument import WATTS, Readers, by_readers, readers_of, usual

MOST_VALUES = 24
# Deviation of a ratio where no repeats have shown the bench's noise. Common practice: 0.5 to 1 % on a good bench.
USUAL_DEVIATION = 0.01


@dataclass(frozen=True)
class SweepCell:
    """One workload at one value. ratio: speed against stock, low and high its 95 % interval; None where not run or not known

    failed: how many of its runs failed
    """

    workload_id: int
    runs: int
    failed: int
    ratio: float | None
    low: float | None
    high: float | None
    power_w: float | None
    temp_max_c: float | None


@dataclass(frozen=True)
class SweepRow:
    """A value of the knob with all its cells. setting_id: None where the setting is not there yet"""

    value: float
    setting_id: int | None
    cells: list[SweepCell]


@dataclass(frozen=True)
class SweepWorkload:
    """response: speed along a power limit; None for other knobs, which may cost speed, and with fewer than three values"""

    id: int
    name: str
    response: Response | None


@dataclass(frozen=True)
class SweepView:
    """missing: cells without a completed run, those after a failure at the same value left out"""

    knob: Knob
    knobs: list[Knob]
    workloads: list[SweepWorkload]
    rows: list[SweepRow]
    missing: int


@dataclass(frozen=True)
class SweepWish:
    """Values from one end to the other, `every` apart; what was run along the knob where nothing is wished."""

    knob: str | None = None
    first: float | None = None
    last: float | None = None
    every: float | None = None


def sweep_view(case: Case, wish: SweepWish) -> SweepView:
    """The grid of a knob's values, all other knobs at stock, against the workloads that are measured."""
    knobs = [knob for knob in case.campaign.knobs if not knob.retired]
    knob = _chosen(knobs, wish.knob)
    along = {
        setting.values.get(knob.key, knob.stock): setting
        for setting in case.campaign.settings
        if set(setting.values) <= {knob.key}
    }
    values = wished_values(knob, wish) or sorted(along, key=lambda one: (one - knob.stock) * knob.away)
    stock = _by_workload(case, case.campaign.stock)
    ran = {value: _by_workload(case, along.get(value)) for value in values}
    meter = usual(by_readers((run for own in ran.values() for runs in own.values() for run in runs), WATTS))
    rows = [
        SweepRow(
            value,
            along[value].id if value in along else None,
            _cells(case, along.get(value), stock, ran[value], meter),
        )
        for value in values
    ]
    titles = titles_of(case.campaign.workloads)
    return SweepView(
        knob,
        knobs,
        [
            SweepWorkload(workload.id, titles[workload.id], _response(knob, rows, workload.id))
            for workload in case.campaign.workloads
        ],
        rows,
        sum(not cell.runs and not any(other.failed for other in row.cells) for row in rows for cell in row.cells),
    )


def _chosen(knobs: Sequence[Knob], key: str | None) -> Knob:
    if not knobs:
        raise Refused(Problem("knob", "no_knob_turned"))
    if key is None:
        return whole_limit(knobs) or knobs[0]
    for knob in knobs:
        if knob.key == key:
            return knob
    raise Refused(Problem("knob", "knob_not_turned", {"knob": key, "known": tuple(one.key for one in knobs)}))


def wished_values(knob: Knob, wish: SweepWish) -> list[float]:
    """The values wished for, on the knob's grid; empty where none were. Refused when off the grid, or too many."""
    if wish.first is None or wish.last is None or wish.every is None:
        return []
    if not (np.isfinite([wish.first, wish.last, wish.every]).all() and wish.every > 0):
        raise Refused(Problem("every", "spacing_not_above_zero"))
    apart = abs(wish.last - wish.first) / wish.every
    if not apart < MOST_VALUES:
        raise Refused(Problem("every", "too_many_sweep_values", {"count": apart, "most": MOST_VALUES}))
    count = int(apart + 1e-9) + 1
    sign = 1 if wish.last >= wish.first else -1
    values = [round(wish.first + sign * i * wish.every, 9) for i in range(count)]
    for value in values:
        checked_values([knob], {knob.key: value})
    return values


def _by_workload(case: Case, setting: Setting | None) -> Mapping[int, list[RunFacts]]:
    found: dict[int, list[RunFacts]] = defaultdict(list)
    for one in case.facts(case.campaign.runs_at(setting, case.campaign.judged_build)) if setting else ():
        found[one.workload_id].append(one)
    return found


def _cells(
    case: Case,
    setting: Setting | None,
    stock: Mapping[int, Sequence[RunFacts]],
    own: Mapping[int, Sequence[RunFacts]],
    meter: Readers | None,
) -> list[SweepCell]:
    build = case.campaign.judged_build
    failed = {run.id for run in case.campaign.runs_at(setting, build) if run.failed} if setting else set()
    cells = []
    for workload in case.campaign.workloads:
        mine = own.get(workload.id, [])
        reference = values_of(stock.get(workload.id, ()))
        candidate = values_of(mine)
        ratio = low = high = None
        if reference and candidate and setting is not None and setting.id != case.campaign.stock.id:
            pooled = case.noise(build).get(workload.id)
            found = compare(reference, candidate, higher_is_better=workload.higher_is_better, pooled=pooled)
            ratio, low, high = found.ratio, found.low, found.high
        elif reference and candidate:
            ratio = 1.0
        cells.append(
            SweepCell(
                workload_id=workload.id,
                runs=len(candidate),
                failed=sum(one.id in failed for one in mine),
                ratio=ratio,
                low=low,
                high=high,
                power_w=mean_of(one.power_w for one in mine if readers_of(one, WATTS) == meter),
                temp_max_c=highest_of(one.temp_max_c for one in mine),
            )
        )
    return cells


def _response(knob: Knob, rows: Sequence[SweepRow], workload_id: int) -> Response | None:
    if knob.role != "power limit":
        return None
    places = []
    for row in rows:
        cell = next(one for one in row.cells if one.workload_id == workload_id)
        if cell.ratio is not None and row.setting_id is not None:
            wide = (cell.high - cell.low) / 3.92 if cell.low is not None and cell.high is not None else 0.0
            deviation = wide or USUAL_DEVIATION * (cell.ratio != 1)
            places.append(ResponsePlace(row.setting_id, "", row.value, cell.ratio, deviation))
    return response(places, np.random.default_rng(1))
