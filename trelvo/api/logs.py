from typing import Annotated, Any, Literal

from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import File, Form, Query, Router, UploadedFile
from pydantic import ValidationError

from trelvo.api.errors import Problems
from trelvo.api.runs import found_run
from trelvo.api.schema import Schema
from trelvo.core.base.figures import PARTS
from trelvo.core.message import Message
from trelvo.core.problems import Refused
from trelvo.core.registry.quantities import FRAME_TIME, QUANTITIES
from trelvo.exchange.field_problems import field_problem
from trelvo.exchange.limits import LOG_BYTES, in_words
from trelvo.exchange.logs.about_run import about_run
from trelvo.exchange.logs.choice import ColumnSeen, LogChoice, headers_mark
from trelvo.exchange.logs.drafting import digest_of, draft_log
from trelvo.exchange.logs.guess import About, guess_choice
from trelvo.exchange.logs.kept_tables import table_of
from trelvo.exchange.logs.remembered import with_memory
from trelvo.exchange.logs.times import TIME_FORMATS
from trelvo.logbook.answers.log_sources import FigureSource, LogRows, rows_of, sources_of
from trelvo.logbook.answers.series_points import SeriesPoints, points_of
from trelvo.logbook.commands.log_doubts import doubts_of
from trelvo.logbook.commands.logs import Supplied, attach_log, remember_choice, remembered_choice, supplied
from trelvo.logbook.models import Series
from trelvo.messages.problems import problem_text

router = Router(tags=["logs"])

PREVIEW_ROWS = 8


class LogPreview(Schema):
    """What was found in the file, and what its columns probably are, each with the reason and what has to be answered first."""

    headers: list[str]
    first_rows: list[list[str]]
    first_row_number: int
    rows: int
    cut_short: bool
    notes: tuple[Message, ...]
    choice: LogChoice
    remembered: bool
    asks_tuned: bool
    columns: list[ColumnSeen]


class LogOptions(Schema):
    """What can be said of a column, and how large a log may be."""

    units: dict[str, list[str]]
    frame_units: list[str]
    time_formats: list[str]
    parts: list[str]
    most_bytes: int
    most_words: str


class StretchOut(Schema):
    """Where in a log the part was loaded, in seconds from its start; of_s: what the log covers; by: the channel that tells it"""

    from_s: float
    to_s: float
    of_s: float
    by: str


class LogCheck(Schema):
    """Figures that the log supplies, with what had been typed. stored: whether the log is now beside its run.

    covers_s, every_s: how long the part of the log is that counts, and how far apart its readings are in the middle
    stretch: where the part was loaded, None where all of the log counts
    doubts: what does not go with the rest of the run; it is stored only once the user says that it is right
    """

    stored: bool
    rows: int
    covers_s: float
    every_s: float
    doubts: list[str]
    figures: list[Supplied]
    summary: dict[str, Any]
    stretch: StretchOut | None


@router.get("/logs/options", response=LogOptions)
def log_options(request: HttpRequest) -> LogOptions:
    """Quantities with their units."""
    return LogOptions(
        units={quantity: list(kind.units()) for quantity, kind in QUANTITIES.items()},
        frame_units=list(FRAME_TIME.units()),
        time_formats=list(TIME_FORMATS),
        parts=list(PARTS),
        most_bytes=LOG_BYTES,
        most_words=in_words(LOG_BYTES),
    )


@router.post("/logs/preview", response={200: LogPreview, 413: Problems, 422: Problems})
def preview_log(
    request: HttpRequest,
    file: File[UploadedFile],
    separator: Form[str | None] = None,
    decimal: Form[str | None] = None,
    run_id: Form[int | None] = None,
    tuned: Form[Literal["", "graphics", "processor"]] = "",
) -> LogPreview:
    """Reads a log and offers what its columns are: told by names, units and numbers, and by what was said last time.

    run_id: the run it is for, whose length and tuned part help; tuned: the part that is tuned, where the user says it
    """
    table = table_of(file.read(), separator or None, decimal or None)
    run = found_run(run_id) if run_id else None
    about, instruments = about_run(run) if run else (None, frozenset())
    if tuned:
        about = About(tuned, about.expects_s if about else None)
    guess = guess_choice(table, about)
    headers = table.layout.headers
    own = _remembered(headers_mark(headers, str(run.campaign.uid))) if run else None
    kept = own or _remembered(headers_mark(headers))
    if kept and not tuned:
        guess = with_memory(table, guess, kept, instruments, same_campaign=own is not None)
    return LogPreview(
        headers=list(table.layout.headers),
        first_rows=[[column[i] or "" for column in table.columns] for i in range(min(PREVIEW_ROWS, table.rows))],
        first_row_number=table.line(0),
        rows=table.rows,
        cut_short=table.cut_short is not None,
        notes=table.layout.notes,
        choice=guess.choice,
        remembered=kept is not None,
        asks_tuned=guess.asks_tuned,
        columns=guess.seen,
    )


