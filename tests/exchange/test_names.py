"""What headers hint at: only a first offer, but a good one."""

import pytest

from trelvo.core.registry.quantities import QUANTITIES
from trelvo.exchange.logs.names import looks_like_frame_time, read_name
from trelvo.exchange.logs.times import looks_like_time
from trelvo.exchange.logs.units import header_unit


@pytest.mark.parametrize(
    ("header", "quantity", "unit"),
    [
        ("Core clock (MHz)", "core clock", "MHz"),
        ("core_ghz", "core clock", "GHz"),
        ("VRAM clock", "memory clock", None),
        ("Memory frequency [MHz]", "memory clock", "MHz"),
        ("hot spot °C", "temperature", "°C"),
        ("die temp °F", "temperature", "°F"),
        ("junction", "temperature", None),
        ("Board power", "power", None),
        ("draw_mw", "power", "mW"),
        ("total (W)", "power", "W"),
        ("core voltage mV", "voltage", "mV"),
        ("vcore", "voltage", None),
        ("Fan 1 rpm", "fan speed", "rpm"),
        ("fan %", "fan", "%"),
        ("core usage", "load", None),
        ("frame rate", "frame rate", None),
        ("remark", "other", None),
        ("Takt [GHz]", "core clock", "GHz"),
        ("Leistung (kW)", "power", "kW"),
        ("die_k", "temperature", "K"),
        ("noise, dB(A)", "noise", "dB(A)"),
        ("Power limit (W)", "other", None),
        ("fan target rpm", "other", None),
        ("water temp °C", "other", None),
        ("Power %", "other", None),
        ("throttle reason", "other", None),
    ],
)
def test_headers(header, quantity, unit):
    named = read_name(header)
    assert (named.quantity, named.unit) == (quantity, unit)


@pytest.mark.parametrize(
    ("header", "part", "kind"),
    [
        ("Graphics temp °C", "graphics", "main"),
        ("Processor package temp", "processor", "main"),
        ("core 3 clock MHz", "processor", "spot"),
        ("Hot spot °C", None, "spot"),
        ("Memory temp °C", "memory", "main"),
        ("Room °C temp", "room", "main"),
        ("case inlet temp", "board", "main"),
        ("wall power W", "whole machine", "main"),
        ("board W", None, "main"),
        ("motherboard power W", "board", "main"),
        ("temp max °C", None, "derived"),
        ("Temperature", None, "main"),
    ],
)
def test_which_part_and_whether_it_is_the_parts_own_reading(header, part, kind):
    named = read_name(header)
    assert (named.part, named.kind) == (part, kind)


@pytest.mark.parametrize(
    ("header", "unit"),
    [("elapsed (s)", "s"), ("time_us", "µs"), ("ms per frame", None), ("Uptime", None), ("t/ms", "ms"), ("12V", None)],
)
def test_units_in_names(header, unit):
    assert header_unit(header) == unit


def test_one_letter_behind_a_space_is_a_unit_only_where_the_name_says_the_quantity():
    assert read_name("Sensor A").quantity == "other"
    assert read_name("Temp C").unit == "°C"
    assert read_name("anything", cell_unit="W").quantity == "power"


@pytest.mark.parametrize(
    ("header", "is_it"), [("frametime", True), ("Frame time (ms)", True), ("ms per frame", True), ("frame", False)]
)
def test_frame_times(header, is_it):
    assert looks_like_frame_time(header) == is_it


@pytest.mark.parametrize(
    ("header", "is_it"),
    [("Time", True), ("timestamp", True), ("elapsed s", True), ("Date", True), ("t", True), ("temp", False)],
)
def test_times(header, is_it):
    assert looks_like_time(header) == is_it


def test_every_unit_leads_to_the_quantitys_own():
    for kind in QUANTITIES.values():
        factor, offset = kind.units()[kind.unit]
        assert (factor, offset) == (1, 0)
        assert kind.low < kind.high
    factor, offset = QUANTITIES["temperature"].units()["°F"]
    # arithmetic: water freezes at 32 °F and boils at 212 °F
    assert (32 * factor + offset, 212 * factor + offset) == pytest.approx((0, 100))
