"""What the machine that Trelvo runs on says of itself: processor, memory, board, graphics, driver, firmware, system.

Read with psutil and from what the operating system keeps (Linux: /proc, /sys, /etc/os-release; Windows: its registry); what a
system does not tell is left out, never guessed. The user looks it over before it is kept.
"""

import platform
import re
from dataclasses import dataclass
from pathlib import Path

import psutil

from trelvo.bench.registry import Registry, registered, registry_here
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft

# Where systems keep the names of graphics devices by their numbers, if they do.
_DEVICE_NAMES = ("usr/share/misc/pci.ids", "usr/share/hwdata/pci.ids")
# A display adapter's class in the device tree begins so.
_DISPLAY_CLASS = "0x03"
_MOST = 120


@dataclass(frozen=True)
class ThisMachine:
    """silent: what the system did not tell, in words"""

    name: str
    build: BuildDraft
    silent: tuple[str, ...]


def read_this_machine(root: Path = Path("/"), registry: Registry = registry_here) -> ThisMachine:
    """The machine as a build to begin with. root, registry: where it is kept (others in tests)"""
    kept = registered(registry)
    board = " ".join(_line(root / "sys/class/dmi/id" / word) for word in ("board_vendor", "board_name")).strip()
    graphics = _graphics(root)
    found = {
        "Processor": _processor(root, kept.processor),
        "Main board": board or kept.board,
        "Memory": _memory(),
        "Graphics card": graphics[0] or kept.graphics,
    }
    parts = tuple(PartDraft(role, name[:_MOST], "") for role, name in found.items() if name)
    driver = " ".join(
        part for part in (graphics[1], _line(root / "sys/module" / (graphics[1] or "-") / "version")) if part
    )
    driver = driver or kept.driver
    firmware = " ".join(_line(root / "sys/class/dmi/id" / word) for word in ("bios_version", "bios_date")).strip()
    firmware = firmware or kept.firmware
    rest = {"the driver": driver, "the firmware": firmware}
    silent = [role.lower() for role, name in found.items() if not name] + [
        what for what, said in rest.items() if not said
    ]
    build = BuildDraft(parts, driver=driver[:_MOST], firmware=firmware[:_MOST], system=_system(root)[:_MOST])
    return ThisMachine(platform.node()[:_MOST], build, tuple(silent))


def _line(path: Path) -> str:
    """The first line of a small file; empty where it cannot be read."""
    try:
        with path.open(encoding="utf-8", errors="replace") as file:
            return " ".join(file.readline(500).split())
    except OSError:
        return ""


def _processor(root: Path, kept: str) -> str:
    try:
        text = (root / "proc/cpuinfo").read_text(encoding="utf-8", errors="replace")
    except OSError:
        text = ""
    found = re.search(r"^(?:model name|Model|Hardware)\s*:\s*(.+)$", text, re.MULTILINE)
    name = found[1].strip() if found else kept or platform.processor()
    cores, threads = psutil.cpu_count(logical=False), psutil.cpu_count()
    said = f"{cores} cores, {threads} threads" if cores and threads and cores != threads else f"{threads} cores"
    return " ".join(f"{name}, {said}".split()) if name else ""


def _memory() -> str:
    return f"{psutil.virtual_memory().total / 2**30:.0f} GiB"


def _system(root: Path) -> str:
    try:
        text = (root / "etc/os-release").read_text(encoding="utf-8", errors="replace")
    except OSError:
        # the version is what tells one release of Windows from the next
        release = platform.version() if platform.system() == "Windows" else ""
        return f"{platform.system()} {platform.release()} {release}".strip()
    found = re.search(r'^PRETTY_NAME="?([^"\n]+)"?$', text, re.MULTILINE)
    name = found[1] if found else platform.system()
    return f"{name}, kernel {platform.release()}"


def _graphics(root: Path) -> tuple[str, str]:
    """The first display adapter's name and its driver; its numbers where the system keeps no names."""
    devices = root / "sys/bus/pci/devices"
    for device in sorted(devices.iterdir()) if devices.is_dir() else []:
        if not _line(device / "class").startswith(_DISPLAY_CLASS):
            continue
        vendor, number = (_line(device / word).removeprefix("0x") for word in ("vendor", "device"))
        driver = device / "driver"
        name = _device_name(root, vendor, number) or (f"graphics device {vendor}:{number}" if number else "")
        return name, driver.resolve().name if driver.exists() else ""
    return "", ""


def _device_name(root: Path, vendor: str, number: str) -> str:
    """From the system's own list: a maker's line begins with its number, its devices' lines below it with a tab."""
    for place in _DEVICE_NAMES:
        try:
            lines = (root / place).read_text(encoding="utf-8", errors="replace").splitlines()
        except OSError:
            continue
        maker = ""
        for line in lines:
            if line[:1].isalnum():
                maker = line[6:].strip() if line.startswith(f"{vendor} ") else ""
            elif maker and line.startswith(f"\t{number} "):
                return f"{maker} {line[7:].strip()}"
    return ""
