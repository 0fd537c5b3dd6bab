"""Instruments: where a reading was taken, and what it therefore is a reading of."""

from typing import Literal

Point = Literal["software", "cables", "wall", "unknown"]

POINT_MEANING: dict[Point, str] = {
    "software": "what the part itself reports",
    "cables": "a clamp on the supply cables; misses what the slot delivers",
    "wall": "a meter at the wall; the whole rig and the supply's losses",
    "unknown": "not written down",
}
