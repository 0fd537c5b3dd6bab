"""Goals: what is to be improved, what must hold meanwhile, and numbers that contradict themselves."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import Any, Literal, get_args

from trelvo.core.base.figures import PARTS, Part
from trelvo.core.message import Message, message
from trelvo.core.problems import Problem
from trelvo.core.registry.goals import ACCEPTED_HOURS, ALWAYS, GOALS, SURE, GoalWord, Improve

QuietBy = Literal["degrees", "noise"]

# How sure a condition is to be before it counts as shown.
SHOWN = 0.95


@dataclass(frozen=True)
class Terms:
    """A goal in numbers. None: this goal does not ask for it, or the user has not said it yet.

    least_speed: overall speed against stock, as a ratio, that must be kept; lows_too: the 1 % lows as well
    most_power_w: mean power at most, in every workload; most_temp_c: highest temperature
    frames: frames a second that the average is to hold; low_frames: that the 1 % low is to hold, None: lows do not count
    shown: how sure a condition is to be; hours: one failure in so many is accepted; sure: how sure to be of that
    stable: whether a failure excludes a setting; a record needs only to end once
    quiet_by: what "cooler and quieter" is measured by
    part: of which part watts and degrees are meant; "tuned part": of whatever is tuned
    """

    goal: GoalWord
    improve: Improve
    least_speed: float | None = None
    lows_too: bool = False
    most_power_w: float | None = None
    frames: float | None = None
    low_frames: float | None = None
    most_temp_c: float | None = None
    shown: float = SHOWN
    hours: float = ACCEPTED_HOURS
    sure: float = SURE
    stable: bool = True
    quiet_by: QuietBy = "degrees"
    part: Part = "tuned part"


# Below this nobody feels, or hears, a difference. Common practice.
LEAST_COOLER_K, LEAST_QUIETER_DBA = 1.0, 1.0


def usual_terms(goal: GoalWord) -> Terms:
    """The goal with its starting values."""
    facts = GOALS[goal]
    return Terms(
        goal,
        facts.improve,
        least_speed=facts.least_speed,
        lows_too=facts.lows_too,
        frames=facts.frames,
        low_frames=facts.frames,
        hours=facts.hours,
        sure=facts.sure,
        stable=facts.stable,
    )


def terms_from(goal: GoalWord, said: Mapping[str, float | bool | str | None]) -> Terms:
    """The starting values with what the user has said; what this goal does not know is passed over."""
    known = {*GOALS[goal].changeable, *ALWAYS}
    usual = usual_terms(goal)
    values = {one.name: getattr(usual, one.name) for one in fields(Terms)}
    values |= {word: value for word, value in said.items() if word in known}
    if goal == "quiet" and values["quiet_by"] == "noise":
        values["improve"] = "noise"
    return Terms(**values)


def refusals_of_said(goal: GoalWord, said: Mapping[str, Any]) -> list[Problem]:
    """What is wrong with the numbers that were said, those of other goals too: a goal can be changed back."""
    usual = {one.name: getattr(usual_terms(goal), one.name) for one in fields(Terms)}
    return refusals(Terms(**{**usual, **said, "goal": goal, "improve": usual["improve"]}))


def refusals(terms: Terms) -> list[Problem]:
    """What is wrong with the numbers themselves, field by field; empty where nothing is."""
    problems = []
    bounds: tuple[tuple[str, float | None, float, float, str], ...] = (
        ("least_speed", terms.least_speed, 0.1, 2.0, "goal_least_speed_out_of_range"),
        ("most_power_w", terms.most_power_w, 0.1, 100_000, "goal_most_power_w_out_of_range"),
        ("frames", terms.frames, 1, 10_000, "goal_frames_out_of_range"),
        ("low_frames", terms.low_frames, 1, 10_000, "goal_low_frames_out_of_range"),
        ("most_temp_c", terms.most_temp_c, 1, 200, "goal_most_temp_c_out_of_range"),
        ("shown", terms.shown, 0.5, 0.999, "goal_shown_out_of_range"),
        ("hours", terms.hours, 0.02, 100_000, "goal_hours_out_of_range"),
        ("sure", terms.sure, 0.5, 0.99, "goal_sure_out_of_range"),
    )
    for word, value, low, high, code in bounds:
        if value is not None and not low <= value <= high:
            problems.append(Problem(word, code, {"value": value}))
    if terms.quiet_by not in get_args(QuietBy):
        problems.append(Problem("quiet_by", "unknown_quiet_measure", {"measure": terms.quiet_by}))
    if terms.part not in PARTS or terms.part == "room":
        problems.append(Problem("part", "unknown_part", {"part": terms.part}))
    if terms.goal == "frame rate" and terms.frames is None:
        problems.append(Problem("frames", "no_frame_rate"))
    return problems


@dataclass(frozen=True)
class Cap:
    """A workload that can show no more than so many frames a second."""

    workload: str
    fps: float


def contradictions(
    terms: Terms, caps: Sequence[Cap] = (), idle_w: float | None = None, room_c: float | None = None
) -> list[Message]:
    """Why the goal cannot be reached as it stands; empty where nothing speaks against it.

    caps: capped workloads; idle_w: the least it was seen to draw in an everyday task; room_c: of the newest runs
    """
    found = []
    if terms.goal == "power budget" and terms.most_power_w is None:
        found.append(message("budget_without_watts"))
    if terms.most_power_w is not None and idle_w is not None and terms.most_power_w <= idle_w:
        found.append(message("budget_below_idle", most_w=terms.most_power_w, idle_w=idle_w))
    found += [
        message("frames_above_cap", frames=terms.frames, workload=cap.workload, cap_fps=cap.fps)
        for cap in caps
        if terms.frames is not None and terms.frames > cap.fps
    ]
    if terms.most_temp_c is not None and room_c is not None and terms.most_temp_c <= room_c:
        found.append(message("limit_below_room", most_c=terms.most_temp_c, room_c=room_c))
    return found


def lows_of(terms: Terms) -> Message:
    """Whether the lows are to hold a frame rate too, and which."""
    if terms.low_frames is None:
        return message("no_lows")
    return message("lows_too") if terms.low_frames == terms.frames else message("lows_at", frames=terms.low_frames)


_AIMS: Mapping[Improve, str] = {
    "overall speed": "most_speed", "power": "least_power", "heat": "least_heat", "noise": "least_noise",
    "best single result": "best_result", "frame rate held": "frames_held",
}  # fmt: skip


def in_words(terms: Terms) -> Message:
    """The goal: "least power, keeping at least 99 % of stock's speed, lows too"."""
    part = message("whole_part") if terms.part == "tuned part" else message("of_part", part=terms.part)
    aim = message(_AIMS[terms.improve], part=part, frames=terms.frames or 0, lows=lows_of(terms))
    if terms.goal == "target":
        aim = message("target_reached")
    conditions = []
    if terms.least_speed is not None:
        lows = message("lows_too" if terms.lows_too else "no_lows")
        conditions.append(message("keeping_speed", percent=terms.least_speed * 100, lows=lows))
    if terms.most_power_w is not None:
        conditions.append(message("at_most_w", most_w=terms.most_power_w, part=part))
    if terms.most_temp_c is not None:
        conditions.append(message("at_most_c_of", most_c=terms.most_temp_c, part=part))
    if terms.stable:
        conditions.append(message("one_failure_in", hours=terms.hours))
    return message("goal", parts=(aim, *conditions))
