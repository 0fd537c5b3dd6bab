"""Corrects a run that was written down wrongly. What stood there before is kept beside it, with the reason."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from trelvo.core.base.problems import Problem, Refused
from trelvo.logbook.acts.runs import RunDraft, check_run
from trelvo.logbook.models import Mark, Run

NAMES = {"outcome": "How it ended", "value": "Result", "duration_s": "Lasted"}
OPEN = ("open", "lost")


@dataclass(frozen=True)
class Correction:
    """What the run says from now on. why: in the words of whoever corrects it"""

    outcome: str
    value: float | None
    duration_s: float | None
    why: str


@transaction.atomic
def correct_run(run: Run, correction: Correction, now: datetime) -> Run:
    """Takes over what differs; every change stays readable as a mark. A run that still goes on is ended, not corrected."""
    if hasattr(run, "live") and run.live.state in OPEN:
        raise Refused(Problem("run", "This run still goes on, or its bench fell silent.", "Say how it ended first."))
    draft = RunDraft(correction.outcome, None, correction.value, correction.duration_s)
    problems = check_run(draft, now, run.variant)
    if correction.outcome == "completed" and correction.value is None and not run.figures.exists():
        problems.append(Problem("value", "A completed run has a result.", "Type it, or say how else it ended."))
    wished: Mapping[str, Any] = {
        "outcome": correction.outcome,
        "value": correction.value,
        "duration_s": correction.duration_s,
    }
    changed = {name: value for name, value in wished.items() if value != getattr(run, name)}
    if not changed and not problems:
        problems.append(Problem("run", "Nothing was changed.", "Correct what was written down wrongly."))
    # an answer to "what happened?" is reason enough by itself, and so is a number where there was none
    answered = run.outcome == "contact lost" and correction.outcome != "contact lost"
    added = all(getattr(run, name) is None for name in changed)
    if len(correction.why.strip()) < 3 and not answered and not added:
        problems.append(
            Problem("why", "A run is not corrected without a reason.", "Say in a few words what was wrong.")
        )
    if problems:
        raise Refused(*problems)
    for name, value in changed.items():
        before, after = _told(getattr(run, name)), _told(value)
        why = f": {correction.why.strip()}" if correction.why.strip() else ""
        text = f"{NAMES[name]} corrected from {before} to {after}{why}"
        Mark.objects.create(run=run, kind=Mark.Kind.CORRECTION, made_at=now, text=text[:1000])
        setattr(run, name, value)
    # what is typed now is no longer the log's
    run.log_figures = [name for name in run.log_figures if name not in changed]
    run.save()
    return run


def _told(value: object) -> str:
    if value is None:
        return "nothing"
    return f"{value:g}" if isinstance(value, float) else str(value)
