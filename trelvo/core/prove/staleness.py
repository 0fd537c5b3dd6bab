"""Whether a kept setting's proof still stands: what has changed since, what that touches, and the shortest check again."""

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.base.load_kinds import STRESS_DECADES, LoadKind, Technique
from trelvo.core.message import Message, message
from trelvo.core.prove.rate_belief import RateBelief
from trelvo.core.registry.goals import SURE

ChangeKind = Literal[
    "driver", "firmware", "system", "tuned part", "part", "cooling", "enclosure", "workload", "technique", "season", "risk",
    "age",
]  # fmt: skip
# What a change does to failures an hour: the chance that it does anything, and by how many powers of ten then (at least, and the
# deviation of what may come on top). Common practice; no published source. Another specimen has its own luck: nothing of the
# proof is left.
EFFECTS: dict[ChangeKind, tuple[float, float, float]] = {
    "driver": (0.15, 0.3, 1.0), "firmware": (0.25, 0.3, 1.2), "system": (0.1, 0.0, 1.0), "tuned part": (1.0, 1.0, 3.0),
    "part": (0.1, 0.0, 1.0), "cooling": (0.4, 0.0, 0.8), "enclosure": (0.3, 0.0, 0.6), "workload": (0.3, 0.3, 0.8),
    "technique": (0.4, 0.3, 1.0),
}  # fmt: skip
# From so many degrees above the warmest room of the proof on, heat is another; each takes the rate so far. Common practice: the
# edge falls by 0.6 MHz a degree, and 15 to 30 MHz are a power of ten.
SEASON_K, DECADES_A_KELVIN = 4.0, 0.03
# Silicon ages slowly: powers of ten a year, middle and deviation; told from half a year on. Common practice.
AGEING, AGE_FROM_YEARS = (0.1, 0.3), 0.5
GAIN_RUNS = 2
# What the trade checks again after, however strong the proof was; and for how long under the heaviest load. Common practice.
CHECKED_AFTER: frozenset[ChangeKind] = frozenset({"driver", "firmware", "tuned part"})
CHECK_MINUTES = 15.0
# A chance this much below what is required is told as the same.
SLACK = 0.005
DAYS_A_YEAR = 365.25


@dataclass(frozen=True)
class Circumstances:
    """What a proof was made under, or what is so now. parts: model by its place; tuned: places whose part is tuned

    workloads: kind by name; techniques: that they use; room_c: the warmest; accepted_per_h, sure: the accepted risk
    since: by what may change (`driver`, `part graphics card`, `workload Gorge`), the day from which on it has been as it is
    """

    driver: str = ""
    firmware: str = ""
    system: str = ""
    cooling: str = ""
    enclosure: str = ""
    parts: Mapping[str, str] | None = None
    tuned: frozenset[str] = frozenset()
    workloads: Mapping[str, LoadKind] | None = None
    techniques: frozenset[Technique] = frozenset()
    room_c: float | None = None
    accepted_per_h: float = 0.02
    sure: float = SURE
    since: Mapping[str, float] | None = None


@dataclass(frozen=True)
class Change:
    """kind; day: since when (days, any origin); says: what was, and what is; decades: what it does to the rate"""

    kind: ChangeKind
    day: float
    says: Message
    chance: float
    middle: float
    deviation: float
    workload: str = ""


@dataclass(frozen=True)
class Evidence:
    """Hours at the kept setting after it was kept, under a load so much lighter than the heaviest (powers of ten)."""

    day: float
    hours: float
    failures: int = 0
    lighter: float = 0.0
    workload: str = ""
    in_use: bool = False


@dataclass(frozen=True)
class CheckItem:
    """control: at stock; hold: at the setting; gain: runs of a workload at the setting"""

    act: Literal["control", "hold", "gain"]
    workload: str
    minutes: float
    runs: int
    why: Message


# How the proof of a kept setting stands, in the words that every screen shows.
ProofWord = Literal["fresh", "not shown", "stale", "failed in use"]


@dataclass(frozen=True)
class ProofNow:
    """fresh: nothing has to be done; chance: that it holds as accepted, now; required: what it has to be

    changes: that the proof has not been brought back after; failures: in use, since then
    stale: it was shown and something has come since; False where it is not shown yet, or is fresh
    check: the shortest that brings the belief back, in order; settled: whether there is one
    """

    fresh: bool
    chance: float
    required: float
    changes: tuple[Change, ...]
    failures: int
    check: tuple[CheckItem, ...]
    settled: bool
    belief: RateBelief
    stale: bool = False


