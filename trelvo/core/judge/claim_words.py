"""Reads a claim about a gain as people type it, word by word; what is not understood is refused, never guessed."""

import re
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import NoReturn

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.judge.claims import Claim, Direction, Figure, Quantity

# Between two values; after these the order is as written.
BECOMES = {"to", "->", "→", "=>", "becomes", "became", "into"}
# Between two values set against each other; which of them was first is told by "faster" or "slower".
VERSUS = {"vs", "versus", "against"}
TIME_UNITS = {
    "s": "s", "sec": "s", "secs": "s", "second": "s", "seconds": "s", "ms": "ms", "msec": "ms", "min": "min", "mins": "min",
    "minute": "min", "minutes": "min", "h": "h", "hours": "h",
}  # fmt: skip
SPEED_UNITS = {
    "fps": "fps",
    "frames": "fps",
    "points": "points",
    "point": "points",
    "pts": "points",
    "mhz": "MHz",
    "ghz": "GHz",
}
AMOUNT_UNITS = {
    "w": "W", "watt": "W", "watts": "W", "°c": "°C", "degrees": "°C", "degree": "°C", "mv": "mV", "v": "V", "db": "dB(A)",
    "j": "J", "wh": "Wh", "kwh": "kWh", "rpm": "rpm",
}  # fmt: skip
UNITS = TIME_UNITS | SPEED_UNITS | AMOUNT_UNITS
PERCENT, TIMES = {"%", "percent", "per cent"}, {"x", "×", "times", "fold"}
UP = {
    "faster",
    "quicker",
    "more",
    "higher",
    "up",
    "gain",
    "gained",
    "gains",
    "better",
    "plus",
    "hotter",
    "louder",
    "rise",
    "rose",
}
DOWN = {
    "slower",
    "less",
    "lower",
    "down",
    "loss",
    "lost",
    "loses",
    "worse",
    "minus",
    "cooler",
    "quieter",
    "fell",
    "fall",
    "dropped",
}
SHORTER, LONGER = {"shorter", "saved", "saves", "saving", "save"}, {"longer"}
# These speak of speed, also where times were measured.
OF_SPEED = {"faster", "quicker", "slower", "fast", "speed", "performance"}
TOGETHER = {"together", "total", "altogether", "overall", "all", "sum", "combined"}
JOINS = {"then", "and", "&", "+", "plus"}
# Which of two values each of these names, where one stands beside each.
FIRST, SECOND = {"before", "stock"}, {"after", "tuned"}
# What was measured, or what a gain came from: carries nothing here, but that "from" before it names no value.
NAMES = {
    "core", "clock", "memory", "mem", "gpu", "cpu", "processor", "graphics", "voltage", "undervolt", "temps", "temp", "noise",
    "fan", "load", "render", "rendering", "encode", "compile", "benchmark", "bench", "title", "game", "low", "lows", "limit",
}  # fmt: skip
# Steps of these are of different things, and do not multiply to one.
MEASURES = {
    "clock",
    "voltage",
    "temps",
    "temp",
    "temperature",
    "noise",
    "fan",
    "load",
    "limit",
    "power",
    "draw",
    "draws",
    "heat",
}
# Words that carry nothing here.
PLAIN = {
    "a", "about", "an", "as", "at", "average", "be", "by", "each", "i", "in", "is", "it", "its", "just", "makes", "made", "of",
    "on", "step", "steps", "speed", "performance", "the", "that", "this", "time", "was", "were", "with", "went", "goes", "go",
    "score", "scores", "took", "takes", "so", "or", "first", "much", "now", "only", "my", "run", "runs", "=", "one", "two",
    "three", "four", "five", "fast", "card", "after", "before", "tuned", "stock", "which", "gets", "got", "get", "i'm", "me",
    "power", "draw", "draws", "uses", "heat", "temperature", "frame", "rate", "roughly", "almost", "nearly", "exactly", "change",
    "that's", "thats", "it's", "for", "per",
}  # fmt: skip
KNOWN = (
    BECOMES
    | VERSUS
    | set(UNITS)
    | PERCENT
    | TIMES
    | UP
    | DOWN
    | SHORTER
    | LONGER
    | TOGETHER
    | JOINS
    | PLAIN
    | NAMES
    | {"from", "than"}
)

