"""What a task is told by: its act and place, never its words."""

from dataclasses import replace

import pytest

from trelvo.core.message import message
from trelvo.core.task import Task

CLIMB = Task(
    "climb",
    "Climb",
    message("climb_knob", knob="Core clock"),
    message("rig_has_changed"),
    setting_id=3,
    values={"core": 75.0},
    workload_id=1,
    minutes=5,
    knob="core",
)


def test_other_words_and_another_line_leave_the_same_task():
    assert replace(CLIMB, title="Try +75.", why="", settles="Much.", line="core +75").id == CLIMB.id


@pytest.mark.parametrize(
    "change",
    [
        {"act": "prove"}, {"setting_id": 4}, {"values": {"core": 90.0}}, {"values": None}, {"workload_id": 2}, {"runs": 2},
        {"minutes": 10}, {"knob": "memory"}, {"run_id": 9}, {"workload_ids": (1, 2)},
    ],
    ids=lambda change: next(iter(change)),
)  # fmt: skip
def test_another_act_or_place_is_another_task(change):
    assert replace(CLIMB, **change).id != CLIMB.id
