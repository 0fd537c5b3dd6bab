"""Two instruments of a rig against each other, from the runs in which both read the same."""

from collections import defaultdict
from dataclasses import dataclass

from trelvo.core.base.figures import KINDS, FigureKey, name_of
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.measure.agreement import Agreement, agreement
from trelvo.logbook.models import Figure, InstrumentRow


@dataclass(frozen=True)
class Pair:
    """A run in which both read, as they read: without any correction."""

    run_id: int
    first: float
    second: float


@dataclass(frozen=True)
class AgreementView:
    """How two instruments agree. parts_differ: they read different parts, so the difference is more than an error"""

    first_id: int
    second_id: int
    figure: str
    unit: str
    parts_differ: bool
    pairs: list[Pair]
    agreement: Agreement


def agreement_of(first: InstrumentRow, second: InstrumentRow) -> AgreementView:
    """Agreement over every run in which both read the same statistic of their quantity. Refused where they cannot be compared."""
    if first.pk == second.pk:
        raise Refused(Problem("second", "This is one instrument, not two.", "Choose another one."))
    if first.quantity != second.quantity:
        what = f"{first.name} reads {first.quantity}, {second.name} {second.quantity}."
        raise Refused(Problem("second", what, "Choose two that read the same."))
    read: dict[tuple[int, str], dict[int, float]] = defaultdict(dict)
    rows = Figure.objects.filter(instrument__in=(first, second), replaced=False, run__set_aside_at__isnull=True)
    for figure in rows.order_by("run__started_at", "run_id"):
        read[figure.run_id, figure.statistic][figure.instrument_id or 0] = figure.value
    both = [(run, found) for run, found in read.items() if len(found) == 2]
    if not both:
        what = f"There is no run in which both {first.name} and {second.name} read."
        raise Refused(Problem("second", what, "Log a few runs with both figures."))
    statistic = max({one for (_, one), _ in both}, key=lambda one: sum(run[1] == one for run, _ in both))
    kept = [(run_id, found) for (run_id, of), found in both if of == statistic]
    pairs = [Pair(run_id, found[first.pk], found[second.pk]) for run_id, found in kept]
    kind = KINDS[first.as_instrument().quantity]
    key = FigureKey(first.as_instrument().quantity, first.as_instrument().part, statistic)  # type: ignore[arg-type]
    found = agreement(
        [pair.first for pair in pairs], [pair.second for pair in pairs], kind.unit, first.name, second.name
    )
    return AgreementView(first.pk, second.pk, name_of(key), kind.unit, first.part != second.part, pairs, found)
