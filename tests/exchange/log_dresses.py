"""Logs from a known truth, in every dress that programs, spreadsheets and tired people give them.

The truth is made first (times and readings in their own units); a dress writes it down. What the import then says is set beside
the truth: right, asked (refused with a question) or wrong.
"""

import csv
import io
from collections import Counter
from dataclasses import dataclass, field
from datetime import datetime, timedelta

import numpy as np

from trelvo.core.problems import Refused
from trelvo.exchange.logs.guess import About, guess_choice
from trelvo.exchange.logs.reading import FrameLog, read_log
from trelvo.exchange.logs.text_table import read_table

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class Truth:
    """What was there: seconds from the start, and by quantity the readings in the own unit."""

    time_s: np.ndarray
    readings: dict[str, np.ndarray]
    begins: datetime


@dataclass(frozen=True)
class Dress:
    """How it is written down; every field is one way that was seen or could be."""

    time: str
    number: str
    units: str
    missing: str
    extras: tuple[str, ...]
    separator: str
    encoding: str
    line_end: str
    names: str
    scales: dict[str, str] = field(default_factory=dict)


# Machines of several families: load readings of clock in MHz, watts, degrees, volts, rpm.
FAMILIES = {
    "large card": (1830.0, 285.0, 71.0, 1.05, 1850.0),
    "small card": (985.0, 62.0, 64.0, 0.88, 2400.0),
    "laptop": (2750.0, 35.0, 88.0, 0.93, 4100.0),
    "desktop processor": (4650.0, 118.0, 79.0, 1.21, 1200.0),
    "old board": (50.0, 6.2, 46.0, 3.45, 2900.0),
    "frozen": (5350.0, 210.0, -75.0, 1.42, 900.0),
}
TIMES = (
    "seconds", "seconds with unit", "milliseconds named", "milliseconds under time", "microseconds", "nanoseconds",
    "minutes", "m:s", "m:s.f", "m:s:ms", "h:m:s", "h:m:s over midnight", "h:m:s:ms", "am pm", "iso", "day first",
    "month first", "month named", "two columns", "two columns over midnight", "epoch s", "epoch ms", "epoch us",
    "epoch ns", "day number", "compact", "two digits year", "month first over midnight", "zone",
)  # fmt: skip
NUMBERS = (
    "point",
    "comma",
    "point thousands comma",
    "comma thousands point",
    "space thousands",
    "apostrophe thousands",
    "narrow space",
)
UNITS = ("in brackets", "square", "suffix", "row", "cells", "none")
MISSING = ("none", "empty", "n/a", "dash", "zero")
EXTRAS = (
    "title above", "blank lines", "repeated header", "footer", "remark", "limit column", "flag column",
    "power percent", "words column", "many columns", "room column", "hot spot column", "memory temperature",
    "duplicate", "sampled frame time", "all empty column", "set point", "trailing separator", "other part",
    "index column",
)  # fmt: skip
SEPARATORS = (",", ";", "\t", "|")
ENCODINGS = ("utf-8", "utf-8-sig", "utf-16", "utf-16-le", "cp1252")
LINE_ENDS = ("\n", "\r\n", "\r")
NAMES = ("plain", "terse", "german")
TITLES = {
    "plain": {
        "core clock": "Core clock",
        "power": "Power",
        "temperature": "Temperature",
        "voltage": "Core voltage",
        "fan speed": "Fan",
    },
    "terse": {
        "core clock": "clk freq",
        "power": "pwr draw",
        "temperature": "temp",
        "voltage": "vcore",
        "fan speed": "tach",
    },
    "german": {
        "core clock": "Takt",
        "power": "Leistung",
        "temperature": "Temperatur",
        "voltage": "Spannung",
        "fan speed": "Drehzahl",
    },
}
# Each quantity's units as programs write them: word, factor and offset from the own unit.
SCALES = {
    "core clock": (("MHz", 1, 0), ("GHz", 1e-3, 0), ("kHz", 1e3, 0)),
    "power": (("W", 1, 0), ("mW", 1e3, 0), ("kW", 1e-3, 0)),
    "temperature": (("°C", 1, 0), ("°F", 1.8, 32), ("K", 1, 273.15)),
    "voltage": (("V", 1, 0), ("mV", 1e3, 0)),
    "fan speed": (("rpm", 1, 0),),
}
QUANTITIES = tuple(SCALES)


