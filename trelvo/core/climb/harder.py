"""Settings that ask more of the parts than another: what one of them has survived, the other would have survived, too; and where
the one that asks less has failed, the other would have failed."""

from collections.abc import Mapping, Sequence

import numpy as np
import numpy.typing as npt

from trelvo.core.base.knobs import Knob, effect_of

# Which way a knob asks more of the parts, by what raising it does to stability.
_ASKS_MORE = {"endangers": 1, "helps": -1, "neutral": 0}


def values_at(knobs: Sequence[Knob], settings: Sequence[Mapping[str, float]]) -> npt.NDArray[np.float64]:
    """Where each knob stands, n settings by k knobs; at stock where a setting does not name it."""
    values = [[float(setting.get(knob.key, knob.stock)) for knob in knobs] for setting in settings]
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
        way = _ASKS_MORE[knob.facts.raising] if knob.part == part else 0
        asks = apart & (from_line[:, k] * way > 0)
        allowed &= asks | ~apart
        more |= asks
    return allowed & more


def on_the_way(
    knobs: Sequence[Knob], along: str, base: Mapping[str, float], values: npt.NDArray[np.float64]
) -> npt.NDArray[np.bool_]:
    """Of n settings, those on a line along one knob, on its way from stock. along, base, values: as in `harder_on_the_way`"""
    from_line = np.abs(values - values_at(knobs, [base]))
    found = np.ones(values.shape[0], dtype=bool)
    for k, knob in enumerate(knobs):
        found &= (values[:, k] - knob.stock) * knob.away > 0 if knob.key == along else from_line[:, k] <= knob.step / 2
    return found


def easier_on_the_way(
    knobs: Sequence[Knob], along: str, base: Mapping[str, float], values: npt.NDArray[np.float64]
) -> npt.NDArray[np.bool_]:
    """Of n settings, those off a line along one knob at which no other knob asks more than on the line.

    along, base, values: as in `harder_on_the_way`
    A failure there is one that the line would have had at the same value. A power limit may stand either way: it does not make a
    part fail that would not fail without it. A knob of which nothing is known, or of another part, must stand as on the line.
    """
    from_line = values - values_at(knobs, [base])
    part = next(knob.part for knob in knobs if knob.key == along)
    off_line = np.zeros(values.shape[0], dtype=bool)
    allowed = np.ones(values.shape[0], dtype=bool)
    for k, knob in enumerate(knobs):
        apart = np.abs(from_line[:, k]) > knob.step / 2
        if knob.key == along:
            allowed &= (values[:, k] - knob.stock) * knob.away > 0
            continue
        way = _ASKS_MORE[knob.facts.raising] if knob.part == part else 0
        less = (from_line[:, k] * way < 0) if way else np.full(values.shape[0], knob.role == "power limit")
        allowed &= less | ~apart
        off_line |= apart
    return allowed & off_line


def asks_no_more_than_stock(knobs: Sequence[Knob], values: Mapping[str, float]) -> bool:
    """Whether no knob of a setting is turned to a side that can make a part fail: such a setting is as stable as stock."""
    return all(
        not knob.facts.tested or effect_of(knob, 1 if values[knob.key] > knob.stock else -1) == "helps"
        for knob in knobs
        if values.get(knob.key, knob.stock) != knob.stock
    )


def asks_no_more(knobs: Sequence[Knob], values: Mapping[str, float], than: Mapping[str, float]) -> bool:
    """Whether a setting asks no more of any part than another: where it fails, the other would fail too.

    A power limit may stand either way; a knob of which nothing is known must stand as in the other.
    """
    for knob in knobs:
        more = float(values.get(knob.key, knob.stock)) - float(than.get(knob.key, knob.stock))
        way = _ASKS_MORE[knob.facts.raising]
        if not way and knob.role != "power limit" and knob.facts.tested and more:
            return False
        if more * way > 0:
            return False
    return True


def decides_stability(knobs: Sequence[Knob], values: Mapping[str, float]) -> Knob | None:
    """The knob along which a setting's stability is judged: the last one turned that a stability test can judge, in the order
    listed; None where none is turned."""
    turned = [knob for knob in knobs if values.get(knob.key, knob.stock) != knob.stock and knob.facts.tested]
    return turned[-1] if turned else None


def endangers_most(knobs: Sequence[Knob], values: Mapping[str, float]) -> Knob | None:
    """The knob to take back after a failure: of those turned, the last that endangers stability; else the last that may.

    None where only knobs are turned that help or that no test can judge.
    """
    turned = [knob for knob in knobs if values.get(knob.key, knob.stock) != knob.stock and knob.facts.tested]
    effects = {knob.key: effect_of(knob, 1 if values[knob.key] > knob.stock else -1) for knob in turned}
    for wanted in ("endangers", "neutral"):
        found = [knob for knob in turned if effects[knob.key] == wanted]
        if found:
            return found[-1]
    return None
