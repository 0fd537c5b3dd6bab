"""The comparison as a whole: cells, overall row, plain sum, targets."""

import math

import pytest

from trelvo.core.base.runs import RunFacts
from trelvo.core.compare.table import CandidateNoise, WorkloadFacts, build_columns, build_target, side_of
from trelvo.core.message import message
from trelvo.core.stats.comparison import compare, overall
from trelvo.core.stats.noise import pool
from trelvo.core.stats.time_series import NO_MEMORY
from trelvo.messages.texts import text_of

GORGE = WorkloadFacts(1, "Gorge", "frame rate", "fps", True)
RENDER = WorkloadFacts(2, "Render", "time", "s", False, weight=0.5)
SHOW = WorkloadFacts(3, "Show", "frame rate", "fps", True, cap_fps=72)
VALUES = {
    (0, 1): [93.6, 93.5, 94.0], (5, 1): [99.1, 98.8],
    (0, 2): [118.4, 118.6, 118.2], (5, 2): [110.1, 110.4],
    (0, 3): [70.1, 70.3, 70.0], (5, 3): [71.7, 71.8],
}  # fmt: skip
POOLED = {w: pool([VALUES[0, w], VALUES[5, w]]) for w in (1, 2, 3)}


def runs_of(values, setting, workload, **more):
    more = {
        "power_w": 200.0 if setting == 0 else 180.0,
        "power_point": "software",
        "temp_max_c": 64.0,
        "room_c": 24.0,
        **more,
    }
    return [
        RunFacts(
            id=setting * 100 + workload * 10 + i,
            setting_id=setting,
            workload_id=workload,
            outcome="completed",
            value=v,
            **more,
        )
        for i, v in enumerate(values)
    ]


GROUPS = {key: runs_of(values, *key, core_mhz=2340.0 if key[0] == 0 else 2460.0) for key, values in VALUES.items()}


def column_of(workloads, groups, pooled, **more):
    sides = [side_of(groups.get((0, workload.id), ()), workload) for workload in workloads]
    noise = CandidateNoise(5, more.pop("pooled_candidate", None))
    return build_columns([noise], 0, sides, workloads, groups, pooled, NO_MEMORY, **more)[0]


def test_every_cell_is_its_own_comparison():
    column = column_of([GORGE, RENDER, SHOW], GROUPS, POOLED)
    for cell, workload in zip(column.cells, (GORGE, RENDER, SHOW), strict=True):
        expected = compare(
            VALUES[0, workload.id],
            VALUES[5, workload.id],
            higher_is_better=workload.higher_is_better,
            pooled=POOLED[workload.id],
        )
        assert cell.comparison == expected
        assert cell.adjusted_p >= expected.p
        assert cell.watts_saved == 20
        assert cell.efficiency_ratio == pytest.approx(expected.ratio / 0.9)
        assert cell.side.over_room_c == 40
    assert column.cells[0].note.params["scaling"] == "proportional"
    assert column.cells[2].note == message("at_the_cap", cap_fps=72)
    assert text_of(column.cells[0].sentence) == "+5.6 % ± 0.8 on Gorge: a gain; 5 runs, pooled noise."


def test_timed_work_states_speed_and_time():
    sentence = column_of([RENDER], GROUPS, POOLED).cells[0].sentence
    # common practice: time saved is not speed gained; 118.4 to 110.25 is 7.4 % faster in 6.9 % less time
    assert text_of(sentence).startswith("+7.4 % ± 0.6 in speed, 6.9 % less time, on Render: a gain")


def test_the_overall_row_is_weighted():
    column = column_of([GORGE, RENDER], GROUPS, POOLED)
    parts = [cell.comparison for cell in column.cells]
    assert column.overall == overall(parts, [1, 0.5])
    ratio = math.exp((math.log(parts[0].ratio) + 0.5 * math.log(parts[1].ratio)) / 1.5)
    assert column.overall.ratio == pytest.approx(ratio)
    assert column.overall_verdict.word == "gain"


def test_the_correction_can_be_switched_off():
    column = column_of([GORGE, RENDER], GROUPS, POOLED, correct=False)
    assert [cell.adjusted_p for cell in column.cells] == [None, None]


def test_the_plain_sum_says_who_decides():
    column = column_of([GORGE, RENDER, SHOW], GROUPS, POOLED)
    before = sum(VALUES[0, 1]) / 3 + sum(VALUES[0, 3]) / 3
    assert column.plain_sum.reference == pytest.approx(before)
    assert column.plain_sum.decides == "Gorge"
    assert column_of([GORGE, RENDER], GROUPS, POOLED).plain_sum is None


def test_a_workload_that_one_side_lacks_is_said_and_left_out():
    groups = {key: runs for key, runs in GROUPS.items() if key != (5, 2)}
    column = column_of([GORGE, RENDER], groups, POOLED)
    assert column.cells[1].comparison is None
    assert column.cells[1].sentence == message("not_measured_on_both", workload="Render")
    params = column.overall_sentence.params
    assert (params["measured"], params["workloads"]) == (1, 2)
    nothing = column_of([GORGE], {}, {})
    assert nothing.overall is None
    assert nothing.overall_sentence == message("nothing_measured_on_both")


def test_the_core_clock_explains_nothing_when_the_memory_moved_too():
    groups = {
        key: runs_of(v, *key, core_mhz=2340.0 + key[0] * 20, memory_mhz=9200.0 + key[0] * 100)
        for key, v in VALUES.items()
    }
    assert column_of([GORGE], groups, POOLED).cells[0].scaling is None


def test_a_clock_explains_nothing_between_different_parts():
    sides = [side_of(GROUPS[0, 1], GORGE)]
    both = [
        build_columns([CandidateNoise(5, same_parts=same)], 0, sides, [GORGE], GROUPS, POOLED, NO_MEMORY)[0].cells[0]
        for same in (True, False)
    ]
    assert (both[0].scaling is not None, both[1].scaling) == (True, None)
    assert both[1].note is None or "clock" not in both[1].note.code


def test_a_target_and_how_much_of_the_gap_is_closed():
    cells = build_target({1: 108.0, 2: 101.5}, 0, [5], [GORGE, RENDER, SHOW], GROUPS, POOLED)
    assert [cell.workload_id for cell in cells] == [1, 2]
    reference = math.exp(sum(math.log(v) for v in VALUES[0, 1]) / 3)
    assert cells[0].ratio == pytest.approx(108 / reference)
    assert cells[0].closed[5].low < cells[0].closed[5].share < cells[0].closed[5].high
    assert cells[1].ratio > 1
    unknown = build_target({1: 108.0}, 0, [5], [GORGE], GROUPS, {1: None})
    assert unknown[0].closed[5].low is None


def test_noise_known_from_nowhere_gives_ratios_without_intervals():
    column = column_of([GORGE], {k: v[:1] for k, v in GROUPS.items()}, {1: None})
    assert column.overall.low is None
    assert column.overall_verdict.word == "too few runs"
