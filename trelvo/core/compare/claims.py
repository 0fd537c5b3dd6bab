"""Claims: what someone said about a gain, what is true, and which mistake explains the figure, if one does.

Values count as they were typed: whole numbers stand for everything that rounds to them. Every mistake is a formula that people
use by accident. It explains a claim when its result, rounded as the claim was typed, is the claim. None is forced.
"""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

from trelvo.core.base.typed_numbers import comma_readings, plain_number
from trelvo.core.message import Message, message
from trelvo.core.problems import Problem, Refused

# What was measured: a rate or score (more is better), a time (less is better), or an amount of power, heat or noise.
Kind = Literal["rate", "time", "watts", "degrees", "noise"]
# How the figure was put: percent more (faster), share saved (less of it), times as much (as fast), or the difference itself.
Figure = Literal["percent", "saved", "factor", "amount"]
Way = Literal["more", "less"]
Mistake = Literal[
    "turned round", "percent of degrees", "percent of decibels", "cut off, not rounded", "percent taken for the amount",
    "gains added", "factors added", "percentages added", "percentages averaged", "only the last step",
    "gain told as a factor", "one too many", "turned upside down", "time saved called speed", "speed called time saved",
    "percent difference", "divided by the wrong end", "ratio told as percent", "points taken for percent", "values added",
    "arithmetic mean of ratios", "percent differences averaged", "only the best title",
]  # fmt: skip
MOST_VALUES, MOST_PAIRS = 12, 20


@dataclass(frozen=True)
class Typed:
    """A number as typed: 8421 stands for 8420.5 to 8421.5, 93.60 for 93.595 to 93.605."""

    value: float
    decimals: int = 0

    @property
    def half(self) -> float:
        return float(0.5 * 10**-self.decimals)


def typed_number(text: str, where: str) -> Typed:
    """A number from text, with its decimals; a point or a comma. Raises Refused for anything else, and for two readings."""
    if readings := comma_readings(text):
        thousands, decimals = readings
        raise Refused(
            Problem(where, "ambiguous_number", {"typed": text.strip(), "thousands": thousands, "decimals": decimals})
        )
    plain = plain_number(text)
    if not re.fullmatch(r"[+-]?(\d+(\.\d*)?|\.\d+)", plain):
        raise Refused(Problem(where, "typed_not_a_number", {"typed": text.strip()[:40]}))
    _, _, digits = plain.partition(".")
    return Typed(float(plain), len(digits))


@dataclass(frozen=True)
class Claim:
    """A claim in fields.

    kind: what was measured; figure, way, claimed: what was said of it
    pairs: before and after, of one or several measurements (titles, say); values: a chain of values, each the next one's before
    steps: gains of successive steps in percent, each over the one before. One of the three is given.
    """

    kind: Kind
    figure: Figure
    claimed: Typed
    way: Way = "more"
    pairs: tuple[tuple[Typed, Typed], ...] = ()
    values: tuple[Typed, ...] = ()
    steps: tuple[Typed, ...] = ()


@dataclass(frozen=True)
class Explanation:
    """A mistake that gives the claimed figure, and the figure it gives."""

    mistake: Mistake
    gives: float


@dataclass(frozen=True)
class Finding:
    """What is true of a claim. truth: the figure that should have been said, in the claim's own terms

    low, high: what the rounding of the values allows; explanations: mistakes that give just what was said
    """

    right: bool
    truth: float
    low: float
    high: float
    says: Message
    explanations: tuple[Explanation, ...] = field(default=())


def check_claim(claim: Claim) -> Finding:
    """The true figure and, where the claim differs, the mistakes whose result rounds to what was said."""
    _check(claim)
    if claim.kind in ("degrees", "noise") and claim.figure != "amount":
        return _no_percent(claim)
    low, truth, high = _truth(claim)
    half = claim.claimed.half * (1 + 1e-9)
    said = claim.claimed.value if claim.way == "more" or claim.figure == "saved" else _turned(claim)
    right = low - half <= said <= high + half
    exact = abs(truth - said) <= half
    build = () if right else _turned_round(claim, low, high, said, half)
    if not build and not exact:
        build = tuple(one for one in _mistakes(claim) if abs(abs(one.gives) - abs(said)) <= half)
    return Finding(right, truth, low, high, _says(claim, truth, low, high, right, build), build)


def _check(claim: Claim) -> None:
    given = [bool(claim.pairs), bool(claim.values), bool(claim.steps)]
    if sum(given) != 1:
        raise Refused(Problem("pairs", "nothing_to_check_by" if not any(given) else "several_ways_to_check"))
    every = [*(one for pair in claim.pairs for one in pair), *claim.values]
    if claim.values and len(claim.values) < 2:
        raise Refused(Problem("values", "chain_too_short"))
    if claim.kind not in ("degrees", "noise") and any(one.value <= 0 for one in every):
        raise Refused(Problem("pairs", "claim_value_not_above_zero"))
    if any(1 + step.value / 100 <= 0 for step in claim.steps):
        raise Refused(Problem("steps", "step_loses_everything"))
    if claim.steps and claim.figure == "amount":
        raise Refused(Problem("figure", "steps_give_no_amount"))
    if claim.figure == "factor" and claim.claimed.value <= 0:
        raise Refused(Problem("claimed", "factor_not_above_zero"))


