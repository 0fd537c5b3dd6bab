"""Power as Linux itself counts it: the processor's energy counters, graphics cards' own sensors, the battery."""

import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from trelvo.agent.sensors import Channel

POINT = "software"


@dataclass(frozen=True)
class Counter:
    """An energy counter: what it is called, where it lies, and at how many microjoules it begins again."""

    name: str
    file: Path
    around: float


class PowerDomains:
    """What the operating system tells of power besides the machine's common sensors; nothing where it tells nothing.

    tuned: whether the processor is what is being tuned; root: where the files lie; clock: seconds that
    never jump (others in tests)
    """

    def __init__(self, tuned: bool = True, root: Path = Path("/"), clock: Callable[[], float] = time.monotonic) -> None:
        self.tuned, self.root, self.clock = tuned, root, clock
        self._counters = self._found_counters()
        self._cards = self._found_cards()
        self._batteries = sorted(root.glob("sys/class/power_supply/*/power_now"))
        self._last: dict[str, tuple[float, float]] = {}
        self._read_counters()
        self._channels = [*self._counter_channels(), *self._sensor_channels()]

    @property
    def locked(self) -> bool:
        """Whether there are counters that this user may not read."""
        every = list(self.root.glob("sys/class/powercap/*/energy_uj"))
        return bool(every) and not self._counters

    def channels(self) -> list[Channel]:
        return self._channels

    def read(self) -> dict[str, float]:
        found = self._read_counters()
        for name, file, factor in self._cards:
            value = _number(file)
            if value is not None:
                found[name] = value / factor
        for file in self._batteries:
            value = _number(file)
            # charging says nothing of what the machine draws
            if value and _text(file.with_name("status")).lower() == "discharging":
                found[f"{file.parent.name} power"] = value / 1e6
        return found

    def _found_counters(self) -> list[Counter]:
        found: dict[str, Counter] = {}
        for file in sorted(self.root.glob("sys/class/powercap/*/energy_uj")):
            name, around = _text(file.with_name("name")), _number(file.with_name("max_energy_range_uj"))
            if name and around and _number(file) is not None:
                # the same domain may be shown by two interfaces; the first is enough
                found.setdefault(name, Counter(f"{name} power", file, around))
        return list(found.values())

    def _read_counters(self) -> dict[str, float]:
        """Mean watts since the reading before; nothing at the first."""
        found: dict[str, float] = {}
        for counter in self._counters:
            energy, now = _number(counter.file), self.clock()
            if energy is None:
                continue
            before = self._last.get(counter.name)
            self._last[counter.name] = (energy, now)
            if before is None or now <= before[1]:
                continue
            spent = energy - before[0]
            if spent < 0:
                spent += counter.around
            found[counter.name] = spent / 1e6 / (now - before[1])
        return found

    def _counter_channels(self) -> list[Channel]:
        names = [counter.name.removesuffix(" power") for counter in self._counters]
        packages = [name for name in names if name.startswith("package")]
        found = []
        for name in names:
            part = self._part(name, has_graphics="uncore" in names, packages=len(packages))
            quantity = "other" if part is None else "power"
            found.append(Channel(f"{name} power", quantity, "W", POINT if part is not None else "", part or ""))
        return found

    def _part(self, domain: str, *, has_graphics: bool, packages: int) -> str | None:
        """Which part a domain is; None where it is only a share of one that has a reading already."""
        if domain == "uncore":
            return "graphics"
        if domain == "dram":
            return "memory"
        if domain == "psys":
            return "whole machine"
        if domain.startswith("package") and packages == 1:
            # the whole chip: what is tuned, else the processor
            return "" if self.tuned else "processor"
        if domain == "core" and has_graphics and self.tuned:
            return "processor"
        return None

    def _found_cards(self) -> list[tuple[str, Path, float]]:
        """Sensors that belong to a graphics card: name, file, what its number is divided by."""
        found = []
        cards = sorted(self.root.glob("sys/class/drm/card[0-9]*/device/hwmon/hwmon*"))
        for number, folder in enumerate(cards):
            card = "graphics" if len(cards) == 1 else f"graphics {number + 1}"
            power = next((one for one in ("power1_average", "power1_input") if (folder / one).exists()), None)
            files = ((power, "power", 1e6), ("freq1_input", "clock", 1e6), ("in0_input", "voltage", 1000.0))
            for file, what, factor in files:
                if file and _number(folder / file) is not None:
                    found.append((f"{card} {what}", folder / file, factor))
        return found

    def _sensor_channels(self) -> list[Channel]:
        units = {"power": ("power", "W", POINT), "clock": ("core clock", "MHz", ""), "voltage": ("voltage", "V", "")}
        # where the processor is not what is tuned, the card is
        part = "graphics" if self.tuned else ""
        found = [Channel(name, *units[name.rsplit(" ", 1)[1]], part) for name, _, _ in self._cards]
        return found + [
            Channel(f"{file.parent.name} power", "power", "W", POINT, "whole machine") for file in self._batteries
        ]


def _text(file: Path) -> str:
    """The first line of a file; empty where it cannot be read."""
    try:
        with file.open(encoding="utf-8", errors="replace") as opened:
            return opened.readline(4096).strip()
    except OSError:
        return ""


def _number(file: Path) -> float | None:
    try:
        return float(_text(file))
    except ValueError:
        return None
