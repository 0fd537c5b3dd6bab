"""How the core says that something cannot be: what is wrong, where, and what to do."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """One thing that is wrong.

    where: the field, or row and column, as the user knows it ("knobs.0.step", "row 12, column temp")
    what: what is wrong, one sentence
    todo: what to do about it, one sentence
    code: what a program tells it by; empty where none has to
    """

    where: str
    what: str
    todo: str
    code: str = ""

    def __str__(self) -> str:
        return f"{self.where}: {self.what} {self.todo}".strip()


class Refused(ValueError):
    """Input that cannot be accepted. Nothing has been stored when this is raised."""

    def __init__(self, *problems: Problem) -> None:
        if not problems:
            raise ValueError("a refusal needs at least one problem")
        super().__init__("; ".join(str(problem) for problem in problems))
        self.problems = problems

    @property
    def words(self) -> str:
        """What is wrong and what to do, for where there is no form with fields."""
        return " ".join(f"{problem.what} {problem.todo}" for problem in self.problems)
