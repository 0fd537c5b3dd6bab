"""Power: watts are only comparable at one measuring point."""

from collections.abc import Iterable
from dataclasses import dataclass

from trelvo.core.base.instruments import Point, half_of
from trelvo.core.base.runs import RunFacts
from trelvo.core.stats.same_instrument import ByReaders, read_on_both


@dataclass(frozen=True)
class PowerSummary:
    """Mean power of some runs in watts; `mixed` when they were read at more than one point, or by more than one instrument
    (then no mean exists). instrument: its name, empty where it was not said; corrected: whether a correction is in it
    half_w: 95 % half width of what is not known of that correction; 0 where it is exact"""

    mean_w: float | None
    point: Point | None
    mixed: bool
    n: int
    instrument: str = ""
    corrected: bool = False
    half_w: float = 0.0


def summarise_power(runs: Iterable[RunFacts]) -> PowerSummary:
    """Mean power of the runs that have it. No mean over different points or instruments: they measure other things."""
    found = [run for run in runs if run.power_w is not None]
    if not found:
        return PowerSummary(None, None, False, 0)
    if len({(run.power_point, run.power_instrument) for run in found}) > 1:
        return PowerSummary(None, None, True, len(found))
    mean = sum(run.power_w for run in found if run.power_w is not None) / len(found)
    corrected = any("power_w" in run.corrected for run in found)
    half = half_of((mean, found[0].doubts.get("power_w")))
    return PowerSummary(mean, found[0].power_point, False, len(found), found[0].power_instrument, corrected, half)


def watts_saved(reference: PowerSummary, candidate: PowerSummary) -> float | None:
    """Reference's mean minus candidate's, in watts; None unless the same instrument read both.

    Readings of which nobody said who took them are one readout: whoever types watts without a word reads them off one place.
    """
    if reference.mean_w is None or candidate.mean_w is None:
        return None
    same = (reference.point, reference.instrument) == (candidate.point, candidate.instrument)
    if not same:
        return None
    return reference.mean_w - candidate.mean_w


def read_alike(reference: ByReaders, candidate: ByReaders) -> tuple[PowerSummary, PowerSummary] | None:
    """Mean power of both sides by one instrument that read both; None where none did.

    reference, candidate: runs that count, by who read their watts
    """
    readers = read_on_both(reference, candidate)
    if readers is None:
        return None
    pair = summarise_power(reference[readers]), summarise_power(candidate[readers])
    return pair if watts_saved(*pair) is not None else None
