"""Versus: candidates against a reference, workload by workload and overall, with everything a verdict rests on."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from scipy import special

from trelvo.core.base.runs import RunFacts, counts, figures_count, highest_of, mean_of, values_of
from trelvo.core.base.what_counts import SMALLEST_GAIN
from trelvo.core.base.workloads import Measure
from trelvo.core.compare.by_part import PartReading, by_part
from trelvo.core.compare.conditions import Condition, in_full
from trelvo.core.message import Message, message
from trelvo.core.stats import gains, noise, power
from trelvo.core.stats.comparison import (
    SHARED,
    Comparison,
    Verdict,
    compare,
    holm,
    judge,
    overall,
)
from trelvo.core.stats.in_time import InTime, compare_in_time, timed
from trelvo.core.stats.looks import looks_of
from trelvo.core.stats.noise import CONFIDENCE, PooledNoise
from trelvo.core.stats.same_instrument import WATTS, ByReaders, by_readers
from trelvo.core.stats.time_series import BenchMemory


@dataclass(frozen=True)
class WorkloadFacts:
    """What a comparison needs of a workload. weight: its share in the overall gain, not negative."""

    id: int
    name: str
    measure: Measure
    unit: str
    higher_is_better: bool
    cap_fps: float | None = None
    weight: float = 1.0


@dataclass(frozen=True)
class Side:
    """One workload at one setting: its runs that count come to this. Values in the workload's unit.

    over_room_c: highest temperature less the room's mean, None where either is missing
    """

    summary: noise.Summary | None
    power: power.PowerSummary
    efficiency: gains.Efficiency | None
    temp_max_c: float | None
    over_room_c: float | None
    low_1_fps: float | None
    low_01_fps: float | None
    core_mhz: float | None
    memory_mhz: float | None


@dataclass(frozen=True)
class Cell:
    """A candidate against the reference on one workload.

    adjusted_p: after Holm's correction over all candidates and workloads; None when switched off or nothing to adjust
    note: what limits, where it can be told; sentence: the same result to be read aloud
    says: what time did to it: drift, days, runs that resemble each other
    parts: what each part of the machine drew, reached and ran at
    """

    workload_id: int
    side: Side
    comparison: Comparison | None
    verdict: Verdict | None
    adjusted_p: float | None
    watts_saved: float | None
    efficiency_ratio: float | None
    scaling: gains.Scaling | None
    note: Message | None
    sentence: Message
    says: tuple[Message, ...] = ()
    parts: tuple[PartReading, ...] = ()


@dataclass(frozen=True)
class CandidateNoise:
    """A candidate's number among the sides. pooled: its own noise by workload id, where it was not measured on the reference's
    machine under its build; None where the two share theirs
    same_parts: whether both ran on the same parts: between others a clock explains no difference
    """

    side: int
    pooled: Mapping[int, PooledNoise | None] | None = None
    same_parts: bool = True


@dataclass(frozen=True)
class PlainSum:
    """The sum of frame rates that misleads, beside the geometric mean that does not. decides: the fastest title's share."""

    reference: float
    candidate: float
    ratio: float
    decides: str
    decides_share: float


@dataclass(frozen=True)
class Column:
    """A candidate: a cell for every workload, and the overall row. side: its number among the sides"""

    side: int
    cells: tuple[Cell, ...]
    overall: Comparison | None
    overall_verdict: Verdict | None
    overall_sentence: Message
    plain_sum: PlainSum | None


Groups = Mapping[tuple[int, int], Sequence[RunFacts]]


def side_of(runs: Sequence[RunFacts], workload: WorkloadFacts) -> Side:
    """What the runs of one workload at one setting come to."""
    values = values_of(runs)
    kept = [run for run in runs if figures_count(run)]
    drawn = power.summarise_power(kept)
    hottest, room = highest_of(run.temp_max_c for run in kept), mean_of(run.room_c for run in kept)
    mean = mean_of(values)
    return Side(
        summary=noise.summarise(values) if values else None,
        power=drawn,
        efficiency=gains.efficiency(mean, workload.measure, drawn.mean_w) if mean and drawn.mean_w else None,
        temp_max_c=hottest,
        over_room_c=hottest - room if hottest is not None and room is not None else None,
        low_1_fps=mean_of(run.low_1_fps for run in kept),
        low_01_fps=mean_of(run.low_01_fps for run in kept),
        core_mhz=mean_of(run.core_mhz for run in kept),
        memory_mhz=mean_of(run.memory_mhz for run in kept),
    )


