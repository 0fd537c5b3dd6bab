"""Settings that ask more of the parts than another: what one of them has survived, the other would have survived, too."""

from collections.abc import Mapping, Sequence

import numpy as np
import numpy.typing as npt

from trelvo.core.base.knobs import Knob, Role

# Which way a knob of a role asks more. A higher limit or voltage, a fan or a load line may do either, so they tell nothing.
# Common practice.
ASKS_MORE: dict[Role, int] = {
    "core clock": 1, "memory clock": 1, "multiplier": 1, "bus clock": 1, "wait states": -1, "voltage": -1, "curve point": -1,
}  # fmt: skip


def values_at(knobs: Sequence[Knob], settings: Sequence[Mapping[str, float]]) -> npt.NDArray[np.float64]:
    """Where each knob stands, n settings by k knobs; at stock where a setting does not name it."""
    values = [[float(one.get(knob.key, knob.stock)) for knob in knobs] for one in settings]
    return np.array(values, dtype=np.float64).reshape(len(settings), len(knobs))


def harder_on_the_way(
    knobs: Sequence[Knob], along: str, base: Mapping[str, float], values: npt.NDArray[np.float64]
) -> npt.NDArray[np.bool_]:
    """Of n settings, those at which the other knobs ask more than on a line along one knob, and none of them less.

    along: key of the knob that the line runs along, on its way from stock; base: where the others stand; values: by `values_at`
    Only knobs of the same part count: what another part takes of a shared budget, this one is spared.
    With causes of failure that come on top of each other, failures are at least as frequent there as on the line at the same
    value of its knob, so that time survived there counts there as on the line.
    """
    from_line = values - values_at(knobs, [base])
    part = next(knob.part for knob in knobs if knob.key == along)
    more = np.zeros(values.shape[0], dtype=bool)
    allowed = np.ones(values.shape[0], dtype=bool)
    for k, knob in enumerate(knobs):
        apart = np.abs(from_line[:, k]) > knob.step / 2
        if knob.key == along:
            allowed &= (values[:, k] - knob.stock) * knob.away >= 0
            continue
        way = ASKS_MORE.get(knob.role, 0) if knob.part == part else 0
        asks = apart & (from_line[:, k] * way > 0)
        allowed &= asks | ~apart
        more |= asks
    return allowed & more
