"""Keeps a log beside its run and takes over the figures the user wants from it."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any

from django.db import transaction

from trelvo.core.base.problems import Problem, Refused
from trelvo.core.measure.logs import Figures
from trelvo.logbook.models import ColumnMapping, Run, Series
from trelvo.logbook.rows.log_draft import LogDraft


def figures_given(figures: Figures) -> dict[str, float]:
    """The figures that the log supplies, by the run's field names."""
    return {field: figure for field, figure in asdict(figures).items() if figure is not None}


def conflicts(run: Run, figures: Figures) -> dict[str, float]:
    """Figures that the log supplies and the run already has, with what the run has."""
    return {field: getattr(run, field) for field in figures_given(figures) if getattr(run, field) is not None}


@transaction.atomic
def attach_log(run: Run, draft: LogDraft, take_over: Sequence[str], now: datetime) -> Series:
    """Stores the log and fills the run's empty figures from it.

    take_over: fields that had been typed and that the log's figure replaces; what had been typed is kept in `run.typed`
    """
    given = figures_given(draft.figures)
    if unknown := [field for field in take_over if field not in given]:
        raise Refused(Problem("take_over", f"The log says nothing about {', '.join(unknown)}.", "Leave it out."))
    had = conflicts(run, draft.figures)
    series = Series.objects.create(
        run=run,
        kind=draft.kind,
        file_name=draft.file_name[:200],
        rows=draft.rows,
        channels=draft.channels,
        summary=draft.summary,
        parquet=draft.parquet,
        added_at=now,
    )
    taken = [field for field in given if field not in had or field in take_over]
    for field in taken:
        if field in had and field not in run.log_figures:
            run.typed[field] = had[field]
        setattr(run, field, given[field])
    if "power_w" in taken:
        if "power_w" in run.typed:
            run.typed["power_point"] = run.power_point
        run.power_point = draft.power_point
    run.log_figures = sorted({*run.log_figures, *taken})
    run.save()
    return series


@transaction.atomic
def remember_choice(headers_mark: str, choice: dict[str, Any], now: datetime) -> None:
    """Keeps what these headers meant, for the next log of the same program."""
    ColumnMapping.objects.update_or_create(headers=headers_mark, defaults={"choice": choice, "used_at": now})


def remembered_choice(headers_mark: str) -> dict[str, Any] | None:
    found = ColumnMapping.objects.filter(headers=headers_mark).first()
    return dict(found.choice) if found else None