def make_truth(rng: np.random.Generator) -> Truth:
    """A run of one machine: it warms up, droops and scatters."""
    clock, power, temperature, voltage, fan = FAMILIES[str(rng.choice(list(FAMILIES)))]
    every = float(rng.choice([0.5, 1.0, 2.0, 5.0]))
    rows = int(rng.integers(40, 400))
    # readings come a little late, as they do; to the thousandth, as they are written
    time_s = np.round(np.arange(rows) * every + rng.uniform(0, 0.2 * every, rows) * (rng.random() < 0.5), 3)
    time_s -= time_s[0]
    warm = 1 - np.exp(-time_s / (0.3 * max(time_s[-1], 1)))
    scatter = lambda size: rng.normal(0, size, rows)  # noqa: E731
    readings = {
        "core clock": np.round(clock * (1 - 0.02 * warm) + scatter(0.004 * clock), 3),
        "power": np.round(power * (1 + 0.04 * warm) + scatter(0.02 * power), 3),
        "temperature": np.round(temperature - 12 + 12 * warm + scatter(0.4), 3),
        "voltage": np.round(voltage + scatter(0.004), 6),
        "fan speed": np.round(fan * (0.7 + 0.3 * warm) + scatter(8.0), 0),
    }
    day, hour = int(rng.integers(1, 29)), int(rng.integers(0, 23))
    begins = datetime(2031, int(rng.integers(1, 13)), day, hour, int(rng.integers(0, 60)), int(rng.integers(0, 60)))
    return Truth(time_s, {name: readings[name] for name in QUANTITIES}, begins)


def make_dress(rng: np.random.Generator) -> Dress:
    pick = lambda options, share=0.5: str(options[0] if rng.random() < share else rng.choice(options))  # noqa: E731
    extras = tuple(str(extra) for extra in rng.choice(EXTRAS, size=int(rng.integers(0, 4)), replace=False))
    scales = {name: str(rng.choice([word for word, _, _ in SCALES[name]])) for name in SCALES if rng.random() < 0.35}
    scales = {name: word for name, word in scales.items() if word != SCALES[name][0][0]}
    number = pick(NUMBERS, 0.4)
    separator = pick([s for s in SEPARATORS if s != "," or number == "point"], 0.4)
    return Dress(
        time=str(rng.choice(TIMES)),
        number=number,
        units=str(rng.choice(UNITS)),
        missing=pick(MISSING, 0.6),
        extras=extras,
        separator=separator,
        encoding=pick(ENCODINGS),
        line_end=pick(LINE_ENDS, 0.6),
        names=pick(NAMES, 0.6),
        scales=scales,
    )


def write(truth: Truth, dress: Dress, rng: np.random.Generator) -> bytes:
    """The truth as a file in this dress."""
    begins = truth.begins
    if "midnight" in dress.time:
        begins = begins.replace(hour=23, minute=59, second=58) - timedelta(seconds=float(truth.time_s[-1]) / 2)
    times = [begins + timedelta(seconds=float(t)) for t in truth.time_s]
    headers, columns, units = _time_columns(dress, truth, times)
    for name, values in truth.readings.items():
        word, factor, offset = next(s for s in SCALES[name] if s[0] == dress.scales.get(name, SCALES[name][0][0]))
        places = {"fan speed": 0, "voltage": 3}.get(name, 1) + (3 if factor < 1 else 0)
        cells = [_number(v * factor + offset, places, dress) for v in values]
        cells = [cell + (f" {word}" if dress.units == "cells" else "") for cell in cells]
        for row in range(3, len(cells) - 3):
            if dress.missing != "none" and rng.random() < 0.02 and name != "fan speed":
                cells[row] = {"empty": "", "n/a": "N/A", "dash": "-", "zero": _number(0, places, dress)}[dress.missing]
        headers.append(_header(TITLES[dress.names][name], word, dress.units))
        columns.append(cells)
        units.append(word)
    _extra_columns(dress, truth, headers, columns, units, rng)
    return _file(dress, headers, columns, units)


