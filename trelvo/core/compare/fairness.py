"""Fairness: are two sets of runs like for like, and what can still be compared where they are not?"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from trelvo.core.base.instruments import POINT_MEANING
from trelvo.core.message import Message, message

State = Literal["same", "different", "unknown", "studied"]
Grade = Literal["fair", "with reservations", "not fair"]
Compared = Literal["score", "watts", "degrees"]
AspectKey = Literal[
    "options", "parts", "driver", "firmware", "system", "power_point", "cooling", "enclosure", "fan", "room", "warm_up", "runs",
]  # fmt: skip

# More than this between two rooms moves temperatures, fans and boost (common practice).
ROOM_TOLERANCE_C = 2.0
USUAL_RUNS = 3


@dataclass(frozen=True)
class Conditions:
    """Under what a set of runs was made. Each entry: the different answers found among the runs; none = not noted.

    room_c: room temperatures of the runs that noted one, °C; runs: how many runs count
    warmed_up: whether first runs that were out of family have been set aside (None when nobody can tell)
    """

    drivers: frozenset[str]
    firmwares: frozenset[str]
    systems: frozenset[str]
    parts: frozenset[str]
    enclosures: frozenset[str]
    coolings: frozenset[str]
    fans: frozenset[str]
    options: frozenset[str]
    points: frozenset[str]
    room_c: tuple[float, ...]
    runs: int
    warmed_up: bool | None


@dataclass(frozen=True)
class Aspect:
    """One condition on both sides. touches: what it makes incomparable where it differs.

    state "studied": it differs, and that difference is what the comparison is about
    """

    key: AspectKey
    state: State
    reference: Message
    candidate: Message
    touches: tuple[Compared, ...]
    weight: int


@dataclass(frozen=True)
class Fairness:
    """Grade, the two or three reasons that matter most, and what remains comparable."""

    grade: Grade
    reasons: tuple[Message, ...]
    comparable: tuple[Compared, ...]
    aspects: tuple[Aspect, ...]


ALL: tuple[Compared, ...] = ("score", "watts", "degrees")


def assess(reference: Conditions, candidate: Conditions, studied: frozenset[AspectKey] = frozenset()) -> Fairness:
    """Like for like, aspect by aspect; heavy differences first in the reasons.

    A difference that touches only watts or degrees leaves the score comparable, and the other way round.
    studied: the aspects whose difference the comparison is about, such as the parts of two machines
    """
    found = (
        _words("options", reference.options, candidate.options, ALL, 5),
        _words("parts", reference.parts, candidate.parts, ALL, 5),
        _words("driver", reference.drivers, candidate.drivers, ("score", "watts"), 4),
        _words("firmware", reference.firmwares, candidate.firmwares, ("score", "watts"), 4),
        _words("system", reference.systems, candidate.systems, ("score",), 3),
        _words("power_point", reference.points - NOWHERE, candidate.points - NOWHERE, ("watts",), 2),
        _words("cooling", reference.coolings, candidate.coolings, ("degrees",), 3),
        _words("enclosure", reference.enclosures, candidate.enclosures, ("degrees",), 3),
        _words("fan", reference.fans, candidate.fans, ("degrees",), 2),
        _room(reference.room_c, candidate.room_c),
        _warmth(reference.warmed_up, candidate.warmed_up),
        _runs(reference.runs, candidate.runs),
    )
    aspects = tuple(
        replace(one, state="studied") if one.key in studied and one.state == "different" else one for one in found
    )
    compared = [one for one in aspects if one.state == "studied"]
    spoiled = {compared for aspect in aspects if aspect.state == "different" for compared in aspect.touches}
    comparable = tuple(compared for compared in ALL if compared not in spoiled)
    differing = sorted((a for a in aspects if a.state == "different"), key=lambda a: -a.weight)
    doubtful = sorted((a for a in aspects if a.state == "unknown" and a.weight >= 3), key=lambda a: -a.weight)
    grade: Grade = "fair"
    if differing or doubtful:
        grade = "with reservations" if "score" in comparable else "not fair"
    reasons = [_sides("differs", a) for a in differing] + [_sides("is_what_is_compared", a) for a in compared]
    if len(compared) > 1:
        reasons.insert(0, message("differ_at_once", aspects=tuple(_named(one) for one in compared)))
    reasons += [
        message("not_noted_on_both" if a.reference == a.candidate else "not_noted_on_one", aspect=_named(a))
        for a in doubtful
    ]
    return Fairness(grade, tuple(reasons[:3]), comparable, aspects)


NOT_NOTED = message("not_noted")
NOWHERE = frozenset({POINT_MEANING["unknown"]})


def _named(aspect: Aspect) -> Message:
    return message(f"aspect_{aspect.key}")


def _sides(code: str, aspect: Aspect) -> Message:
    return message(code, aspect=_named(aspect), reference=aspect.reference, candidate=aspect.candidate)


def _joined(found: Iterable[str]) -> Message:
    every = tuple(sorted(found))
    return message("noted", found=every) if every else NOT_NOTED


def _words(
    key: AspectKey, reference: frozenset[str], candidate: frozenset[str], touches: tuple[Compared, ...], weight: int
) -> Aspect:
    state: State
    if not reference or not candidate:
        state = "unknown"
    else:
        state = "same" if reference == candidate and len(reference) == 1 else "different"
    return Aspect(key, state, _joined(reference), _joined(candidate), touches, weight)


def _room(reference: Sequence[float], candidate: Sequence[float]) -> Aspect:
    if not reference or not candidate:
        words = [
            message("room_at", room_c=sum(side) / len(side)) if side else NOT_NOTED for side in (reference, candidate)
        ]
        return Aspect("room", "unknown", words[0], words[1], ("degrees",), 1)
    means = sum(reference) / len(reference), sum(candidate) / len(candidate)
    apart = abs(means[0] - means[1]) > ROOM_TOLERANCE_C
    words = [message("room_at", room_c=mean) for mean in means]
    # boost clocks follow heat, so a room much warmer touches the score as well
    return Aspect("room", "different" if apart else "same", words[0], words[1], ("score", "watts", "degrees"), 3)


def _warmth(reference: bool | None, candidate: bool | None) -> Aspect:
    words = {True: message("warmed_up"), False: message("first_run_kept"), None: message("too_few_to_tell")}
    state: State = "unknown" if None in (reference, candidate) else "same" if reference and candidate else "different"
    return Aspect("warm_up", state, words[reference], words[candidate], ("score",), 2)


def _runs(reference: int, candidate: int) -> Aspect:
    few = min(reference, candidate) < USUAL_RUNS and reference != candidate
    words = [message("number_of_runs", runs=count) for count in (reference, candidate)]
    # unequal numbers are no unfairness, the interval knows them; few runs are worth a remark
    return Aspect("runs", "different" if few else "same", words[0], words[1], (), 1)
