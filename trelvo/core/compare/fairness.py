"""Fairness: are two sets of runs like for like, and what can still be compared where they are not?"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from trelvo.core.base.instruments import POINT_MEANING

State = Literal["same", "different", "unknown", "studied"]
Grade = Literal["fair", "with reservations", "not fair"]
Compared = Literal["score", "watts", "degrees"]

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

    name: str
    state: State
    reference: str
    candidate: str
    touches: tuple[Compared, ...]
    weight: int


@dataclass(frozen=True)
class Fairness:
    """Grade, the two or three reasons that matter most, and what remains comparable."""

    grade: Grade
    reasons: tuple[str, ...]
    comparable: tuple[Compared, ...]
    aspects: tuple[Aspect, ...]


ALL: tuple[Compared, ...] = ("score", "watts", "degrees")


def assess(reference: Conditions, candidate: Conditions, studied: frozenset[str] = frozenset()) -> Fairness:
    """Like for like, aspect by aspect; heavy differences first in the reasons.

    A difference that touches only watts or degrees leaves the score comparable, and the other way round.
    studied: names of the aspects whose difference the comparison is about, such as "Parts" for two machines
    """
    found = (
        _words("Workload and options", reference.options, candidate.options, ALL, 5),
        _words("Parts", reference.parts, candidate.parts, ALL, 5),
        _words("Driver", reference.drivers, candidate.drivers, ("score", "watts"), 4),
        _words("Firmware", reference.firmwares, candidate.firmwares, ("score", "watts"), 4),
        _words("Operating system", reference.systems, candidate.systems, ("score",), 3),
        _words("Power read by", reference.points - NOWHERE, candidate.points - NOWHERE, ("watts",), 2),
        _words("Cooling", reference.coolings, candidate.coolings, ("degrees",), 3),
        _words("Enclosure", reference.enclosures, candidate.enclosures, ("degrees",), 3),
        _words("Fan", reference.fans, candidate.fans, ("degrees",), 2),
        _room(reference.room_c, candidate.room_c),
        _warmth(reference.warmed_up, candidate.warmed_up),
        _runs(reference.runs, candidate.runs),
    )
    aspects = tuple(
        replace(one, state="studied") if one.name in studied and one.state == "different" else one for one in found
    )
    compared = [one for one in aspects if one.state == "studied"]
    spoiled = {compared for aspect in aspects if aspect.state == "different" for compared in aspect.touches}
    comparable = tuple(compared for compared in ALL if compared not in spoiled)
    differing = sorted((a for a in aspects if a.state == "different"), key=lambda a: -a.weight)
    doubtful = sorted((a for a in aspects if a.state == "unknown" and a.weight >= 3), key=lambda a: -a.weight)
    grade: Grade = "fair"
    if differing or doubtful:
        grade = "with reservations" if "score" in comparable else "not fair"
    reasons = [f"{a.name}: {a.reference} against {a.candidate}." for a in differing]
    reasons += [f"{a.name}: {a.reference} against {a.candidate}, which is what is compared." for a in compared]
    if len(compared) > 1:
        names = " and ".join(one.name.lower() for one in compared)
        reasons.insert(
            0, f"{names[0].upper()}{names[1:]} differ at once: nothing tells which of them made the difference."
        )
    reasons += [
        f"{a.name}: not noted on {'both sides' if a.reference == a.candidate else 'one side'}." for a in doubtful
    ]
    return Fairness(grade, tuple(reasons[:3]), comparable, aspects)


NOT_NOTED = "not noted"
NOWHERE = frozenset({POINT_MEANING["unknown"]})


def _joined(found: Iterable[str]) -> str:
    return ", ".join(sorted(found)) or NOT_NOTED


def _words(
    name: str, reference: frozenset[str], candidate: frozenset[str], touches: tuple[Compared, ...], weight: int
) -> Aspect:
    state: State
    if not reference or not candidate:
        state = "unknown"
    else:
        state = "same" if reference == candidate and len(reference) == 1 else "different"
    return Aspect(name, state, _joined(reference), _joined(candidate), touches, weight)


def _room(reference: Sequence[float], candidate: Sequence[float]) -> Aspect:
    if not reference or not candidate:
        words = [f"{sum(side) / len(side):.1f} °C" if side else NOT_NOTED for side in (reference, candidate)]
        return Aspect("Room temperature", "unknown", words[0], words[1], ("degrees",), 1)
    means = sum(reference) / len(reference), sum(candidate) / len(candidate)
    apart = abs(means[0] - means[1]) > ROOM_TOLERANCE_C
    words = [f"{mean:.1f} °C" for mean in means]
    # boost clocks follow heat, so a room much warmer touches the score as well
    return Aspect(
        "Room temperature", "different" if apart else "same", words[0], words[1], ("score", "watts", "degrees"), 3
    )


def _warmth(reference: bool | None, candidate: bool | None) -> Aspect:
    words = {True: "warmed up", False: "first run out of family kept", None: "too few runs to tell"}
    state: State = "unknown" if None in (reference, candidate) else "same" if reference and candidate else "different"
    return Aspect("Warm-up", state, words[reference], words[candidate], ("score",), 2)


def _runs(reference: int, candidate: int) -> Aspect:
    few = min(reference, candidate) < USUAL_RUNS and reference != candidate
    words = [f"{count} run{'' if count == 1 else 's'}" for count in (reference, candidate)]
    # unequal numbers are no unfairness, the interval knows them; few runs are worth a remark
    return Aspect("Runs", "different" if few else "same", words[0], words[1], (), 1)
