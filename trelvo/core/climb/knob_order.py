"""In which order knobs are turned, and why. Common practice."""

from collections.abc import Sequence

from trelvo.core.base.knobs import Knob

# The first group whose words stand in a knob's key or name decides.
_WORDS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("power", ("power", "cap", "watt")),
    ("memory", ("memory", "wait", "timing")),
    ("clock", ("core", "bus", "multiplier", "clock")),
    ("line", ("line",)),
    ("voltage", ("voltage", "volt")),
    ("fan", ("fan",)),
)
_SPEED = ("power", "clock", "memory", "other", "line", "voltage", "fan")
_SAVING = ("voltage", "clock", "memory", "other", "line", "power", "fan")
_WHY = {
    "power": "first: while the part is starved of power, nothing else counts",
    "clock": "small steps, once the power limit is out of the way",
    "memory": "after the core, so that a failure has one cause; watch the score, not the crash",
    "other": "between clocks and voltage",
    "line": "only against droop that was measured",
    "voltage": "last, and only if needed: heat rises with its square",
    "fan": "last: it trades noise for degrees",
}
_WHY_SAVING = {
    "voltage": "first: the same clock at less voltage keeps the speed and saves power",
    "power": "last: a cap is the crude way to save",
}
SAVING_GOALS = ("efficiency", "quiet", "power budget")


def group_of(knob: Knob) -> str:
    """What sort of knob it is: power, memory, clock, line, voltage, fan or other."""
    words = f"{knob.key} {knob.name}".lower()
    return next((group for group, marks in _WORDS if any(mark in words for mark in marks)), "other")


def order_knobs(knobs: Sequence[Knob], goal: str) -> list[Knob]:
    """The knobs in the order of turning; those of one group stay as they were listed.

    goal: as in a campaign; where power is to be saved, voltage comes first and a power cap last
    """
    order = _SAVING if goal in SAVING_GOALS else _SPEED
    return sorted(knobs, key=lambda knob: order.index(group_of(knob)))


def why_then(knob: Knob, goal: str) -> str:
    """Why the knob comes where it comes, in a few words."""
    group = group_of(knob)
    if goal in SAVING_GOALS and group in _WHY_SAVING:
        return _WHY_SAVING[group]
    return _WHY[group]
