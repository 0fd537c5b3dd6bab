"""Power as the operating system counts it, from files as Linux lays them out."""

import pytest

from trelvo.agent.domains import PowerDomains


class Machine:
    """A folder that looks like a machine's /sys, and a clock that is set."""

    def __init__(self, root):
        self.root, self.now = root, 100.0

    def put(self, path, *lines):
        file = self.root / "sys/class" / path
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text("\n".join(str(line) for line in lines) + "\n", encoding="utf-8")

    def counter(self, folder, name, energy, around=262_143_328_850):
        self.put(f"powercap/{folder}/name", name)
        self.put(f"powercap/{folder}/max_energy_range_uj", around)
        self.put(f"powercap/{folder}/energy_uj", energy)

    def domains(self, tuned=True):
        return PowerDomains(tuned, self.root, lambda: self.now)


@pytest.fixture
def machine(tmp_path):
    return Machine(tmp_path)


def test_watts_come_from_energy_over_time_also_when_the_counter_begins_again(machine):
    machine.counter("zone:0", "package-0", 5_000_000)
    domains = machine.domains()
    assert domains.read() == {}
    machine.now += 2.0
    machine.counter("zone:0", "package-0", 95_000_000)
    assert domains.read() == {"package-0 power": pytest.approx(45.0)}
    machine.now += 1.0
    machine.counter("zone:0", "package-0", 10_000_000, around=100_000_000)
    # the end of the range was noted at the start: 262 143.33 J, of which 95 J were gone
    assert domains.read()["package-0 power"] == pytest.approx((262_143_328_850 - 95e6 + 10e6) / 1e6)
    machine.now += 1.0
    assert domains.read()["package-0 power"] == 0.0


def test_the_counters_of_a_shared_chip_are_told_apart(machine):
    for folder, name in (
        ("z:0", "package-0"),
        ("z:0:0", "core"),
        ("z:0:1", "uncore"),
        ("z:0:2", "dram"),
        ("z:1", "psys"),
    ):
        machine.counter(folder, name, 1)
    # the same domain through a second interface
    machine.counter("other:0", "package-0", 1)
    parts = {one.name: (one.quantity, one.part) for one in machine.domains().channels()}
    assert parts == {
        "package-0 power": ("power", ""),
        "core power": ("power", "processor"),
        "uncore power": ("power", "graphics"),
        "dram power": ("power", "memory"),
        "psys power": ("power", "whole machine"),
    }
    # where a card is tuned, the chip is the processor, and its cores are a share of it
    other = {one.name: (one.quantity, one.part) for one in machine.domains(tuned=False).channels()}
    assert other["package-0 power"] == ("power", "processor")
    assert other["core power"] == ("other", "")


def test_cores_alone_and_two_sockets_are_not_taken_for_the_whole(machine):
    machine.counter("z:0", "package-0", 1)
    machine.counter("z:0:0", "core", 1)
    assert {one.name: one.quantity for one in machine.domains().channels()} == {
        "package-0 power": "power",
        "core power": "other",
    }
    machine.counter("z:1", "package-1", 1)
    assert {one.quantity for one in machine.domains().channels()} == {"other"}


def test_a_card_and_a_battery_are_read(machine):
    card = "drm/card1/device/hwmon/hwmon3"
    machine.put(f"{card}/power1_average", 178_000_000)
    machine.put(f"{card}/freq1_input", 2_370_000_000)
    machine.put(f"{card}/in0_input", 1050)
    machine.put("power_supply/BAT0/power_now", 23_500_000)
    machine.put("power_supply/BAT0/status", "Discharging")
    domains = machine.domains(tuned=False)
    assert domains.read() == {
        "graphics power": 178.0,
        "graphics clock": 2370.0,
        "graphics voltage": 1.05,
        "BAT0 power": 23.5,
    }
    assert {(one.name, one.quantity, one.unit, one.part) for one in domains.channels()} == {
        ("graphics power", "power", "W", ""),
        ("graphics clock", "core clock", "MHz", ""),
        ("graphics voltage", "voltage", "V", ""),
        ("BAT0 power", "power", "W", "whole machine"),
    }
    machine.put("power_supply/BAT0/status", "Charging")
    assert "BAT0 power" not in domains.read()


def test_what_cannot_be_read_is_left_out_and_said(machine):
    machine.put("powercap/z:0/name", "package-0")
    machine.put("powercap/z:0/max_energy_range_uj", 1000)
    machine.put("powercap/z:0/energy_uj", "no number")
    machine.put("drm/card0/device/hwmon/hwmon1/power1_average", "")
    domains = machine.domains()
    assert domains.locked
    assert (domains.channels(), domains.read()) == ([], {})
    assert not Machine(machine.root / "nothing").domains().locked