def changes_since(proof: Circumstances, now: Circumstances, today: float) -> list[Change]:
    """What differs from what was proved, oldest first. What has changed and changed back is not told."""
    found: list[Change] = []
    since = now.since or {}

    def add(kind: ChangeKind, what: str, says: Message, workload: str = "") -> None:
        found.append(Change(kind, since.get(what, today), says, *EFFECTS[kind], workload))

    words: tuple[ChangeKind, ...] = ("driver", "firmware", "system", "cooling", "enclosure")
    for word in words:
        before, after = getattr(proof, word), getattr(now, word)
        if before != after:
            add(word, word, message("changed_from_to", what=word, before=_named(before), after=_named(after)))
    before_parts, after_parts = proof.parts or {}, now.parts or {}
    for place in sorted(before_parts.keys() | after_parts.keys()):
        before, after = before_parts.get(place), after_parts.get(place)
        if before != after:
            kind: ChangeKind = "tuned part" if place in proof.tuned else "part"
            there, now_there = (message("no_part") if part is None else part for part in (before, after))
            add(kind, f"part {place}", message("changed_from_to", what=place, before=there, after=now_there))
    known = proof.workloads or {}
    heaviest = max((STRESS_DECADES[kind] for kind in known.values()), default=-math.inf)
    for name, load in (now.workloads or {}).items():
        if name in known:
            continue
        chance, middle, deviation = EFFECTS["workload"]
        harder = max(0.0, STRESS_DECADES[load] - heaviest) if known else 0.0
        # a heavier kind than was ever tested is not a matter of chance
        chance, middle = (1.0, middle + harder) if harder else (chance, middle)
        day = since.get(f"workload {name}", today)
        says = message("new_since_proof", workload=name)
        found.append(Change("workload", day, says, chance, middle, deviation, name))
    for technique in sorted(now.techniques - proof.techniques):
        add("technique", f"technique {technique}", message("not_in_proof", technique=technique))
    if now.room_c is not None and proof.room_c is not None and now.room_c - proof.room_c >= SEASON_K:
        warmer = now.room_c - proof.room_c
        says = message("warmer_room", room_c=now.room_c, proved_c=proof.room_c)
        moved = DECADES_A_KELVIN * warmer
        found.append(Change("season", since.get("season", today), says, 1.0, moved, moved / 2))
    stricter = now.accepted_per_h < proof.accepted_per_h or now.sure > proof.sure
    if stricter:
        asked, kept_asked = (
            message("accepted_risk", hours=1 / one.accepted_per_h, sure=one.sure * 100) for one in (now, proof)
        )
        says = message("stricter_now", now=asked, kept=kept_asked)
        found.append(Change("risk", since.get("risk", today), says, 0.0, 0.0, 0.0))
    return sorted(found, key=lambda one: one.day)


