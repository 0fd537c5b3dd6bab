"""What is truly so at one moment of a run, whatever the instruments say."""

from typing import NamedTuple

from trelvo.simulator.heat import Heat
from trelvo.simulator.limits import Point


class Now(NamedTuple):
    """Powers in W; total_w: all that the supply gives.

    core_over_mhz, memory_over_mhz: how far chip and memory stand past their edges
    """

    point: Point
    memory_mhz: float
    beside: Point | None
    core_over_mhz: float
    memory_over_mhz: float
    board_w: float
    total_w: float
    heat: Heat
    beside_heat: Heat | None
    busy: float
