"""How the core says that something cannot be: where, a code, and the numbers and names that belong to it."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Self


@dataclass(frozen=True)
class Problem:
    """One thing that is wrong. `trelvo.messages.problems` says it in words.

    where: the field, or row and column, as the user knows it ("knobs.0.step", "row 12, column temp")
    params: numbers and names for the sentence; a tuple is a list of choices
    """

    where: str
    code: str
    params: Mapping[str, Any] = field(default_factory=dict)

    def within(self, place: str) -> Self:
        """The same problem, of something that is itself a field of something larger."""
        return replace(self, where=f"{place}.{self.where}")


class Refused(ValueError):
    """Input that cannot be accepted. Nothing has been stored when this is raised."""

    def __init__(self, *problems: Problem) -> None:
        if not problems:
            raise ValueError("a refusal needs at least one problem")
        super().__init__("; ".join(f"{problem.where}: {problem.code} {dict(problem.params)}" for problem in problems))
        self.problems = problems