def proof_now(
    kept: RateBelief,
    proof: Circumstances,
    now: Circumstances,
    evidence: Sequence[Evidence],
    kept_day: float,
    today: float,
    heaviest: str,
    heaviest_minutes: float | None = None,
    controls: Collection[float] = (),
    climb: RateBelief | None = None,
) -> ProofNow:
    """Whether the proof stands, after everything that has happened since, in the order of time.

    kept: the belief frozen when it was kept; heaviest: the load to check with, by name; heaviest_minutes: how long a run of it
    takes, None where it runs as long as it is told; controls: days on which stock was run again
    climb: what the climb believes of the setting now, all evidence counted; None where it is judged in another build. It is the
    belief where no change is open, and what open changes move where nothing was run since the first of them.
    Required is the sureness wished: a setting that was kept with less lacks it from the beginning.
    Fresh: the chance is what is required, no failure in use is open, no workload in use is unmeasured, and after another driver,
    firmware or tuned part it has run `CHECK_MINUTES` under the heaviest load.
    """
    changes = changes_since(proof, now, today)
    required = now.sure
    belief, open_, failures, good = kept, list[Change](), 0, kept_day
    since_change_h = math.inf
    events: list[tuple[float, int, Change | Evidence]] = [(one.day, 0, one) for one in changes]
    # what was run on the day of a change is taken to have been run after it
    events += [(one.day, 1, one) for one in evidence]
    for _, _, event in sorted(events, key=lambda one: one[:2]):
        if isinstance(event, Change):
            belief = belief.moved(event.chance, event.middle, event.deviation)
            open_.append(event)
            if event.kind in CHECKED_AFTER:
                since_change_h = 0.0
            continue
        belief = belief.after(event.hours, event.failures, event.lighter)
        failures += event.failures if event.in_use else 0
        # an hour under a lighter load counts for as much less as it fails less
        since_change_h += event.hours * 10 ** min(event.lighter, 0.0)
        if since_change_h * 60 < CHECK_MINUTES - 1e-6:
            continue
        if belief.chance_within(now.accepted_per_h) >= required - SLACK:
            # a failure in use is answered by a check, not by further use
            open_, failures = [], failures if event.in_use else 0
            good = max(good, event.day)
    if climb and not any(one.day >= change.day for one in evidence for change in open_):
        belief = climb
        for change in open_:
            belief = belief.moved(change.chance, change.middle, change.deviation)
    if aged := _aged(good, today):
        belief = belief.moved(aged.chance, aged.middle, aged.deviation)
        open_.append(aged)
    chance = belief.chance_within(now.accepted_per_h)
    gain = _gain_again(changes, evidence, now.workloads or {})
    unchecked = since_change_h * 60 < CHECK_MINUTES - 1e-6
    fresh = chance >= required - SLACK and not gain and not failures and not unchecked
    if fresh:
        return ProofNow(
            fresh=True,
            chance=chance,
            required=required,
            changes=tuple(open_),
            failures=failures,
            check=(),
            settled=True,
            belief=belief,
        )
    minutes = belief.minutes_to_believe(now.accepted_per_h, required)
    if unchecked:
        minutes = max(minutes, CHECK_MINUTES - 60 * since_change_h)
    stale = bool(open_ or failures or gain)
    check = []
    # what has not changed since it was kept need not be measured at stock again
    if stale and not any(day >= max((one.day for one in changes), default=kept_day) for day in controls):
        check.append(CheckItem("control", heaviest, heaviest_minutes or 10.0, 1, message("first_stock")))
    if 0 < minutes < math.inf:
        why = message("without_failure_again" if stale else "without_failure", sure=required * 100, now=chance * 100)
        runs = max(1, math.ceil(minutes / heaviest_minutes)) if heaviest_minutes else 1
        whole = _round_up(minutes) if heaviest_minutes is None else runs * heaviest_minutes
        check.append(CheckItem("hold", heaviest, whole, runs, why))
    check += gain
    settled = minutes < math.inf
    return ProofNow(
        fresh=False,
        chance=chance,
        required=required,
        changes=tuple(open_),
        failures=failures,
        check=tuple(check),
        settled=settled,
        belief=belief,
        stale=stale,
    )


def _named(text: str) -> str | Message:
    return text or message("not_said")


def _aged(good: float, today: float) -> Change | None:
    """What time alone does, since the belief was last good; nothing within the first half year."""
    years = (today - good) / DAYS_A_YEAR
    if years < AGE_FROM_YEARS:
        return None
    middle, deviation = AGEING
    says = message("months_unchecked", months=years * 12)
    return Change("age", today, says, 1.0, middle * years, deviation * math.sqrt(years))


def _gain_again(
    changes: Sequence[Change], evidence: Sequence[Evidence], workloads: Mapping[str, LoadKind]
) -> list[CheckItem]:
    """Runs that say what the setting gains in a workload that is new; a stress test is no gain, nor is everyday use."""
    found = []
    for change in changes:
        if change.kind != "workload" or workloads.get(change.workload) not in ("title", "benchmark"):
            continue
        done = sum(some.workload == change.workload and not some.in_use for some in evidence if some.day >= change.day)
        if done < GAIN_RUNS:
            found.append(CheckItem("gain", change.workload, 0.0, GAIN_RUNS - done, message("gain_there_not_known")))
    return found


def _round_up(minutes: float) -> float:
    step = 1.0 if minutes < 10 else 5.0 if minutes < 120 else 10.0
    return step * math.ceil(minutes / step - 1e-9)
