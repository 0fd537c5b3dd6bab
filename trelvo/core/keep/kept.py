"""A kept setting: what to type in order, how to undo it, what its use says, and up to which room it holds."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from scipy import special

from trelvo.core.base.figures import Part
from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.climb.knob_order import order_knobs
from trelvo.core.message import Message, message
from trelvo.core.prove.rate_belief import RateBelief
from trelvo.core.prove.staleness import DECADES_A_KELVIN
from trelvo.core.registry.goals import GoalWord

SAID_SURE = 0.95
# Further than this above the warmest room of the proof nothing is predicted.
MOST_WARMER_K = 15


@dataclass(frozen=True)
class TypeLine:
    """One knob: what to set it to, and what it is at stock."""

    knob: str
    value: str
    stock: str


def to_type(knobs: Sequence[Knob], values: Mapping[str, float], goal: GoalWord) -> list[TypeLine]:
    """What to set, in the order of turning; knobs at stock are left out. Undone in the reverse order."""
    return [
        TypeLine(knob.name, describe_value(knob, values[knob.key]), describe_value(knob, knob.stock))
        for knob in order_knobs(knobs, goal)
        if values.get(knob.key, knob.stock) != knob.stock
    ]


def use_so_far(hours: float, failures: int, days: float) -> Message:
    """What the use so far shows: hours a day, failures, and how rare they are by these hours alone.

    hours: of use in all; days: since it is in use. Source: exact one-sided Poisson bound (rule of three without failures).
    """
    if hours <= 0:
        return message("no_use_logged")
    most = float(special.gammaincinv(failures + 1, SAID_SURE)) / hours
    # more than a day has is use from before it was kept here
    a_day = hours / max(days, 1.0)
    shown = {"failures": failures, "one_in_h": 1 / most, "sure": SAID_SURE * 100}
    if 1.5 <= a_day <= 24:
        return message("used_a_day", a_day_h=a_day, **shown)
    return message("used_in_all", hours=hours, **shown)


def warmest_room(belief: RateBelief, room_c: float | None, per_h: float, sure: float) -> float | None:
    """From which room temperature on it no longer holds as wished; None where that is not known.

    room_c: the warmest of the proof. A proof that was no surer than wished says nothing of a warmer room.
    """
    if room_c is None or belief.chance_within(per_h) < sure:
        return None
    for warmer in range(1, MOST_WARMER_K + 1):
        moved = DECADES_A_KELVIN * warmer
        if belief.moved(1.0, moved, moved / 2).chance_within(per_h) < sure:
            return room_c + warmer
    return None


# Words in a part's place on the rig that say which part a knob turns.
_PLACES: dict[Part, tuple[str, ...]] = {
    "graphics": ("graphic", "card"), "processor": ("processor", "chip"), "memory": ("memory", "module"),
    "board": ("board",),
}  # fmt: skip


def tuned_places(places: Sequence[str], parts: Sequence[Part]) -> frozenset[str]:
    """The places on a rig (as they were typed) whose part the knobs of a campaign turn.

    parts: of the knobs; "tuned part" is the graphics card where there is one, else the processor, else the first part
    """
    found: set[str] = set()
    for part in parts:
        wanted = _PLACES.get(part)
        if wanted is not None:
            found |= {place for place in places if any(word in place.lower() for word in wanted)}
            continue
        for guess in ("graphics", "processor"):
            named = [place for place in places if any(word in place.lower() for word in _PLACES[guess])]
            if named:
                found.add(named[0])
                break
        else:
            found |= set(places[:1])
    return frozenset(found)
