"""Corrects a run that was written down wrongly. What stood there before is kept beside it, with the reason."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db import transaction

from trelvo.core.base.figures import name_of
from trelvo.core.base.knobs import describe_setting
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.logbook.commands.runs import FigureDraft, RunDraft, check_run, store_figures
from trelvo.logbook.models import Figure, Mark, Run, Setting, Variant
from trelvo.logbook.rows.lookups import knobs_of, testable
from trelvo.logbook.tokens import campaign_changed

NAMES = {
    "outcome": "How it ended", "value": "Result", "duration_s": "Lasted", "started_at": "Began", "fan": "Fan",
    "setting": "Setting", "variant": "Workload",
}  # fmt: skip
OPEN = ("open", "lost")


@dataclass(frozen=True)
class FigureFix:
    """A figure of the run as it should be. value: None takes it away"""

    figure_id: int
    value: float | None


@dataclass(frozen=True)
class Correction:
    """What the run says from now on. changes: by field of the run, what is left out stays; added: figures that were missing

    why: in the words of whoever corrects it
    """

    changes: Mapping[str, Any] = field(default_factory=dict)
    why: str = ""
    figures: Sequence[FigureFix] = ()
    added: Sequence[FigureDraft] = ()


@transaction.atomic
def correct_run(run: Run, correction: Correction, now: datetime) -> Run:
    """Takes over what differs; every change stays readable as a mark. A run that still goes on is ended, not corrected."""
    if hasattr(run, "live") and run.live.state in OPEN:
        raise Refused(Problem("run", "run_not_ended"))
    changed = {name: value for name, value in correction.changes.items() if value != getattr(run, name)}
    figures = {figure.pk: figure for figure in run.figures.filter(replaced=False)}
    fixes = [
        fix for fix in correction.figures if fix.figure_id not in figures or figures[fix.figure_id].value != fix.value
    ]
    problems = _problems(run, changed, fixes, correction, figures, now)
    if problems:
        raise Refused(*problems)
    why = f": {correction.why.strip()}" if correction.why.strip() else ""
    for name, value in changed.items():
        before, after = _told(run, getattr(run, name)), _told(run, value)
        _note(run, f"{NAMES[name]} corrected from {before} to {after}{why}", now)
        setattr(run, name, value)
    for fix in fixes:
        _fix(run, figures[fix.figure_id], fix.value, why, now)
    for one in correction.added:
        _note(run, f"{name_of(one.key)} added: {one.value:g} {QUANTITIES[one.key.quantity].unit}{why}", now)
    store_figures(run, run.campaign.rig, correction.added)
    # what is typed now is no longer the log's
    run.log_figures = [name for name in run.log_figures if name not in changed]
    run.save()
    campaign_changed(run.campaign_id)
    return run


def _problems(
    run: Run,
    changed: Mapping[str, Any],
    fixes: Sequence[FigureFix],
    correction: Correction,
    figures: Mapping[int, Figure],
    now: datetime,
) -> list[Problem]:
    def wished(name: str) -> Any:
        return changed.get(name, getattr(run, name))

    there = {fix.figure_id: fix.value for fix in fixes}
    left = [
        FigureDraft(one.key, value, one.instrument_id)
        for pk, one in figures.items()
        if (value := there.get(pk, one.value)) is not None
    ]
    # a log's own time may lie ahead of this machine's clock; only what is typed now is looked at
    begun = changed.get("started_at")
    draft = RunDraft(
        wished("outcome"), begun, wished("value"), wished("duration_s"), figures=[*left, *correction.added]
    )
    problems = check_run(draft, now, wished("variant"))
    if wished("outcome") == "completed" and wished("value") is None and not draft.figures:
        problems.append(Problem("value", "completed_without_result"))
    if wished("setting").campaign_id != run.campaign_id:
        problems.append(Problem("setting_id", "setting_of_other_campaign"))
    if "variant" in changed and changed["variant"] not in testable(run.campaign):
        problems.append(Problem("workload_id", "workload_not_of_campaign"))
    problems += [Problem("figures", "no_such_figure") for fix in fixes if fix.figure_id not in figures]
    if not changed and not fixes and not correction.added and not problems:
        problems.append(Problem("run", "nothing_corrected"))
    # an answer to "what happened?" is reason enough by itself, and so is a number where there was none
    answered = run.outcome == "connection lost" and wished("outcome") != "connection lost"
    only_added = not fixes and all(getattr(run, name) is None for name in changed)
    if len(correction.why.strip()) < 3 and not answered and not only_added:
        problems.append(Problem("why", "correction_without_reason"))
    return problems


def _fix(run: Run, figure: Figure, value: float | None, why: str, now: datetime) -> None:
    """The figure as it stood stays, marked as replaced."""
    unit = QUANTITIES[figure.key.quantity].unit
    after = "nothing" if value is None else f"{value:g} {unit}"
    _note(run, f"{name_of(figure.key)} corrected from {figure.value:g} {unit} to {after}{why}", now)
    figure.replaced = True
    figure.save(update_fields=["replaced"])
    if value is not None:
        store_figures(run, run.campaign.rig, [FigureDraft(figure.key, value, figure.instrument_id)])


def _note(run: Run, text: str, now: datetime) -> None:
    Mark.objects.create(run=run, kind=Mark.Kind.CORRECTION, made_at=now, text=text[:1000])


def _told(run: Run, value: object) -> str:
    if value is None:
        return "nothing"
    if isinstance(value, Setting):
        return describe_setting(knobs_of(run.campaign), value.values)
    if isinstance(value, Variant):
        return value.in_full()
    if isinstance(value, datetime):
        return f"{value:%Y-%m-%d %H:%M} UTC"
    return f"{value:g}" if isinstance(value, float) else str(value)