def _header(title: str, word: str, how: str) -> str:
    ascii_word = word.replace("°", "").lower()
    return {
        "in brackets": f"{title} ({word})",
        "square": f"{title} [{word}]",
        "suffix": f"{title.replace(' ', '_')}_{ascii_word}",
    }.get(how, title)


def _number(value: float, places: int, dress: Dress) -> str:
    text = f"{value:.{places}f}"
    if dress.number == "point":
        return text
    grouped = f"{value:,.{places}f}"
    swap = {
        "comma": text.replace(".", ","),
        "point thousands comma": grouped,
        "comma thousands point": grouped.replace(",", "x").replace(".", ",").replace("x", "."),
        "space thousands": grouped.replace(",", " "),
        "narrow space": grouped.replace(",", "\u202f"),
        "apostrophe thousands": grouped.replace(",", "'"),
    }
    return swap[dress.number]


def _time_columns(dress: Dress, truth: Truth, times: list[datetime]) -> tuple[list[str], list[list[str]], list[str]]:
    t, comma = truth.time_s, dress.number in ("comma", "comma thousands point")
    point = "," if comma else "."
    plain = lambda value, places: f"{value:.{places}f}".replace(".", point)  # noqa: E731
    clock = lambda at: f"{at:%H:%M:%S}{point}{at.microsecond // 1000:03}"  # noqa: E731
    epoch = [at.timestamp() for at in times]
    minutes = lambda s: f"{int(s // 60):02}:{int(s % 60):02}"  # noqa: E731
    half = lambda at: f"{(at.hour % 12) or 12}:{at:%M:%S} {'PM' if at.hour >= 12 else 'AM'}"  # noqa: E731
    forms: dict[str, tuple[str, list[str]]] = {
        "seconds": ("Time", [plain(s, 3) for s in t]),
        "seconds with unit": ("elapsed (s)", [plain(s, 2) for s in t]),
        "milliseconds named": ("time_ms", [str(round(s * 1000)) for s in t]),
        "milliseconds under time": ("Time", [str(round(s * 1000)) for s in t]),
        "microseconds": ("time_us", [str(round(s * 1e6)) for s in t]),
        "nanoseconds": ("timestamp [ns]", [str(round(s * 1e9) + 123_456_789_000) for s in t]),
        "minutes": ("time (min)", [plain(s / 60, 6) for s in t]),
        "m:s": ("time", [minutes(s) for s in t]),
        "m:s.f": ("time", [minutes(s) + point + f"{int(s * 10 % 10)}" for s in t]),
        "m:s:ms": ("time", [minutes(s) + f":{int(s * 1000 % 1000):03}" for s in t]),
        "h:m:s": ("time", [f"{int(s // 3600)}:{minutes(s % 3600)}" for s in t]),
        "h:m:s over midnight": ("clock time", [f"{at:%H:%M:%S}" for at in times]),
        "h:m:s:ms": ("time", [f"{at:%H:%M:%S}:{at.microsecond // 1000:03}" for at in times]),
        "am pm": ("Time", [half(at) for at in times]),
        "iso": ("timestamp", [f"{at:%Y-%m-%dT}{clock(at)}" for at in times]),
        "day first": ("Date", [f"{at:%d.%m.%Y} {clock(at)}" for at in times]),
        "month first": ("Date", [f"{at:%m/%d/%Y} {clock(at)}" for at in times]),
        "month first over midnight": ("Date", [f"{at:%m/%d/%Y} {clock(at)}" for at in times]),
        "month named": ("Date", [f"{at:%d}-{MONTHS[at.month - 1]}-{at:%Y} {clock(at)}" for at in times]),
        "epoch s": ("timestamp", [plain(s, 3) for s in epoch]),
        "epoch ms": ("time", [str(round(s * 1e3)) for s in epoch]),
        "epoch us": ("time", [str(round(s * 1e6)) for s in epoch]),
        "epoch ns": ("time", [str(round(s * 1e9)) for s in epoch]),
        "day number": ("time", [plain((at - datetime(1899, 12, 30)).total_seconds() / 86_400, 9) for at in times]),
        "compact": ("time", [f"{at:%Y%m%d %H%M%S}" for at in times]),
        "two digits year": ("time", [f"{at:%d/%m/%y} {clock(at)}" for at in times]),
        "zone": ("time", [f"{at:%Y-%m-%d} {clock(at)}+02:00" for at in times]),
    }
    if dress.time.startswith("two columns"):
        return ["Date", "Time"], [[f"{at:%d/%m/%Y}" for at in times], [clock(at) for at in times]], ["", ""]
    header, cells = forms[dress.time]
    unit = {
        "milliseconds named": "ms",
        "seconds with unit": "s",
        "microseconds": "us",
        "nanoseconds": "ns",
        "minutes": "min",
    }
    return [header], [cells], [unit.get(dress.time, "")]


