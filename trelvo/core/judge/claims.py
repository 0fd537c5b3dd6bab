"""Claims: what someone said about a gain, what is true, and which mistake explains the figure, if one does.

Every mistake is a formula that people use by accident. It explains a claim when its result, rounded as the claim was
typed, is the claim, while the truth rounded in the same way is not. None is forced.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.measure.gains import compound, geometric_mean, performance_ratio, time_saved

Quantity = Literal["speed", "time", "amount"]
Figure = Literal["percent", "factor", "points", "change"]
Direction = Literal[-1, 0, 1]


@dataclass(frozen=True)
class Claim:
    """A claim in plain numbers.

    claimed, decimals: the figure said, without its sign's wording ("7.8 % faster" is 7.8), and its decimals
    pairs: (before, after) of one or several measurements, in the same unit each
    steps_percent: gains of successive steps, in percent, each over the one before
    quantity: what was measured: speed (more is better), time (less is better), or an amount such as watts
    said: what the figure speaks of: speed gained, time saved, or the amount
    direction: 1 where more was claimed ("faster"; of time: less of it), -1 where less was, 0 where it was left open
    figure: percent, a factor, points of percent, or the change in the values' own unit; understood: the claim in words
    """

    claimed: float
    decimals: int
    pairs: tuple[tuple[float, float], ...] = ()
    steps_percent: tuple[float, ...] = ()
    quantity: Quantity = "speed"
    said: Quantity = "speed"
    direction: Direction = 0
    figure: Figure = "percent"
    unit: str = ""
    understood: str = ""


@dataclass(frozen=True)
class Explanation:
    """A mistake that gives the claimed figure: its name, the figure it gives, and what it does wrong."""

    mistake: str
    gives: float
    why: str


@dataclass(frozen=True)
class Finding:
    """What is true of a claim. truth: the figure that should have been said, in the claim's own terms

    explanations: mistakes that fit the claim, none if it is right
    """

    right: bool
    truth: float
    sentence: str
    explanations: tuple[Explanation, ...]


def check_claim(claim: Claim) -> Finding:
    """The true figure and, where the claim differs, the mistakes whose result rounds to what was said."""
    if not claim.pairs and not claim.steps_percent:
        raise Refused(
            Problem("claim", "There is nothing to check it by.", "Give before and after, or the gains of the steps.")
        )
    truth, candidates = _steps(claim) if claim.steps_percent else _pairs(claim)
    signed = truth - 1 if claim.figure == "factor" else truth
    turned = claim.direction * signed < 0 and abs(signed) > 1e-9
    told = _as_told(truth, claim)
    right = _rounds_to(told, claim) and not turned
    # a sign that is wrong is the mistake to name; nothing else is looked for
    fitting = tuple(
        one for one in [*candidates, _cut(told, claim)] if not right and not turned and _rounds_to(one.gives, claim)
    )
    if turned:
        why = "The change went the other way: what was called a gain is a loss, or a loss a gain."
        if claim.quantity == "speed" and not claim.unit and claim.pairs:
            why += " If the values are times, type their unit, such as s."
        fitting = (Explanation("turned round", told, why),)
    return Finding(right, truth, _sentence(claim, truth, right, fitting), fitting)


def _as_told(truth: float, claim: Claim) -> float:
    """The true figure as it is said aloud: "1.2 times slower" for a speed that is 1 / 1.2 of what it was."""
    return 1 / truth if claim.figure == "factor" and claim.direction < 0 and truth > 0 else truth


def _rounds_to(figure: float, claim: Claim) -> bool:
    """Whether a figure, rounded as the claim was typed, is the claim. A claim of 8 less is the same figure as 8 more."""
    half = 0.5 * 10**-claim.decimals
    return bool(abs(abs(figure) - abs(claim.claimed)) <= half * (1 + 1e-9))


def _cut(told: float, claim: Claim) -> Explanation:
    """22.9 said as 22: looked for last, since it lies near the truth."""
    cut = math.floor(abs(told) * 10**claim.decimals + 1e-9) / 10**claim.decimals
    return Explanation("cut off, not rounded", cut, "The digits behind were dropped; the figure is rounded up.")


def _steps(claim: Claim) -> tuple[float, list[Explanation]]:
    ratios = [1 + percent / 100 for percent in claim.steps_percent]
    if any(ratio <= 0 for ratio in ratios):
        raise Refused(Problem("steps", "A step cannot lose all of the speed.", "Correct the step's figure."))
    whole = compound(ratios)
    added = sum(claim.steps_percent)
    mean = added / len(ratios)
    if claim.figure == "factor":
        return whole, [
            Explanation(
                "gains added", 1 + added / 100, "Each step starts from what the one before left: factors multiply."
            ),
            Explanation("factors added", sum(ratios), "Factors that follow each other multiply."),
        ]
    return (whole - 1) * 100, [
        Explanation("percentages added", added, "Each step starts from what the one before left; the ratios multiply."),
        Explanation("percentages averaged", mean, "The steps follow each other; their ratios multiply."),
    ]


def _pairs(claim: Claim) -> tuple[float, list[Explanation]]:
    if claim.figure in ("points", "change"):
        changes = [after - before for before, after in claim.pairs]
        truth = sum(changes) / len(changes)
        if claim.said == "time":
            truth = -truth
        before, after = claim.pairs[0]
        return truth, [
            Explanation(
                "percent taken for points", (after / before - 1) * 100, "The share was told as the difference."
            ),
        ] if len(claim.pairs) == 1 else []
    ratios = [performance_ratio(*pair, higher_is_better=claim.quantity != "time") for pair in claim.pairs]
    overall = geometric_mean(ratios)
    if claim.figure == "factor":
        # so many times less time is the same ratio as so many times the speed
        return overall, _of_factor(overall)
    truth = time_saved(overall) * 100 if claim.said == "time" else (overall - 1) * 100
    if len(claim.pairs) > 1:
        return truth, _of_several(claim, ratios)
    before, after = claim.pairs[0]
    return truth, _of_one(claim, before, after, overall)


def _of_factor(ratio: float) -> list[Explanation]:
    return [
        Explanation("gain told as a factor", ratio - 1, "1.2 times as fast is a gain of 0.2: the whole was left out."),
        Explanation(
            "one too many", ratio + 1, "Twice as fast is a factor of 2; “2 times faster” is not 3 times as fast."
        ),
    ]


def _of_one(claim: Claim, before: float, after: float, ratio: float) -> list[Explanation]:
    change = abs(after - before)
    found = []
    if claim.quantity == "time" and claim.said == "speed":
        found.append(
            Explanation(
                "time saved called speed", time_saved(ratio) * 100,
                "So much less time is more than so much more speed: the speed ratio is time before over time after.",
            )
        )  # fmt: skip
    elif claim.quantity == "time":
        found.append(
            Explanation(
                "speed called time saved", (ratio - 1) * 100,
                "The speed gained was called time saved; the time saved is smaller.",
            )
        )  # fmt: skip
    found.append(
        Explanation(
            "percent difference", change / ((before + after) / 2) * 100,
            "The change was divided by the mean of both values; a gain is measured against the value before.",
        )
    )  # fmt: skip
    if claim.quantity != "time":
        found.append(
            Explanation(
                "divided by the tuned value", change / after * 100,
                "The change was divided by the value after tuning; a gain is measured against the value before.",
            )
        )  # fmt: skip
    found.append(
        Explanation("ratio told as percent", ratio * 100, "The whole was told: 1.08 of the old is a gain of 8 %.")
    )
    # from 100 the difference is the percentage
    if before != 100:
        found.append(
            Explanation(
                "points taken for percent", after - before, "The plain difference of the two values was called percent."
            )
        )
    return found


def _of_several(claim: Claim, ratios: Sequence[float]) -> list[Explanation]:
    before, after = sum(pair[0] for pair in claim.pairs), sum(pair[1] for pair in claim.pairs)
    summed = before / after if claim.quantity == "time" else after / before
    return [
        Explanation(
            "values added", (summed - 1) * 100,
            "The values of all titles were added and the sums compared: the fastest title decides.",
        ),
        Explanation(
            "arithmetic mean of ratios", (sum(ratios) / len(ratios) - 1) * 100,
            "Ratios were averaged as they are; turned round, the same numbers would favour the other side.",
        ),
        Explanation(
            "only the best title", (max(ratios) - 1) * 100, "The largest gain of all titles was told for the whole."
        ),
    ]  # fmt: skip


def _sentence(claim: Claim, truth: float, right: bool, fitting: Sequence[Explanation]) -> str:
    decimals = max(1, claim.decimals)
    told = _told(claim, truth, decimals)
    if right:
        return f"Right: {told}."
    said = _figure(claim, claim.claimed, claim.decimals)
    if not fitting:
        return f"True is {told}. No usual mistake gives {said}; perhaps a number was misheard."
    return f"True is {told}. {said} comes from a mistake: {fitting[0].mistake}."


def _figure(claim: Claim, figure: float, decimals: int) -> str:
    unit = {"percent": " %", "factor": " times", "points": " points of percent", "change": f" {claim.unit}"}[
        claim.figure
    ]
    return f"{figure:.{decimals}f}{unit}"


def _told(claim: Claim, truth: float, decimals: int) -> str:
    if claim.figure == "factor":
        if claim.direction < 0 and truth < 1:
            return f"{_figure(claim, 1 / truth, max(2, claim.decimals))} slower"
        return f"{_figure(claim, truth, max(2, claim.decimals))} what it was"
    more = truth >= 0
    if claim.said == "time":
        return f"{_figure(claim, abs(truth), decimals)} {'less' if more else 'more'} time"
    noun = " speed" if claim.said == "speed" and claim.figure == "percent" else ""
    return f"{_figure(claim, abs(truth), decimals)} {'more' if more else 'less'}{noun}"