_NUMBER = r"[+-]?\d+(?:[.,' ]\d+)*"
_TOKEN = re.compile(
    rf"(?P<number>{_NUMBER})|(?P<word>->|=>|→|%|=|&|\+|×|°c|[a-zµ°']+)|(?P<stop>[,;:.!?()“”\"])|(?P<space>\s+)|(?P<other>.)"
)
# The 1 % low is a name and no figure.
_LOWS = re.compile(r"\b(?:0[.,]1|1|5) ?%[ -]?lows?\b")
_SHARE = re.compile(r"(?:%|percent) of (?!time\b|speed\b|percent)")
_FRAMES = re.compile(r"\bframes ?(?:/ ?s(?:ec(?:ond)?)?|per second|a second)\b")
# 4:32, 1:04:32, 2 min 30 s, 1 h 12 min; whether 4:32 is minutes or hours is all the same to a ratio.
_CLOCK = re.compile(r"(?<![\d:.,])(?:(\d{1,2}):)?(\d{1,3}):([0-5]\d)(?![\d:])")
_HOURS = re.compile(r"\b(\d+) ?h(?:ours?)? ?(\d{1,2}) ?min(?:s|utes?)?\b")
_MINUTES = re.compile(r"\b(\d+) ?m(?:in(?:s|utes?)?)? ?(\d{1,2}) ?s(?:ecs?|econds?)?\b")
_THOUSANDS = re.compile(r"\b(\d+(?:[.,]\d+)?) ?k\b")
_FACTORS = (
    (re.compile(r"\btwice\b"), "2 x"),
    (re.compile(r"\bdoubl(?:ed?|es|ing)\b"), "2 x more"),
    (re.compile(r"\btripled?\b"), "3 x more"),
    (re.compile(r"\bthree times\b"), "3 x"),
    (re.compile(r"\bhalved\b|\bhalf(?= the\b)"), "50 % less"),
)
_POINTS_OF_PERCENT = re.compile(r"\b(?:percentage points?|points? of percent|percent points?|pp)\b")
_GROUPED = re.compile(
    r"\d{1,3}(?:([,' ])\d{3})(?:\1\d{3})*(?:\.\d+)?|\d{1,3}(?:\.\d{3}){2,}(?:,\d+)?|\d{1,3}(?:\.\d{3})+,\d+"
)
_EITHER = re.compile(r"[1-9]\d{0,2}[.,]\d{3}")


@dataclass(frozen=True)
class _Number:
    """A number as typed. either: whether its mark may part thousands or decimals; sign: -1 where a minus stands before it"""

    text: str
    value: float
    decimals: int
    unit: str
    sign: int
    either: bool = False


_Word = str | _Number


def parse_claim(text: str) -> Claim:
    """Reads "8421 to 9105, 7.8 % faster", "9,105 vs 8,421", "120 W from 150 W, saves 20 %", "1.2x then 1.1x, together 1.32x".

    Two values with to, ->, from, vs, against or than between them, or several such pairs, then what was claimed: percent, a
    factor (x, times), points of percent, or the difference in the values' own unit. Or several steps and what they come to
    together. A unit of time behind the values means that less is better. Decimal point or comma, marks between thousands.
    Raises Refused, with what is missing or not understood, for everything else.
    """
    plain = " ".join(text.lower().replace("−", "-").replace("\u00a0", " ").split())
    if _SHARE.search(plain):
        _refuse(
            "A share of something is no gain.", "Type values and what was said, such as “8421 to 9105, 7.8 % faster”."
        )
    words = _words(plain)
    if not any(isinstance(word, _Number) for word in words):
        _refuse("There is no number in it.", "Type values and what was said, such as “8421 to 9105, 7.8 % faster”.")
    pairs, rest = _pairs(words)
    said = {word for word in words if isinstance(word, str)}
    claim = _of_pairs(pairs, rest, said) if pairs else _of_steps(words, said)
    return replace(claim, understood=_understood(claim))


def _refuse(what: str, todo: str) -> NoReturn:
    raise Refused(Problem("claim", what, todo))


def _words(text: str) -> list[_Word]:
    """The claim as known words and numbers, each number with its unit."""
    text = _spelled_out(_POINTS_OF_PERCENT.sub("pp", text))
    text = re.sub(r"(\d)\s*-\s*fold", r"\1 fold", text)
    tokens = [match for match in _TOKEN.finditer(text) if match.lastgroup not in ("space", "stop")]
    found: list[_Word] = []
    for token in tokens:
        word = token.group()
        before = found[-1] if found else None
        if token.lastgroup == "number":
            found += _numbers(word)
        elif (
            isinstance(before, _Number) and not before.unit and (word in UNITS or word in PERCENT | TIMES | {"pp", "c"})
        ):
            found[-1] = replace(before, unit=_unit(word))
        elif word in KNOWN:
            found.append(word)
        else:
            _refuse(
                f"“{word}” is not understood here.", "Use numbers, units, to, %, faster or slower; leave the rest out."
            )
    return _settle(found)