def _remembered(mark: str) -> LogChoice | None:
    """What was said of these headers; nothing where it was said in words of an earlier version."""
    kept = remembered_choice(mark)
    try:
        return LogChoice.model_validate(kept) if kept else None
    except ValidationError:
        return None


@router.post("/runs/{int:run_id}/logs", response={200: LogCheck, 404: Problems, 413: Problems, 422: Problems})
def add_log(
    request: HttpRequest,
    run_id: int,
    file: File[UploadedFile],
    choice: Form[str],
    take_over: Form[str] = "",
    store: Form[bool] = False,
    sure: Form[bool] = False,
) -> LogCheck:
    """Reads a log in full as chosen; answers its figures, and stores it only when asked to.

    choice: a LogChoice as JSON; take_over: marks of typed figures that the log's replace, separated by commas
    sure: the user has seen the doubts and says that the log is right
    """
    run = found_run(run_id)
    try:
        chosen = LogChoice.model_validate_json(choice)
    except ValidationError as trouble:
        first = trouble.errors()[0]
        raise Refused(field_problem(first, ".".join(str(word) for word in first["loc"]) or "choice")) from trouble
    data = file.read()
    table = table_of(data, chosen.separator, chosen.decimal)
    draft = draft_log(table, chosen, file.name or "log", run.variant.measure, digest_of(data))
    figures = supplied(run, draft.figures)
    doubts = doubts_of(run, draft, figures)
    if store and doubts and not sure:
        raise Refused(*doubts)
    if store:
        with transaction.atomic():
            attach_log(run, draft, [field for field in take_over.split(",") if field], timezone.now())
            for mark in (headers_mark(table.layout.headers, str(run.campaign.uid)), headers_mark(table.layout.headers)):
                remember_choice(mark, chosen.model_dump(mode="json"), timezone.now())
    return LogCheck(
        stored=store,
        rows=draft.rows,
        covers_s=draft.figures.duration_s,
        every_s=draft.every_s,
        doubts=[problem_text(doubt).what for doubt in doubts],
        figures=figures,
        summary=draft.summary,
        stretch=StretchOut(**found) if (found := draft.summary.get("stretch")) else None,
    )


@router.get("/runs/{int:run_id}/log-figures", response={200: list[FigureSource], 404: Problems})
def log_figures(request: HttpRequest, run_id: int) -> list[FigureSource]:
    """Every figure of a run that came from a log, with the rows it rests on."""
    return sources_of(found_run(run_id))


@router.get("/series/{int:series_id}/rows", response={200: LogRows, 404: Problems})
def show_rows(
    request: HttpRequest,
    series_id: int,
    first_row: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    most: Annotated[int, Query(ge=1, le=500)] = 50,
) -> LogRows:
    """Rows of a kept log as they stood in the file, with their lines there."""
    return rows_of(get_object_or_404(Series, pk=series_id), first_row, most)


@router.get("/series/{int:series_id}", response={200: SeriesPoints, 404: Problems})
def show_series(
    request: HttpRequest,
    series_id: int,
    most: Annotated[int, Query(ge=4, le=20_000)] = 1500,
    from_s: Query[float | None] = None,
    to_s: Query[float | None] = None,
) -> SeriesPoints:
    """Points of a kept log, at most `most` a channel, of the whole or of a stretch of time."""
    return points_of(get_object_or_404(Series, pk=series_id), most, from_s, to_s)
