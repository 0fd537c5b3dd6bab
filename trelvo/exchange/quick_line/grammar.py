"""The quick line: a whole run typed in one line, read word by word, never guessed. Grammar in docs/formats.md."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from trelvo.core.base.figures import KINDS, NAMED
from trelvo.core.base.instruments import Point
from trelvo.core.base.knobs import Knob, check_value, describe_setting, describe_value
from trelvo.core.base.problems import Problem
from trelvo.core.base.runs import Outcome

MOST_CHARACTERS = 400
OUTCOME_WORDS: dict[str, Outcome] = {
    "ok": "completed",
    "odd": "odd numbers",
    "closed": "program closed",
    "down": "machine down",
    "nostart": "no start",
    "rail": "stopped by a guard rail",
    "stopped": "stopped by hand",
    "lost": "contact lost",
}
# What people type instead; of some words nobody can tell which of several ways it ended.
OUTCOMES_AS_SAID: dict[str, Outcome] = {
    **dict.fromkeys(["froze", "frozen", "freeze", "hang", "hung", "reboot", "rebooted", "restarted"], "machine down"),
    **dict.fromkeys(["artifacts", "artefacts", "speckles", "flicker", "stutter"], "odd numbers"),
    **dict.fromkeys(["completed", "passed", "fine"], "completed"),
    "blackscreen": "no start",
}
UNCLEAR_OUTCOMES = ("crash", "crashed", "failed", "fail", "died")
POINT_WORDS: dict[str, Point] = {"own": "software", "cables": "cables", "wall": "wall"}
DURATION, RESULT = "duration_s", "value"
# behind a number: the figure's word, its name, its unit, factor to it
UNITS: dict[str, tuple[str, str, str, float]] = {
    **{
        unit: (kind.word, kind.name.lower(), KINDS[kind.key.quantity].unit, 1.0)
        for kind in NAMED
        for unit in kind.line_units
    },
    "min": (DURATION, "duration", "min", 60.0),
    "h": (DURATION, "duration", "h", 3600.0),
    "sec": (DURATION, "duration", "s", 1.0),
}
# before a number: the figure's word, its name, its unit
BEFORE: dict[str, tuple[str, str, str]] = {
    kind.line_word: (kind.word, kind.name.lower(), KINDS[kind.key.quantity].unit) for kind in NAMED if kind.line_word
}
# units written out, or apart from their number
UNITS_AS_SAID = {"watt": "w", "watts": "w", "degrees": "c", "minutes": "min", "minute": "min", "hours": "h", "hour": "h",
                 "seconds": "sec", "s": "sec"}  # fmt: skip
_JOINED = re.compile(r"([a-z]+)([+\-−]\d+(?:[.,]\d+)?\S*)")
_MINUTES = re.compile(r"(\d{1,3}):([0-5]\d)")
_NUMBER = re.compile(r"([+\-−]?\d+(?:[.,]\d+)?)([^\d\s]*)")


@dataclass(frozen=True)
class Understood:
    """A stretch of the line and what it was taken for."""

    start: int
    end: int
    meaning: str


@dataclass
class QuickLine:
    """What a line says. Where there are problems it cannot be logged; `where` of a problem is "start-end" in the line."""

    values: dict[str, float] = field(default_factory=dict)
    setting: str = ""
    workload_id: int | None = None
    outcome: Outcome | None = None
    figures: dict[str, float] = field(default_factory=dict)
    power_point: Point = "unknown"
    note: str = ""
    understood: list[Understood] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)


@dataclass(frozen=True)
class LineWorkload:
    id: int
    name: str
    unit: str


@dataclass(frozen=True)
class _Word:
    text: str
    start: int
    end: int

    @property
    def place(self) -> str:
        return f"{self.start}-{self.end}"


class _Reader:
    def __init__(
        self, line: str, knobs: Sequence[Knob], workloads: Sequence[LineWorkload], before: Mapping[str, float]
    ) -> None:
        self.knobs, self.workloads, self.before = knobs, workloads, before
        text, _, note = line.partition("#")
        self.said = QuickLine(note=note.strip())
        self.words = [part for m in re.finditer(r"\S+", text) for part in _parted(m, knobs)]
        self.length = len(line)
        self.at = 0
        self.named: dict[str, float] = {}
        self.from_stock = False
        self.workload: LineWorkload | None = None

    def read(self) -> QuickLine:
        while self.at < len(self.words):
            word = self.words[self.at]
            self.at += 1
            if not (self._setting(word) or self._plain(word) or self._figure(word) or self._workload(word)):
                todo = "Use a knob, a workload, a figure with its unit, or an ending (a crash: down or closed). ? shows all."
                self._wrong(word, f"“{word.text}” is not understood.", todo)
        self._close()
        return self.said

    def _wrong(self, word: _Word, what: str, todo: str) -> None:
        self.said.problems.append(Problem(word.place, what, todo))

    def _took(self, first: _Word, last: _Word, meaning: str) -> None:
        self.said.understood.append(Understood(first.start, last.end, meaning))

    def _next_number(self) -> tuple[_Word, float, str] | None:
        """The next word, where it is a number with or without a unit."""
        if self.at < len(self.words) and (found := _NUMBER.fullmatch(self.words[self.at].text)):
            self.at += 1
            return self.words[self.at - 1], _number(found.group(1)), found.group(2)
        return None

    def _setting(self, word: _Word) -> bool:
        if word.text == "stock":
            self.from_stock = True
            self._took(word, word, "all knobs not named stand at stock")
            return True
        knob = self._knob_named(word.text)
        if knob is None:
            return self._knob_by_unit(word)
        value = self._next_number()
        if value is None:
            self._wrong(
                word, f"{knob.name} without its value.", f"Type {knob.key} and a number in {knob.unit or 'steps'}."
            )
            return True
        last, number, unit = value
        if unit and unit != knob.unit.lower():
            self._wrong(
                last, f"{knob.name} is set in {knob.unit}, not in {unit}.", "Leave the unit out, or correct it."
            )
        elif problem := check_value(knob, number, last.place):
            self.said.problems.append(problem)
        elif knob.key in self.named:
            self._wrong(word, f"{knob.name} stands twice.", "Remove one of the two.")
        else:
            self.named[knob.key] = number
            self._took(word, last, f"{knob.name} {describe_value(knob, number)}")
        return True

    def _knob_named(self, text: str) -> Knob | None:
        """The knob of that key or name; or the only one with a word that begins so, where no workload and no other word does."""
        whole = next((one for one in self.knobs if text in (one.key, one.name.lower())), None)
        if whole or len(text) < 3 or text in BEFORE or text in OUTCOME_WORDS or _named(text, self.workloads):
            return whole
        starts = [
            one for one in self.knobs if any(part.startswith(text) for part in [one.key, *one.name.lower().split()])
        ]
        return starts[0] if len(starts) == 1 else None

    def _knob_by_unit(self, word: _Word) -> bool:
        """A signed number in a unit that only one knob has, and no figure: −25mV."""
        found = _NUMBER.fullmatch(word.text)
        if not found or not found.group(2) or found.group(2) in UNITS or word.text[0] not in "+-−":
            return False
        own = [one for one in self.knobs if one.unit.lower() == found.group(2)]
        if len(own) != 1:
            return False
        number = _number(found.group(1))
        if problem := check_value(own[0], number, word.place):
            self.said.problems.append(problem)
        elif own[0].key in self.named:
            self._wrong(word, f"{own[0].name} stands twice.", "Remove one of the two.")
        else:
            self.named[own[0].key] = number
            self._took(word, word, f"{own[0].name} {describe_value(own[0], number)}")
        return True

    def _plain(self, word: _Word) -> bool:
        said = self.said
        if word.text == "black" and self.at < len(self.words) and self.words[self.at].text == "screen":
            self.at += 1
            word = _Word("blackscreen", word.start, self.words[self.at - 1].end)
        if word.text in UNCLEAR_OUTCOMES:
            what = f"“{word.text}” may be several things."
            self._wrong(word, what, "Type closed (only the program), down (the whole machine), odd, or nostart.")
            return True
        if word.text in OUTCOME_WORDS or word.text in OUTCOMES_AS_SAID:
            if said.outcome is not None:
                self._wrong(word, "It cannot have ended in two ways.", "Remove one of the two words.")
            said.outcome = OUTCOME_WORDS.get(word.text) or OUTCOMES_AS_SAID[word.text]
            self._took(word, word, f"ended: {said.outcome}")
            return True
        if word.text in POINT_WORDS:
            said.power_point = POINT_WORDS[word.text]
            self._took(word, word, f"power measured: {said.power_point}")
            return True
        if word.text not in BEFORE:
            return False
        column, name, unit = BEFORE[word.text]
        value = self._next_number()
        if value is None:
            self._wrong(word, f"“{word.text}” without its number.", f"Type {word.text} and the {name} in {unit}.")
        else:
            self._keep(word, value[0], column, value[1], f"{name} {value[1]:g} {unit}")
        return True

    def _figure(self, word: _Word) -> bool:
        if times := _MINUTES.fullmatch(word.text):
            seconds = int(times.group(1)) * 60 + int(times.group(2))
            self._keep(word, word, DURATION, float(seconds), f"duration {word.text} min")
            return True
        found = _NUMBER.fullmatch(word.text)
        if not found:
            return False
        number, unit = _number(found.group(1)), found.group(2)
        own = self.workload.unit.lower() if self.workload else None
        if not unit and self.at < len(self.words):
            # a unit apart from its number
            after = self.words[self.at]
            said = UNITS_AS_SAID.get(after.text, after.text)
            if said in UNITS or said == own:
                self.at += 1
                word, unit = _Word(word.text, word.start, after.end), said
        unit = UNITS_AS_SAID.get(unit, unit) if unit != own else unit
        if unit in UNITS:
            column, name, shown, factor = UNITS[unit]
            self._keep(word, word, column, number * factor, f"{name} {number:g} {shown}")
        elif self.workload is None:
            todo = "Name the workload before its result, and the knob before its value."
            self._wrong(word, f"{word.text}: a number of what?", todo)
        elif unit in ("", own):
            self._keep(word, word, "value", number, f"{self.workload.name} {number:g} {self.workload.unit}")
        else:
            todo = f"Known units: {', '.join(sorted(set(UNITS) - {'°c'}))}, and {self.workload.unit} for the result."
            self._wrong(word, f"“{unit}” is no unit of a run.", todo)
        return True

    def _keep(self, first: _Word, last: _Word, column: str, number: float, meaning: str) -> None:
        if column in self.said.figures:
            self._wrong(first, f"{meaning}: this figure stands there already.", "Remove one of the two.")
            return
        self.said.figures[column] = number
        self._took(first, last, meaning)

    def _workload(self, word: _Word) -> bool:
        fitting = _named(word.text, self.workloads)
        if not fitting or len(word.text) < 2:
            return False
        if len(fitting) > 1:
            names = " or ".join(one.name for one in fitting)
            self._wrong(word, f"“{word.text}” may be {names}.", "Type more of its name.")
        elif self.workload is not None and self.workload is not fitting[0]:
            self._wrong(word, f"Two workloads: {self.workload.name} and {fitting[0].name}.", "One line is one run.")
        elif self.workload is None:
            self.workload = fitting[0]
            self._took(word, word, self.workload.name)
        return True

    def _close(self) -> None:
        """What the line as a whole lacks, and the setting it means."""
        said, end = self.said, f"{self.length}-{self.length}"
        base = {} if self.from_stock else dict(self.before)
        stock = {knob.key: knob.stock for knob in self.knobs}
        said.values = {key: one for key, one in {**base, **self.named}.items() if one != stock.get(key)}
        said.setting = describe_setting(self.knobs, said.values)
        if self.workload is None:
            names = ", ".join(one.name for one in self.workloads)
            said.problems.append(Problem(end, "Which workload?", f"Type the start of one of: {names}."))
        else:
            said.workload_id = self.workload.id
        if said.outcome is None:
            said.problems.append(Problem(end, "How did it end?", f"Add one of: {', '.join(OUTCOME_WORDS)}."))
        if said.power_point != "unknown" and "power_w" not in said.figures:
            said.problems.append(Problem(end, "Where power was measured, but no power.", "Add it, such as 212w."))


def _parted(found: re.Match[str], knobs: Sequence[Knob]) -> list[_Word]:
    """A word as it stands; a knob written together with its value as two."""
    text = found.group().lower()
    joined = _JOINED.fullmatch(text)
    if joined and any(joined.group(1) in (one.key, *one.name.lower().split()) for one in knobs):
        middle = found.start() + joined.end(1)
        return [_Word(joined.group(1), found.start(), middle), _Word(joined.group(2), middle, found.end())]
    return [_Word(text, found.start(), found.end())]


def _named(text: str, workloads: Sequence[LineWorkload]) -> list[LineWorkload]:
    """Workloads that a word may mean: those that have it as a word; if none, those with a word that begins with it."""
    exact = [one for one in workloads if text in one.name.lower().split()]
    return exact or [one for one in workloads if any(part.startswith(text) for part in one.name.lower().split())]


def _number(text: str) -> float:
    return float(text.replace("−", "-").replace(",", "."))


def read_quick_line(
    line: str,
    knobs: Sequence[Knob],
    workloads: Sequence[LineWorkload],
    before: Mapping[str, float],
    *,
    failed_before: bool = False,
) -> QuickLine:
    """What a line says of a run.

    before: the setting of the run before; knobs that are not named stay as they were there, unless the line says stock
    failed_before: that run failed, so that nobody stays there without a word
    """
    if len(line) > MOST_CHARACTERS:
        what = f"The line has {len(line)} characters."
        return QuickLine(problems=[Problem(f"{MOST_CHARACTERS}-{len(line)}", what, f"{MOST_CHARACTERS} are read.")])
    reader = _Reader(line, knobs, workloads, before)
    said = reader.read()
    if failed_before and before and not reader.from_stock and not reader.named:
        what = f"The run before failed at {describe_setting(knobs, before)}. Was this one made there too?"
        said.problems.append(Problem("0-0", what, "Name the knobs again, or say stock."))
    return said


def begin_quick_line(
    values: Mapping[str, float],
    workload_id: int,
    minutes: float | None,
    knobs: Sequence[Knob],
    workloads: Sequence[LineWorkload],
) -> str:
    """The line of a test that is still to be made: setting, workload and minutes; what was measured and how it ended are
    left to whoever makes it. Empty where the grammar has no words for it (a workload that shares all of its words).

    values: the knobs that do not stand at stock; minutes: planned, None where the workload ends by itself
    """
    words = ["stock"]
    for knob in knobs:
        if (value := values.get(knob.key, knob.stock)) != knob.stock:
            words += [knob.key, f"{value:+.12g}" if knob.stock == 0 else f"{value:.12g}"]
    name = next(one.name.lower() for one in workloads if one.id == workload_id)
    own = [word for word in name.split() if [one.id for one in _named(word, workloads)] == [workload_id]]
    line = " ".join([*words, *own[:1], "" if minutes is None else f"{minutes:.12g}min "])
    said = read_quick_line(f"{line}ok", knobs, workloads, {})
    turned = {knob.key: values[knob.key] for knob in knobs if values.get(knob.key, knob.stock) != knob.stock}
    meant = (said.values, said.workload_id, said.figures) == (
        turned,
        workload_id,
        {} if minutes is None else {"duration_s": minutes * 60},
    )
    return line if meant and not said.problems else ""
