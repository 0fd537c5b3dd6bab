"""A comparison with the goal's condition on speed beside it."""

from collections.abc import Sequence
from datetime import datetime

from trelvo.core.compare.service import Compared, versus_of
from trelvo.core.compare.sides import Side
from trelvo.core.goal.service import speed_conditions


def compared(
    reference: Side, candidates: Sequence[Side], now: datetime, *, correct: bool, careful: bool = True
) -> Compared:
    """Candidates against the reference. correct, careful: as in `versus_of`"""
    return versus_of(
        reference,
        candidates,
        now,
        speed_shown=speed_conditions(reference.case),
        correct=correct,
        careful=careful,
    )
