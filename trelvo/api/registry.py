"""The registries: everything that quantities, figures, instruments, knobs, outcomes, goals and ways of working can be."""

from django.http import HttpRequest
from ninja import Router

from trelvo.api.schema import Schema
from trelvo.core.base.figures import NAMED, PARTS, STATISTICS, Part, Statistic
from trelvo.core.base.instruments import INSTRUMENT_KINDS, TRUSTS, InstrumentKind, Trust
from trelvo.core.compare.choices import MOST_CANDIDATES
from trelvo.core.registry.approaches import APPROACHES, ApproachFacts
from trelvo.core.registry.goals import GOALS, GoalFacts
from trelvo.core.registry.outcomes import OUTCOMES, OutcomeFacts
from trelvo.core.registry.quantities import FRAME_TIME, QUANTITIES, Quantity, QuantityFacts
from trelvo.core.registry.roles import FACTS, Effect, Role
from trelvo.core.watch.safety_limits import NATURES, Kind
from trelvo.exchange.quick_line.help import HELP, LineHelp
from trelvo.logbook.models import JournalKind

router = Router(tags=["registry"])


class FigureWords(Schema):
    """A figure as forms, tables and the quick line know it. line: its word or unit in a quick line; empty where it has none"""

    word: str
    name: str
    quantity: Quantity
    part: Part
    statistic: Statistic
    unit: str
    decimals: int
    line: str


class QuantityWords(Schema):
    """low, high: what is possible, None: anything; live: rank of its chart while a run goes on; own_scale: a chart a channel"""

    quantity: str
    unit: str
    units: list[str]
    decimals: int
    low: float | None
    high: float | None
    live: int
    own_scale: bool


class RoleWords(Schema):
    """A knob role. moves: word of the figure that should follow it, empty where there is none

    raising: what a higher value does to stability; tested: whether a stability test finds its limit
    processor: only a processor or its board has such a knob
    """

    role: Role
    moves: str
    raising: Effect
    tested: bool
    processor: bool


class LimitWords(Schema):
    """A kind of safety limit: the quantity whose readings it watches, None: no reading; its unit, and what it means."""

    kind: Kind
    quantity: Quantity | None
    unit: str
    means: str


class Choice(Schema):
    value: str
    label: str


class Registry(Schema):
    """quantities: those of figures; live: of the channels of a live run; candidates: how many a comparison takes at most"""

    figures: list[FigureWords]
    quantities: list[QuantityWords]
    live: list[QuantityWords]
    parts: list[Part]
    statistics: list[Statistic]
    instrument_kinds: list[InstrumentKind]
    trusts: list[Trust]
    roles: list[RoleWords]
    outcomes: list[OutcomeFacts]
    goals: list[GoalFacts]
    approaches: list[ApproachFacts]
    limits: list[LimitWords]
    journal_kinds: list[Choice]
    quick_line: list[LineHelp]
    candidates: int


def _quantity(name: str, facts: QuantityFacts) -> QuantityWords:
    bounded = name != "other"
    return QuantityWords(
        quantity=name,
        unit=facts.unit,
        units=list(facts.units()),
        decimals=facts.decimals,
        low=facts.low if bounded else None,
        high=facts.high if bounded else None,
        live=facts.live,
        own_scale=facts.own_scale,
    )


@router.get("/registry", response=Registry)
def show_registry(request: HttpRequest) -> Registry:
    """Everything that the program declares; it changes only with another version."""
    figures = [
        FigureWords(
            word=kind.word,
            name=kind.name,
            unit=QUANTITIES[kind.key.quantity].unit,
            decimals=QUANTITIES[kind.key.quantity].decimals,
            line=kind.line_word or (kind.line_units[0] if kind.line_units else ""),
            **kind.key._asdict(),
        )
        for kind in NAMED
    ]
    quantities = [_quantity(name, facts) for name, facts in QUANTITIES.items()]
    live = [*quantities, _quantity("frame time", FRAME_TIME)]
    return Registry(
        figures=figures,
        quantities=quantities,
        live=sorted(live, key=lambda row: row.live),
        parts=list(PARTS),
        statistics=list(STATISTICS),
        instrument_kinds=list(INSTRUMENT_KINDS),
        trusts=list(TRUSTS),
        roles=[RoleWords(**{name: getattr(row, name) for name in RoleWords.model_fields}) for row in FACTS.values()],
        outcomes=list(OUTCOMES.values()),
        goals=list(GOALS.values()),
        approaches=list(APPROACHES.values()),
        limits=[
            LimitWords(kind=kind, quantity=nature.quantity, unit=nature.unit, means=nature.means)
            for kind, nature in NATURES.items()
        ],
        journal_kinds=[Choice(value=value, label=str(label)) for value, label in JournalKind.choices],
        quick_line=list(HELP),
        candidates=MOST_CANDIDATES,
    )
