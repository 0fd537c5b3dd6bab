"""What a new campaign begins with: usual knobs and workloads, and what the machine says of itself."""

import os
from pathlib import Path

from trelvo.bench.this_machine import read_this_machine


def test_every_starter_makes_a_campaign(client, db):
    answer = client.get("/api/starters").json()
    assert {one["key"] for one in answer["starters"]} == {
        "graphics card", "processor", "laptop", "shared budget", "old board",
    }  # fmt: skip
    for number, starter in enumerate(answer["starters"]):
        body = {
            "name": starter["name"],
            "goal": starter["goal"],
            "rig": {"name": f"Rig {number}", "build": {}},
            "knobs": starter["knobs"],
            "workloads": starter["workloads"],
        }
        made = client.post("/api/campaigns", body, content_type="application/json")
        assert made.status_code == 201, made.json()
        assert made.json()["next"]["step"]["stage"] == "Baseline"


def write(root: Path, name: str, text: str) -> None:
    (root / name).parent.mkdir(parents=True, exist_ok=True)
    (root / name).write_text(text, encoding="utf-8")


def test_a_machine_is_read_from_its_own_files(tmp_path):
    write(
        tmp_path,
        "proc/cpuinfo",
        "processor\t: 0\nvendor_id\t: made up\nmodel name\t: Basalt  8 at 4.1 GHz\n\nprocessor\t: 1\n",
    )
    write(tmp_path, "etc/os-release", 'NAME="Tidewater"\nPRETTY_NAME="Tidewater 12"\n')
    write(tmp_path, "sys/class/dmi/id/board_vendor", "Quarry\n")
    write(tmp_path, "sys/class/dmi/id/board_name", "Slate 3\n")
    write(tmp_path, "sys/class/dmi/id/bios_version", "F14\n")
    write(tmp_path, "sys/class/dmi/id/bios_date", "03/05/2026\n")
    for place, kind in (("0000:00:02.0", "0x020000"), ("0000:01:00.0", "0x030000")):
        write(tmp_path, f"sys/bus/pci/devices/{place}/class", kind)
        write(tmp_path, f"sys/bus/pci/devices/{place}/vendor", "0xabcd\n")
        write(tmp_path, f"sys/bus/pci/devices/{place}/device", "0x2a01\n")
    write(tmp_path, "sys/module/lantern/version", "31.4\n")
    (tmp_path / "sys/bus/pci/drivers/lantern").mkdir(parents=True)
    (tmp_path / "sys/bus/pci/devices/0000:01:00.0/driver").symlink_to(tmp_path / "sys/bus/pci/drivers/lantern")
    unnamed = read_this_machine(tmp_path)
    assert {part.role: part.name for part in unnamed.build.parts}["Graphics card"] == "graphics device abcd:2a01"
    write(
        tmp_path,
        "usr/share/misc/pci.ids",
        "# list\nabcc  Other\n\t2a01  Wrong one\nabcd  Heath Works\n\t2a01  Ember\n\t\tabcd 1  Sub\n",
    )
    found = read_this_machine(tmp_path)
    parts = {part.role: part.name for part in found.build.parts}
    assert parts["Processor"].startswith("Basalt 8 at 4.1 GHz, ")
    assert (parts["Main board"], parts["Graphics card"]) == ("Quarry Slate 3", "Heath Works Ember")
    assert (found.build.driver, found.build.firmware) == ("lantern 31.4", "F14 03/05/2026")
    assert found.build.system.startswith("Tidewater 12, kernel ")
    assert found.silent == ()


def test_a_machine_whose_system_keeps_a_registry(tmp_path):
    displays = r"SYSTEM\CurrentControlSet\Control\Class\{4d36e968-e325-11ce-bfc1-08002be10318}"
    kept = {
        (r"HARDWARE\DESCRIPTION\System\CentralProcessor\0", "ProcessorNameString"): "Basalt 8  at 4.1 GHz ",
        (r"HARDWARE\DESCRIPTION\System\BIOS", "BaseBoardProduct"): "Slate 3",
        (r"HARDWARE\DESCRIPTION\System\BIOS", "BIOSVersion"): "F14",
        # the first place is empty, as it is where an adapter was taken out
        (rf"{displays}\0001", "DriverDesc"): "Heath Works Ember",
        (rf"{displays}\0001", "DriverVersion"): "31.4.9",
    }
    found = read_this_machine(tmp_path, lambda key, name: kept.get((key, name), ""))
    parts = {part.role: part.name for part in found.build.parts}
    assert parts["Processor"].startswith("Basalt 8 at 4.1 GHz, ")
    assert (parts["Main board"], parts["Graphics card"]) == ("Slate 3", "Heath Works Ember")
    assert (found.build.driver, found.build.firmware) == ("31.4.9", "F14")
    assert found.silent == ()


def test_what_a_machine_does_not_tell_is_left_out(tmp_path):
    found = read_this_machine(tmp_path)
    assert not {"Main board", "Graphics card"} & {part.role for part in found.build.parts}
    assert {"main board", "graphics card", "the driver", "the firmware"} <= set(found.silent)


def test_this_machine_over_the_api(client, db):
    answer = client.get("/api/this-machine").json()
    assert answer["name"] == os.uname().nodename[:120]
    assert "Memory" in [part["role"] for part in answer["build"]["parts"]]
    assert answer["build"]["system"]
