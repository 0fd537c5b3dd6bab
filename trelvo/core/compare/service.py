"""Compare: gathers what the core needs to judge candidates against a reference, and hands back its answer."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from trelvo.core.base.knobs import distinguish
from trelvo.core.campaign import Target
from trelvo.core.case import Case
from trelvo.core.compare.conditions import Condition, kept_share
from trelvo.core.compare.fairness import Fairness, assess
from trelvo.core.compare.set_and_got import Moved, set_against_got
from trelvo.core.compare.sides import (
    REFERENCE,
    Side,
    Sides,
    conditions_of,
    gather,
    shared_workloads,
    side_key,
    studied,
)
from trelvo.core.compare.table import (
    CandidateNoise,
    Column,
    TargetCell,
    WorkloadFacts,
    answer_by_conditions,
    build_columns,
    build_target,
    side_of,
)
from trelvo.core.compare.table import Side as Cells
from trelvo.core.compare.trap_hunt import hunt
from trelvo.core.compare.traps import Trap
from trelvo.core.message import message
from trelvo.core.stats.gains import Value, value_for_money
from trelvo.core.stats.noise import PooledNoise


@dataclass(frozen=True)
class Candidate:
    """A side against the reference: figures and fairness. short: what sets it apart from the other candidates.

    side: its number; key: names it in addresses (setting, and build where it is not the one results are judged in)
    moved: what was set on its knobs against what was got, on the main workload
    kept_speed: the goal's condition on speed, where it asks for no gain and the runs are too few to tell one
    kept_speeds: the same share of speed kept in each workload, in the order of the cells
    goal_applies: whether what the campaign's goal says of the setting is about these runs: those of the build it is judged in
    """

    side: int
    key: str
    setting_id: int
    campaign_id: int
    campaign_name: str
    rig_name: str
    build_number: int | None
    title: str
    short: str
    column: Column
    fairness: Fairness
    moved: list[Moved]
    kept_speed: Condition | None
    kept_speeds: list[Condition | None]
    goal_applies: bool


@dataclass(frozen=True)
class TargetColumn:
    """A typed rival: its results against the reference, and what they cost where prices are known.

    value: price of a unit of the main workload, and of each unit more than the first candidate gives
    """

    target_id: int
    name: str
    price: float | None
    source: str
    conditions: str
    cells: list[TargetCell]
    value: Value | None


@dataclass(frozen=True)
class Versus:
    """The whole answer of the Compare stage.

    reference: one side a workload, in the campaign's order; common: what all candidates share
    reference_is_goals: whether the reference is what the goal is judged against: stock, in the build it is judged in
    """

    reference_id: int
    reference_title: str
    reference: list[Cells]
    common: str
    candidates: list[Candidate]
    targets: list[TargetColumn]
    noise: dict[int, PooledNoise | None]
    build_number: int | None
    reference_build_number: int | None
    reference_is_goals: bool
    reference_rig_name: str
    smallest_gain: float
    corrected: bool
    careful: bool


@dataclass(frozen=True)
class Compared:
    """The answer, and the mistakes that its runs invite."""

    versus: Versus
    traps: tuple[Trap, ...]


def versus_of(
    reference: Side,
    candidates: Sequence[Side],
    now: datetime,
    *,
    speed_shown: Mapping[int, Condition],
    correct: bool,
    careful: bool = True,
) -> Compared:
    """Candidates against the reference.

    speed_shown: by setting of the reference's campaign, the goal's condition on its speed
    correct: Holm's correction over candidates and workloads; careful: be stricter where runs were added after a first look
    """
    sides = gather(reference, candidates)
    case = reference.case
    of_reference = [side_of(sides.runs(reference, workload), workload) for workload in sides.workloads]
    columns = build_columns(
        [
            CandidateNoise(side.number, None if side.like(reference) else side.noise, side.same_parts(reference))
            for side in candidates
        ],
        REFERENCE,
        of_reference,
        sides.workloads,
        sides.groups,
        reference.noise,
        case.bench_memory(reference.build),
        smallest_gain=case.campaign.smallest_gain,
        correct=correct,
        careful=careful,
    )
    common, shorts = _shorts(reference, candidates)
    versus = Versus(
        reference_id=reference.setting.id,
        reference_title=reference.title,
        reference=of_reference,
        common=common,
        candidates=[
            _candidate(sides, side, short, column, speed_shown)
            for side, short, column in zip(candidates, shorts, columns, strict=True)
        ],
        targets=[_target(sides, target) for target in case.campaign.targets],
        noise=dict(reference.noise),
        build_number=case.campaign.judged_build.number if case.campaign.judged_build else None,
        reference_build_number=reference.build.number if reference.build else None,
        reference_is_goals=_is_goals_reference(reference, case),
        reference_rig_name=reference.case.campaign.rig.name,
        smallest_gain=case.campaign.smallest_gain,
        corrected=correct,
        careful=careful,
    )
    return Compared(versus, tuple(hunt(sides, columns, now)))


def _shorts(reference: Side, candidates: Sequence[Side]) -> tuple[str, list[str]]:
    """What all candidates share, and what sets each apart; with its rig or build where that differs."""
    own = [side for side in candidates if side.case.campaign.id == reference.case.campaign.id]
    common, words = distinguish(reference.case.campaign.knobs, [side.setting.values for side in own])
    of_own = dict(zip((side.number for side in own), words, strict=True))
    shorts = []
    for side in candidates:
        word = of_own.get(side.number, side.title)
        if side.case.campaign.rig_id != reference.case.campaign.rig_id:
            word = f"{side.case.campaign.rig.name}: {side.title}"
        elif side.case.campaign.id != reference.case.campaign.id:
            word = f"{side.case.campaign.name}: {side.title}"
        if side.build and side.build != reference.build and side.case.campaign.rig_id == reference.case.campaign.rig_id:
            word = f"{word}, build {side.build.number}"
        shorts.append(word)
    return common, shorts


def _candidate(sides: Sides, side: Side, short: str, column: Column, speed_shown: Mapping[int, Condition]) -> Candidate:
    shared = shared_workloads(sides, side)
    fairness = assess(
        conditions_of(sides, sides.reference, shared),
        conditions_of(sides, side, shared),
        studied(sides.reference, side),
    )
    campaign = side.case.campaign
    kept_speed, kept_speeds = (
        _kept_speed(sides.reference, side, column, speed_shown),
        _kept_speeds(sides.reference, side, column),
    )
    column = answer_by_conditions(column, kept_speed, kept_speeds, [workload.name for workload in sides.workloads])
    return Candidate(
        side=side.number,
        key=side_key(side),
        setting_id=side.setting.id,
        campaign_id=campaign.id,
        campaign_name=campaign.name,
        rig_name=campaign.rig.name,
        build_number=side.build.number if side.build else None,
        title=side.title,
        short=short,
        column=column,
        fairness=fairness,
        moved=moved_between(sides, side, sides.workloads[0]) if sides.workloads else [],
        kept_speed=kept_speed,
        kept_speeds=kept_speeds,
        goal_applies=side.case.campaign.id == sides.reference.case.campaign.id
        and side.build == side.case.campaign.judged_build,
    )


def _asks_for_speed(reference: Side, side: Side) -> bool:
    """Whether the goal's condition on speed is about these two sides: a setting of the campaign against its stock, as judged."""
    case = side.case
    return _is_goals_reference(reference, case) and side.build == case.campaign.judged_build