def _spelled_out(text: str) -> str:
    """Lengths of time in one unit, and factors that are words, as numbers."""
    text = _FRAMES.sub("fps", _LOWS.sub("low", text))
    text = _CLOCK.sub(lambda m: f"{(int(m[1] or 0) * 60 + int(m[2])) * 60 + int(m[3])} s", text)
    text = _HOURS.sub(lambda m: f"{int(m[1]) * 60 + int(m[2])} min", text)
    text = _MINUTES.sub(lambda m: f"{int(m[1]) * 60 + int(m[2])} s", text)
    text = _THOUSANDS.sub(lambda m: f"{float(m[1].replace(',', '.')) * 1000:.10g}", text)
    for words, figure in _FACTORS:
        text = words.sub(figure, text)
    return text


def _unit(word: str) -> str:
    if word in PERCENT:
        return "%"
    if word in TIMES:
        return "x"
    return {"pp": "pp", "c": "°C"}.get(word) or UNITS[word]


def _numbers(text: str) -> list[_Number]:
    """What stands between two words: one number, also with marks between thousands, or several with spaces between them."""
    sign = -1 if text.startswith("-") else 1
    plain = text.lstrip("+-")
    if _GROUPED.fullmatch(plain) and not _EITHER.fullmatch(plain):
        return [_number(text, _without_marks(plain), sign)]
    return [_one(part, sign if place == 0 else 1) for place, part in enumerate(plain.split(" "))]


def _without_marks(plain: str) -> str:
    """A number with marks between thousands, without them and with a decimal point."""
    if plain.count(".") > 1 or ("," in plain and "." in plain and plain.index(".") < plain.index(",")):
        return plain.replace(".", "").replace(",", ".")
    return re.sub(r"[,' ]", "", plain)


def _one(part: str, sign: int) -> _Number:
    if _EITHER.fullmatch(part):
        return replace(_number(part, part.replace(",", "."), sign), either=True)
    if _GROUPED.fullmatch(part):
        return _number(part, _without_marks(part), sign)
    if not re.fullmatch(r"\d+(?:[.,]\d+)?", part):
        _refuse(f"{part} is no number.", "Type it without marks between thousands.")
    return _number(part, part.replace(",", "."), sign)


def _number(text: str, plain: str, sign: int) -> _Number:
    return _Number(text, float(plain), len(plain.partition(".")[2]), "", sign)


def _settle(words: list[_Word]) -> list[_Word]:
    """Whether 8,421 is thousands or decimals: told by the other values beside it, or asked about."""
    values = [word for word in words if isinstance(word, _Number) and word.unit not in ("%", "x", "pp")]
    settled: list[_Word] = []
    for word in words:
        if not isinstance(word, _Number) or not word.either:
            settled.append(word)
            continue
        thousands = _Number(word.text, float(re.sub(r"[.,]", "", word.text)), 0, word.unit, word.sign)
        others = [one for one in values if one is not word]
        if word.unit in ("%", "x", "pp"):
            settled.append(replace(word, either=False))
        elif others and all(one.either or one.value >= 1000 for one in others):
            settled.append(thousands)
        elif others and all(one.value < 1000 for one in others if not one.either):
            settled.append(replace(word, either=False))
        else:
            plain, decimal = re.sub(r"[.,]", "", word.text), word.text.replace(",", ".")
            _refuse(f"{word.text} may be {plain} or {decimal}0.", f"Type {plain} or {decimal}0.")
    return settled


