"""What can be read of this machine: by psutil on Linux and Windows, by Linux's own files where psutil is not installed."""

from dataclasses import dataclass
from typing import Protocol

from trelvo.agent.plain import PlainReadings

try:
    import psutil
except ImportError:  # a machine under test need not have it
    psutil = None


@dataclass(frozen=True)
class Channel:
    """As the protocol declares it. part: empty for what is being tuned; instrument: what reads it, by its name on the rig"""

    name: str
    quantity: str
    unit: str
    point: str = ""
    part: str = ""
    instrument: str = ""


class Source(Protocol):
    """Something that can be read."""

    def channels(self) -> list[Channel]: ...

    def read(self) -> dict[str, float]:
        """Readings by channel name; a channel that has none at the moment is left out."""


class Readings(Protocol):
    """Readings by name, without a meaning yet."""

    def read(self) -> dict[str, float]: ...


class MachineSensors:
    """The machine's own readings. What this machine does not have is not declared, rather than sent as zero.

    tuned: whether the processor is what is being tuned; else its clock and load are passed on without a meaning, so that
    they are not taken for those of the tuned part
    """

    def __init__(self, tuned: bool = True, readings: Readings | None = None) -> None:
        self.tuned = tuned
        self._readings = readings or (PsutilReadings() if psutil else PlainReadings())
        self._channels = [self._declare(name) for name in self.read()]

    def channels(self) -> list[Channel]:
        return self._channels

    def read(self) -> dict[str, float]:
        return self._readings.read()

    def _declare(self, name: str) -> Channel:
        if name.startswith("temp "):
            return Channel(name, "temperature", "°C")
        if name.startswith("fan "):
            return Channel(name, "fan speed", "rpm")
        if name == "processor load":
            return Channel(name, "load" if self.tuned else "other", "%")
        if name == "processor clock":
            return Channel(name, "core clock" if self.tuned else "other", "MHz")
        return Channel(name, "other", "" if name == "on mains" else "%")


class PsutilReadings:
    """As psutil has them."""

    def __init__(self) -> None:
        psutil.cpu_percent(interval=None)

    def read(self) -> dict[str, float]:
        found: dict[str, float] = {
            "processor load": psutil.cpu_percent(interval=None),
            "memory used": psutil.virtual_memory().percent,
        }
        clock = psutil.cpu_freq()
        if clock and clock.current:
            found["processor clock"] = float(clock.current)
        for group, sensors in _temperatures().items():
            for number, sensor in enumerate(sensors):
                found[_name("temp", group, sensor.label, number)] = float(sensor.current)
        for group, fans in _fans().items():
            for number, fan in enumerate(fans):
                found[_name("fan", group, fan.label, number)] = float(fan.current)
        battery = psutil.sensors_battery() if hasattr(psutil, "sensors_battery") else None
        if battery:
            found["battery"] = float(battery.percent)
            found["on mains"] = float(bool(battery.power_plugged))
        return found


def _temperatures() -> dict[str, list]:  # type: ignore[type-arg]
    return psutil.sensors_temperatures() if hasattr(psutil, "sensors_temperatures") else {}


def _fans() -> dict[str, list]:  # type: ignore[type-arg]
    return psutil.sensors_fans() if hasattr(psutil, "sensors_fans") else {}


def _name(kind: str, group: str, label: str, number: int) -> str:
    return f"{kind} {group} {label or number}".strip()
