"""The logbook: all runs of all campaigns, filtered, sorted and paged."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db.models import Exists, F, OuterRef, Q, QuerySet, Subquery

from trelvo.core.base.figures import BY_WORD
from trelvo.core.base.knobs import Knob, describe_setting
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import Figure, KnobRow, Run, Series

# What a page can be sorted by besides figures: the column as the database knows it.
SORTS = {
    "started_at": "started_at", "value": "value", "duration_s": "duration_s", "rig": "campaign__rig__name",
    "campaign": "campaign__name", "workload": "variant__workload__name", "outcome": "outcome",
}  # fmt: skip
MOST_ON_A_PAGE = 200


@dataclass(frozen=True)
class Asked:
    """What is asked of the logbook. Filters left out let everything through; text is looked for in names and notes.

    sort: one of `SORTS` or a figure's word; aside: set aside or not; with_log: with a log beside it or not
    """

    text: str = ""
    rig_id: int | None = None
    campaign_id: int | None = None
    workload_id: int | None = None
    setting_id: int | None = None
    outcome: str = ""
    since: datetime | None = None
    until: datetime | None = None
    aside: bool | None = None
    with_log: bool | None = None
    sort: str = "started_at"
    falling: bool = True


@dataclass(frozen=True)
class LoggedRun:
    """A line of the logbook. figures: by word, as they were read"""

    id: int
    campaign_id: int
    campaign: str
    rig: str
    setting_id: int
    setting: str
    workload: str
    options: str
    unit: str
    build: int
    started_at: datetime
    outcome: str
    value: float | None
    duration_s: float | None
    figures: dict[str, float]
    aside: bool
    aside_reason: str
    has_log: bool
    note: str


@dataclass(frozen=True)
class Page:
    """A stretch of the logbook. total: how many runs there are behind all filters"""

    total: int
    runs: list[LoggedRun]


def page_of(asked: Asked, start: int, count: int) -> Page:
    """Runs from `start` on, at most `count` of them."""
    found = _found(asked)
    # sorted by number alone: whole rows would be carried through the sorting of all that is found
    numbers = _sorted(found, asked).values_list("pk", flat=True)
    return Page(found.count(), _lines(list(numbers[start : start + min(count, MOST_ON_A_PAGE)])))


def all_of(asked: Asked, at_once: int = 2000) -> Iterator[LoggedRun]:
    """Every run that is asked for, sorted once and read in stretches."""
    numbers = list(_sorted(_found(asked), asked).values_list("pk", flat=True))
    for start in range(0, len(numbers), at_once):
        yield from _lines(numbers[start : start + at_once])


def _found(asked: Asked) -> QuerySet[Run]:
    runs = Run.objects.filter(campaign__deleted_at__isnull=True)
    exact = {
        "campaign__rig_id": asked.rig_id,
        "campaign_id": asked.campaign_id,
        "variant_id": asked.workload_id,
        "setting_id": asked.setting_id,
        "outcome": asked.outcome or None,
        "started_at__gte": asked.since,
        "started_at__lt": asked.until,
    }
    runs = runs.filter(**{name: wanted for name, wanted in exact.items() if wanted is not None})
    if asked.aside is not None:
        runs = runs.filter(set_aside_at__isnull=not asked.aside)
    if asked.with_log is not None:
        has = Exists(Series.objects.filter(run=OuterRef("pk")))
        runs = runs.filter(has if asked.with_log else ~has)
    for word in asked.text.split():
        runs = runs.filter(
            Q(note__icontains=word)
            | Q(set_aside_reason__icontains=word)
            | Q(variant__workload__name__icontains=word)
            | Q(campaign__name__icontains=word)
            | Q(campaign__rig__name__icontains=word)
        )
    return runs


def _sorted(runs: QuerySet[Run], asked: Asked) -> QuerySet[Run]:
    if asked.sort in SORTS:
        column = F(SORTS[asked.sort])
    elif asked.sort in BY_WORD:
        key = BY_WORD[asked.sort].key
        figure = Figure.objects.filter(
            run=OuterRef("pk"), quantity=key.quantity, part=key.part, statistic=key.statistic, replaced=False
        )
        runs = runs.annotate(sorted_by=Subquery(figure.order_by("instrument_id").values("value")[:1]))
        column = F("sorted_by")
    else:
        known = ", ".join([*SORTS, *BY_WORD])
        raise Refused(Problem("sort", "unknown_order", {"sort": asked.sort, "known": known}))
    by = column.desc(nulls_last=True) if asked.falling else column.asc(nulls_last=True)
    return runs.order_by(by, "-pk" if asked.falling else "pk")


def _lines(ids: Sequence[int]) -> list[LoggedRun]:
    of_number = Run.objects.select_related("campaign__rig", "setting", "variant__workload", "build").in_bulk(ids)
    # one that was removed meanwhile is left out
    runs = [of_number[number] for number in ids if number in of_number]
    figures: dict[int, dict[str, float]] = defaultdict(dict)
    for figure in Figure.objects.filter(run__in=ids, replaced=False).order_by("instrument_id"):
        figures[figure.run_id].setdefault(figure.key.word, figure.value)
    logs = set(Series.objects.filter(run__in=ids).values_list("run_id", flat=True))
    knobs: dict[int, list[Knob]] = defaultdict(list)
    for knob in KnobRow.objects.filter(campaign__in={run.campaign_id for run in runs}):
        knobs[knob.campaign_id].append(knob.as_knob())
    return [_line(run, figures[run.pk], run.pk in logs, knobs[run.campaign_id]) for run in runs]


def _line(run: Run, figures: dict[str, float], has_log: bool, knobs: Sequence[Knob]) -> LoggedRun:
    return LoggedRun(
        id=run.pk,
        campaign_id=run.campaign_id,
        campaign=run.campaign.name,
        rig=run.campaign.rig.name,
        setting_id=run.setting_id,
        setting=describe_setting(knobs, run.setting.values),
        workload=run.variant.name,
        options=run.variant.options_in_words,
        unit=run.variant.unit,
        build=run.build.number,
        started_at=run.started_at,
        outcome=run.outcome,
        value=run.value,
        duration_s=run.duration_s,
        figures=figures,
        aside=run.set_aside_at is not None,
        aside_reason=run.set_aside_reason,
        has_log=has_log,
        note=run.note,
    )
