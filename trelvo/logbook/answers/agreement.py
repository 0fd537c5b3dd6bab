"""Two instruments of a rig against each other: run by run, or moment by moment in the logs in which both read."""

from collections import defaultdict
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal, cast

from trelvo.core.base.figures import FigureKey, Part, name_of
from trelvo.core.logs.paired_readings import Readings, SideBySide, side_by_side
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.core.stats.agreement import Agreement, agreement
from trelvo.logbook.models import Figure, InstrumentRow, Series
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, from_parquet

By = Literal["runs", "moments"]
# So many logs, the newest first, tell enough of two instruments.
MOST_LOGS = 12
# What a reading is of where nothing else is said.
TUNED: Part = "tuned part"


@dataclass(frozen=True)
class Pair:
    """What both read of a run, or of a stretch of its log. first: as it counts; second: before its offset is added

    at_s: where the stretch begins, s from the log's first reading; None where the pair is a whole run
    """

    run_id: int
    first: float
    second: float
    at_s: float | None = None


@dataclass(frozen=True)
class AgreementView:
    """How two instruments agree. parts_differ: they read different parts, so the difference is more than an error

    by, could: run by run or moment by moment, and which of the two there are readings for
    says: how the pairs were made, in one sentence
    """

    first_id: int
    second_id: int
    figure: str
    unit: str
    parts_differ: bool
    by: By
    could: list[By]
    pairs: list[Pair]
    says: str
    agreement: Agreement


def agreement_of(first: InstrumentRow, second: InstrumentRow, by: By | None = None) -> AgreementView:
    """Agreement over every run, or over the moments of every log, in which both read. Refused where they cannot be compared.

    by: the one asked for; None: whichever has more pairs
    """
    if first.pk == second.pk:
        raise Refused(Problem("second", "one_instrument"))
    if first.quantity != second.quantity:
        raise Refused(
            Problem(
                "second",
                "instruments_read_differently",
                {
                    "first": first.name,
                    "first_reads": first.quantity,
                    "second": second.name,
                    "second_reads": second.quantity,
                },
            )
        )
    (run_pairs, key), (moments, says) = _by_runs(first, second), _by_moments(first, second)
    found: dict[By, list[Pair]] = {"runs": run_pairs, "moments": moments}
    could: list[By] = [one for one in found if found[one]]
    if not could:
        raise Refused(Problem("second", "never_read_together", {"first": first.name, "second": second.name}))
    chosen: By = max(could, key=lambda one: len(found[one])) if by is None else by
    if chosen not in could:
        raise Refused(
            Problem("by", "no_run_read_by_both" if chosen == "runs" else "no_log_read_by_both", {"other": could[0]})
        )
    pairs, unit = found[chosen], QUANTITIES[key.quantity].unit
    of = agreement(
        [pair.first for pair in pairs],
        [pair.second for pair in pairs],
        unit,
        first.name,
        second.name,
        groups=[pair.run_id for pair in pairs] if chosen == "moments" else None,
    )
    if chosen == "moments":
        key = FigureKey(key.quantity, key.part, "mean")
    told = says if chosen == "moments" else "Each pair is one run’s figure by both."
    return AgreementView(
        first_id=first.pk,
        second_id=second.pk,
        figure=name_of(key),
        unit=unit,
        parts_differ=first.part != second.part,
        by=chosen,
        could=could,
        pairs=pairs,
        says=told,
        agreement=of,
    )


def _by_runs(first: InstrumentRow, second: InstrumentRow) -> tuple[list[Pair], FigureKey]:
    """What both have read of one figure in runs: the figure that most runs have of both."""
    read: dict[FigureKey, dict[int, dict[int, float]]] = defaultdict(lambda: defaultdict(dict))
    rows = Figure.objects.filter(instrument__in=(first, second), replaced=False, run__set_aside_at__isnull=True)
    part_of = {row.pk: _part_of(row, first) for row in (first, second)}
    for figure in rows.order_by("run__started_at", "run_id"):
        reader = figure.instrument_id or 0
        key = FigureKey(figure.key.quantity, part_of[reader](figure.key.part), figure.key.statistic)
        read[key][figure.run_id].setdefault(reader, figure.value)
    both = {key: [(run_id, found) for run_id, found in runs.items() if len(found) == 2] for key, runs in read.items()}
    own = first.as_instrument()
    key = max(both, key=lambda one: len(both[one]), default=FigureKey(own.quantity, own.part, "mean"))
    return [_pair(run_id, first, second, found[first.pk], found[second.pk]) for run_id, found in both.get(key, [])], key


