"""Every problem in words: what is wrong, and what to do. One module for each subject."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from trelvo.core.problems import Problem, Refused
from trelvo.messages.problems import (
    access,
    bench,
    campaigns,
    climb,
    compare,
    fields,
    figures,
    files,
    keep,
    laws,
    logs,
    quick_line,
    requests,
    runs,
)
from trelvo.messages.wording import Wording, fill, sendable

SUBJECTS = (
    access, bench, campaigns, climb, compare, fields, figures, files, keep, laws, logs, quick_line, requests, runs,
)  # fmt: skip
WORDINGS: dict[str, Wording] = {code: wording for subject in SUBJECTS for code, wording in subject.WORDINGS.items()}


@dataclass(frozen=True)
class ProblemText:
    """A problem in words. where: the field; what: what is wrong; todo: what to do; code, params: what a program goes by"""

    where: str
    what: str
    todo: str
    code: str
    params: Mapping[str, Any]


def problem_text(problem: Problem) -> ProblemText:
    """A problem with its sentences."""
    wording = WORDINGS[problem.code]
    what, todo = fill(wording.what, problem.params), fill(wording.todo, problem.params)
    params = {name: sendable(value) for name, value in problem.params.items()}
    return ProblemText(problem.where, what, todo, problem.code, params)


def problems_body(*problems: Problem) -> dict[str, list[dict[str, Any]]]:
    """What the API answers to a request that it refuses."""
    return {"problems": [asdict(problem_text(problem)) for problem in problems]}


def refusal_text(refused: Refused) -> str:
    """What is wrong and what to do, in one text, for where there is no form with fields."""
    texts = [problem_text(problem) for problem in refused.problems]
    return " ".join(f"{text.what} {text.todo}".strip() for text in texts)