def _pairs(words: list[_Word]) -> tuple[list[tuple[_Number, _Number]], list[_Number]]:
    """Values before and after, and the numbers that are left. Values set against each other stand as written."""
    pairs: list[tuple[_Number, _Number]] = []
    used: set[int] = set()

    def pair(before: int, after: int) -> None:
        if before in used or after in used:
            _refuse("Three values stand in one chain.", "Type each step as a pair of its own.")
        first, second = words[before], words[after]
        assert isinstance(first, _Number)
        assert isinstance(second, _Number)
        pairs.append((first, second))
        used.update({before, after})

    numbers = [place for place, word in enumerate(words) if isinstance(word, _Number)]
    for left, right in pairwise(numbers):
        between = {word for word in words[left + 1 : right] if isinstance(word, str)}
        if between & (BECOMES | VERSUS) and not between & (UP | DOWN | SHORTER | LONGER):
            pair(left, right)
        elif (
            "from" in between
            and not between & (BECOMES | VERSUS | NAMES)
            and right + 1 not in used
            and _no_to_after(words, right)
        ):
            pair(right, left)
    if not pairs and "than" in words and len(numbers) >= 3:
        than = words.index("than")
        after = next((place for place in numbers if place < than), None)
        before = next((place for place in numbers if place > than), None)
        if after is not None and before is not None:
            pair(before, after)
    if not pairs:
        pairs_named = _named(words)
        if pairs_named:
            pair(*pairs_named)
    left_over = [words[place] for place in numbers if place not in used]
    return pairs, [one for one in left_over if isinstance(one, _Number)]


def _named(words: list[_Word]) -> tuple[int, int] | None:
    """The places of two values that "before" and "after", or "stock" and "tuned", stand beside: both follow or both lead."""
    values = [at for at, word in enumerate(words) if isinstance(word, _Number) and word.unit not in ("%", "x", "pp")][
        :2
    ]
    labels = [at for at, word in enumerate(words) if isinstance(word, str) and word in FIRST | SECOND]
    if len(values) < 2 or len(labels) != 2 or len({words[at] in FIRST for at in labels}) < 2:
        return None
    order = sorted([*values, *labels])
    if order not in ([values[0], labels[0], values[1], labels[1]], [labels[0], values[0], labels[1], values[1]]):
        return None
    return (values[0], values[1]) if words[labels[0]] in FIRST else (values[1], values[0])


def _no_to_after(words: list[_Word], place: int) -> bool:
    """Whether "from" names the value before by itself: "9105 from 8421", and not "from 8421 to 9105"."""
    after = words[place + 1] if place + 1 < len(words) else ""
    return not (isinstance(after, str) and after in BECOMES)


def _of_pairs(pairs: list[tuple[_Number, _Number]], rest: list[_Number], said: set[str]) -> Claim:
    units = {number.unit for pair in pairs for number in pair if number.unit}
    if len(units) > 1:
        _refuse("The values stand in different units.", "Type all of them in one unit.")
    unit = units.pop() if units else ""
    if unit in ("x", "pp"):
        _refuse("The values are factors.", "Type what was measured before and after.")
    if not rest:
        _refuse("No claimed figure is there.", "Add what was said, such as “8421 to 9105, 7.8 % faster”.")
    if len(rest) > 1:
        _refuse(f"{len(rest)} figures stand beside the values.", "Leave just the one that was claimed.")
    if any(number.value <= 0 or number.sign < 0 for pair in pairs for number in pair):
        _refuse("A value is not above zero, so no ratio exists.", "Type what was measured.")
    claimed = rest[0]
    quantity: Quantity = "speed"
    if unit in TIME_UNITS.values() or (not unit and said & (SHORTER | LONGER)) or (not unit and "time" in said):
        quantity = "time"
    elif unit in AMOUNT_UNITS.values() or unit == "%":
        quantity = "amount"
    figure: Figure = "factor" if claimed.unit == "x" else "points" if claimed.unit == "pp" else "percent"
    if claimed.unit and claimed.unit == unit and unit != "%":
        figure = "change"
    elif claimed.unit not in ("", "%", "x", "pp"):
        _refuse(
            f"{claimed.text} {claimed.unit} is no gain of these values.",
            "Say it in percent, or in the values' own unit.",
        )
    if figure == "points" and unit != "%":
        _refuse("Points of percent set two percentages apart; these values are none.", "Say the change in percent.")
    if unit == "°C" and figure in ("percent", "factor"):
        _refuse("A share of degrees hangs on where the scale begins.", "Say how many degrees more or less.")
    of_time = quantity == "time" and not said & OF_SPEED
    direction = _direction(said, of_time, claimed.sign)
    values = [(first.value, second.value) for first, second in pairs]
    if said & VERSUS:
        values = [_ordered(pair, direction, quantity, of_time) for pair in values]
    saying: Quantity = "time" if of_time else "speed" if quantity == "time" else quantity
    return Claim(
        claimed.value,
        claimed.decimals,
        tuple(values),
        (),
        quantity,
        saying,
        direction,
        figure,
        "" if unit == "%" else unit,
    )