def _ends(claim: Claim) -> list[tuple[Typed, Typed]]:
    """Before and after of each measurement; of a chain its ends."""
    return [(claim.values[0], claim.values[-1])] if claim.values else list(claim.pairs)


def _truth(claim: Claim) -> tuple[float, float, float]:
    """The figure in the claim's own terms: lowest and highest that the rounding allows, and as typed."""
    if claim.figure == "amount":
        changes = [
            (a.value - b.value - a.half - b.half, a.value - b.value, a.value - b.value + a.half + b.half)
            for b, a in _ends(claim)
        ]
        low, middle, high = (sum(some) / len(changes) for some in zip(*changes, strict=True))
        return low, middle, high
    ratios = _ratios(claim)
    found = sorted(_as_figure(claim, ratio) for ratio in ratios)
    return found[0], _as_figure(claim, ratios[1]), found[-1]


def _ratios(claim: Claim) -> tuple[float, float, float]:
    """After over before (of times turned round, so that above 1 is faster): lowest, as typed, highest.

    Of several measurements the geometric mean.
    """
    if claim.steps:
        return (
            math.prod(1 + (step.value - step.half) / 100 for step in claim.steps),
            math.prod(1 + step.value / 100 for step in claim.steps),
            math.prod(1 + (step.value + step.half) / 100 for step in claim.steps),
        )
    logs = []
    for before, after in _ends(claim):
        less, more = (after, before) if claim.kind != "time" else (before, after)
        lowest = math.log(max(less.value - less.half, 1e-12) / (more.value + more.half))
        highest = math.log((less.value + less.half) / max(more.value - more.half, 1e-12))
        logs.append((lowest, math.log(less.value / more.value), highest))
    low, middle, high = (math.exp(sum(some) / len(logs)) for some in zip(*logs, strict=True))
    return low, middle, high


def _as_figure(claim: Claim, ratio: float) -> float:
    """A ratio as the claim puts it."""
    if claim.figure == "factor":
        return ratio
    if claim.figure == "percent":
        return (ratio - 1) * 100
    # saved: of a time one less the inverse of the speed ratio, of an amount one less its own
    return (1 - 1 / ratio) * 100 if claim.kind == "time" else (1 - ratio) * 100


def _turned(claim: Claim) -> float:
    """What was said with "less" in front, in the terms of "more"."""
    if claim.figure == "factor":
        return 1 / claim.claimed.value
    return -claim.claimed.value


def _turned_round(claim: Claim, low: float, high: float, said: float, half: float) -> tuple[Explanation, ...]:
    other = 1 / said if claim.figure == "factor" and said else -said
    if low - half <= other <= high + half:
        return (Explanation("turned round", other),)
    return ()


def _no_percent(claim: Claim) -> Finding:
    """Degrees and decibels have no zero that a percentage could be counted from."""
    plain = Claim(claim.kind, "amount", claim.claimed, "more", claim.pairs, claim.values, claim.steps)
    low, truth, high = _truth(plain)
    mistake: Mistake = "percent of decibels" if claim.kind == "noise" else "percent of degrees"
    before, after = _ends(claim)[0]
    gives = abs(after.value / before.value - 1) * 100 if before.value else math.nan
    says = message("percentage_says_nothing", change=message("changed_by", kind=claim.kind, change=truth))
    return Finding(False, truth, low, high, says, (Explanation(mistake, gives),))


def _mistakes(claim: Claim) -> list[Explanation]:
    """Figures that people arrive at by accident, in the claim's own terms."""
    if claim.figure == "amount":
        return _of_amount(claim)
    found: list[Explanation] = []
    if claim.steps:
        found += _of_steps([step.value for step in claim.steps], claim)
    if claim.values:
        gains = [(after.value / before.value - 1) * 100 for before, after in pairwise(claim.values)]
        found += _of_steps(gains, claim)
    ends = _ends(claim)
    if len(ends) == 1:
        found += _of_one(claim, ends[0][0].value, ends[0][1].value)
    elif ends:
        found += _of_several(claim, [(before.value, after.value) for before, after in ends])
    truth = _as_figure(claim, _ratios(claim)[1])
    if claim.figure == "factor":
        found += _of_factor(truth)
    cut = math.floor(abs(truth) * 10**claim.claimed.decimals + 1e-9) / 10**claim.claimed.decimals
    found.append(Explanation("cut off, not rounded", cut))
    return found


def _of_amount(claim: Claim) -> list[Explanation]:
    ends = _ends(claim)
    if len(ends) != 1 or not ends[0][0].value:
        return []
    share = (ends[0][1].value / ends[0][0].value - 1) * 100
    return [Explanation("percent taken for the amount", share)]


def _of_steps(gains: Sequence[float], claim: Claim) -> list[Explanation]:
    if len(gains) < 2:
        return []
    added, count = sum(gains), len(gains)
    if claim.figure == "factor":
        return [Explanation("gains added", 1 + added / 100), Explanation("factors added", count + added / 100)]
    return [
        Explanation("percentages added", added),
        Explanation("percentages averaged", added / count),
        Explanation("only the last step", gains[-1]),
    ]