def build_columns(
    candidates: Sequence[CandidateNoise],
    reference: int,
    reference_sides: Sequence[Side],
    workloads: Sequence[WorkloadFacts],
    groups: Groups,
    pooled: Mapping[int, PooledNoise | None],
    bench: BenchMemory,
    *,
    smallest_gain: float = SMALLEST_GAIN,
    correct: bool = True,
    careful: bool = True,
) -> list[Column]:
    """Every candidate against the reference.

    reference_sides: what the reference comes to (`side_of`), one a workload, in the same order
    reference: its number; groups: runs by (side, workload id); pooled, bench: the reference's noise by workload id, and what
    time does on its bench
    smallest_gain: the smallest relative difference that matters; correct: Holm's correction over all candidates and workloads
    careful: count how often the result was looked at while runs were added
    """
    compared = {
        (candidate.side, workload.id): found
        for candidate in candidates
        for workload in workloads
        if (found := _compared(candidate, reference, workload, groups, pooled, bench)) is not None
    }
    adjusted = _adjusted({key: one.comparison.p for key, one in compared.items()}) if correct else {}
    wholes: dict[int, Comparison] = {}
    for one in candidates:
        own = [(compared[one.side, w.id], w.weight) for w in workloads if (one.side, w.id) in compared]
        shared = [found.day_variance for found, _ in own]
        whole = overall([found.comparison for found, _ in own], [weight for _, weight in own], shared)
        if whole is not None:
            wholes[one.side] = whole
    adjusted_wholes = _adjusted({(side, 0): whole.p for side, whole in wholes.items()}) if correct else {}
    columns = []
    for one in candidates:
        cells = tuple(
            _cell(
                workload=workload,
                reference=beside,
                side=side_of(groups.get((one.side, workload.id), ()), workload),
                drawn=power.read_alike(*(_by_meter(groups, side, workload) for side in (reference, one.side))),
                found=compared.get((one.side, workload.id)),
                adjusted_p=adjusted.get((one.side, workload.id)),
                family=len(adjusted),
                smallest_gain=smallest_gain,
                look=_look(groups, reference, one.side, workload) if careful else None,
                same_parts=one.same_parts,
            )
            for workload, beside in zip(workloads, reference_sides, strict=True)
        )
        cells = tuple(
            _with_parts(
                cell, workload.name, by_part(*(groups.get((side, workload.id), ()) for side in (reference, one.side)))
            )
            for cell, workload in zip(cells, workloads, strict=True)
        )
        whole = wholes.get(one.side)
        looks = [_look(groups, reference, one.side, workload) for workload in workloads]
        verdict = None
        if whole is not None:
            look = max(looks) if careful else None
            verdict = judge(whole, smallest_gain, adjusted_wholes.get((one.side, 0)), len(adjusted_wholes), look)
        measured = sum((one.side, workload.id) in compared for workload in workloads)
        with_result = sum(workload.measure != "nothing" for workload in workloads)
        sentence = _overall_sentence(whole, verdict, measured, with_result)
        columns.append(
            Column(one.side, cells, whole, verdict, sentence, _plain_sum(reference, one.side, workloads, groups))
        )
    return columns


def _compared(
    one: CandidateNoise,
    reference: int,
    workload: WorkloadFacts,
    groups: Groups,
    pooled: Mapping[int, PooledNoise | None],
    bench: BenchMemory,
) -> InTime | None:
    ref, cand = (timed(groups.get((side, workload.id), ())) for side in (reference, one.side))
    if not (ref.values and cand.values):
        return None
    return compare_in_time(
        ref,
        cand,
        bench,
        higher_is_better=workload.higher_is_better,
        pooled=pooled.get(workload.id),
        pooled_candidate=SHARED if one.pooled is None else one.pooled.get(workload.id),
    )


def overall_of(
    candidate: int,
    reference: int,
    workloads: Sequence[WorkloadFacts],
    groups: Groups,
    pooled: Mapping[int, PooledNoise | None],
    bench: BenchMemory,
) -> Comparison | None:
    """One candidate against the reference over all workloads: the same figure as in a column, without the rest of it."""
    one = CandidateNoise(candidate)
    pairs = [(_compared(one, reference, workload, groups, pooled, bench), workload.weight) for workload in workloads]
    found = [(pair, weight) for pair, weight in pairs if pair is not None]
    return overall(
        [pair.comparison for pair, _ in found],
        [weight for _, weight in found],
        [pair.day_variance for pair, _ in found],
    )


