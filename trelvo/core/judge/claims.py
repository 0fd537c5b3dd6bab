"""Claims: what someone said about a gain, what is true, and which mistake explains the figure, if one does.

Every mistake is a formula that people use by accident. It explains a claim when its result, rounded as the claim was
typed, is the claim, while the truth rounded in the same way is not. None is forced.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.measure.gains import compound, geometric_mean, performance_ratio, time_saved

Said = Literal["speed", "time"]
Direction = Literal[-1, 0, 1]


@dataclass(frozen=True)
class Claim:
    """A claim in plain numbers.

    pairs: (before, after) of one or several measurements, in the same unit each
    steps_percent: gains of successive steps, in percent, each over the one before
    claimed_percent, decimals: the figure said, without its sign's wording ("7.8 % faster" is 7.8), and its decimals
    higher_is_better: False for times; said: whether speed gained or time saved was claimed
    direction: 1 where more was claimed ("faster", "less time"), -1 where less was, 0 where it was left open
    """

    claimed_percent: float
    decimals: int
    pairs: tuple[tuple[float, float], ...] = ()
    steps_percent: tuple[float, ...] = ()
    higher_is_better: bool = True
    said: Said = "speed"
    direction: Direction = 0


@dataclass(frozen=True)
class Explanation:
    """A mistake that gives the claimed figure: its name, the figure it gives in percent, and what it does wrong."""

    mistake: str
    gives_percent: float
    why: str


@dataclass(frozen=True)
class Finding:
    """What is true of a claim. true_percent: the gain; explanations: mistakes that fit the claim, none if it is right."""

    right: bool
    true_percent: float
    sentence: str
    explanations: tuple[Explanation, ...]


def check_claim(claim: Claim) -> Finding:
    """The true gain and, where the claim differs, the mistakes whose result rounds to what was said."""
    if not claim.pairs and not claim.steps_percent:
        raise Refused(
            Problem("claim", "There is nothing to check it by.", "Give before and after, or the gains of the steps.")
        )
    truth, candidates = _steps(claim) if claim.steps_percent else _pairs(claim)
    turned = claim.direction * truth < 0 and abs(truth) > 1e-9
    right = _rounds_to(truth, claim) and not turned
    # a sign that is wrong is the mistake to name; nothing else is looked for
    fitting = tuple(one for one in candidates if not right and not turned and _rounds_to(one.gives_percent, claim))
    if turned:
        fitting = (
            Explanation(
                "turned round",
                truth,
                "The change went the other way: what was called a gain is a loss, or a loss a gain.",
            ),
        )
    return Finding(right, truth, _sentence(claim, truth, right, fitting), fitting)


def _rounds_to(percent: float, claim: Claim) -> bool:
    """Whether a figure, rounded as the claim was typed, is the claim. A claim of 8 less is the same figure as 8 more."""
    half = 0.5 * 10**-claim.decimals
    return bool(abs(abs(percent) - abs(claim.claimed_percent)) <= half * (1 + 1e-9))


def _steps(claim: Claim) -> tuple[float, list[Explanation]]:
    ratios = [1 + percent / 100 for percent in claim.steps_percent]
    if any(ratio <= 0 for ratio in ratios):
        raise Refused(Problem("steps", "A step cannot lose all of the speed.", "Correct the step's figure."))
    truth = (compound(ratios) - 1) * 100
    added = sum(claim.steps_percent)
    mean = added / len(ratios)
    return truth, [
        Explanation("percentages added", added, "Each step starts from what the one before left; the ratios multiply."),
        Explanation("percentages averaged", mean, "The steps follow each other; their ratios multiply."),
    ]


def _pairs(claim: Claim) -> tuple[float, list[Explanation]]:
    ratios = [performance_ratio(*pair, higher_is_better=claim.higher_is_better) for pair in claim.pairs]
    overall = geometric_mean(ratios)
    truth = (overall - 1) * 100 if claim.said == "speed" else time_saved(overall) * 100
    if len(claim.pairs) > 1:
        return truth, _of_several(claim, ratios)
    before, after = claim.pairs[0]
    return truth, _of_one(claim, before, after, overall)


def _of_one(claim: Claim, before: float, after: float, ratio: float) -> list[Explanation]:
    change = abs(after - before)
    found = [
        Explanation(
            "percent difference", change / ((before + after) / 2) * 100,
            "The change was divided by the mean of both values; a gain is measured against the value before.",
        ),
        Explanation(
            "points taken for percent", after - before,
            "The plain difference of the two values was called percent.",
        ),
    ]  # fmt: skip
    if claim.higher_is_better:
        found.append(
            Explanation(
                "divided by the tuned value", change / after * 100,
                "The change was divided by the value after tuning; a gain is measured against the value before.",
            )
        )  # fmt: skip
    elif claim.said == "speed":
        found.append(
            Explanation(
                "time saved called speed", time_saved(ratio) * 100,
                "So much less time is more than so much more speed: the speed ratio is time before over time after.",
            )
        )  # fmt: skip
    else:
        found.append(
            Explanation(
                "speed called time saved", (ratio - 1) * 100,
                "The speed gained was called time saved; the time saved is smaller.",
            )
        )  # fmt: skip
    return found


def _of_several(claim: Claim, ratios: Sequence[float]) -> list[Explanation]:
    before, after = sum(pair[0] for pair in claim.pairs), sum(pair[1] for pair in claim.pairs)
    summed = after / before if claim.higher_is_better else before / after
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
    more, less = ("less time", "more time") if claim.said == "time" else ("more speed", "less speed")
    kind = more if truth >= 0 else less
    told = f"{abs(truth):.{decimals}f} % {kind}"
    if right:
        return f"Right: {told}."
    if not fitting:
        return f"True is {told}. No usual mistake gives {claim.claimed_percent:g} %; perhaps a number was misheard."
    return f"True is {told}. {claim.claimed_percent:g} % comes from a mistake: {fitting[0].mistake}."