def _extra_columns(
    dress: Dress, truth: Truth, headers: list[str], columns: list[list[str]], units: list[str], rng: np.random.Generator
) -> None:
    rows = len(truth.time_s)
    put = lambda header, cells, unit="": (headers.append(header), columns.append(cells), units.append(unit))  # noqa: E731
    steady = lambda value, places=0: [_number(value, places, dress)] * rows  # noqa: E731
    if "limit column" in dress.extras:
        put("Power limit (W)", steady(450.0))
    if "set point" in dress.extras:
        put("Fan target rpm", steady(1500.0))
        put("Temp limit °C", steady(83.0))
    if "flag column" in dress.extras:
        put("Throttle flag", [str(int(rng.random() < 0.2)) for _ in range(rows)])
    if "power percent" in dress.extras:
        put("Power %", [_number(float(v), 1, dress) for v in rng.uniform(80, 100, rows)])
    if "words column" in dress.extras:
        put("State", [str(rng.choice(["busy", "idle"])) for _ in range(rows)])
    if "many columns" in dress.extras:
        for n in range(300):
            put(f"counter {n}", [str(int(v)) for v in rng.integers(0, 9, rows)])
    if "room column" in dress.extras:
        put("Room temp °C", [_number(float(v), 1, dress) for v in rng.normal(22, 0.2, rows)])
    if "hot spot column" in dress.extras:
        put("Hot spot °C", [_number(float(v) + 11, 1, dress) for v in truth.readings["temperature"]])
    if "memory temperature" in dress.extras:
        put("Memory temp °C", [_number(float(v), 1, dress) for v in rng.normal(60, 1, rows)])
    if "sampled frame time" in dress.extras:
        put("Frame time (ms)", [_number(float(v), 2, dress) for v in rng.normal(14, 2, rows)])
    if "all empty column" in dress.extras:
        put("Spare temp °C", [""] * rows)
    if "other part" in dress.extras:
        put("Processor temp °C", [_number(float(v), 1, dress) for v in rng.normal(55, 1, rows)])
    if "index column" in dress.extras:
        headers.insert(0, "No.")
        columns.insert(0, [str(n + 1) for n in range(rows)])
        units.insert(0, "")
    if "duplicate" in dress.extras:
        title = TITLES[dress.names]["power"]
        place = next(i for i, header in enumerate(headers) if header.replace("_", " ").startswith(title))
        put(headers[place], [_number(float(v) * 0.4, 1, dress) for v in truth.readings["power"]], units[place])


