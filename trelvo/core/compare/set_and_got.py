"""Set against got: what a knob was turned by, and how far the figure moved that it is meant to move."""

from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.base.figures import BY_WORD, FigureKey
from trelvo.core.base.knobs import Knob
from trelvo.core.base.runs import RunFacts, figures_count, mean_of
from trelvo.core.registry.quantities import QUANTITIES


@dataclass(frozen=True)
class Moved:
    """A knob between two sides. set_by: in the knob's unit; got: change of its figure, in `unit`, None where nobody read it.

    comparable: whether both are in one measure, so that the one should be the other; set_in_unit: set_by in `unit` then
    """

    key: str
    name: str
    knob_unit: str
    set_by: float
    figure: str
    unit: str
    got: float | None
    comparable: bool
    set_in_unit: float | None


def _read(run: RunFacts, knob: Knob, key: FigureKey, word: str) -> float | None:
    """The figure of the knob's own part; the tuned part's where the knob names none, or its part has no reading."""
    own = [
        of_part.value
        for of_part in run.of_parts
        if (of_part.part, of_part.quantity, of_part.statistic) == (knob.part, key.quantity, key.statistic)
    ]
    return mean_of(own) if own else getattr(run, word)


def set_against_got(
    turned: Sequence[tuple[Knob, float]], reference: Sequence[RunFacts], candidate: Sequence[RunFacts]
) -> list[Moved]:
    """For every knob that was turned between two sides, what its figure did; knobs that move no figure are left out.

    turned: knobs with their difference, candidate less reference, in their own unit; runs of one workload on each side
    """
    found = []
    capped = {knob.part for knob, by in turned if knob.role == "curve point" and by}
    for knob, set_by in turned:
        word = knob.facts.moves
        if set_by == 0 or word not in RunFacts.__dataclass_fields__:
            continue
        kind = QUANTITIES[BY_WORD[word].key.quantity]
        key = BY_WORD[word].key
        had, got = (
            mean_of(_read(run, knob, key, word) for run in side if figures_count(run))
            for side in (reference, candidate)
        )
        change = got - had if got is not None and had is not None else None
        factor = kind.units().get(knob.unit, (None, 0.0))[0]
        # a multiplier's or a limit's own unit is not that of what it moves
        comparable = factor is not None and knob.role in ("core clock", "memory clock", "voltage")
        # under a voltage cap an offset moves the whole curve: the clock got is that at the cap
        comparable &= not (knob.role == "core clock" and knob.part in capped)
        found.append(
            Moved(
                key=knob.key,
                name=knob.name,
                knob_unit=knob.unit,
                set_by=set_by,
                figure=BY_WORD[word].name,
                unit=kind.unit,
                got=change,
                comparable=comparable,
                set_in_unit=set_by * factor if comparable and factor is not None else None,
            )
        )
    return found
