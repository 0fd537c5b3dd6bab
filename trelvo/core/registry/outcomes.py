"""Outcomes of a run: one typed row for each, with everything that other modules need to know about it.

Forms, tables, the quick line, the triage and the stepwise climb read this table. Common practice where no source is named.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal

Outcome = Literal[
    "completed", "artifacts", "program crash", "system crash", "no start", "safety limit", "stopped by hand",
    "connection lost",
]  # fmt: skip


@dataclass(frozen=True)
class OutcomeFacts:
    """Everything about one outcome.

    key: chooses it in the form; short: its name; meaning: what it says, completing the name
    failed: whether the setting failed; steps_back: how many steps of the knob last turned one goes back after it: the harder the
    failure, the further
    line_word: its word in a quick line; said_as: what people type instead
    """

    outcome: Outcome
    key: str
    short: str
    meaning: str
    failed: bool
    steps_back: int
    line_word: str
    said_as: tuple[str, ...] = ()


_ROWS: tuple[OutcomeFacts, ...] = (
    OutcomeFacts(
        "completed", "1", "Completed", "ran to the end, nothing unusual", False, 0, "ok",
        ("completed", "pass", "passed", "fine", "good", "stable", "survived", "done"),
    ),
    OutcomeFacts(
        "artifacts", "2", "Artifacts", "ran on, but with wrong results, speckles or stutter: just over the limit", True, 1,
        "odd", ("artifacts", "artefacts", "speckles", "flicker", "stutter"),
    ),
    OutcomeFacts(
        "program crash", "3", "Program crash", "only the program ended: close to the limit", True, 2, "closed",
    ),
    OutcomeFacts(
        "system crash", "4", "System crash", "the whole machine hung or restarted: well over the limit", True, 3, "down",
        ("froze", "frozen", "freeze", "hang", "hung", "reboot", "rebooted", "restarted", "bluescreen", "bsod"),
    ),
    OutcomeFacts(
        "no start", "5", "No start", "black screen or no start at all: far over the limit", True, 5, "nostart",
        ("blackscreen", "noboot", "nopost"),
    ),
    OutcomeFacts(
        "safety limit", "6", "Safety limit", "a limit was reached and the run was stopped; says nothing about stability",
        False, 0, "safety", ("rail",),
    ),
    OutcomeFacts(
        "stopped by hand", "7", "Stopped by hand", "someone ended it before its time; says nothing about stability", False, 0,
        "stopped",
    ),
    OutcomeFacts(
        "connection lost", "8", "Connection lost", "the log breaks off; what happened is not yet known", False, 0, "lost",
    ),
)  # fmt: skip
OUTCOMES: Mapping[Outcome, OutcomeFacts] = MappingProxyType({row.outcome: row for row in _ROWS})
FAILURES: frozenset[Outcome] = frozenset(row.outcome for row in _ROWS if row.failed)
