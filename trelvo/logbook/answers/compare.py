"""Compare: what a comparison needs besides its sides, the goal's view of speed and the starts of logs, is put beside them."""

from collections.abc import Sequence
from datetime import datetime

from trelvo.core.compare.service import Compared, versus_of
from trelvo.core.compare.sides import Side
from trelvo.core.goal.service import speed_conditions
from trelvo.logbook.answers.first_pass import first_passes


def compared(
    reference: Side, candidates: Sequence[Side], now: datetime, *, correct: bool, careful: bool = True
) -> Compared:
    """Candidates against the reference. correct, careful: as in `versus_of`"""
    return versus_of(
        reference,
        candidates,
        now,
        speed_shown=speed_conditions(reference.case),
        first_passes=first_passes(reference),
        correct=correct,
        careful=careful,
    )
