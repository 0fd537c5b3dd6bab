"""Telemetry logs that are kept beside runs, as the laboratory reads them."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Protocol
from uuid import UUID

import numpy as np
import numpy.typing as npt

from trelvo.core.memo import Memo
from trelvo.core.registry.quantities import Quantity

Numbers = npt.NDArray[np.float64]


@dataclass(frozen=True)
class LogHeader:
    """A kept telemetry log without its readings.

    uid: its identity for ever, where a number may be used again; channels, summary: as they were stored with it
    """

    id: int
    uid: UUID
    run_id: int
    rows: int
    channels: Sequence[Mapping[str, Any]]
    summary: Mapping[str, Any] = field(default_factory=dict)

    @property
    def stretch(self) -> tuple[float, float] | None:
        """From when to when the part was loaded, s, where idle was logged around it."""
        found = self.summary.get("stretch")
        return (float(found["from_s"]), float(found["to_s"])) if found else None


@dataclass(frozen=True)
class PartLog:
    """What a log read of the tuned part; a kept log never changes, so results can live on it.

    Attributes
    ----------
    time_s: n, from the first reading
    readings: n each, NaN where missing
    """

    time_s: Numbers
    readings: Mapping[Quantity, Numbers]
    memo: Memo = field(default_factory=Memo, compare=False, repr=False)


class Logs(Protocol):
    """The telemetry logs of some campaigns: headers at once, readings of those that are asked for."""

    @property
    def headers(self) -> Sequence[LogHeader]: ...

    def read(self, headers: Collection[LogHeader]) -> Mapping[int, PartLog]:
        """The readings of some logs, by the log's id."""