def _adjusted(p_values: Mapping[tuple[int, int], float | None]) -> dict[tuple[int, int], float]:
    """P values after Holm's correction over all of them; empty for fewer than two."""
    known = {key: p for key, p in p_values.items() if p is not None}
    return dict(zip(known, holm(list(known.values())), strict=True)) if len(known) > 1 else {}


def _by_meter(groups: Groups, side: int, workload: WorkloadFacts) -> ByReaders:
    return by_readers((run for run in groups.get((side, workload.id), ()) if figures_count(run)), WATTS)


def _look(groups: Groups, reference: int, side: int, workload: WorkloadFacts) -> int:
    hours = [[run.started_h for run in groups.get((one, workload.id), ()) if counts(run)] for one in (reference, side)]
    return looks_of(*hours)


def _cell(
    workload: WorkloadFacts,
    reference: Side,
    side: Side,
    drawn: tuple[power.PowerSummary, power.PowerSummary] | None,
    found: InTime | None,
    adjusted_p: float | None,
    family: int,
    smallest_gain: float,
    look: int | None,
    same_parts: bool,
) -> Cell:
    comparison = found.comparison if found else None
    saved = power.watts_saved(*drawn) if drawn else None
    per_joule = None
    if comparison and drawn and drawn[0].mean_w and drawn[1].mean_w:
        per_joule = gains.retained(comparison.ratio, drawn[0].mean_w, drawn[1].mean_w).per_joule
    scale = None
    clock_ratio = side.core_mhz / reference.core_mhz if side.core_mhz and reference.core_mhz else None
    if comparison and clock_ratio and same_parts and not _memory_moved(reference, side):
        scale = gains.scaling(comparison.ratio, clock_ratio)
    verdict = judge(comparison, smallest_gain, adjusted_p, family, look) if comparison else None
    note = _limit_note(workload, side, comparison, scale, clock_ratio or 1.0)
    sentence = result_sentence(workload, comparison, verdict)
    says = found.says if found else ()
    return Cell(
        workload_id=workload.id,
        side=side,
        comparison=comparison,
        verdict=verdict,
        adjusted_p=adjusted_p,
        watts_saved=saved,
        efficiency_ratio=per_joule,
        scaling=scale,
        note=note,
        sentence=sentence,
        says=says,
    )


def _memory_moved(reference: Side, side: Side) -> bool:
    """Whether the memory clock differs by more than half a percent: then the core clock alone explains nothing."""
    if reference.memory_mhz is None or side.memory_mhz is None:
        return False
    return abs(side.memory_mhz / reference.memory_mhz - 1) > 0.005


def _limit_note(
    workload: WorkloadFacts, side: Side, comparison: Comparison | None, scale: gains.Scaling | None, clock_ratio: float
) -> Message | None:
    if (
        workload.measure == "frame rate"
        and workload.cap_fps
        and side.summary
        and side.summary.mean >= workload.cap_fps * 0.99
    ):
        return message("at_the_cap", cap_fps=workload.cap_fps)
    # an elasticity of a difference inside the noise is itself noise
    if scale is None or comparison is None or comparison.low is None or comparison.high is None:
        return None
    if comparison.low <= 1 <= comparison.high and abs(math.log(comparison.ratio)) > 0.002:
        return None
    rose = clock_ratio > 1
    if scale.words == "against the clock":
        return message("slower_though_clock_rose" if rose else "faster_though_clock_fell")
    if scale.words == "beyond the clock":
        return message("more_than_clock_explains")
    code = "speed_rose_by_clock" if rose else "speed_fell_by_clock"
    return message(code, scaling=scale.words, elasticity=scale.elasticity)


def plus_minus(comparison: Comparison) -> Message:
    """A ratio in percent with half its interval, where that is known."""
    half = None
    if comparison.low is not None and comparison.high is not None:
        half = (comparison.high - comparison.low) / 2 * 100
    return message("percent_plus_minus", percent=(comparison.ratio - 1) * 100, half=half)


def _with_parts(cell: Cell, name: str, parts: tuple[PartReading, ...]) -> Cell:
    """The cell with what each part drew, reached and ran at, which is all there is where a workload gives no result."""
    read = [part for part in parts if part.candidate is not None]
    if cell.comparison is not None or not read:
        return replace(cell, parts=parts)
    sentence = message("no_result_but", workload=name, readings=tuple(map(_reading, read)))
    return replace(cell, parts=parts, sentence=sentence)


