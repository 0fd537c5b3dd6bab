"""Whether the edge of a rig's specimens moves over the years: every climb that found one is a check of it."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from trelvo.core.base.deviations import Z
from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.campaign import Build, CampaignSnapshot
from trelvo.core.climb.edge import EdgeModel, edge_posterior
from trelvo.core.climb.priors import NOTHING_TAUGHT
from trelvo.core.climb_line.line import line_of
from trelvo.core.climb_line.trials import marks_under
from trelvo.core.keep.kept import tuned_places
from trelvo.core.message import Message
from trelvo.core.prove.ageing import Ageing, Check, ageing, checks_apart, digits_of, found_an_edge

DAY_S = 86_400.0
DAYS_A_YEAR = 365.25
# Half of a belief lies between its quartiles; a normal one has them 0.6745 deviations from its middle.
QUARTILES, QUARTILE_DEVIATIONS = (0.25, 0.5, 0.75), 0.6745


@dataclass(frozen=True)
class CheckView:
    """When an edge was found, and where: in words, with half the width of its 95 % interval"""

    at: datetime
    edge: str
    give_or_take: str
    campaign: str


@dataclass(frozen=True)
class AgeingView:
    """A knob of one specimen. a_year, low, high: in the knob's unit, towards stock; None where it cannot be told"""

    knob: str
    specimen: str
    unit: str
    checks: list[CheckView]
    a_year: float | None
    low: float | None
    high: float | None
    says: Message


@dataclass(frozen=True)
class _Found:
    check: Check
    view: CheckView


def ageing_of(campaigns: Sequence[CampaignSnapshot]) -> list[AgeingView]:
    """Every specimen and knob of one rig of which an edge was found at least once.

    What was run under one specimen of the tuned part belongs together, whatever else has changed; so does a climb only with
    climbs at which the other knobs stood alike.
    """
    found: dict[tuple[Knob, str, tuple[tuple[str, float], ...]], list[_Found]] = defaultdict(list)
    for campaign in campaigns:
        for knob in campaign.knobs:
            line = line_of(campaign, NOTHING_TAUGHT, knob.key, None)
            values = {setting.id: value for value, setting in line.along.items()}
            by_specimen: dict[str, set[int]] = defaultdict(set)
            for build in campaign.builds:
                by_specimen[_specimen(build, knob)].add(build.id)
            for specimen, builds in by_specimen.items():
                alike = (_comparable(knob), specimen, tuple(sorted(line.base.items())))
                found[alike] += _checks(campaign, knob, values, builds)
    views = []
    for (knob, specimen, _), checks in found.items():
        if checks:
            checks.sort(key=lambda one: one.check.years)
            views.append(_view(knob, specimen, ageing(knob, [check.check for check in checks]), checks))
    return views


def _comparable(knob: Knob) -> Knob:
    """The knob without its range, which another campaign may have set otherwise: the specimen is the same."""
    return Knob(
        key=knob.key,
        name=knob.name,
        unit=knob.unit,
        stock=knob.stock,
        step=knob.step,
        low=knob.stock,
        high=knob.stock,
        away=knob.away,
        role=knob.role,
        part=knob.part,
    )


def _specimen(build: Build, knob: Knob) -> str:
    placed = {part.role: f"{part.name} ({part.specimen})" if part.specimen else part.name for part in build.placed}
    places = sorted(tuned_places(list(placed), [knob.part]))
    return ", ".join(placed[place] for place in places)


def _checks(campaign: CampaignSnapshot, knob: Knob, values: dict[int, float], builds: set[int]) -> list[_Found]:
    line = line_of(campaign, NOTHING_TAUGHT, knob.key, None)
    marks, _ = marks_under(campaign, NOTHING_TAUGHT, knob, values, line.steepness, builds)
    begun = {run.id: run.started_at for run in campaign.runs}
    days = [begun[mark.run_id].timestamp() / DAY_S for mark in marks]
    found, digits = [], digits_of(knob)
    for places in checks_apart(days):
        trials = [marks[place].trial for place in places]
        if not found_an_edge(knob, trials):
            continue
        belief = edge_posterior(EdgeModel.of(knob, line.steepness), trials)
        low, middle, high = belief.quantiles(belief.edge, QUARTILES)
        deviation = (high - low) / 2 / QUARTILE_DEVIATIONS
        day = days[places[-1]]
        view = CheckView(
            datetime.fromtimestamp(day * DAY_S, tz=UTC),
            describe_value(knob, round(belief.value_at(middle), digits)),
            f"± {Z * deviation:.{digits}f} {knob.unit}",
            campaign.name,
        )
        found.append(_Found(Check(day / DAYS_A_YEAR, belief.value_at(middle), deviation), view))
    return found


def _view(knob: Knob, specimen: str, found: Ageing, checks: Sequence[_Found]) -> AgeingView:
    return AgeingView(
        knob=knob.name,
        specimen=specimen,
        unit=knob.unit,
        checks=[check.view for check in checks],
        a_year=found.a_year,
        low=found.low,
        high=found.high,
        says=found.says,
    )
