"""Goals: what is to be improved, what must hold meanwhile, and numbers that contradict themselves."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import Any, Literal, get_args

from trelvo.core.base.figures import PARTS, Part
from trelvo.core.base.problems import Problem
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
) -> list[str]:
    """Why the goal cannot be reached as it stands, one sentence each; empty where nothing speaks against it.

    caps: capped workloads; idle_w: the least it was seen to draw in an everyday task; room_c: of the newest runs
    """
    found = []
    if terms.goal == "power budget" and terms.most_power_w is None:
        found.append("The power budget has no watts yet: nothing can meet it until it has.")
    if terms.most_power_w is not None and idle_w is not None and terms.most_power_w <= idle_w:
        found.append(f"The budget of {terms.most_power_w:g} W is no more than an everyday task draws ({idle_w:.0f} W).")
    for cap in caps:
        if terms.frames is not None and terms.frames > cap.fps:
            found.append(f"{terms.frames:g} fps cannot show on {cap.workload}, which is capped at {cap.fps:g} fps.")
    if terms.most_temp_c is not None and room_c is not None and terms.most_temp_c <= room_c:
        found.append(f"The temperature limit of {terms.most_temp_c:g} °C is no more than the room's ({room_c:.0f} °C).")
    return found


def _lows(terms: Terms) -> str:
    if terms.low_frames is None:
        return ""
    return ", lows too" if terms.low_frames == terms.frames else f", lows of {terms.low_frames:g}"


def in_words(terms: Terms) -> str:
    """The goal as a sentence: "least power, keeping at least 99 % of stock's speed, lows too"."""
    of = "" if terms.part == "tuned part" else f" of the {terms.part}"
    aim = {
        "overall speed": "the highest overall speed",
        "power": f"the least power{of}",
        "heat": f"the fewest degrees over room{of}",
        "noise": "the least noise",
        "best single result": "the best single result, risk accepted",
        "frame rate held": f"{terms.frames or 0:g} fps held in every workload{_lows(terms)}",
    }[terms.improve]
    if terms.goal == "target":
        aim = "the target reached in every workload that it names"
    conditions = []
    if terms.least_speed is not None:
        lows = ", lows too" if terms.lows_too else ""
        conditions.append(f"keeping at least {terms.least_speed * 100:g} % of stock's speed{lows}")
    if terms.most_power_w is not None:
        conditions.append(f"at most {terms.most_power_w:g} W{of}")
    if terms.most_temp_c is not None:
        conditions.append(f"at most {terms.most_temp_c:g} °C{of}")
    if terms.stable:
        conditions.append(f"at most one failure in {terms.hours:g} h")
    return ", ".join([aim, *conditions])