def _file(dress: Dress, headers: list[str], columns: list[list[str]], units: list[str]) -> bytes:
    out = io.StringIO()
    table = csv.writer(out, delimiter=dress.separator, lineterminator="\n")
    end = [""] if "trailing separator" in dress.extras else []
    if "title above" in dress.extras:
        out.write("log of the evening\nwritten by hand\n\n")
    table.writerow([*headers, *end])
    if dress.units == "row":
        table.writerow([*(f"[{unit}]" if unit else "" for unit in units), *end])
    rows = list(zip(*columns, strict=True))
    for number, row in enumerate(rows):
        if number == len(rows) // 2:
            if "repeated header" in dress.extras:
                table.writerow([*headers, *end])
            if "blank lines" in dress.extras:
                out.write("\n")
            if "remark" in dress.extras:
                out.write("# a door was opened" + dress.separator * (len(headers) - 1) + "\n")
        table.writerow([*row, *end])
    if "footer" in dress.extras:
        out.write("\n" + dress.separator.join(["Average", *["1"] * (len(headers) - 1)]) + "\n")
    text = out.getvalue().replace("\n", dress.line_end)
    if dress.encoding == "cp1252":
        return text.replace("\u202f", "\u00a0").encode("cp1252")
    return text.encode(dress.encoding)


def needs_help(truth: Truth, dress: Dress) -> bool:
    """Whether no reader could be sure without asking: units that stand nowhere, zeros for nothing, two columns of one name."""
    whole_columns = dress.units == "none" and bool(dress.scales)
    return whole_columns or dress.missing == "zero" or "duplicate" in dress.extras


def judge(truth: Truth, dress: Dress, data: bytes, about: About | None = None) -> tuple[str, str]:
    """right, asked or wrong, and what was said. The offered choice is taken as it is."""
    try:
        table = read_table(data)
        log = read_log(table, guess_choice(table, about).choice)
    except Refused as refusal:
        return "asked", "; ".join(f"{problem.where}: {problem.code}" for problem in refusal.problems)
    if isinstance(log, FrameLog):
        return "wrong", "taken for frames"
    coarse = 1.1 if dress.time in ("m:s", "h:m:s", "h:m:s over midnight", "am pm", "compact") else 0.2
    if abs(log.time_s[-1] - truth.time_s[-1]) > coarse:
        return "wrong", f"covers {log.time_s[-1]:g} s, was {truth.time_s[-1]:g} s"
    if len(log.time_s) != len(truth.time_s):
        return "wrong", f"{len(log.time_s)} rows, were {len(truth.time_s)}"
    for name, values in truth.readings.items():
        told = [c for c in log.channels if c.quantity == name and c.tells and c.part == "tuned part"]
        if not told:
            return "asked", f"no {name}"
        size = max(abs(float(np.mean(values))), 1.0)
        for read in told:
            off = np.nanmax(np.abs(read.values - values)) / size
            if off > 0.02 or np.isnan(read.values).mean() > 0.2:
                return "wrong", f"{read.name}: {np.nanmean(read.values):g}, was {np.mean(values):g} ({name})"
    return "right", ""


def tried(seeds: range) -> tuple[Counter[tuple[str, bool]], list[tuple[int, str]]]:
    """How many dresses are right, asked or wrong, by whether they need help; and those that are wrong, with what was said."""
    told: Counter[tuple[str, bool]] = Counter()
    wrong = []
    for seed in seeds:
        rng = np.random.default_rng(seed)
        truth, dress = make_truth(rng), make_dress(rng)
        about = About("graphics", float(truth.time_s[-1]) if seed % 2 else None)
        verdict, why = judge(truth, dress, write(truth, dress, rng), about)
        told[verdict, needs_help(truth, dress)] += 1
        if verdict == "wrong":
            wrong.append((seed, f"{why} ({dress})"))
    return told, wrong
