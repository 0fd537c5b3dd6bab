"""Keeps a log beside its run and takes over the figures the user wants from it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from trelvo.core.base.figures import name_of
from trelvo.core.logs.figures import Figures, LoggedFigure
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import QUANTITIES, Quantity
from trelvo.logbook.commands.runs import FigureDraft, store_figures
from trelvo.logbook.kept_logs import first_pass_columns
from trelvo.logbook.models import ColumnMapping, Figure, Run, Series
from trelvo.logbook.rows.log_draft import OWN, LogDraft
from trelvo.logbook.tokens import campaign_changed


@dataclass(frozen=True)
class Supplied:
    """A figure that a log supplies beside what the run has of it. mark: names it in a choice; typed: None where nothing was"""

    mark: str
    name: str
    unit: str
    decimals: int
    value: float
    typed: float | None
    quantity: Quantity | None = None


def supplied(run: Run, figures: Figures) -> list[Supplied]:
    """The figures that a log supplies, each with what had been typed for it."""
    found = []
    for field, name, unit, decimals in OWN:
        if (value := getattr(figures, field)) is not None:
            had = getattr(run, field)
            found.append(
                Supplied(field, name, unit or (run.variant.unit if field == "value" else ""), decimals, value, had)
            )
    kept = list(run.figures.filter(replaced=False).select_related("instrument"))
    for other in figures.others:
        rival = _rival(other, kept)
        kind = QUANTITIES[other.key.quantity]
        typed = rival.value if rival else None
        quantity = other.key.quantity
        found.append(
            Supplied(mark_of(other), name_of(other.key), kind.unit, kind.decimals, other.value, typed, quantity)
        )
    return found


def mark_of(figure: LoggedFigure) -> str:
    """Names a log's figure in a choice: its word, and its instrument where several read it."""
    by = f"@{figure.instrument_id}" if figure.instrument_id is not None else ""
    return f"{figure.key.word}{by}" if by or figure.point == "unknown" else f"{figure.key.word}@{figure.point}"


def _rival(one: LoggedFigure, kept: Sequence[Figure]) -> Figure | None:
    """What the run has of this figure already: by the same instrument, or by nobody in particular on either side."""
    for figure in kept:
        if figure.key != one.key:
            continue
        if one.instrument_id is not None:
            same = figure.instrument_id == one.instrument_id
        elif figure.instrument is not None and one.point != "unknown":
            same = figure.instrument.as_instrument().point == one.point
        else:
            same = figure.instrument is None or one.point == "unknown"
        if same or figure.instrument is None:
            return figure
    return None


@transaction.atomic
def attach_log(run: Run, draft: LogDraft, take_over: Sequence[str], now: datetime, source: str = "log") -> Series:
    """Stores the log and fills the run's empty figures from it.

    take_over: marks of figures that had been typed and that the log's replaces; what had been typed is kept beside it
    """
    given = {one.mark: one for one in supplied(run, draft.figures)}
    if unknown := [mark for mark in take_over if mark not in given]:
        raise Refused(Problem("take_over", "log_lacks_figures", {"unknown": tuple(unknown)}))
    series = Series.objects.create(
        run=run,
        kind=draft.kind,
        file_name=draft.file_name[:200],
        rows=draft.rows,
        channels=_by_name(run, draft.channels),
        summary=draft.summary,
        parquet=draft.parquet,
        digest=draft.digest,
        added_at=now,
        **first_pass_columns(draft.kind, draft.parquet, draft.channels, draft.summary),
    )
    taken = {mark for mark, one in given.items() if one.typed is None or mark in take_over}
    for field in [field for field, *_ in OWN if field in taken]:
        if given[field].typed is not None and field not in run.log_figures:
            run.typed[field] = given[field].typed
        setattr(run, field, given[field].value)
    run.log_figures = sorted({*run.log_figures, *(field for field, *_ in OWN if field in taken)})
    run.save()
    kept = list(run.figures.filter(replaced=False).select_related("instrument"))
    new = []
    for other in draft.figures.others:
        if mark_of(other) not in taken:
            continue
        if rival := _rival(other, kept):
            rival.replaced = True
            rival.save(update_fields=["replaced"])
        new.append(FigureDraft(other.key, other.value, other.instrument_id, other.point))
    store_figures(run, run.campaign.rig, new, source)
    campaign_changed(run.campaign_id)
    return series


def _by_name(run: Run, channels: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Columns with their instruments by the name that they keep in another database."""
    wanted = {one["instrument_id"] for one in channels if one.get("instrument_id")}
    rows = run.campaign.rig.instruments.filter(pk__in=wanted) if wanted else ()
    uids = {row.pk: str(row.uid) for row in rows}
    kept = [{key: value for key, value in one.items() if key != "instrument_id"} for one in channels]
    for one, channel in zip(kept, channels, strict=True):
        if uid := uids.get(channel.get("instrument_id") or 0):
            one["instrument"] = uid
    return kept


@transaction.atomic
def remember_choice(headers_mark: str, choice: dict[str, Any], now: datetime) -> None:
    """Keeps what these headers meant, for the next log of the same program."""
    ColumnMapping.objects.update_or_create(headers=headers_mark, defaults={"choice": choice, "used_at": now})


def remembered_choice(headers_mark: str) -> dict[str, Any] | None:
    found = ColumnMapping.objects.filter(headers=headers_mark).first()
    return dict(found.choice) if found else None
