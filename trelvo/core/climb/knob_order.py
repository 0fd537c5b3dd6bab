"""In which order knobs are turned, and why. Common practice."""

from collections.abc import Sequence

from trelvo.core.base.knobs import Knob
from trelvo.core.message import Message, message
from trelvo.core.registry.goals import GOALS, GoalWord
from trelvo.core.registry.roles import Group

_SPEED = ("power", "clock", "memory", "other", "voltage", "line", "fan")
_SAVING = ("voltage", "clock", "memory", "other", "line", "power", "fan")


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


def why_then(knob: Knob, goal: GoalWord) -> Message:
    """Why the knob comes where it comes."""
    if not_climbed(knob, goal):
        return message("record_takes_as_much" if goal == "record" else "not_raised_here")
    group = group_of(knob)
    saving = GOALS[goal].saves and group in ("voltage", "power")
    return message(f"{group}_comes_then_saving" if saving else f"{group}_comes_then")
