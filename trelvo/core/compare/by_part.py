"""What each part of the machine drew, reached and ran at on two sides of a comparison."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from trelvo.core.base.figures import Part, Statistic
from trelvo.core.base.parts import SHOWN, SHOWN_OF_PART
from trelvo.core.base.runs import RunFacts
from trelvo.core.registry.quantities import QUANTITIES, Quantity


@dataclass(frozen=True)
class PartReading:
    """A figure of one part: means of the runs of one workload that have it, in the quantity's unit; temperatures are the highest.

    reference, candidate: None where a side has no reading; more: candidate less reference, None unless one instrument read both
    instrument: its name, empty where it was not said
    """

    part: Part
    quantity: Quantity
    statistic: Statistic
    unit: str
    decimals: int
    reference: float | None
    candidate: float | None
    more: float | None
    instrument: str


def by_part(reference: Iterable[RunFacts], candidate: Iterable[RunFacts]) -> tuple[PartReading, ...]:
    """Figures of every part that has one on either side, part by part; runs that did not complete are left out."""
    sides = [_readings(side) for side in (reference, candidate)]
    found = []
    for part in SHOWN:
        for quantity, statistic in SHOWN_OF_PART:
            before, after = (side.get((part, quantity, statistic), {}) for side in sides)
            if before or after:
                found.append(_reading(part, quantity, statistic, before, after))
    return tuple(found)


def _readings(runs: Iterable[RunFacts]) -> dict[tuple[Part, Quantity, Statistic], dict[str, list[float]]]:
    """By part and figure, values by the instrument that read them."""
    found: dict[tuple[Part, Quantity, Statistic], dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    for run in runs:
        if run.outcome == "completed" and not run.set_aside:
            for of_part in run.of_parts:
                found[of_part.part, of_part.quantity, of_part.statistic][of_part.instrument].append(of_part.value)
    return found


def _reading(
    part: Part,
    quantity: Quantity,
    statistic: Statistic,
    before: dict[str, list[float]],
    after: dict[str, list[float]],
) -> PartReading:
    both = [name for name in before if name in after]
    # a named instrument says more than one that nobody named
    instrument = max(both, key=lambda name: (name != "", len(after[name])), default=None)
    first = before.get(instrument if instrument is not None else next(iter(before), ""), [])
    second = after.get(instrument if instrument is not None else next(iter(after), ""), [])
    old, new = _of(statistic, first), _of(statistic, second)
    more = new - old if instrument is not None and old is not None and new is not None else None
    name = instrument if instrument is not None else next(iter(after or before), "")
    kind = QUANTITIES[quantity]
    return PartReading(
        part=part,
        quantity=quantity,
        statistic=statistic,
        unit=kind.unit,
        decimals=kind.decimals,
        reference=old,
        candidate=new,
        more=more,
        instrument=name,
    )


def _of(statistic: Statistic, values: Sequence[float]) -> float | None:
    if not values:
        return None
    return max(values) if statistic == "highest" else sum(values) / len(values)