def _reading(one: PartReading) -> Message:
    return message(
        "part_reading",
        part=one.part,
        statistic=one.statistic,
        quantity=one.quantity,
        value=one.candidate,
        unit=one.unit,
        more=one.more,
        decimals=one.decimals,
    )


def result_sentence(workload: WorkloadFacts, comparison: Comparison | None, verdict: Verdict | None) -> Message:
    """A result to be read aloud: "+4.1 % ± 0.6 on Gorge flythrough: a gain; 6 runs, pooled noise."

    Timed work states both the speed gained and the time saved, since the two are not the same figure.
    """
    if comparison is None or verdict is None:
        return message("not_measured_on_both", workload=workload.name)
    return message(
        "result_on",
        speed=plus_minus(comparison),
        time_saved=gains.time_saved(comparison.ratio) * 100 if workload.measure == "time" else None,
        workload=workload.name,
        verdict=verdict.word,
        more_runs=verdict.more_runs,
        runs=comparison.n_reference + comparison.n_candidate,
        basis=comparison.basis,
    )


def _overall_sentence(whole: Comparison | None, verdict: Verdict | None, measured: int, asked: int) -> Message:
    if whole is None or verdict is None:
        return message("nothing_measured_on_both")
    return message("result_overall", speed=plus_minus(whole), verdict=verdict.word, measured=measured, workloads=asked)


def answer_by_conditions(
    column: Column, whole: Condition | None, single: Sequence[Condition | None], names: Sequence[str]
) -> Column:
    """The column with a goal's condition in place of the verdict in its sentences.

    whole, single: the condition, overall and by workload; None where the verdict stands. names: of the workloads
    """
    sentence = column.overall_sentence
    if whole and column.overall:
        sentence = message("overall_by_condition", speed=plus_minus(column.overall), condition=in_full(whole))
    cells = tuple(
        replace(
            cell,
            sentence=message(
                "workload_by_condition", speed=plus_minus(cell.comparison), workload=name, condition=in_full(condition)
            ),
        )
        if condition and cell.comparison
        else cell
        for cell, condition, name in zip(column.cells, single, names, strict=True)
    )
    return replace(column, cells=cells, overall_sentence=sentence)


def _plain_sum(
    reference_id: int, setting_id: int, workloads: Sequence[WorkloadFacts], groups: Groups
) -> PlainSum | None:
    """Sum of frame rates on both sides over the workloads measured as frame rates on both; None for fewer than two."""
    pairs = []
    for workload in workloads:
        if workload.measure != "frame rate":
            continue
        ref = mean_of(values_of(groups.get((reference_id, workload.id), ())))
        cand = mean_of(values_of(groups.get((setting_id, workload.id), ())))
        if ref and cand:
            pairs.append((workload.name, ref, cand))
    if len(pairs) < 2:
        return None
    before, after = sum(ref for _, ref, _ in pairs), sum(cand for _, _, cand in pairs)
    fastest, rate, _ = max(pairs, key=lambda pair: pair[1])
    return PlainSum(before, after, after / before, fastest, rate / before)


@dataclass(frozen=True)
class TargetCell:
    """A target's typed result on one workload against the reference, and how much of that gap each candidate closes."""

    workload_id: int
    value: float
    ratio: float
    closed: Mapping[int, gains.GapClosed | None]


def build_target(
    results: Mapping[int, float],
    reference_id: int,
    candidate_ids: Sequence[int],
    workloads: Sequence[WorkloadFacts],
    groups: Groups,
    pooled: Mapping[int, PooledNoise | None],
) -> list[TargetCell]:
    """A target as a column. results: value by workload id, typed, so taken as exact: its own noise is unknown."""
    cells = []
    for workload in workloads:
        ref = values_of(groups.get((reference_id, workload.id), ()))
        if workload.id not in results or not ref:
            continue
        target = compare(ref, [results[workload.id]], higher_is_better=workload.higher_is_better)
        noise_known = pooled.get(workload.id)
        limit = float(special.stdtrit(noise_known.df, 0.5 + CONFIDENCE / 2)) if noise_known else None
        closed = {}
        for candidate_id in candidate_ids:
            cand = values_of(groups.get((candidate_id, workload.id), ()))
            if cand:
                ratio = compare(ref, cand, higher_is_better=workload.higher_is_better).ratio
                sd = noise_known.sd_log if noise_known else None
                closed[candidate_id] = gains.gap_closed(ratio, target.ratio, sd, limit, (len(ref), len(cand), 0))
        cells.append(TargetCell(workload.id, results[workload.id], target.ratio, closed))
    return cells
