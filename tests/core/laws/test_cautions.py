import pytest

from trelvo.core.base.knobs import Knob
from trelvo.core.laws.cautions import Surroundings, cautions_for, connector_load, oxygen_after

CORE = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock")
POWER = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")
DOWN = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage")
UP = Knob("voltage", "Voltage", "mV", 0, 5, -50, 100, 1, "voltage")
CAP = Knob("cap", "Power cap", "W", 45, 1, 12, 45, -1, "power limit")
BUS = Knob("bus", "Bus clock", "MHz", 33, 1, 25, 50, 1, "bus clock")


def keys(*knobs, goal="speed", **more):
    return [one.key for one in cautions_for(Surroundings(knobs, goal, **more))]


@pytest.mark.parametrize(
    ("found", "expected"),
    [
        (keys(CORE), []),
        (keys(DOWN, goal="efficiency"), []),
        (keys(CAP), []),
        (keys(UP), ["voltage"]),
        (keys(POWER), ["power limit", "connectors"]),
        (keys(CORE, highest_w=210.0), ["connectors"]),
        (keys(CORE, stress_test=True), ["heat"]),
        (keys(CORE, cooling="liquid nitrogen pot"), ["extreme cold"]),
        (keys(CORE, goal="record"), ["extreme cold"]),
        (keys(CORE, note="bare die"), ["heat spreader"]),
        (keys(CORE, note="new firmware to be flashed"), ["firmware"]),
        # what parts are called is no work on them; what is written of them may be
        (keys(CORE, build="memory 16 GB soldered storage 64 GB flash drive CD-ROM supply with surge protection"), []),
        (keys(CORE, build="graphics card, shunt bridged"), ["current sensing"]),
        (keys(CORE, note="shunt bridged"), ["current sensing"]),
        (keys(CORE, note="soldered at the card"), ["current sensing"]),
        (keys(BUS), ["old board"]),
    ],
)
def test_cautions_follow_from_rig_knobs_and_goal(found, expected):
    # a supply is never opened, and whose machine it is is always asked
    assert found == [*expected, "supply", "warranty"]


def test_a_yes_is_asked_for_before_the_knobs_that_can_hurt():
    every = cautions_for(
        Surroundings([UP, POWER, BUS], "record", "nitrogen", "bench", True, 300, "", "bare die, firmware to flash")
    )
    assert next(one for one in every if one.key == "voltage").before_knobs == ("voltage",)
    assert [one.key for one in every if one.never] == ["supply"]


def test_oxygen_after_a_spill():
    """Gas suppliers' formula (design/checks): 5 L in 40 m³ leave 19.1 %, 10 L in 30 m³ leave 16.1 %."""
    assert oxygen_after(40, 5).share == pytest.approx(19.1, abs=0.05)
    assert oxygen_after(30, 10).share == pytest.approx(16.1, abs=0.05)
    assert oxygen_after(40, 5).below
    assert not oxygen_after(100, 1).below
    assert oxygen_after(1, 1000).share == 0
    with pytest.raises(ValueError, match="room"):
        oxygen_after(0, 1)


def test_load_of_connectors():
    """Ohm's law: 300 W at 12 V are 25 A; ratings as in PCI Express CEM, from memory."""
    found = connector_load(300, ["8-pin", "8-pin"])
    assert (found.rated_w, found.amperes, found.share) == (300, 25, 1)
    assert (found.load, found.slot_above) == ("high", False)
    assert connector_load(340, ["8-pin", "8-pin"], slot_w=28.8).load == "above rating"
    assert connector_load(200, ["8-pin", "8-pin"], slot_w=80.0).slot_above
    assert connector_load(250, ["8-pin", "8-pin"], slot_w=28.8).share < 0.8
    assert connector_load(600, ["12+4-pin"]).amperes == 50
    with pytest.raises(ValueError, match="connectors"):
        connector_load(100, ["garden hose"])