def _part_of(row: InstrumentRow, first: InstrumentRow) -> Callable[[str], Part]:
    """What an instrument's reading is compared with: its own part's against the first's own, any other part's against the
    same."""
    own = (row.part, TUNED)
    return lambda part: cast(Part, first.part if part in own else part)


@dataclass(frozen=True)
class _Columns:
    """Where both have read the same part beside one run: the log and the column of each."""

    run_id: int
    first: tuple[int, str]
    second: tuple[int, str]


def _by_moments(first: InstrumentRow, second: InstrumentRow) -> tuple[list[Pair], str]:
    """Stretches of logs in which both have read, and how they were made."""
    shared = _shared(first, second)
    wanted = shared[:MOST_LOGS]
    named = defaultdict(set)
    for one in wanted:
        for pk, column in (one.first, one.second):
            named[pk].add(column)
    parquets = dict(Series.objects.filter(pk__in=named).order_by().values_list("pk", "parquet"))
    read = {pk: from_parquet(bytes(parquets[pk]), [TIME_COLUMN, *sorted(named[pk])]) for pk in parquets}
    pairs, made = [], []
    for one in wanted:
        sides = [Readings(read[pk][TIME_COLUMN], read[pk][column]) for pk, column in (one.first, one.second)]
        found = side_by_side(*sides)
        if found is None:
            continue
        made.append(found)
        pairs += [
            _pair(one.run_id, first, second, *values, at)
            for values, at in zip(zip(found.first, found.second, strict=True), found.at_s, strict=True)
        ]
    return pairs, _how(made, len(shared))


def _shared(first: InstrumentRow, second: InstrumentRow) -> list[_Columns]:
    """Logs of the rig's runs in which both read the same part, the newest first."""
    by_uid: dict[str, int] = {}
    own: dict[str, int] = {}
    for row in InstrumentRow.objects.filter(rig_id=first.rig_id, quantity=first.quantity).order_by("pk"):
        by_uid[str(row.uid)] = row.pk
        own.setdefault(row.as_instrument().point, row.pk)
    logs = Series.objects.filter(
        run__campaign__rig_id=first.rig_id, kind=Series.Kind.TELEMETRY, run__set_aside_at__isnull=True
    ).order_by("-run__started_at", "-pk")
    part_of = {row.pk: _part_of(row, first) for row in (first, second)}
    seen: dict[tuple[int, Part], dict[int, tuple[int, str]]] = defaultdict(dict)
    for pk, run_id, channels in logs.values_list("pk", "run_id", "channels"):
        for channel in channels:
            reader = _reader(channel, first.quantity, by_uid, own)
            if reader in part_of:
                part = part_of[reader](channel.get("part") or TUNED)
                seen[run_id, part].setdefault(reader, (pk, str(channel["column"])))
    return [_Columns(run_id, of[first.pk], of[second.pk]) for (run_id, _), of in seen.items() if len(of) == 2]


def _reader(channel: Mapping[str, Any], quantity: str, by_uid: Mapping[str, int], own: Mapping[str, int]) -> int | None:
    """Which instrument read a column: the one named, else the rig's own at its measuring point."""
    if channel.get("quantity") != quantity:
        return None
    named = channel.get("instrument")
    point = str(channel.get("point") or "unknown")
    return by_uid.get(str(named)) if named else own.get(point) if point != "unknown" else None


def _pair(
    run_id: int, first: InstrumentRow, second: InstrumentRow, one: float, other: float, at_s: float | None = None
) -> Pair:
    """The second's own offset is what is looked for, so it is not in it."""
    return Pair(run_id, first.as_instrument().corrected(one), other * second.factor, at_s)


def _how(made: list[SideBySide], shared: int) -> str:
    if not made:
        return ""
    blocks = sorted({one.block_s for one in made})
    long = f"{blocks[0]:g} s" if len(blocks) == 1 else f"{blocks[0]:g} to {blocks[-1]:g} s"
    logs = "one log" if len(made) == 1 else f"{len(made)} logs"
    newest = f", the newest of {shared}" if shared > MOST_LOGS else ""
    says = f"Each pair is a mean over {long}, from {logs}{newest}."
    late = [one.lag_s for one in made if one.lag_s]
    if late:
        mean = sum(late) / len(late)
        after = "after" if mean > 0 else "before"
        says += f" The second reads {abs(mean):.1f} s {after} the first; that is taken out."
    return says
