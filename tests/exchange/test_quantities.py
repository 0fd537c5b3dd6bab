"""What headers hint at: only a first offer, but a good one."""

import pytest

from trelvo.exchange.logs.quantities import KINDS, guess_quantity, guess_unit, looks_like_frame_time, looks_like_time


@pytest.mark.parametrize(
    ("header", "quantity", "unit"),
    [
        ("Core clock (MHz)", "core clock", "MHz"),
        ("core_ghz", "core clock", "GHz"),
        ("VRAM clock", "memory clock", "MHz"),
        ("Memory frequency [MHz]", "memory clock", "MHz"),
        ("hot spot °C", "temperature", "°C"),
        ("die temp °F", "temperature", "°F"),
        ("junction", "temperature", "°C"),
        ("Board power", "power", "W"),
        ("draw_mw", "power", "mW"),
        ("total (W)", "power", "W"),
        ("core voltage mV", "voltage", "mV"),
        ("vcore", "voltage", "V"),
        ("Fan 1 rpm", "fan speed", "rpm"),
        ("fan %", "fan", "%"),
        ("core usage", "load", "%"),
        ("frame rate", "frame rate", "fps"),
        ("remark", "other", ""),
    ],
)
def test_headers(header, quantity, unit):
    assert guess_quantity(header) == quantity
    assert guess_unit(header, quantity) == unit


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
    for kind in KINDS.values():
        factor, offset = kind.units()[kind.unit]
        assert (factor, offset) == (1, 0)
        assert kind.low < kind.high
    factor, offset = KINDS["temperature"].units()["°F"]
    # arithmetic: water freezes at 32 °F and boils at 212 °F
    assert (32 * factor + offset, 212 * factor + offset) == pytest.approx((0, 100))
