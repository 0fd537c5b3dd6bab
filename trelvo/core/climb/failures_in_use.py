"""A failure in use, months after a setting was kept: what it may be, how likely each is, and the test that tells most."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from trelvo.core.message import Message, message
from trelvo.core.registry.outcomes import Outcome

Suspect = Literal["edge moved", "new driver", "new workload", "supply or cable", "the program itself"]
ProbeKey = Literal["stock", "another load", "earlier driver", "reseated", "cooler"]
SUSPECTS: tuple[Suspect, ...] = ("edge moved", "new driver", "new workload", "supply or cable", "the program itself")
PROBES: tuple[ProbeKey, ...] = ("stock", "another load", "earlier driver", "reseated", "cooler")

# How likely each is before anything is known of this failure, as odds; and what raises it. Common practice; no published source.
ODDS: dict[Suspect, float] = {
    "edge moved": 3.0, "new driver": 0.5, "new workload": 0.5, "supply or cable": 1.0, "the program itself": 1.5,
}  # fmt: skip
RAISED: dict[Suspect, float] = {"new driver": 4.0, "new workload": 4.0}
# Each year, and each 5 K above the warmest room of the proof, makes a moved edge so many times as likely.
BY_AGE, BY_HEAT, HEAT_K = 1.3, 1.6, 5.0
# How each tends to fail, as odds against the others. Common practice: a machine that goes down at once points to power.
_FAILS_AS: dict[Outcome, dict[Suspect, float]] = {
    "system crash": {"supply or cable": 3.0, "the program itself": 0.4},
    "no start": {"supply or cable": 3.0, "the program itself": 0.1},
    "program crash": {"supply or cable": 0.3, "the program itself": 1.5},
    "artifacts": {"supply or cable": 0.3, "the program itself": 0.7},
}
# Share of the failures that stay in each test, were the suspect the culprit: 1 where the test changes nothing about it. A driver
# that asks more of a tuned part leaves stock alone; an edge that heat moved comes back when it is cool, mostly.
STAYS: dict[ProbeKey, dict[Suspect, float]] = {
    "stock": {
        "edge moved": 0.0, "new driver": 0.02, "new workload": 0.0, "supply or cable": 0.35, "the program itself": 1.0,
    },
    "another load": {
        "edge moved": 0.8, "new driver": 0.8, "new workload": 0.02, "supply or cable": 0.8, "the program itself": 0.0,
    },
    "earlier driver": {
        "edge moved": 1.0, "new driver": 0.02, "new workload": 1.0, "supply or cable": 1.0, "the program itself": 1.0,
    },
    "reseated": {
        "edge moved": 1.0, "new driver": 1.0, "new workload": 1.0, "supply or cable": 0.05, "the program itself": 1.0,
    },
    "cooler": {
        "edge moved": 0.4, "new driver": 0.6, "new workload": 0.6, "supply or cable": 0.9, "the program itself": 1.0,
    },
}  # fmt: skip
# A test may fail, or hold, by chance all the same.
BY_CHANCE = 0.02
# A suspect so likely is the culprit.
SURE_OF_IT = 0.8
# Three times as long without a failure says with 95 % that it has gone: the rule of three.
TIMES, LEAST_MINUTES, MOST_MINUTES = 3.0, 10.0, 180.0
# What each test costs besides its minutes: an earlier driver and a connector take time.
_EFFORT_MINUTES: dict[ProbeKey, float] = {
    "stock": 2.0, "another load": 0.0, "earlier driver": 25.0, "reseated": 15.0, "cooler": 5.0,
}  # fmt: skip


@dataclass(frozen=True)
class FailedInUse:
    """A failure after the setting was kept.

    minutes: how long it ran until it failed; workload: in which; outcome: how
    driver_changed, workload_new: since the proof; years: since then; warmer_k: the room above the warmest of the proof
    """

    minutes: float
    workload: str
    outcome: Outcome
    driver_changed: bool = False
    workload_new: bool = False
    years: float = 0.0
    warmer_k: float = 0.0


@dataclass(frozen=True)
class Probed:
    """One test of the triage and whether it failed. minutes: how long it ran, until the failure where it failed"""

    key: ProbeKey
    failed: bool
    minutes: float


@dataclass(frozen=True)
class Probe:
    """key: which; title, why: what to run, and what it tells

    at_stock: at stock, else at the kept setting; minutes: how long, unless it fails"""

    key: ProbeKey
    title: Message
    why: Message
    at_stock: bool
    minutes: float


@dataclass(frozen=True)
class Chance:
    suspect: Suspect
    chance: float


@dataclass(frozen=True)
class Triaged:
    """chances: of every suspect, most likely first; test: what tells most next, None once it is clear or nothing is left

    culprit: once one is likely enough; says: what to do then
    """

    chances: tuple[Chance, ...]
    test: Probe | None
    culprit: Suspect | None
    says: Message


def suspects(failed: FailedInUse, tested: Sequence[Probed] = ()) -> Triaged:
    """Who is to blame, after the tests that were made.

    Method: Bayes' rule over the suspects. Before the tests, odds by what has changed and how it failed. A test that ran m minutes
    has failures at a rate of one in as many minutes as it took to fail in use, times the share that would stay were the suspect
    the culprit. Stock comes first; then the test that is expected to leave the least doubt (entropy) for its time.
    """
    chances = _before(failed)
    for one in tested:
        chances = _weighed(chances, failed, one.key, one.minutes, failed=one.failed)
    order = tuple(Chance(*pair) for pair in sorted(chances.items(), key=lambda pair: -pair[1]))
    first, sure = order[0].suspect, order[0].chance
    # stock is always asked first: whatever is suspected, the tuning has to be shown to be to blame
    asked_stock = any(one.key == "stock" for one in tested)
    if asked_stock and sure >= SURE_OF_IT:
        return Triaged(order, None, first, message(VERDICTS[first]))
    test = _next_test(failed, chances, {one.key for one in tested})
    if test is None:
        return Triaged(order, None, None, message("cause_not_clear", suspect=first))
    return Triaged(order, test, None, test.title)


VERDICTS: dict[Suspect, str] = {
    "edge moved": "edge_has_moved", "new driver": "driver_asks_more", "new workload": "workload_is_harder",
    "supply or cable": "supply_not_tuning", "the program itself": "program_not_tuning",
}  # fmt: skip


def blames_tuning(culprit: Suspect) -> bool:
    """Whether the kept setting has to change."""
    return culprit in ("edge moved", "new driver", "new workload")


def tuning_to_blame(failed: FailedInUse, tested: Sequence[Probed] = ()) -> float:
    """Chance that the tuning is to blame, after the tests that were made."""
    return sum(chance.chance for chance in suspects(failed, tested).chances if blames_tuning(chance.suspect))


def _before(failed: FailedInUse) -> dict[Suspect, float]:
    odds = dict(ODDS)
    if failed.driver_changed:
        odds["new driver"] *= RAISED["new driver"]
    if failed.workload_new:
        odds["new workload"] *= RAISED["new workload"]
    odds["edge moved"] *= BY_AGE**failed.years * BY_HEAT ** max(failed.warmer_k / HEAT_K, 0.0)
    for suspect, factor in _FAILS_AS.get(failed.outcome, {}).items():
        odds[suspect] *= factor
    if not failed.driver_changed:
        odds["new driver"] = 0.0
    if not failed.workload_new:
        odds["new workload"] = 0.0
    total = sum(odds.values())
    return {suspect: one / total for suspect, one in odds.items()}


def _fails(failed: FailedInUse, key: ProbeKey, suspect: Suspect, minutes: float) -> float:
    """Chance that a test fails within so many minutes, were this the culprit."""
    rate = STAYS[key][suspect] / max(failed.minutes, 1.0)
    return BY_CHANCE + (1 - 2 * BY_CHANCE) * -math.expm1(-rate * minutes)


def _weighed(
    chances: Mapping[Suspect, float], told: FailedInUse, key: ProbeKey, minutes: float, *, failed: bool
) -> dict[Suspect, float]:
    # a test that failed early would have gone on: what counts is that it failed within its whole time
    whole = max(minutes, probe_minutes(told)) if failed else minutes
    found = {}
    for suspect, chance in chances.items():
        fails = _fails(told, key, suspect, whole)
        found[suspect] = chance * (fails if failed else 1 - fails)
    total = sum(found.values())
    return {suspect: one / total for suspect, one in found.items()}


def probe_minutes(failed: FailedInUse) -> float:
    """How long each test runs."""
    return float(min(max(TIMES * failed.minutes, LEAST_MINUTES), MOST_MINUTES))


def _next_test(failed: FailedInUse, chances: Mapping[Suspect, float], done: set[ProbeKey]) -> Probe | None:
    minutes = probe_minutes(failed)
    if "stock" not in done:
        return _told("stock", failed, minutes)
    doubt = _entropy(chances)
    best: tuple[float, ProbeKey] | None = None
    for key in PROBES:
        if key in done or (key == "earlier driver" and not failed.driver_changed):
            continue
        after = 0.0
        for fails in (True, False):
            share = sum(
                chance * (p if fails else 1 - p)
                for suspect, chance in chances.items()
                for p in [_fails(failed, key, suspect, minutes)]
            )
            after += share * _entropy(_weighed(chances, failed, key, minutes, failed=fails))
        gained = (doubt - after) / (minutes + _EFFORT_MINUTES[key])
        if doubt - after > 0.01 and (best is None or gained > best[0]):
            best = gained, key
    return None if best is None else _told(best[1], failed, minutes)


def _entropy(chances: Mapping[Suspect, float]) -> float:
    some = np.array([chance for chance in chances.values() if chance > 0])
    return float(-(some * np.log(some)).sum())


def _told(key: ProbeKey, failed: FailedInUse, minutes: float) -> Probe:
    code = key.replace(" ", "_")
    title = message(f"probe_{code}", workload=failed.workload, minutes=minutes)
    return Probe(key, title, message(f"probe_{code}_why", workload=failed.workload), key == "stock", minutes)
