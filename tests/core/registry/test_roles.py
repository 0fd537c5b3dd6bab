"""What a knob turns, told from its name and unit; and which way each role helps. Common practice."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.figures import BY_WORD
from trelvo.core.base.knobs import Knob, effect_of
from trelvo.core.base.presets import STARTERS, USUAL_KNOBS
from trelvo.core.registry.guess import guess_role
from trelvo.core.registry.roles import FACTS, FREQUENCY, ROLES, VOLTS


@pytest.mark.parametrize(
    ("key", "name", "unit", "role"),
    [
        ("vcore", "Core voltage", "mV", "voltage"),
        ("vmem", "Memory voltage", "V", "voltage"),
        ("cap", "Curve cap", "mV", "curve point"),
        ("vcap", "Voltage cap", "mV", "curve point"),
        ("curve", "Curve point", "mV", "curve point"),
        ("soc", "SoC voltage", "V", "voltage"),
        ("uv", "Undervolt", "mv", "voltage"),
        ("offset", "Core offset", "MHz", "core clock"),
        ("clock", "Clock", "GHz", "core clock"),
        ("mem", "Memory", "MT/s", "memory clock"),
        ("ratio", "Core ratio", "x", "multiplier"),
        ("bclk", "Bus", "MHz", "bus clock"),
        ("cap", "Cap", "W", "power limit"),
        ("pl", "PL", "%", "power limit"),
        ("limit", "Power limit", "", "power limit"),
        ("cl", "CAS latency", "cycles", "wait states"),
        ("llc", "Load line level", "", "load line"),
        ("pump", "Pump speed", "rpm", "fan"),
        ("curve", "Fan curve", "%", "fan"),
        ("eff", "Efficiency cores", "", "core count"),
        ("target", "Temperature limit", "°C", "other"),
        ("x", "Hinge", "", "other"),
        ("vlim", "Voltage limit", "mV", "curve point"),
        ("point", "V/F point", "mV", "curve point"),
        ("t", "tCL", "clk", "wait states"),
        ("mem", "Memory voltage", "", "voltage"),
    ],
)
def test_the_unit_excludes_and_the_words_decide(key, name, unit, role):
    found = guess_role(key, name, unit)
    assert (found.role, found.certain) == (role, True)


@pytest.mark.parametrize(
    ("key", "name", "unit", "possible"),
    [
        ("slider", "Slider", "%", "power limit"),
        ("a", "Mystery", "MHz", "core clock"),
        ("fabric", "Fabric clock", "MHz", "bus clock"),
        ("core", "Core clock", "mV", "voltage"),
        ("core", "Core offset", "", "voltage"),
        ("core", "Core offset", "", "core clock"),
        ("limit", "Clock limit", "", "core clock"),
        ("curve", "Curve", "", "voltage"),
    ],
)
def test_a_doubt_is_asked_about(key, name, unit, possible):
    found = guess_role(key, name, unit)
    assert not found.certain
    assert possible in found.choices
    assert "other" in found.choices


@given(st.text(st.characters(codec="ascii"), max_size=30), st.sampled_from(VOLTS))
def test_a_knob_in_volts_is_never_a_clock(name, unit):
    found = guess_role("k", name, unit)
    assert FACTS[found.role].moves in ("voltage_v", "")
    assert not {"core clock", "memory clock", "power limit", "multiplier"} & set(found.choices)


@given(st.text(st.characters(codec="ascii"), max_size=30), st.sampled_from(FREQUENCY))
def test_a_knob_in_hertz_is_never_a_voltage_or_a_limit(name, unit):
    found = guess_role("k", name, unit)
    assert not {"voltage", "curve point", "power limit", "fan"} & {found.role, *found.choices}


def test_usual_knobs_are_told_as_what_they_are():
    for knob in (*USUAL_KNOBS, *(knob for starter in STARTERS for knob in starter.knobs)):
        found = guess_role(knob.key, knob.name, knob.unit)
        assert (found.role, found.certain) == (knob.role, True), knob.name


def test_every_role_is_complete():
    assert set(FACTS) == set(ROLES)
    for row in FACTS.values():
        assert row.moves == "" or row.moves in BY_WORD
        assert row.raising in ("endangers", "helps", "neutral")


@pytest.mark.parametrize(
    ("role", "up", "down"),
    [
        ("core clock", "endangers", "helps"), ("memory clock", "endangers", "helps"), ("multiplier", "endangers", "helps"),
        ("bus clock", "endangers", "helps"), ("voltage", "helps", "endangers"), ("curve point", "helps", "endangers"),
        ("load line", "helps", "endangers"), ("wait states", "helps", "endangers"), ("fan", "helps", "endangers"),
        ("power limit", "neutral", "neutral"), ("other", "neutral", "neutral"),
    ],
)  # fmt: skip
def test_which_way_helps(role, up, down):
    knob = Knob("k", "K", "", 5, 1, 0, 10, 1, role)
    assert (effect_of(knob, 1), effect_of(knob, -1)) == (up, down)
    assert (role == "fan") == (not knob.facts.tested)