def _of_steps(words: list[_Word], said: set[str]) -> Claim:
    """Several gains one after the other, and what they are said to come to."""
    numbers = [place for place, word in enumerate(words) if isinstance(word, _Number)]
    figures = [words[place] for place in numbers]
    kinds = {number.unit for number in figures if isinstance(number, _Number)}
    if kinds - {"", "%", "x"} or ("x" in kinds and kinds != {"x"}):
        _refuse("Values stand there, but not which became which.", "Write “8421 to 9105, 7.8 % faster”.")
    joined = said & TOGETHER or {"steps", "step"} & said or "then" in said
    if len(figures) < 3 or not (joined or kinds == {"%"}):
        _refuse("Values or steps are missing.", "Write “8421 to 9105, 7.8 % faster” or “17.0 and 8.5, together 25.5”.")
    if said & MEASURES:
        _refuse("Steps of different things do not make one figure.", "Type the gains in speed that each step gave.")
    factor = kinds == {"x"}
    steps: list[float] = []
    for place, following in pairwise(numbers):
        number = words[place]
        assert isinstance(number, _Number)
        near = {word for word in words[place + 1 : following] if isinstance(word, str)}
        down = bool(near & DOWN) or number.sign < 0
        if factor:
            steps.append(((1 / number.value if down else number.value) - 1) * 100 if number.value > 0 else -100.0)
        else:
            steps.append(-number.value if down else number.value)
    claimed = words[numbers[-1]]
    assert isinstance(claimed, _Number)
    after = {word for word in words[numbers[-1] + 1 :] if isinstance(word, str)}
    direction: Direction = -1 if after & DOWN or claimed.sign < 0 else 1 if after & UP else 0
    return Claim(
        claimed.value,
        claimed.decimals,
        (),
        tuple(steps),
        "speed",
        "speed",
        direction,
        "factor" if factor else "percent",
        "",
    )


def _direction(said: set[str], of_time: bool, sign: int) -> Direction:
    """What was claimed: more, less, or neither word. Of time, 1 is a gain: less of it."""
    if said & SHORTER and said & LONGER:
        _refuse("It cannot be shorter and longer at once.", "Remove one of the two words.")
    up, down = bool(said & UP), bool(said & DOWN)
    if up and down:
        _refuse("It cannot be more and less at once.", "Remove one of the two words.")
    if of_time:
        if said & (SHORTER | {"faster", "quicker"}):
            return 1
        if said & LONGER:
            return -1
        return -1 if up else 1 if down or sign < 0 else 0
    if said & SHORTER:
        return -1
    if said & LONGER:
        return 1
    return 1 if up else -1 if down or sign < 0 else 0


def _ordered(pair: tuple[float, float], direction: Direction, quantity: Quantity, of_time: bool) -> tuple[float, float]:
    """Two values set against each other: which one was before is told by what was claimed; else the first written."""
    low, high = sorted(pair)
    if direction == 0:
        return pair
    rises = direction > 0 if quantity != "time" else direction < 0
    return (low, high) if rises else (high, low)


def _understood(claim: Claim) -> str:
    """What was read, before anything is judged."""
    unit = f" {claim.unit}" if claim.unit else ""
    if claim.steps_percent:
        steps = ", then ".join(f"{step:+g} %" for step in claim.steps_percent)
        what = f"steps of {steps}"
    else:
        what = "; ".join(f"{before:g}{unit} before, {after:g}{unit} after" for before, after in claim.pairs)
        if claim.quantity == "time":
            what += " (times: less is better)"
    kinds = {
        "percent": f"{claim.claimed:g} %", "factor": f"{claim.claimed:g} times", "points": f"{claim.claimed:g} points of percent",
        "change": f"{claim.claimed:g}{unit}",
    }  # fmt: skip
    return f"Understood: {what}; said was {kinds[claim.figure]} {_direction_words(claim)}.".replace("-", "−").replace(
        " .", "."
    )


def _direction_words(claim: Claim) -> str:
    if claim.direction == 0:
        return {"time": "of time", "speed": "of speed", "amount": ""}[claim.said]
    if claim.said == "time":
        return "less time" if claim.direction > 0 else "more time"
    noun = " speed" if claim.said == "speed" else ""
    return ("more" if claim.direction > 0 else "less") + noun
