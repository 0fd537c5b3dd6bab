from typing import Annotated, Any

import numpy as np
from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import File, Form, Query, Router, Schema, UploadedFile
from pydantic import ValidationError

from trelvo.api.errors import Problems
from trelvo.api.runs import found_run
from trelvo.core.base.figures import KINDS
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.measure.telemetry import thin_keeping_extremes
from trelvo.exchange.limits import LOG_BYTES, in_words
from trelvo.exchange.logs.choice import LogChoice, guess_choice, headers_mark
from trelvo.exchange.logs.drafting import draft_log
from trelvo.exchange.logs.quantities import FRAME_TIME, TIME_FORMATS
from trelvo.exchange.logs.text_table import read_table
from trelvo.logbook.acts.logs import Supplied, attach_log, remember_choice, remembered_choice, supplied
from trelvo.logbook.models import Series
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, from_parquet

router = Router(tags=["logs"])

PREVIEW_ROWS = 8


class LogPreview(Schema):
    """What was found in the file, and what its columns probably are."""

    headers: list[str]
    first_rows: list[list[str]]
    first_row_number: int
    rows: int
    cut_short: bool
    notes: list[str]
    choice: LogChoice
    remembered: bool


class LogOptions(Schema):
    """What can be said of a column, and how large a log may be."""

    units: dict[str, list[str]]
    frame_units: list[str]
    time_formats: list[str]
    most_bytes: int
    most_words: str


class LogCheck(Schema):
    """Figures that the log supplies, with what had been typed. stored: whether the log is now beside its run.

    covers_s, every_s: how long the log runs, and how far apart its readings are in the middle
    """

    stored: bool
    rows: int
    covers_s: float
    every_s: float
    figures: list[Supplied]
    summary: dict[str, Any]


class SeriesPoints(Schema):
    """A kept log for a chart: each channel's points, thinned by keeping every stretch's lowest and highest reading."""

    id: int
    kind: str
    file_name: str
    rows: int
    first_s: float
    last_s: float
    channels: list["ChannelPoints"]


class ChannelPoints(Schema):
    name: str
    quantity: str
    unit: str
    time_s: list[float]
    values: list[float]


@router.get("/logs/options", response=LogOptions)
def log_options(request: HttpRequest) -> LogOptions:
    """Quantities with their units."""
    return LogOptions(
        units={quantity: list(kind.units()) for quantity, kind in KINDS.items()},
        frame_units=list(FRAME_TIME.units()),
        time_formats=list(TIME_FORMATS),
        most_bytes=LOG_BYTES,
        most_words=in_words(LOG_BYTES),
    )


@router.post("/logs/preview", response={200: LogPreview, 413: Problems, 422: Problems})
def preview_log(
    request: HttpRequest,
    file: File[UploadedFile],
    separator: Form[str | None] = None,
    decimal: Form[str | None] = None,
) -> LogPreview:
    """Reads a log and offers what its columns are: what was said last time for these headers, or a guess."""
    table = read_table(file.read(), separator or None, decimal or None)
    guess = guess_choice(table)
    kept = remembered_choice(headers_mark(table.layout.headers))
    if kept:
        guess = LogChoice(**{**kept, "separator": table.layout.separator, "decimal": table.layout.decimal})
    return LogPreview(
        headers=list(table.layout.headers),
        first_rows=[[column[i] or "" for column in table.columns] for i in range(min(PREVIEW_ROWS, table.rows))],
        first_row_number=table.layout.row_number(0),
        rows=table.rows,
        cut_short=table.cut_short is not None,
        notes=list(table.layout.notes),
        choice=guess,
        remembered=kept is not None,
    )


@router.post("/runs/{int:run_id}/logs", response={200: LogCheck, 404: Problems, 413: Problems, 422: Problems})
def add_log(
    request: HttpRequest,
    run_id: int,
    file: File[UploadedFile],
    choice: Form[str],
    take_over: Form[str] = "",
    store: Form[bool] = False,
) -> LogCheck:
    """Reads a log in full as chosen; answers its figures, and stores it only when asked to.

    choice: a LogChoice as JSON; take_over: marks of typed figures that the log's replace, separated by commas
    """
    run = found_run(run_id)
    try:
        chosen = LogChoice.model_validate_json(choice)
    except ValidationError as trouble:
        first = trouble.errors()[0]
        where = ".".join(str(word) for word in first["loc"]) or "choice"
        raise Refused(Problem(where, f"{first['msg']}.", "Choose again.")) from trouble
    table = read_table(file.read(), chosen.separator, chosen.decimal)
    draft = draft_log(table, chosen, file.name or "log", run.variant.measure)
    figures = supplied(run, draft.figures)
    if store:
        with transaction.atomic():
            attach_log(run, draft, [field for field in take_over.split(",") if field], timezone.now())
            remember_choice(headers_mark(table.layout.headers), chosen.model_dump(mode="json"), timezone.now())
    return LogCheck(
        stored=store,
        rows=draft.rows,
        covers_s=draft.figures.duration_s,
        every_s=draft.every_s,
        figures=figures,
        summary=draft.summary,
    )


@router.get("/series/{int:series_id}", response={200: SeriesPoints, 404: Problems})
def show_series(
    request: HttpRequest,
    series_id: int,
    most: Annotated[int, Query(ge=4, le=20_000)] = 1500,
    from_s: Query[float | None] = None,
    to_s: Query[float | None] = None,
) -> SeriesPoints:
    """Points of a kept log, at most `most` a channel, of the whole or of a stretch of time."""
    series = get_object_or_404(Series, pk=series_id)
    columns = from_parquet(bytes(series.parquet))
    time_s = columns[TIME_COLUMN]
    first, last = np.searchsorted(time_s, [-np.inf if from_s is None else from_s, np.inf if to_s is None else to_s])
    # one reading more on either side, so that a line goes on to the edge of the chart
    part = slice(max(int(first) - 1, 0), int(last) + 1)
    t = time_s[part]
    channels = []
    for channel in series.channels:
        values = columns[channel["column"]][part]
        keep = thin_keeping_extremes(values, most)
        channels.append(
            ChannelPoints(
                name=channel["header"],
                quantity=channel["quantity"],
                unit=channel["unit"],
                time_s=t[keep].tolist(),
                values=values[keep].tolist(),
            )
        )
    return SeriesPoints(
        id=series.pk,
        kind=series.kind,
        file_name=series.file_name,
        rows=series.rows,
        first_s=float(time_s[0]) if time_s.size else 0.0,
        last_s=float(time_s[-1]) if time_s.size else 0.0,
        channels=channels,
    )
