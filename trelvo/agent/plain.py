"""What Linux tells in its own files, for a machine without psutil: load, memory, clock, temperatures, fans."""

from pathlib import Path


class PlainReadings:
    """The same names as psutil's readings have. root: where the files lie (another folder in tests)"""

    def __init__(self, root: Path = Path("/")) -> None:
        self.root = root
        self._times = self._busy_and_all()

    def read(self) -> dict[str, float]:
        found: dict[str, float] = {}
        before, self._times = self._times, self._busy_and_all()
        if self._times and before:
            busy, every = self._times[0] - before[0], self._times[1] - before[1]
            found["processor load"] = 100 * busy / every if every > 0 else 0.0
        memory = self._memory()
        if memory is not None:
            found["memory used"] = memory
        clock = self._number("sys/devices/system/cpu/cpu0/cpufreq/scaling_cur_freq")
        if clock:
            found["processor clock"] = clock / 1000
        for chip in sorted(self.root.glob("sys/class/hwmon/hwmon*")):
            group = self._text(chip / "name") or chip.name
            for kind, pattern, scale in (("temp", "temp*_input", 1000.0), ("fan", "fan*_input", 1.0)):
                for number, file in enumerate(sorted(chip.glob(pattern))):
                    value = self._number(file)
                    label = self._text(file.with_name(file.name.replace("_input", "_label")))
                    if value is not None:
                        found[f"{kind} {group} {label or number}"] = value / scale
        return found

    def _busy_and_all(self) -> tuple[float, float] | None:
        words = self._text("proc/stat").split()[1:9]
        if len(words) < 5:
            return None
        times = [float(word) for word in words]
        # idle and waiting for input count as idle
        return sum(times) - times[3] - times[4], sum(times)

    def _memory(self) -> float | None:
        found: dict[str, float] = {}
        try:
            lines = (self.root / "proc/meminfo").read_text(encoding="ascii", errors="replace").splitlines()
        except OSError:
            return None
        for line in lines:
            name, _, rest = line.partition(":")
            if rest.split()[:1] and rest.split()[0].isdigit():
                found[name] = float(rest.split()[0])
        if not found.get("MemTotal"):
            return None
        return 100 * (1 - found.get("MemAvailable", 0.0) / found["MemTotal"])

    def _text(self, place: str | Path) -> str:
        """The first line of a file; empty where it cannot be read."""
        try:
            with (self.root / place).open(encoding="utf-8", errors="replace") as file:
                return file.readline(4096).strip()
        except OSError:
            return ""

    def _number(self, place: str | Path) -> float | None:
        try:
            return float(self._text(place))
        except ValueError:
            return None
