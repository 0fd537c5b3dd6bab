"""What Windows keeps of its machine: names of processor, board and graphics, versions of firmware and driver.

Places in the registry from memory; not tried on a machine that runs it. What is not there is left out.
"""

import sys
from collections.abc import Callable
from dataclasses import dataclass

# The text under a name in a key of the local machine; empty where there is none.
Registry = Callable[[str, str], str]

_FIRST_PROCESSOR = r"HARDWARE\DESCRIPTION\System\CentralProcessor\0"
_FIRMWARE = r"HARDWARE\DESCRIPTION\System\BIOS"
_DISPLAYS = r"SYSTEM\CurrentControlSet\Control\Class\{4d36e968-e325-11ce-bfc1-08002be10318}"
_MOST_DISPLAYS = 4


@dataclass(frozen=True)
class Registered:
    """Each as it stands there, empty where it does not."""

    processor: str
    board: str
    graphics: str
    driver: str
    firmware: str


def registered(registry: Registry) -> Registered:
    """The machine by its registry. The first display adapter that has a name is the graphics card."""
    displays = (rf"{_DISPLAYS}\{number:04d}" for number in range(_MOST_DISPLAYS))
    display = next((key for key in displays if registry(key, "DriverDesc")), "")
    return Registered(
        processor=_line(registry(_FIRST_PROCESSOR, "ProcessorNameString")),
        board=_line(registry(_FIRMWARE, "BaseBoardManufacturer"), registry(_FIRMWARE, "BaseBoardProduct")),
        graphics=_line(registry(display, "DriverDesc")) if display else "",
        driver=_line(registry(display, "DriverVersion")) if display else "",
        firmware=_line(registry(_FIRMWARE, "BIOSVersion"), registry(_FIRMWARE, "BIOSReleaseDate")),
    )


def _line(*parts: str) -> str:
    return " ".join(" ".join(parts).split())


if sys.platform == "win32":
    import winreg

    def registry_here(key: str, name: str) -> str:
        """From this machine's own registry."""
        try:
            with winreg.OpenKey(winreg.HKEY_LOCAL_MACHINE, key) as opened:
                return str(winreg.QueryValueEx(opened, name)[0])
        except OSError:
            return ""

else:

    def registry_here(key: str, name: str) -> str:
        """Other systems have none."""
        return ""
