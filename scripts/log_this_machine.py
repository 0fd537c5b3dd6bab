#!/usr/bin/env python3
"""Writes two logs of this machine under work, for import into Trelvo: telemetry and frame times. Standard library only.

  python3 scripts/log_this_machine.py FOLDER [SECONDS]

Repeats a fixed piece of arithmetic as its "frame". Telemetry holds what the system tells: clock, load, and temperature
where a sensor is readable. Nothing on the machine is changed.
"""

import csv
import sys
import time
from pathlib import Path

READING_EVERY_S = 0.25


def clock_mhz() -> float | None:
    """Mean of the cores' clocks as the kernel reports them, MHz."""
    scaled = [
        int(file.read_text()) / 1000
        for file in Path("/sys/devices/system/cpu").glob("cpu[0-9]*/cpufreq/scaling_cur_freq")
    ]
    if scaled:
        return sum(scaled) / len(scaled)
    info = Path("/proc/cpuinfo")
    lines = info.read_text().splitlines() if info.exists() else []
    told = [float(line.split(":")[1]) for line in lines if line.startswith("cpu MHz")]
    return sum(told) / len(told) if told else None


def busy_and_total() -> tuple[int, int] | None:
    """Processor time spent working, and in all, since start; in kernel ticks."""
    stat = Path("/proc/stat")
    if not stat.exists():
        return None
    ticks = [int(word) for word in stat.read_text().splitlines()[0].split()[1:]]
    return sum(ticks) - ticks[3] - ticks[4], sum(ticks)


def temperature_c() -> float | None:
    """Highest readable thermal zone, °C."""
    zones = []
    for file in Path("/sys/class/thermal").glob("thermal_zone*/temp"):
        try:
            zones.append(int(file.read_text()) / 1000)
        except (OSError, ValueError):
            continue
    return max(zones, default=None)


def frame() -> int:
    """The repeated work: some integer arithmetic that no cache can shorten."""
    seed = 1
    for _ in range(40_000):
        seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648
    return seed


def main(folder: Path, seconds: float) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    begin = last = time.perf_counter()
    before = busy_and_total()
    next_reading = READING_EVERY_S
    with (
        (folder / "telemetry.csv").open("w", newline="") as readings,
        (folder / "frames.csv").open("w", newline="") as frames,
    ):
        telemetry, times = csv.writer(readings), csv.writer(frames)
        telemetry.writerow(["elapsed s", "core clock MHz", "load %", "temperature °C"])
        times.writerow(["frame time ms"])
        while (now := time.perf_counter()) - begin < seconds:
            frame()
            done = time.perf_counter()
            times.writerow([f"{(done - now) * 1000:.4f}"])
            if done - begin >= next_reading:
                after = busy_and_total()
                load = None
                if before and after and after[1] > before[1]:
                    load = 100 * (after[0] - before[0]) / (after[1] - before[1])
                shown = [done - begin, clock_mhz(), load, temperature_c()]
                telemetry.writerow(["" if figure is None else f"{figure:.3f}" for figure in shown])
                before, last = after, done
                next_reading = last - begin + READING_EVERY_S


if __name__ == "__main__":
    if len(sys.argv) < 2:
        sys.exit(__doc__)
    main(Path(sys.argv[1]), float(sys.argv[2]) if len(sys.argv) > 2 else 60.0)
