"""Figures declared once: names, units, what can be; and which reading of several counts."""

from datetime import UTC, datetime, timedelta

import pytest

from trelvo.core.base.figures import BY_WORD, NAMED, FigureKey, check_figure, name_of
from trelvo.core.base.instruments import Instrument, Reading, check_instrument, counted
from trelvo.core.registry.quantities import QUANTITIES

NOON = datetime(2031, 5, 1, 12, tzinfo=UTC)
POWER, HOTTEST = BY_WORD["power_w"].key, BY_WORD["temp_max_c"].key


def test_every_declared_figure_has_a_quantity_with_a_unit_and_a_range():
    for kind in NAMED:
        assert QUANTITIES[kind.key.quantity].unit
        assert QUANTITIES[kind.key.quantity].low < QUANTITIES[kind.key.quantity].high
    assert len({kind.word for kind in NAMED}) == len({kind.key for kind in NAMED}) == len(NAMED)


def test_units_lead_to_the_quantitys_own():
    factor, offset = QUANTITIES["temperature"].units()["°F"]
    # water boils at 212 °F, freezes at 32 °F: any textbook
    assert (212 * factor + offset, 32 * factor + offset) == (pytest.approx(100), pytest.approx(0))
    assert 109.5 * QUANTITIES["energy"].units()["kWh"][0] == pytest.approx(109.5 * 3.6e6)


def test_a_figure_without_a_name_of_its_own_is_named_by_its_key():
    assert name_of(POWER) == "Mean power"
    assert name_of(FigureKey("temperature", "memory", "highest")) == "Memory, highest temperature"
    assert name_of(FigureKey("energy", "whole machine", "total")) == "Whole machine, energy"
    assert FigureKey("temperature", "memory", "highest").word == "temperature.memory.highest"


@pytest.mark.parametrize(
    ("key", "value", "code"),
    [
        (POWER, 0.0, "not_above_zero"),
        (POWER, 4000.0, "figure_out_of_range"),
        (HOTTEST, float("nan"), "not_a_number"),
        (BY_WORD["room_c"].key, 75.0, "figure_out_of_range"),
        (BY_WORD["noise_dba"].key, 400.0, "figure_out_of_range"),
    ],
)
def test_what_cannot_be_is_said(key, value, code):
    problem = check_figure(key, value, "there")
    assert problem.where == "there"
    assert problem.code == code


OWN = Instrument(1, "own report", "own report", "power", "tuned part")
CLAMP = Instrument(2, "clamp", "clamp", "power", "tuned part", offset=27.0)
WRONG = Instrument(3, "old meter", "wall meter", "power", "tuned part", trust="wrong", trust_since=NOON)
ALL = {one.id: one for one in (OWN, CLAMP, WRONG)}


def of(*readings, chosen=None, moment=NOON):
    found = counted([Reading(POWER, value, by) for by, value in readings], ALL, chosen or {}, moment)
    return (found[POWER].value, found[POWER].corrected) if POWER in found else None


def test_the_chosen_instrument_counts_and_else_the_older_one():
    assert of((2, 173.0), (1, 200.0)) == (200, False)
    assert of((2, 173.0), (1, 200.0), chosen={"power": 2}) == (200, True)
    assert of((2, 173.0), (1, 200.0), chosen={"power": 3}) == (200, False)
    assert of((None, 190.0), (2, 173.0)) == (200, True)
    assert of((None, 190.0)) == (190, False)


def test_what_a_wrong_instrument_read_stays_and_no_longer_counts():
    assert of((3, 310.0), moment=NOON - timedelta(hours=1)) == (310, False)
    assert of((3, 310.0)) is None
    assert of((3, 310.0), (1, 200.0), chosen={"power": 3}) == (200, False)


@pytest.mark.parametrize(
    ("changes", "where"),
    [
        ({"factor": 0.0}, "factor"),
        ({"name": " "}, "name"),
        ({"quantity": "other"}, "quantity"),
        ({"offset_sd": -1.0}, "offset_sd"),
        ({"resolution": 0.0}, "resolution"),
        ({"offset": float("inf")}, "offset"),
    ],
)
def test_an_instrument_that_cannot_be(changes, where):
    problems = check_instrument(Instrument(**{**OWN.__dict__, **changes}))
    assert [problem.where for problem in problems] == [where]
