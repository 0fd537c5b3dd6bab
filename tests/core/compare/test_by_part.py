import pytest

from trelvo.core.base.knobs import Knob
from trelvo.core.base.runs import PartFigure, RunFacts
from trelvo.core.compare.by_part import by_part
from trelvo.core.compare.set_and_got import set_against_got


def run(number, *figures, **more):
    found = tuple(PartFigure(*figure) for figure in figures)
    return RunFacts(number, 1, 1, **{"outcome": "completed", "value": 90.0} | more, of_parts=found)


def test_every_part_is_shown_by_itself():
    stock = [run(1, ("graphics", "power", "mean", 200.0), ("processor", "power", "mean", 60.0))]
    tuned = [run(2, ("graphics", "power", "mean", 150.0), ("processor", "power", "mean", 64.0))]
    found = {(one.part, one.quantity): one for one in by_part(stock, tuned)}
    assert found["graphics", "power"].more == -50
    assert found["processor", "power"].more == 4
    assert found["processor", "power"].unit == "W"


def test_two_instruments_are_shown_but_not_subtracted():
    stock = [run(1, ("graphics", "power", "mean", 200.0, "own report"))]
    tuned = [run(2, ("graphics", "power", "mean", 230.0, "clamp"))]
    (one,) = by_part(stock, tuned)
    assert (one.reference, one.candidate, one.more) == (200.0, 230.0, None)


def test_the_highest_temperature_of_several_runs_and_runs_that_failed():
    stock = [run(n, ("processor", "temperature", "highest", at)) for n, at in enumerate((70.0, 74.0))]
    tuned = [
        run(3, ("processor", "temperature", "highest", 66.0)),
        run(4, ("processor", "temperature", "highest", 99.0), outcome="program crash"),
        run(5, ("processor", "temperature", "highest", 98.0), set_aside=True),
    ]
    (one,) = by_part(stock, tuned)
    assert (one.reference, one.candidate, one.more) == (74.0, 66.0, -8.0)


def test_a_run_with_nothing_to_measure_still_has_its_watts():
    (one,) = by_part([], [run(1, ("processor", "power", "mean", 15.0), value=None)])
    assert (one.reference, one.candidate) == (None, 15.0)


def test_what_was_got_is_that_of_the_knobs_own_part():
    knob = Knob("vcore", "Core voltage", "mV", 0, 5, -100, 0, -1, "voltage", "processor")
    sides = [
        [run(1, ("processor", "voltage", "mean", 1.2), ("graphics", "voltage", "mean", 1.05), voltage_v=1.05)],
        [run(2, ("processor", "voltage", "mean", 1.15), ("graphics", "voltage", "mean", 1.05), voltage_v=1.05)],
    ]
    (moved,) = set_against_got([(knob, -50.0)], *sides)
    assert (moved.got, moved.set_in_unit) == (pytest.approx(-0.05), pytest.approx(-0.05))


def test_under_a_voltage_cap_an_offset_is_no_clock_that_should_be_there():
    cap = Knob("cap", "Voltage cap", "mV", 1050, 5, 800, 1050, -1, "curve point")
    core = Knob("core", "Core clock", "MHz", 0, 15, 0, 1000, 1, "core clock")
    found = set_against_got([(cap, -165.0), (core, 855.0)], [run(1, core_mhz=1905.0)], [run(2, core_mhz=1893.0)])
    assert [one.comparable for one in found if one.key == "core"] == [False]
    alone = set_against_got([(core, 60.0)], [run(1, core_mhz=1905.0)], [run(2, core_mhz=1893.0)])
    assert alone[0].comparable