def _is_goals_reference(reference: Side, case: Case) -> bool:
    """Whether a side is what the campaign's goal is judged against: its stock, in the build that results are judged in."""
    return (
        reference.setting.is_stock
        and reference.case.campaign.id == case.campaign.id
        and reference.build == case.campaign.judged_build
    )


def _kept_speeds(reference: Side, side: Side, column: Column) -> list[Condition | None]:
    """By workload, whether the setting keeps the share of stock's speed that the goal asks for, where the runs are too few to
    tell a gain or a loss."""
    terms = side.case.terms
    if terms.least_speed is None or not _asks_for_speed(reference, side):
        return [None] * len(column.cells)
    return [
        kept_share("speed", message("speed"), cell.comparison, terms.least_speed, terms.shown)
        if cell.verdict and cell.verdict.word == "too few runs"
        else None
        for cell in column.cells
    ]


def _kept_speed(reference: Side, side: Side, column: Column, shown: Mapping[int, Condition]) -> Condition | None:
    """The goal's condition on a setting's speed against stock, where the runs are too few to tell a gain or a loss."""
    verdict = column.overall_verdict
    if not _asks_for_speed(reference, side) or verdict is None or verdict.word != "too few runs":
        return None
    return shown.get(side.setting.id)


def moved_between(sides: Sides, side: Side, workload: WorkloadFacts) -> list[Moved]:
    """What was compared with what was got, for every knob that the two sides of one rig have set differently."""
    if side.case.campaign.rig_id != sides.reference.case.campaign.rig_id:
        return []
    return set_against_got(
        [(knob, side.value(knob) - sides.reference.value(knob)) for knob in side.case.campaign.knobs],
        sides.runs(sides.reference, workload),
        sides.runs(side, workload),
    )


def _target(sides: Sides, target: Target) -> TargetColumn:
    ids = {str(variant.uid): variant.id for variant in sides.reference.case.campaign.workloads}
    results = {ids[uid]: float(value) for uid, value in target.results.items() if uid in ids}
    numbers = [side.number for side in sides.candidates]
    cells = build_target(results, REFERENCE, numbers, sides.workloads, sides.groups, sides.reference.noise)
    return TargetColumn(
        target.id, target.name, target.price, target.source, target.conditions, cells, _value(sides, target, results)
    )


def _value(sides: Sides, target: Target, results: dict[int, float]) -> Value | None:
    """Money for the main workload: the target's price against the rig part's own, at the first candidate."""
    own_price = sides.reference.case.campaign.price
    if not sides.workloads or not sides.candidates or not target.price or not own_price:
        return None
    main = sides.workloads[0]
    if main.id not in results or not main.higher_is_better:
        return None
    mine = side_of(sides.runs(sides.candidates[0], main), main).summary
    return value_for_money(target.price, results[main.id], own_price, mine.mean) if mine else None
