"""Single readings that leap away and back: inside what is possible, and yet nobody's temperature or watts."""

from collections.abc import Mapping

import numpy as np
import numpy.typing as npt

from trelvo.core.registry.quantities import Quantity

Numbers = npt.NDArray[np.float64]

# How far a lone reading lies from those on both sides before it is asked about: degrees, or times as much.
# Common practice: silicon cools and heats by a few degrees within a reading; a supply's meter shows no fivefold watts for one.
APART_C = 30.0
# Below this nothing is asked: three times as much of next to nothing is still next to nothing. W, V, A, dB(A), rpm.
LEAST: Mapping[Quantity, float] = {"power": 30.0, "voltage": 0.3, "current": 3.0, "noise": 10.0, "fan speed": 500.0}
TIMES: Mapping[Quantity, float] = {"power": 3.0, "voltage": 1.6, "current": 3.0, "noise": 1.6, "fan speed": 3.0}


def lone_jumps(values: Numbers, quantity: Quantity) -> npt.NDArray[np.intp]:
    """Places of single readings that would become the highest, and that no neighbour bears out. values: NaN where missing

    A reading counts as lone where both neighbours lie far below it, and close to each other.
    """
    there = np.flatnonzero(np.isfinite(values))
    if there.size < 5 or (quantity != "temperature" and quantity not in TIMES):
        return np.zeros(0, dtype=np.intp)
    v = values[there]
    before, after = v[:-2], v[2:]
    middle = v[1:-1]
    higher = np.maximum(before, after)
    if quantity == "temperature":
        far = middle - higher > APART_C
        close = np.abs(before - after) < APART_C / 2
    else:
        far = (middle > TIMES[quantity] * higher) & (middle - higher >= LEAST[quantity])
        close = np.abs(before - after) <= 0.5 * higher
    found = 1 + np.flatnonzero(far & close)
    rest = np.delete(v, found)
    # one among many such is how the part behaves
    if not found.size or found.size > max(1, v.size // 200) or v[found].max() <= rest.max():
        return np.zeros(0, dtype=np.intp)
    return np.asarray(there[found[v[found] > rest.max()]], dtype=np.intp)
