"""Reads a claim about a gain as people type it, word by word; what is not understood is refused, never guessed."""

import re
from dataclasses import dataclass

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.judge.claims import Claim, Direction

_TOKEN = re.compile(
    r"(?P<number>\d[\d.,]*)|(?P<sign>->|→|%|=|\+|&|[a-zµ°]+)|(?P<stop>[,;:.!?()])|(?P<space>\s+)|(?P<other>.)"
)

# Between two values; after these the order is as written.
BECOMES = {"to", "->", "→"}
# Between two values set against each other; which of them was first is told by "faster" or "slower".
VERSUS = {"vs", "versus", "against"}
TIME_UNITS = {"s", "sec", "secs", "second", "seconds", "ms", "min", "minutes"}
SPEED_UNITS = {"fps", "frames", "points", "pts"}
MORE = {"faster", "more", "higher", "up", "gain", "gained", "better", "quicker", "plus"}
LESS = {"slower", "less", "lower", "down", "loss", "lost", "worse", "minus"}
SAVED, LONGER = {"shorter", "saved", "saves", "saving"}, {"longer"}
JOINED = {"together", "total", "all", "altogether", "sum"}
# Words that carry nothing here.
PLAIN = {
    "a", "about", "and", "an", "at", "average", "be", "by", "each", "from", "i", "in", "is", "it", "just", "makes", "of",
    "on", "percent", "second", "step", "steps", "speed", "than", "that", "the", "then", "time", "two", "three", "four",
    "was", "with", "went", "score", "took", "takes", "so", "or", "first", "much", "now", "only", "my", "run", "runs",
    "frames", "=", "+", "&", "%",
}  # fmt: skip


@dataclass(frozen=True)
class _Number:
    value: float
    decimals: int
    percent: bool
    unit: str
    place: int


def parse_claim(text: str) -> Claim:
    """Reads "8421 to 9105, 7.8 % faster", "100 s to 86 s, 14 % less time", "two steps, 17.0 and 8.5, together 25.5".

    BEFORE to AFTER (also -> and vs), several pairs; or steps A and B, together C; then the figure claimed. A unit of time
    behind the values means that less is better. Decimal point or comma. Raises Refused for what it does not understand.
    """
    words = _words(" ".join(text.lower().replace("−", "-").split()))
    numbers = [word for word in words if isinstance(word, _Number)]
    said = {word for word in words if isinstance(word, str)}
    pairs, used = _pairs(words)
    left = [number for number in numbers if number.place not in used]
    if not left:
        _refuse("No claimed figure is there.", "Add what was said, such as “8421 to 9105, 7.8 % faster”.")
    if len({number.unit for number in numbers if number.unit in TIME_UNITS}) > 1 or (
        {number.unit for number in numbers} & TIME_UNITS and {number.unit for number in numbers} & SPEED_UNITS
    ):
        _refuse("The values stand in different units.", "Type all of them in one unit.")
    timed = any(number.unit in TIME_UNITS for number in numbers) or bool(said & (SAVED | LONGER)) or "time" in said
    saved = bool(said & (SAVED | LONGER)) or ("time" in said and bool(said & (LESS | MORE)))
    direction = _direction(said, saved)
    claimed = left[-1]
    if claimed.unit:
        _refuse(f"{claimed.value:g} {claimed.unit} is no gain.", "Say the gain in percent.")
    if pairs:
        if len(left) > 1:
            _refuse(f"{len(left)} figures stand beside the values.", "Leave just the one that was claimed.")
        if said & VERSUS:
            pairs = [_ordered(pair, direction, timed) for pair in pairs]
        return Claim(
            claimed.value, claimed.decimals, tuple(pairs), (), not timed, "time" if saved else "speed", direction
        )
    steps = left[:-1]
    if len(left) < 3 or not (said & JOINED or {"steps", "step"} & said or all(one.percent for one in steps)):
        _refuse("Values or steps are missing.", "Write “8421 to 9105, 7.8 % faster” or “17.0 and 8.5, together 25.5”.")
    return Claim(claimed.value, claimed.decimals, (), tuple(one.value for one in steps), direction=direction)


def _refuse(what: str, todo: str) -> None:
    raise Refused(Problem("claim", what, todo))


def _words(text: str) -> list[str | _Number]:
    """The claim as known words and numbers, each number with its unit and whether it is in percent."""
    found: list[str | _Number] = []
    tokens = [match for match in _TOKEN.finditer(text) if match.lastgroup not in ("space", "stop")]
    known = BECOMES | VERSUS | MORE | LESS | SAVED | LONGER | JOINED | PLAIN
    for place, token in enumerate(tokens):
        word = token.group()
        follows = tokens[place + 1].group() if place + 1 < len(tokens) else ""
        before = found[-1] if found else None
        if token.lastgroup == "number":
            value, decimals = _number(word.rstrip(".,"))
            unit = follows if follows in TIME_UNITS | SPEED_UNITS else ""
            if follows == "x":
                _refuse(f"{word}x is a factor.", f"Say it in percent: {(value - 1) * 100:g} %.")
            found.append(_Number(value, decimals, follows in ("%", "percent"), unit, place))
        elif word in TIME_UNITS | SPEED_UNITS and isinstance(before, _Number):
            continue
        elif word in known:
            found.append(word)
        else:
            _refuse(f"“{word}” is not understood here.", "Use numbers, to, %, faster or slower; leave the rest out.")
    return found


def _number(word: str) -> tuple[float, int]:
    """A number and its decimals. A comma or point before exactly three digits may mean a thousand: that is asked about."""
    if re.fullmatch(r"\d{1,3}[.,]\d{3}", word) and not word.startswith("0"):
        plain, decimal = re.sub(r"[.,]", "", word), word.replace(",", ".")
        _refuse(f"{word} may be {plain} or {decimal}0.", f"Type {plain} or {decimal}0.")
    if not re.fullmatch(r"\d+(?:[.,]\d+)?", word):
        _refuse(f"{word} is no number.", "Type it without marks between thousands.")
    whole, _, rest = word.replace(",", ".").partition(".")
    return float(f"{whole}.{rest or 0}"), len(rest)


def _pairs(words: list[str | _Number]) -> tuple[list[tuple[float, float]], set[int]]:
    """Values before and after, and the places of their numbers."""
    pairs, used = [], set()
    for place in range(1, len(words) - 1):
        first, second = words[place - 1], words[place + 1]
        if words[place] in BECOMES | VERSUS and isinstance(first, _Number) and isinstance(second, _Number):
            if first.place in used:
                _refuse("Three values stand in one chain.", "Type each step as a pair of its own.")
            pairs.append((first.value, second.value))
            used |= {first.place, second.place}
    return pairs, used


def _direction(said: set[str], saved: bool) -> Direction:
    """What was claimed: a gain, a loss, or neither word. Less time is a gain."""
    up, down = bool(said & MORE), bool(said & LESS)
    if said & SAVED:
        return 1
    if said & LONGER:
        return -1
    if up and down:
        _refuse("It cannot be more and less at once.", "Keep one of the two words.")
    sign = 1 if up else -1 if down else 0
    return -sign if saved and sign else sign  # type: ignore[return-value]


def _ordered(pair: tuple[float, float], direction: Direction, timed: bool) -> tuple[float, float]:
    """Two values set against each other: the worse is the one before where a gain was claimed, the better where a loss was."""
    worse, better = sorted(pair, reverse=timed)
    return (worse, better) if direction > 0 else (better, worse) if direction < 0 else pair
