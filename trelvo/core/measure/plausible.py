"""Whether a result that is being typed is so far from what is known that the typist should be asked."""

from collections.abc import Sequence

# Common practice: settings of one part differ by less than half; a slip of the decimal point by a factor of ten.
FACTOR = 1.6
FEWEST = 2


def far_off(value: float, known: Sequence[float]) -> str:
    """A question about a result far from all that the same workload gave here, or an empty text.

    value: above zero; known: results that count, of any setting of the rig; fewer than two say nothing
    """
    if len(known) < FEWEST or value <= 0:
        return ""
    low, high = min(known), max(known)
    if low / FACTOR <= value <= high * FACTOR:
        return ""
    times = value / high if value > high else low / value
    word = "above" if value > high else "below"
    for power in (10, 100, 1000):
        moved = value / power if value > high else value * power
        if low / FACTOR <= moved <= high * FACTOR:
            return f"{value:g} is {times:.1f} times {word} everything measured here ({low:g} to {high:g}). {moved:g} perhaps?"
    return f"{value:g} is {times:.1f} times {word} everything measured here ({low:g} to {high:g})."
