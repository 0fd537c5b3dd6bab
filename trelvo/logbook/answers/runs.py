"""Runs as they are shown: with every figure as it was read and as it counts."""

from dataclasses import dataclass

from django.db.models import Prefetch, QuerySet

from trelvo.core.base.figures import NAMED, name_of
from trelvo.core.base.instruments import Instrument, half_of
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.logbook.models import Run, Series


@dataclass(frozen=True)
class FigureView:
    """A figure of a run. value: as it was read; corrected: as it counts, where its instrument has a correction

    half: 95 % half width of what is not known of that correction
    counts: False where the instrument was marked wrong at that time; replaced: typed figures that a log's replaced
    """

    id: int
    word: str
    name: str
    quantity: str
    part: str
    statistic: str
    unit: str
    decimals: int
    value: float
    corrected: float | None
    half: float | None
    instrument_id: int | None
    instrument: str
    source: str
    counts: bool
    replaced: bool


def with_figures(runs: QuerySet[Run]) -> QuerySet[Run]:
    """Runs with all that is shown of them, in a handful of questions."""
    # prefetched, so that runs share one object for their setting and workload instead of having one each
    return runs.select_related("live").prefetch_related(
        "campaign__rig",
        "setting",
        "variant__workload",
        "build",
        Prefetch("series", Series.objects.defer("parquet")),
        "figures__instrument",
        "campaign__knobs",
        "marks",
    )


def figures_of(run: Run) -> list[FigureView]:
    """The run's figures, those with a name of their own first, in the order in which forms ask for them."""
    instruments: dict[int, Instrument] = {}
    views = []
    for figure in run.figures.all():
        if figure.instrument and figure.instrument_id not in instruments:
            instruments[figure.instrument.pk] = figure.instrument.as_instrument()
        instrument = instruments.get(figure.instrument_id or 0)
        kind = QUANTITIES[figure.key.quantity]
        corrected = instrument.corrected(figure.value) if instrument else figure.value
        views.append(
            FigureView(
                id=figure.pk,
                word=figure.key.word,
                name=name_of(figure.key),
                quantity=figure.quantity,
                part=figure.part,
                statistic=figure.statistic,
                unit=kind.unit,
                decimals=kind.decimals,
                value=figure.value,
                corrected=corrected if instrument and instrument.corrects else None,
                half=half_of((corrected, instrument.doubt)) if instrument and instrument.doubt else None,
                instrument_id=figure.instrument_id,
                instrument=instrument.name if instrument else "",
                source=figure.source,
                counts=instrument is None or instrument.counts_at(run.started_at),
                replaced=figure.replaced,
            )
        )
    return sorted(views, key=lambda view: (_place(view.word), view.replaced))


def _place(word: str) -> int:
    return _ORDER.get(word, len(_ORDER))


_ORDER = {kind.word: place for place, kind in enumerate(NAMED)}
