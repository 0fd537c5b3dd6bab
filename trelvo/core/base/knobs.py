"""Knobs: what can be set, on which grid, and how far a value is from stock."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from trelvo.core.base.figures import Part
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.roles import FACTS, Effect, Role, RoleFacts

# A value typed as 0.1 steps of 0.005 must count as on the grid; half a millionth of a step is far below any real grid.
GRID_TOLERANCE_STEPS = 5e-7

# More steps than this are no grid that anyone climbs, and every answer would have to weigh each of them.
MOST_STEPS = 2_000

Away = Literal[1, -1]


@dataclass(frozen=True)
class Knob:
    """Something that can be set.

    key: short word used in lines and files ("core"); name: as shown; unit: "MHz", "mV", "%", "x" or empty
    stock, step, low, high: in `unit`; the grid is stock + k * step inside low..high
    away: +1 when larger values are further from stock in the sense of the campaign, -1 when smaller ones are
    role: what it turns; part: of which part; retired: no longer turned, kept for the settings that have it
    component: what it is kept together with, as the user grouped it; empty where its part decides
    """

    key: str
    name: str
    unit: str
    stock: float
    step: float
    low: float
    high: float
    away: Away = 1
    role: Role = "other"
    part: Part = "tuned part"
    retired: bool = False
    component: str = ""

    @property
    def facts(self) -> RoleFacts:
        return FACTS[self.role]

    @property
    def turning(self) -> Effect:
        """What turning it away from stock does to stability."""
        return effect_of(self, self.away)


def effect_of(knob: Knob, way: Away) -> Effect:
    """What turning a knob up (1) or down (-1) does to stability."""
    raising = knob.facts.raising
    if raising == "neutral" or way == 1:
        return raising
    return "endangers" if raising == "helps" else "helps"


def from_the_far_end(knob: Knob) -> Knob:
    """The knob walked the other way: from the far end of its range back to stock.

    Used for a knob that helps stability: the least of it that is stable is found by taking it away.
    """
    far = knob.high if knob.away == 1 else knob.low
    steps = math.floor(abs(far - knob.stock) / knob.step + 1e-9)
    end = round(knob.stock + knob.away * steps * knob.step, 9)
    low, high = sorted((knob.stock, end))
    return replace(knob, stock=end, away=-1 if knob.away == 1 else 1, low=low, high=high)


def whole_limit(knobs: Sequence[Knob]) -> Knob | None:
    """The power limit of all that is tuned; None where none is turned."""
    return next(
        (knob for knob in knobs if knob.role == "power limit" and knob.part == "tuned part" and not knob.retired), None
    )


def turned_together(knobs: Sequence[Knob]) -> list[list[Knob]]:
    """Knobs that were turned, as what they are for the person who turned them.

    A voltage cap and the clock offset of the same part are one curve; every other knob stands alone.
    """
    caps = {knob.part: knob for knob in knobs if knob.role == "curve point"}
    found: list[list[Knob]] = []
    for knob in knobs:
        if knob.role == "core clock" and knob.part in caps:
            continue
        found.append([knob])
        if knob.role == "curve point" and caps[knob.part] == knob:
            found[-1] += [one for one in knobs if one.role == "core clock" and one.part == knob.part]
    return found


def part_limits(knobs: Sequence[Knob]) -> list[Knob]:
    """Power limits of single parts within what is tuned."""
    return [knob for knob in knobs if knob.role == "power limit" and knob.part != "tuned part"]


def check_knob(knob: Knob, where: str) -> list[Problem]:
    """What is wrong with a knob's description: a list of problems, empty when it can be used.

    where: prefix of the field names in the answer, such as "knobs.0"
    """
    problems: list[Problem] = []
    numbers = {"stock": knob.stock, "step": knob.step, "low": knob.low, "high": knob.high}
    for field, number in numbers.items():
        if not math.isfinite(number):
            problems.append(Problem(f"{where}.{field}", "knob_field_not_a_number", {"knob": knob.name, "field": field}))
    if problems:
        return problems
    unit = f" {knob.unit}" if knob.unit else ""
    if knob.step <= 0:
        problems.append(
            Problem(f"{where}.step", "knob_step_not_above_zero", {"knob": knob.name, "step": knob.step, "unit": unit})
        )
    if knob.low >= knob.high:
        problems.append(
            Problem(
                f"{where}.low",
                "knob_range_empty",
                {"knob": knob.name, "low": knob.low, "high": knob.high, "unit": unit},
            )
        )
    elif not knob.low <= knob.stock <= knob.high:
        problems.append(
            Problem(
                f"{where}.stock",
                "knob_stock_out_of_range",
                {"knob": knob.name, "stock": knob.stock, "unit": unit, "low": knob.low, "high": knob.high},
            )
        )
    elif knob.step > knob.high - knob.low:
        problems.append(
            Problem(f"{where}.step", "knob_step_above_range", {"knob": knob.name, "step": knob.step, "unit": unit})
        )
    elif knob.step > 0 and (steps := (knob.high - knob.low) / knob.step) > MOST_STEPS * (1 + 1e-9):
        problems.append(
            Problem(
                f"{where}.step",
                "knob_too_many_steps",
                {"knob": knob.name, "steps": steps, "step": knob.step, "unit": unit, "most": MOST_STEPS},
            )
        )
    elif (knob.high if knob.away == 1 else knob.low) == knob.stock:
        problems.append(Problem(f"{where}.away", "knob_stock_at_end", {"knob": knob.name}))
    return problems


def steps_from_stock(knob: Knob, value: float) -> float:
    """Signed number of steps of `value` (knob's unit) from stock; positive = further in the direction of travel."""
    return (value - knob.stock) / knob.step * knob.away


def check_value(knob: Knob, value: float, where: str, *, on_grid: bool = True) -> Problem | None:
    """Why `value` (knob's unit) cannot be set on this knob, or None when it can.

    on_grid: False for settings that are there already: the step may have been changed since
    """
    unit = f" {knob.unit}" if knob.unit else ""
    if not math.isfinite(value):
        return Problem(where, "knob_value_not_a_number", {"knob": knob.name})
    if not knob.low <= value <= knob.high:
        return Problem(
            where,
            "knob_value_out_of_range",
            {"knob": knob.name, "value": value, "unit": unit, "low": knob.low, "high": knob.high},
        )
    steps = steps_from_stock(knob, value)
    if on_grid and abs(steps - round(steps)) > GRID_TOLERANCE_STEPS:
        below = knob.stock + math.floor((value - knob.stock) / knob.step) * knob.step
        near = [candidate for candidate in (below, below + knob.step) if knob.low <= candidate <= knob.high]
        return Problem(
            where,
            "knob_value_off_grid",
            {
                "knob": knob.name,
                "value": value,
                "unit": unit,
                "step": knob.step,
                "nearest": " and ".join(f"{candidate:g}" for candidate in near),
            },
        )
    return None


def checked_values(knobs: Sequence[Knob], values: Mapping[str, float]) -> dict[str, float]:
    """A setting's values by knob key, those at stock left out. Refused when off a grid, out of range, or of no such knob."""
    by_key = {knob.key: knob for knob in knobs}
    problems = [
        Problem(f"values.{key}", "no_such_knob", {"knob": key, "known": tuple(by_key)})
        for key in values
        if key not in by_key
    ]
    for key, value in values.items():
        if key in by_key and (problem := check_value(by_key[key], value, f"values.{key}")):
            problems.append(problem)
    if problems:
        raise Refused(*problems)
    return {key: float(value) for key, value in values.items() if value != by_key[key].stock}


def fingerprint(values: Mapping[str, float]) -> str:
    """The values that differ from stock in one canonical string; empty for stock."""
    return ";".join(f"{key}={value!r}" for key, value in sorted(values.items()))


def reach(knob: Knob, value: float) -> float:
    """How far `value` is on the way from stock (0) to the far end of the range (1); negative on the other side."""
    far = knob.high if knob.away == 1 else knob.low
    return (value - knob.stock) / (far - knob.stock)


def height(knobs: Sequence[Knob], values: Mapping[str, float]) -> tuple[float, ...]:
    """Where a setting stands on the ladder: the reach of every knob, the knob turned last in a climb counting most.

    knobs: in the order they are turned; knobs missing in `values` are at stock
    """
    return tuple(reach(knob, values.get(knob.key, knob.stock)) for knob in reversed(knobs))


def describe_value(knob: Knob, value: float) -> str:
    """A knob's value as written on a setting: signed where stock is zero (an offset), with its unit."""
    number = f"{value:+g}" if knob.stock == 0 and value != 0 else f"{value:g}"
    # a no-break space, so that a number never stands apart from its unit
    space = "" if knob.unit == "x" else "\u00a0"
    return f"{number.replace('-', '−')}{space}{knob.unit}".strip()


def describe_setting(knobs: Sequence[Knob], values: Mapping[str, float]) -> str:
    """A setting in words: only the knobs that differ from stock; "stock" when none does."""
    turned = [knob for knob in knobs if values.get(knob.key, knob.stock) != knob.stock]
    if not turned:
        return "stock"
    return ", ".join(f"{knob.name.lower()} {describe_value(knob, values[knob.key])}" for knob in turned)


def describe_last(knobs: Sequence[Knob], values: Mapping[str, float]) -> str:
    """The last of a setting's turned knobs with its value: short enough to stand beside a point; "stock" where none is turned."""
    turned = [knob for knob in knobs if values.get(knob.key, knob.stock) != knob.stock]
    return describe_setting(turned[-1:], values)


def describe_shortest(knobs: Sequence[Knob], values: Mapping[str, float]) -> str:
    """A setting in as few words as its place in a chart of one knob needs: the value alone where only one knob is turned."""
    turned = [knob for knob in knobs if values.get(knob.key, knob.stock) != knob.stock]
    return describe_value(turned[0], values[turned[0].key]) if len(turned) == 1 else describe_setting(knobs, values)


def distinguish(knobs: Sequence[Knob], settings: Sequence[Mapping[str, float]]) -> tuple[str, list[str]]:
    """What several settings have in common beyond stock, and for each what sets it apart; full words for a single one.

    The second answer names, for each setting, only the knobs on which the settings differ; "stock" stands for a knob at
    stock among others that are not.
    """
    if len(settings) < 2:
        return "", [describe_setting(knobs, values) for values in settings]
    found = {knob.key: {values.get(knob.key, knob.stock) for values in settings} for knob in knobs}
    shared = [knob for knob in knobs if len(found[knob.key]) == 1 and found[knob.key] != {knob.stock}]
    apart = [knob for knob in knobs if len(found[knob.key]) > 1]
    common = describe_setting(shared, settings[0]) if shared else ""
    return common, [
        ", ".join(f"{k.name.lower()} {describe_value(k, values.get(k.key, k.stock))}" for k in apart)
        for values in settings
    ]
