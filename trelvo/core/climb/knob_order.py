"""In which order knobs are turned, and why. Common practice."""

from collections.abc import Sequence

from trelvo.core.base.knobs import Knob
from trelvo.core.registry.goals import GOALS, GoalWord
from trelvo.core.registry.roles import Group

_SPEED = ("power", "clock", "memory", "other", "voltage", "line", "fan")
_SAVING = ("voltage", "clock", "memory", "other", "line", "power", "fan")
_WHY = {
    "power": "first: while the part is starved of power, nothing else counts",
    "clock": "small steps, once the power limit is out of the way",
    "memory": "after the core, so that a failure has one cause; watch the score, not the crash",
    "other": "between clocks and voltage",
    "line": "only against droop that was measured",
    "voltage": "after the clocks, and only if needed: heat rises with its square",
    "fan": "last: it trades noise for degrees",
}
_WHY_SAVING = {
    "voltage": "first: the same clock at less voltage keeps the speed and saves power",
    "power": "last: a cap is the crude way to save",
}


_RAISED = "not raised under this goal: more power saves nothing. Turn its direction in Prepare, and it is lowered last"


_AS_MUCH = "as much as the clock asks for: a record does not look for the least that is stable"


def not_climbed(knob: Knob, goal: GoalWord) -> bool:
    """Whether the goal has no use for the knob's climb: a power limit that is raised where power is to be saved; in a record, the
    least of a knob that makes a clock stable."""
    if goal == "record":
        return knob.turning == "helps"
    return GOALS[goal].saves and knob.role == "power limit" and knob.away == 1


def group_of(knob: Knob) -> Group:
    """What sort of knob it is by its role: power, memory, clock, line, voltage, fan or other."""
    return knob.facts.group


def order_knobs(knobs: Sequence[Knob], goal: GoalWord) -> list[Knob]:
    """The knobs in the order of turning, those retired left out; those of one group stay as they were listed.

    goal: as in a campaign; where power is to be saved, voltage comes first and a power cap last
    """
    order = _SAVING if GOALS[goal].saves else _SPEED
    return sorted((knob for knob in knobs if not knob.retired), key=lambda knob: order.index(group_of(knob)))


def why_then(knob: Knob, goal: GoalWord) -> str:
    """Why the knob comes where it comes, in a few words."""
    group = group_of(knob)
    if not_climbed(knob, goal):
        return _AS_MUCH if goal == "record" else _RAISED
    if GOALS[goal].saves and group in _WHY_SAVING:
        return _WHY_SAVING[group]
    return _WHY[group]
