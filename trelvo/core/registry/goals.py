"""Goals of a campaign: one typed row for each, with its starting values.

Where no source is named the values are common practice.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal

GoalWord = Literal[
    "speed", "efficiency", "quiet", "power budget", "target", "frame rate", "record", "revive", "decide"
]  # fmt: skip
Improve = Literal["overall speed", "power", "heat", "noise", "best single result", "frame rate held"]

# One failure in fifty hours, and how sure one wants to be of it. A user may change both.
ACCEPTED_HOURS, SURE = 50.0, 0.95
# What the user may change of any goal's numbers, beside what the goal has of its own.
ALWAYS = ("shown", "hours", "sure", "part")


@dataclass(frozen=True)
class GoalFacts:
    """Everything about one goal.

    label: its name on the screen; improve: what is made better
    changeable: the numbers of its own that the user may change, beside `ALWAYS`
    least_speed: share of stock's speed to keep, within run-to-run variation; a little less where quiet is the point
    lows_too: the 1 % lows as well; frames: frames a second to hold in average and 1 % low
    hours, sure: one failure in so many hours is accepted, and how sure to be of that
    stable: whether a failure excludes a setting
    saves: whether less power, heat or noise is the point: knobs that take power are turned first
    """

    goal: GoalWord
    label: str
    improve: Improve
    changeable: tuple[str, ...]
    least_speed: float | None = None
    lows_too: bool = False
    frames: float | None = None
    hours: float = ACCEPTED_HOURS
    sure: float = SURE
    stable: bool = True
    saves: bool = False


_ROWS: tuple[GoalFacts, ...] = (
    GoalFacts("speed", "More speed", "overall speed", ("most_temp_c",)),
    GoalFacts(
        "efficiency", "Same speed, less power", "power", ("least_speed", "lows_too", "most_temp_c"), least_speed=0.99,
        lows_too=True, saves=True,
    ),
    GoalFacts(
        "quiet", "Cooler and quieter", "heat", ("quiet_by", "least_speed", "lows_too", "most_temp_c"), least_speed=0.98,
        saves=True,
    ),
    GoalFacts("power budget", "A power budget", "overall speed", ("most_power_w", "most_temp_c"), saves=True),
    GoalFacts("target", "Catch a target", "overall speed", ("most_temp_c",)),
    GoalFacts(
        "frame rate", "Hold a frame rate", "frame rate held", ("frames", "low_frames", "most_power_w", "most_temp_c"),
        frames=60.0,
    ),
    # it has to end once: the climb goes on while a run of a few minutes is as likely as not to pass; our choice
    GoalFacts("record", "A record", "best single result", (), hours=0.1, sure=0.5, stable=False),
    GoalFacts("revive", "Revive an old machine", "overall speed", ("most_temp_c",)),
    GoalFacts("decide", "Decide: tune or buy", "overall speed", ("most_temp_c",)),
)  # fmt: skip
GOALS: Mapping[GoalWord, GoalFacts] = MappingProxyType({row.goal: row for row in _ROWS})
