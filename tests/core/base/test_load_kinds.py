"""Which load can show that a part is stable. Common practice."""

import pytest

from trelvo.core.base.load_kinds import Load, loads_for, works_on

PICTURES = Load(1, "Pictures", "benchmark", 5, frozenset({"graphics"}))
MILL = Load(2, "Mill", "stress test", 30, frozenset({"processor"}))
TITLE = Load(3, "Title", "title", 10, frozenset({"graphics"}))
UNNAMED = Load(4, "Unnamed", "stress test", 30)


@pytest.mark.parametrize(
    ("part", "working"),
    [
        ("graphics", {1, 3, 4}),
        # a title uses the whole machine, whatever is noted of it
        ("processor", {2, 3, 4}),
        ("memory", {2, 3, 4}),
        ("tuned part", {1, 2, 3, 4}),
    ],
)
def test_a_load_works_its_parts(part, working):
    assert {load.id for load in (PICTURES, MILL, TITLE, UNNAMED) if works_on(part, load)} == working


def test_where_none_fits_all_are_left():
    assert loads_for(["processor"], [PICTURES, MILL]) == [MILL]
    assert loads_for(["processor", "graphics"], [PICTURES, MILL]) == [PICTURES, MILL]
    assert loads_for(["processor"], [PICTURES]) == [PICTURES]
    assert loads_for([], [PICTURES, MILL]) == [PICTURES, MILL]
