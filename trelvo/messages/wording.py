"""Templates of sentences, with the numbers and names that go into them."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from numbers import Integral
from string import Formatter
from typing import Any

from trelvo.core.base.texts import chance_words


@dataclass(frozen=True)
class Wording:
    """Words of a problem. what: what is wrong; todo: what to do about it; both with the names of params in braces

    Behind a colon stands how a param is written: as Python has it (`{share:.1%}`), or one of `FORMS`.
    """

    what: str
    todo: str


def _span(seconds: float) -> str:
    """A length of time in the unit that suits it."""
    if seconds < 120:
        return f"{seconds:.3g} s"
    return f"{seconds / 60:.1f} min" if seconds < 7200 else f"{seconds / 3600:.1f} h"


def _behind(unit: str) -> str:
    """A unit behind its number; nothing where there is none."""
    return f" {unit}" if unit else ""


def _ahead(name: str) -> str:
    """A name ahead of its sentence; nothing where there is none."""
    return f"{name}: " if name else ""


def _changes(changes: Sequence[tuple[str, Any, Any]]) -> str:
    """Fields that hold something else by now: name, what was seen, what it is."""
    return "; ".join(f"{word.replace('_', ' ')} was {_shown(seen)}, now {_shown(now)}" for word, seen, now in changes)


def _shown(value: Any) -> str:
    if value is None or value == "":
        return "empty"
    return f"{value:g}" if isinstance(value, float) else f"“{value}”" if isinstance(value, str) else str(value)


def _ceilings(above: Sequence[tuple[str, float, str]]) -> str:
    """Knobs beyond their ceilings: name, ceiling, unit."""
    return "; ".join(f"{name} stands above its ceiling of {ceiling:g} {unit}" for name, ceiling, unit in above)


def times(runs: int) -> str:
    """How often: once, twice, 3 times."""
    return {1: "once", 2: "twice"}.get(runs, f"{runs} times")


def count(number: int, noun: str) -> str:
    """A number and its noun, in the plural where it is not one."""
    return f"{number} {noun}" if number == 1 else f"{number} {noun}s"


def capital(text: str) -> str:
    """The same text with a capital at its start."""
    return text[:1].upper() + text[1:]


FORMS: Mapping[str, Callable[[Any], str]] = {
    "span": _span, "behind": _behind, "ahead": _ahead, "changes": _changes, "ceilings": _ceilings,
    "times": times, "capital": capital, "lower": str.lower,
    "chance": chance_words, "Chance": lambda share: capital(chance_words(share)),
    "runs": lambda number: count(number, "run"), "workloads": lambda number: count(number, "workload"),
    "knobs": lambda number: count(number, "knob"), "settings": lambda number: count(number, "setting"),
    "conditions": lambda number: count(number, "condition"), "steps": lambda number: count(number, "step"),
}  # fmt: skip


class _Sentences(Formatter):
    def format_field(self, value: Any, format_spec: str) -> str:
        """One of `FORMS`; a list with commas, or what is given, between its parts; the rest as Python writes it, with a true minus."""
        if form := FORMS.get(format_spec):
            return form(value)
        if isinstance(value, tuple | list):
            return (format_spec or ", ").join(str(choice) for choice in value)
        written = str(super().format_field(value, format_spec))
        return written.replace("-", "−") if isinstance(value, int | float) else written


_SENTENCES = _Sentences()


def fill(template: str, params: Mapping[str, Any]) -> str:
    """The template with its params in it. Raises KeyError where one is missing."""
    return _SENTENCES.vformat(template, (), params)


def sendable(value: Any) -> Any:
    """A param as JSON can have it: a path, a moment, or a number that is none, as text."""
    if isinstance(value, tuple | list | set | frozenset):
        return [sendable(one) for one in value]
    if value is None or isinstance(value, str | int) or (isinstance(value, float) and math.isfinite(value)):
        return value
    return int(value) if isinstance(value, Integral) else str(value)


def fields_of(wording: Wording) -> set[str]:
    """The names of the params that its sentences need."""
    return {name for text in (wording.what, wording.todo) for _, name, _, _ in Formatter().parse(text) if name}