def _of_factor(ratio: float) -> list[Explanation]:
    return [Explanation("gain told as a factor", ratio - 1), Explanation("one too many", ratio + 1)]


def _of_one(claim: Claim, before: float, after: float) -> list[Explanation]:
    if claim.figure == "factor":
        return [Explanation("turned upside down", before / after)]
    change, faster = abs(after - before), claim.kind != "time"
    ratio = after / before if faster else before / after
    found = []
    if claim.kind == "time" and claim.figure == "percent":
        found.append(Explanation("time saved called speed", (1 - 1 / ratio) * 100))
    elif claim.kind == "time":
        found.append(Explanation("speed called time saved", (ratio - 1) * 100))
    found.append(Explanation("percent difference", change / ((before + after) / 2) * 100))
    if claim.kind != "time":
        found.append(Explanation("divided by the wrong end", change / after * 100))
    found.append(Explanation("ratio told as percent", (after / before if faster else ratio) * 100))
    if before != 100:
        found.append(Explanation("points taken for percent", after - before))
    return found


def _of_several(claim: Claim, pairs: Sequence[tuple[float, float]]) -> list[Explanation]:
    befores, afters = sum(pair[0] for pair in pairs), sum(pair[1] for pair in pairs)
    faster = claim.kind != "time"
    summed = afters / befores if faster else befores / afters
    ratios = [after / before if faster else before / after for before, after in pairs]
    differences = [abs(after - before) / ((before + after) / 2) * 100 for before, after in pairs]
    best = max(ratios)
    return [
        Explanation("values added", _as_figure(claim, summed)),
        Explanation("arithmetic mean of ratios", _as_figure(claim, sum(ratios) / len(ratios))),
        Explanation("percent differences averaged", sum(differences) / len(differences)),
        Explanation("only the best title", _as_figure(claim, best)),
    ]


def _says(claim: Claim, truth: float, low: float, high: float, right: bool, build: Sequence[Explanation]) -> Message:
    decimals = max(1, claim.claimed.decimals)
    told = message("claim_truth", kind=claim.kind, figure=claim.figure, truth=truth, decimals=decimals)
    if high - low > 10**-decimals:
        told = message(
            "truth_by_rounding", truth=told, kind=claim.kind, figure=claim.figure, low=low, high=high, decimals=decimals
        )
    mistake = build[0].mistake if build else None
    if right:
        return message("claim_is_right", truth=told).then(
            mistake and message("also_what_mistake_gives", mistake=mistake)
        )
    said = message(
        "claim_said", kind=claim.kind, figure=claim.figure, value=claim.claimed.value, decimals=claim.claimed.decimals
    )
    if mistake is None:
        return message("no_usual_mistake", truth=told, said=said)
    return message("comes_from_mistake", truth=told, said=said, mistake=mistake)


@dataclass(frozen=True)
class Prefilled:
    """The fields of a claim that a pasted line fills in for certain; texts as they are in it."""

    kind: Kind
    figure: Figure
    way: Way
    before: str
    after: str
    claimed: str


_NUMBER = r"(\d+(?:[.,]\d+)?)"
_UNITS: dict[str, Kind] = {
    "": "rate", "fps": "rate", "points": "rate", "s": "time", "sec": "time", "ms": "time", "min": "time", "w": "watts",
    "watts": "watts", "°c": "degrees", "c": "degrees", "db": "noise", "dba": "noise",
}  # fmt: skip
_WORDS: dict[str, tuple[Figure, Way]] = {
    "faster": ("percent", "more"), "more": ("percent", "more"), "slower": ("percent", "less"),
    "less time": ("saved", "less"), "less power": ("saved", "less"),
}  # fmt: skip
_LINE = re.compile(
    rf"{_NUMBER}\s*([a-z°]*)\s*(?:to|->|→)\s*{_NUMBER}\s*([a-z°]*)\s*[,:]\s*{_NUMBER}\s*(%|x)\s*({'|'.join(_WORDS)})?\.?",
    re.I,
)


def prefill(text: str) -> Prefilled | None:
    """Fields from a pasted line of one plain form, such as "8421 to 9105, 8.1 % faster"; None for any other, which is typed."""
    found = _LINE.fullmatch(" ".join(text.split()))
    if not found:
        return None
    before, unit, after, unit_after, claimed, sign, word = found.groups()
    units = {one.lower() for one in (unit, unit_after) if one}
    if len(units) > 1 or not units <= set(_UNITS):
        return None
    kind = _UNITS[next(iter(units), "")]
    if sign == "x":
        return Prefilled(kind, "factor", "more", before, after, claimed) if not word else None
    if not word:
        return None
    figure, way = _WORDS[word.lower()]
    saving = figure == "saved" and kind not in ("time", "watts")
    return (
        None
        if saving or (kind == "time" and word.lower() == "more")
        else Prefilled(kind, figure, way, before, after, claimed)
    )
