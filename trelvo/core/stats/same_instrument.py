"""Readings that may be compared with each other: those that the same instruments took on both sides.

Two instruments differ by more than most settings do (common practice), and one takes another's place in the middle of a campaign.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Final, Literal

from trelvo.core.base.runs import RunFacts

# Figures that are only compared where the same instruments read them, by their words.
WATTS: Final = ("power_w",)
DEGREES: Final = ("temp_max_c", "room_c")
LOUD: Final = ("noise_dba",)
# Who read each of some figures, by name; empty where it was not said.
Readers = tuple[str, ...]
ByReaders = Mapping[Readers, Sequence[RunFacts]]
Lacking = Literal["", "before", "after"]


def by_readers(runs: Iterable[RunFacts], words: Sequence[str]) -> dict[Readers, list[RunFacts]]:
    """Runs in which all of some figures (by their words) were read, by who read them."""
    found: dict[Readers, list[RunFacts]] = defaultdict(list)
    for run in runs:
        if all(getattr(run, word) is not None for word in words):
            found[readers_of(run, words)].append(run)
    return dict(found)


def readers_of(run: RunFacts, words: Sequence[str]) -> Readers:
    return tuple(run.read_by.get(word, "") for word in words)


def read_on_both(before: ByReaders, after: ByReaders) -> Readers | None:
    """Of those who read both sides, who read most on the side that has fewer, and of several the latest; None: nobody did.

    Named instruments come before readings of which nobody said who took them.
    """
    both = before.keys() & after.keys()

    def worth(readers: Readers) -> tuple[int, int, tuple[float, int], Readers]:
        sides = before[readers], after[readers]
        named = sum(name != "" for name in readers)
        return named, min(len(side) for side in sides), max(_last(side) for side in sides), readers

    return max(both, key=worth, default=None)


def usual(found: ByReaders) -> Readers | None:
    """Who took most readings."""
    return max(found, key=lambda readers: (len(found[readers]), readers), default=None)


def in_use(found: ByReaders) -> Readers | None:
    """Who took the newest reading."""
    return max(found, key=lambda readers: (_last(found[readers]), readers), default=None)


def lacking(before: ByReaders, after: ByReaders, now: Readers | None) -> Lacking:
    """The side without a reading by those in use now; empty where somebody read both sides, or one side has no reading."""
    if not before or not after or before.keys() & after.keys():
        return ""
    return "after" if now in before else "before"


def _last(runs: Sequence[RunFacts]) -> tuple[float, int]:
    return max((run.started_h, run.id) for run in runs)
