"""What time does to a rig: something that was not there when a setting was kept, hidden until it is found."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

Kind = Literal["edge moved", "new driver", "supply or cable", "the program itself"]
KINDS: tuple[Kind, ...] = ("edge moved", "new driver", "supply or cable", "the program itself")

# Failures an hour that the fault makes at the kept setting, from so many to so many.
PER_H = (0.6, 4.0)
# A worn connection fails ten times as often for so many watts more.
DECADE_W = 90.0


@dataclass(frozen=True)
class Fault:
    """kind: what it is

    edge_mhz: how far the edge has fallen, always or under the driver named; load: the program that fails by itself
    per_h: failures an hour, at `at_w` watts for a worn connection, wherever the program runs otherwise
    """

    kind: Kind
    edge_mhz: float = 0.0
    driver: str = ""
    load: str = ""
    per_h: float = 0.0
    at_w: float = 0.0

    def edge_lost_mhz(self, driver: str) -> float:
        """How far the edge has fallen under a driver."""
        return 0.0 if self.kind == "new driver" and driver != self.driver else self.edge_mhz

    def besides_per_h(self, load: str, drawn_w: float) -> float:
        """Failures an hour that have nothing to do with the edge."""
        if self.kind == "supply or cable":
            return self.per_h * math.pow(10, min((drawn_w - self.at_w) / DECADE_W, 2.0))
        return self.per_h if self.kind == "the program itself" and load == self.load else 0.0


def draw_fault(
    rng: np.random.Generator,
    over_mhz: float,
    decade_mhz: float,
    drawn_w: float,
    driver: str,
    load: str,
    kind: Kind | None = None,
) -> Fault:
    """A fault by luck, so large that the kept setting fails within hours.

    over_mhz: how far the kept setting stands past its edge now (below zero: within), decade_mhz: of its chip
    drawn_w: that it draws; driver: the one that comes; load: the program in use
    """
    chosen = kind or KINDS[int(rng.integers(len(KINDS)))]
    per_h = float(np.exp(rng.uniform(*np.log(PER_H))))
    if chosen in ("edge moved", "new driver"):
        lost = max(math.log10(per_h) * decade_mhz - over_mhz, 0.0)
        return Fault(chosen, edge_mhz=lost, driver=driver if chosen == "new driver" else "")
    if chosen == "supply or cable":
        return Fault(chosen, per_h=per_h, at_w=drawn_w)
    return Fault(chosen, load=load, per_h=per_h)
