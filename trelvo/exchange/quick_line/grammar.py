"""The quick line: a whole run typed in one line, read word by word, never guessed. Grammar in docs/formats.md."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from trelvo.core.base.figures import BY_WORD, NAMED
from trelvo.core.base.instruments import Point
from trelvo.core.base.knobs import Knob, check_value, describe_setting, describe_value
from trelvo.core.base.typed_numbers import comma_readings, plain_number
from trelvo.core.base.workloads import Measure
from trelvo.core.problems import Problem
from trelvo.core.registry.outcomes import FAILURES, OUTCOMES, Outcome
from trelvo.core.registry.quantities import QUANTITIES
from trelvo.exchange.quick_line.figure_words import AVERAGE, BEFORE, LOWS, OTHER_NAMES, UNITS_APART, named_figure

MOST_CHARACTERS = 400
OUTCOME_WORDS: dict[str, Outcome] = {row.line_word: row.outcome for row in OUTCOMES.values()}
# What people type instead; of some words nobody can tell which of several ways it ended.
OUTCOMES_AS_SAID: dict[str, Outcome] = {word: row.outcome for row in OUTCOMES.values() for word in row.said_as}
# The same in two words.
TWO_WORDS = {("black", "screen"): "blackscreen", ("blue", "screen"): "bluescreen", ("no", "boot"): "noboot",
             ("no", "post"): "nopost", ("no", "start"): "nostart"}  # fmt: skip
UNCLEAR_OUTCOMES = ("crash", "crashed", "failed", "fail", "died")
POINT_WORDS: dict[str, Point] = {"own": "software", "cables": "cables", "wall": "wall"}
DURATION, RESULT = "duration_s", "value"
# behind a number: the figure's word, its name, its unit, factor to it
UNITS: dict[str, tuple[str, str, str, float]] = {
    **{
        unit: (kind.word, kind.name.lower(), QUANTITIES[kind.key.quantity].unit, 1.0)
        for kind in NAMED
        for unit in kind.line_units
    },
    "min": (DURATION, "duration", "min", 60.0),
    "h": (DURATION, "duration", "h", 3600.0),
    "sec": (DURATION, "duration", "s", 1.0),
}
SECONDS = frozenset({"s", "sec", "second", "seconds"})
MINUTES = frozenset({"min", "minute", "minutes"})
# What one unit is of the next, by what it measures; for knobs whose value is typed in another one.
SCALES: tuple[dict[str, float], ...] = (
    {"hz": 1e-6, "khz": 1e-3, "mhz": 1.0, "ghz": 1e3}, {"µv": 1e-3, "uv": 1e-3, "mv": 1.0, "v": 1e3},
    {"mw": 1e-3, "w": 1.0, "kw": 1e3},
)  # fmt: skip
# units written out, or apart from their number
UNITS_AS_SAID = {"watt": "w", "watts": "w", "degrees": "c", "degree": "c", "deg": "c", "°": "c", "celsius": "c",
                 "volt": "v", "volts": "v", "minutes": "min", "minute": "min", "hours": "h", "hour": "h",
                 "seconds": "sec", "s": "sec"}  # fmt: skip
# units of a result in several spellings
_RESULT_UNITS = ({"points", "point", "pts", "pt"}, {"fps", "frames", "f/s"}, {"mb/s", "mbs", "mbps"})
# Words between figures that say nothing.
FILLERS = frozenset({"after", "at", "with", "for", "and", "in", "on", "preset", "quality", "settings"})
# Seconds in a unit of time, the longest first; and in the units of workloads that are measured in time.
TIMES = {"h": 3600.0, "min": 60.0, "sec": 1.0}
_TIME_UNITS = {"h": 3600.0, "min": 60.0, "s": 1.0, "sec": 1.0, "ms": 0.001}
_JOINED = re.compile(r"([a-z]+)([+\-−]?\d+(?:[.,]\d+)?\S*)")
_TIMES = re.compile(r"(\d+(?:[.,]\d+)?)[x×](\d+(?:[.,]\d+)?)")
_MINUTES = re.compile(r"(\d{1,3}):([0-5]\d)")
# Two or three units in one word: 1h20, 1h20min, 3m02s.
_TIME = re.compile(r"(?:(\d+)h)?(?:(\d+)(?:m|min|$))?(?:(\d+(?:[.,]\d+)?)s(?:ec)?)?")
# A comma between thousands is certain with a decimal point behind it: 1,234.5
_NUMBER = re.compile(r"([+\-−]?(?:\d{1,3}(?:,\d{3})+\.\d+|\d+(?:[.,]\d+)?))([^\d\s]*)")


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
    """A workload with one set of options. options: their values, such as 2560 × 1440, high"""

    id: int
    name: str
    unit: str
    options: tuple[str, ...] = ()
    measure: Measure = "score"

    @cached_property
    def name_words(self) -> frozenset[str]:
        return frozenset(_words_of(self.name))

    @cached_property
    def words(self) -> frozenset[str]:
        """Words that may name it: of its name and options; a resolution whole and by each number, with or without p."""
        found = [self.name_words]
        for option in self.options:
            whole = re.sub(r"[\s]*[×x][\s]*", "x", option.lower())
            words = [*_words_of(option), *_words_of(whole)]
            lines = [word[:-1] for word in words if re.fullmatch(r"\d+[pi]", word)]
            lines += [f"{size.group(1)}p" for size in re.finditer(r"\d+x(\d+)", whole)]
            found.append(frozenset([*words, *lines]))
        return frozenset().union(*found)

    @property
    def title(self) -> str:
        return f"{self.name} ({', '.join(self.options)})" if self.options else self.name


def _words_of(text: str) -> list[str]:
    return [word for word in re.split(r"[^\w.]+|×", text.lower()) if word]


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
        self,
        line: str,
        knobs: Sequence[Knob],
        workloads: Sequence[LineWorkload],
        before: Mapping[str, float],
        fallback: LineWorkload | None,
    ) -> None:
        self.knobs, self.workloads, self.before = knobs, workloads, before
        text, _, note = line.partition("#")
        self.said = QuickLine(note=note.strip())
        # core=150, and figures in a list with commas
        text = re.sub(r"=|,(?=\s)", " ", text)
        self.words = [part for m in re.finditer(r"\S+", text) for part in _parted(m, knobs, workloads)]
        self.length = len(line)
        self.at = 0
        self.named: dict[str, float] = {}
        self.from_stock = False
        # what is named so far may mean these; empty: nothing is named
        self.meant: list[LineWorkload] = []
        self.named_by: list[_Word] = []
        self.fallback = fallback

    @property
    def workload(self) -> LineWorkload | None:
        """What is known of the workload: with several left, all of one measure and unit, the first stands for them; where the
        campaign has but one, none need be named."""
        if not self.meant and len(self.workloads) == 1:
            return self.workloads[0]
        alike = {(one.unit, one.measure) for one in self.meant}
        return self.meant[0] if len(alike) == 1 else None

    def read(self) -> QuickLine:
        while self.at < len(self.words):
            word = self.words[self.at]
            self.at += 1
            if not (
                self._setting(word)
                or self._bus_times_multiplier(word)
                or self._plain(word)
                or self._option_word(word)
                or self._figure(word)
                or self._workload(word)
                or word.text in FILLERS
            ):
                self._wrong(word, "word_not_understood", word=word.text)
        self._close()
        return self.said

    def _wrong(self, at: _Word, code: str, /, **params: object) -> None:
        self.said.problems.append(Problem(at.place, code, params))

    def _took(self, first: _Word, last: _Word, meaning: str) -> None:
        self.said.understood.append(Understood(first.start, last.end, meaning))

    def _next_number(self, knob: Knob | None = None) -> tuple[_Word, float, str] | None:
        """The next word, where it is a number with or without a unit. knob: whose value it is; its unit may follow apart"""
        if self.at == len(self.words) or not (found := _NUMBER.fullmatch(self.words[self.at].text)):
            return None
        word, unit = self.words[self.at], found.group(2)
        self.at += 1
        self._ask_about_comma(word, found.group(1), knob)
        after = self.words[self.at] if self.at < len(self.words) else None
        own = knob.unit.lower() if knob else ""
        if own and not unit and after is not None and (after.text == own or _factor(after.text, own) is not None):
            self.at += 1
            word, unit = _Word(word.text, word.start, after.end), after.text
        return word, _number(found.group(1)), unit

    def _next_measured(self) -> tuple[_Word, float, str] | None:
        """The next word as a measured number with its unit, which may stand apart."""
        value = self._next_number()
        if value is None:
            return None
        word, number, unit = value
        after = self.words[self.at] if self.at < len(self.words) else None
        said = UNITS_AS_SAID.get(after.text, after.text) if after else ""
        own = self.workload.unit.lower() if self.workload else ""
        if not unit and after and (said in UNITS_APART or (own and said == own)) and not self._knob_named(after.text):
            self.at += 1
            word, unit = _Word(word.text, word.start, after.end), said
        return word, number, UNITS_AS_SAID.get(unit, unit)

    def _ask_about_comma(self, word: _Word, digits: str, knob: Knob | None = None) -> None:
        """Refuse 1,234, which may be 1234 or 1.234, unless the knob's range leaves one of the two."""
        readings = comma_readings(digits)
        if readings is None:
            return
        thousands, decimals = readings
        if knob is None or knob.low <= float(thousands) <= knob.high:
            self._wrong(word, "ambiguous_number", typed=digits, thousands=thousands, decimals=decimals)

    def _setting(self, word: _Word) -> bool:
        if word.text == "stock":
            self.from_stock = True
            self._took(word, word, "all knobs not named stand at stock")
            return True
        knob = self._knob_named(word.text)
        if knob is None:
            return self._knob_by_unit(word)
        value = self._next_number(knob)
        if value is None:
            code = "knob_without_value" if knob.unit else "knob_without_step"
            self._wrong(word, code, knob=knob.name, key=knob.key, unit=knob.unit)
            return True
        last, number, unit = value
        factor = _factor(unit, knob.unit.lower()) if unit else _only_scale(knob, number)
        if factor is not None:
            number, unit = round(number * factor, 9), ""
        if unit and unit != knob.unit.lower():
            self._wrong(last, "knob_in_other_unit", knob=knob.name, own=knob.unit, unit=unit)
        elif problem := check_value(knob, number, last.place):
            self.said.problems.append(problem)
        elif knob.key in self.named:
            self._wrong(word, "knob_named_twice", knob=knob.name)
        else:
            self.named[knob.key] = number
            self._took(word, last, f"{knob.name} {describe_value(knob, number)}")
        return True

    def _knob_named(self, text: str) -> Knob | None:
        """The knob of that key or name; or the only one with a word that begins so, or else whose role is called so, where no
        workload and no other word is."""
        whole = next((knob for knob in self.knobs if text in (knob.key, knob.name.lower())), None)
        other = {*BEFORE, *OUTCOME_WORDS, *AVERAGE, *OTHER_NAMES}
        if whole or text in other or any(text in workload.words for workload in self.workloads):
            return whole
        so_called = [knob for knob in self.knobs if text in knob.facts.words]
        if len(text) < 3 or _named(text, self.workloads):
            return so_called[0] if len(so_called) == 1 else None
        starts = [
            knob for knob in self.knobs if any(part.startswith(text) for part in [knob.key, *knob.name.lower().split()])
        ]
        found = starts or so_called
        return found[0] if len(found) == 1 else None

    def _knob_by_unit(self, word: _Word) -> bool:
        """A number in a unit that only one knob has, and no figure: −25mV, 46x."""
        found = _NUMBER.fullmatch(word.text)
        if not found or not found.group(2) or found.group(2) in UNITS or found.group(2) in UNITS_AS_SAID:
            return False
        if word.text in LOWS or any(
            found.group(2) == workload.unit.lower() or word.text in workload.words for workload in self.workloads
        ):
            return False
        own = [knob for knob in self.knobs if knob.unit.lower() == found.group(2)]
        if len(own) != 1:
            return False
        number = _number(found.group(1))
        if problem := check_value(own[0], number, word.place):
            self.said.problems.append(problem)
        elif own[0].key in self.named:
            self._wrong(word, "knob_named_twice", knob=own[0].name)
        else:
            self.named[own[0].key] = number
            self._took(word, word, f"{own[0].name} {describe_value(own[0], number)}")
        return True

    def _bus_times_multiplier(self, word: _Word) -> bool:
        """A bus clock and a multiplier as they are said together: 33x3."""
        found = _TIMES.fullmatch(word.text)
        pair = [next((one for one in self.knobs if one.role == role), None) for role in ("bus clock", "multiplier")]
        if not found or None in pair or any(word.text in workload.words for workload in self.workloads):
            return False
        knobs = [knob for knob in pair if knob]
        numbers = [_number(one) for one in found.groups()]
        if any(knob.key in self.named for knob in knobs):
            self._wrong(word, "bus_or_multiplier_twice")
            return True
        problems = [one for pair in zip(knobs, numbers, strict=True) if (one := check_value(*pair, word.place))]
        self.said.problems += problems
        if not problems:
            self.named |= {knob.key: number for knob, number in zip(knobs, numbers, strict=True)}
            said = (f"{knob.name} {describe_value(knob, one)}" for knob, one in zip(knobs, numbers, strict=True))
            self._took(word, word, ", ".join(said))
        return True

    def _plain(self, word: _Word) -> bool:
        said = self.said
        after = self.words[self.at] if self.at < len(self.words) else None
        if after is not None and (word.text, after.text) in TWO_WORDS:
            self.at += 1
            word = _Word(TWO_WORDS[word.text, after.text], word.start, after.end)
        if word.text in UNCLEAR_OUTCOMES:
            self._wrong(word, "outcome_ambiguous", word=word.text)
            return True
        if word.text in OUTCOME_WORDS or word.text in OUTCOMES_AS_SAID:
            if said.outcome is not None:
                self._wrong(word, "ended_in_two_ways")
            said.outcome = OUTCOME_WORDS.get(word.text) or OUTCOMES_AS_SAID[word.text]
            self._took(word, word, f"ended: {said.outcome}")
            return True
        if word.text in POINT_WORDS:
            said.power_point = POINT_WORDS[word.text]
            self._took(word, word, f"power measured: {said.power_point}")
            return True
        return self._before_its_number(word)

    def _before_its_number(self, word: _Word) -> bool:
        """A figure that is named before its number: low 61, 1% 61, avg 105, fan 60."""
        if self._is_option(word):
            return False
        text = LOWS.get(word.text) or OTHER_NAMES.get(word.text, word.text)
        if word.text in LOWS and self.at < len(self.words) and self.words[self.at].text == "low":
            self.at += 1
        if text in AVERAGE:
            return self._average(word)
        if text not in BEFORE:
            return False
        kind = BY_WORD[BEFORE[text]]
        name, unit = kind.name.lower(), QUANTITIES[kind.key.quantity].unit
        value = self._next_measured()
        if value is None:
            self._wrong(word, "figure_without_number", word=word.text, figure=name, unit=unit)
            return True
        figure = named_figure(text, value[1], value[2])
        if figure is None:
            self._wrong(value[0], "not_a_unit_of_figure", typed=value[2], figure=name, unit=unit, word=word.text)
        elif figure.word in ("min_fps", "max_fps") and self.workload and self.workload.measure != "frame rate":
            code = "minimum_without_frame_rate" if text == "min" else "maximum_without_frame_rate"
            self._wrong(word, code, workload=self.workload.name, figure=name, value=value[1])
        else:
            self._keep(word, value[0], figure.word, figure.value, f"{figure.name} {figure.value:g} {figure.unit}")
        return True

    def _is_option(self, word: _Word) -> bool:
        """Whether a word that may name a figure names a preset here: the first "low" of "dust low 74 low 61"."""
        left = self.meant or self.workloads
        if not any(word.text in one.words - one.name_words for one in left) or len(left) == 1:
            return False
        if self.at == len(self.words) or not _NUMBER.fullmatch(self.words[self.at].text):
            return True
        rest = self.words[self.at + 1 :]
        if RESULT in self.said.figures:
            return False
        previous = ""
        for later in rest:
            if later.text == word.text or (later.text in LOWS and word.text == "low"):
                return True
            found = _NUMBER.fullmatch(later.text)
            if found and found.group(2) in ("", left[0].unit.lower()) and previous not in BEFORE:
                # another number can be the result
                return False
            previous = later.text
        return True

    def _average(self, word: _Word) -> bool:
        value = self._next_measured()
        own = self.workload.unit.lower() if self.workload else ""
        figure = named_figure(word.text, value[1], value[2]) if value and value[2] != own else None
        if value is None:
            self._wrong(word, "result_without_number", word=word.text)
        elif figure is not None:
            self._keep(word, value[0], figure.word, figure.value, f"{figure.name} {figure.value:g} {figure.unit}")
        elif self.workload is None:
            self._wrong(word, "result_before_workload", word=word.text, value=value[1])
        elif value[2] and not _same_unit(value[2], own):
            self._wrong(value[0], "not_the_unit_of_workload", typed=value[2], workload=self.workload.name, unit=own)
        else:
            self._keep(word, value[0], RESULT, value[1], f"{self.workload.name} {value[1]:g} {self.workload.unit}")
        return True

    def _option_word(self, word: _Word) -> bool:
        """A word that looks like a number with a unit but names a workload or an option, such as 4k."""
        found = _NUMBER.fullmatch(word.text)
        own = self.workload.unit.lower() if self.workload else None
        if not found or found.group(2) in {"", own, *UNITS, *UNITS_AS_SAID}:
            return False
        return any(word.text in one.words for one in self.meant or self.workloads) and self._workload(word)

    def _time(self, word: _Word) -> bool:
        """A time with two units or more: 3:02, 1h20, 3 min 2 s. Of a workload that is measured in time it is the result."""
        workload, last = self.workload, word
        timed = workload is not None and workload.measure == "time" and RESULT not in self.said.figures
        if minutes := _MINUTES.fullmatch(word.text):
            seconds, shown = int(minutes.group(1)) * 60.0 + int(minutes.group(2)), f"{word.text} min"
        else:
            parts, end = self._time_parts(word)
            if len(parts) < 2:
                return False
            seconds, shown = sum(TIMES[unit] * number for unit, number in parts.items()), _time_said(parts)
            last = self.words[end - 1]
            if timed and end > self.at:
                # 12 min 45 s in words of their own may be a duration and a result
                clock = f"{int(seconds // 60)}:{seconds % 60:02.0f}"
                self._wrong(_Word("", word.start, last.end), "time_or_duration", shown=shown, clock=clock)
                self.at = end
                return True
            self.at = end
        per = _TIME_UNITS.get(workload.unit.lower()) if workload and timed else None
        if workload and per:
            number = round(seconds / per, 6)
            self._keep(word, last, RESULT, number, f"{workload.name} {number:g} {workload.unit}")
        else:
            self._keep(word, last, DURATION, seconds, f"duration {shown}")
        return True

    def _time_parts(self, word: _Word) -> tuple[dict[str, float], int]:
        """Numbers by unit of time, the longest first, from one word or from several; and the place behind the last."""
        joined = _TIME.fullmatch(word.text)
        if joined and sum(group is not None for group in joined.groups()) > 1:
            numbers = zip(TIMES, joined.groups(), strict=True)
            return {unit: _number(number) for unit, number in numbers if number is not None}, self.at
        parts: dict[str, float] = {}
        at, units = self.at - 1, list(TIMES)
        while units and at < len(self.words) and (found := _NUMBER.fullmatch(self.words[at].text)):
            after = self.words[at + 1].text if at + 1 < len(self.words) else ""
            said = found.group(2) or after
            unit, number = UNITS_AS_SAID.get(said, said), _number(found.group(1))
            if unit not in units or (parts and number >= 60):
                break
            parts[unit] = number
            units = units[units.index(unit) + 1 :]
            at += 1 if found.group(2) else 2
        return parts, at

    def _figure(self, word: _Word) -> bool:
        if self._time(word):
            return True
        found = _NUMBER.fullmatch(word.text)
        if not found:
            return False
        self._ask_about_comma(word, found.group(1))
        number, unit = _number(found.group(1)), found.group(2)
        if self._option(word, found.group(1), unit):
            return True
        own = self.workload.unit.lower() if self.workload else None
        if not unit and self.at < len(self.words):
            # a unit apart from its number
            after = self.words[self.at]
            said = UNITS_AS_SAID.get(after.text, after.text)
            if after.text in MINUTES and self._minutes_or_minimum(word, number, after):
                return True
            if said in UNITS or (own and _same_unit(said, own)):
                self.at += 1
                word, unit = _Word(word.text, word.start, after.end), said
        if own in SECONDS and (unit in SECONDS or unit == "sec") and RESULT not in self.said.figures:
            # the time that it took is the result
            unit = own or ""
        if own and _same_unit(unit, own):
            unit = own
        unit = UNITS_AS_SAID.get(unit, unit) if unit != own else unit
        if unit in UNITS and unit != own and self._set_or_reached(word, number, unit):
            return True
        if unit in UNITS and unit != own:
            column, name, shown, factor = UNITS[unit]
            self._keep(word, word, column, number * factor, f"{name} {number:g} {shown}")
        elif self.workload is None:
            self._wrong(word, "number_of_what", word=word.text)
        elif unit in ("", own) and self.workload.measure == "nothing":
            self._wrong(word, "no_result_of_its_own", word=word.text, workload=self.workload.name)
        elif unit in ("", own):
            self._keep(word, word, RESULT, number, f"{self.workload.name} {number:g} {self.workload.unit}")
        else:
            known = tuple(sorted(set(UNITS) - {"°c"}))
            self._wrong(word, "not_a_unit_of_a_run", unit=unit, known=known, own=self.workload.unit)
        return True

    def _set_or_reached(self, word: _Word, number: float, unit: str) -> bool:
        """ "1.4v" without the knob that is set in volts: was it set, or reached? Refused where it can be set to that."""
        if unit == "w" and (self.meant or RESULT in self.said.figures):
            # watts behind the workload are what was drawn; in front of it they may be a cap
            return False
        for knob in self.knobs:
            factor = 1.0 if unit == knob.unit.lower() else _factor(unit, knob.unit.lower())
            if factor is None or knob.stock == 0 or not knob.low <= number * factor <= knob.high:
                continue
            if self.from_stock or any(self._knob_named(one.text) is knob for one in self.words):
                continue
            now = self.before.get(knob.key, knob.stock)
            params = {"key": knob.key, "set": number * factor, "now": now, "reached": number, "unit": unit}
            self._wrong(word, "set_or_reached", word=word.text, knob=knob.name, **params)
            return True
        return False

    def _minutes_or_minimum(self, word: _Word, number: float, unit: _Word) -> bool:
        """ "105 min 75": minutes and a result, or a result and its lowest frame rate? Refused where both are possible.

        Whether the word was dealt with; False: it is minutes.
        """
        workload = self.workload
        if workload is None or workload.measure != "frame rate" or RESULT in self.said.figures:
            return False
        after = self.words[self.at + 1] if self.at + 1 < len(self.words) else None
        lowest = _NUMBER.fullmatch(after.text) if after else None
        if after is None or lowest is None or lowest.group(2) not in ("", workload.unit.lower()):
            return False
        least = _number(lowest.group(1))
        if least > number:
            # no frame rate is below its own minimum
            return False
        self._wrong(
            _Word("", word.start, after.end),
            "minutes_or_minimum",
            first=word.text,
            word=unit.text,
            second=after.text,
            unit=workload.unit,
        )
        self.at += 2
        return True

    def _option(self, word: _Word, digits: str, unit: str) -> bool:
        """A number that names an option, such as a resolution, where it tells several apart or cannot be the result."""
        if unit not in ("", "p") or not self.meant:
            return False
        having = [one for one in self.meant if digits in one.words - one.name_words]
        if not having:
            return False
        if len(self.meant) == 1 and not self._result_follows():
            return False
        self.meant = having
        self.named_by.append(word)
        self._took(word, word, ", ".join(option for option in having[0].options if digits in option))
        return True

    def _result_follows(self) -> bool:
        """Whether a later number of the line can be the result."""
        own = self.meant[0].unit.lower()
        previous = ""
        for later in self.words[self.at :]:
            found = _NUMBER.fullmatch(later.text)
            named = previous in BEFORE or previous in LOWS or self._knob_named(previous) is not None
            if found and found.group(2) in ("", own) and not named:
                return True
            previous = later.text
        return False

    def _keep(self, first: _Word, last: _Word, column: str, number: float, meaning: str) -> None:
        if column in self.said.figures:
            self._wrong(first, "figure_named_twice", meaning=meaning)
            return
        self.said.figures[column] = number
        self._took(first, last, meaning)

    def _workload(self, word: _Word) -> bool:
        """A word of the workload's name or options; all such words of a line intersect."""
        possible = _named(word.text, self.workloads)
        if not possible or len(word.text) < 2:
            return False
        left = [one for one in possible if one in self.meant] if self.meant else possible
        if not left and self.meant:
            left = [one for one in self.meant if any(part.startswith(word.text) for part in one.words)]
        if not left:
            first = self.meant[0]
            code = "no_such_options" if first.name == possible[0].name else "two_workloads"
            self._wrong(word, code, first=first.name, second=possible[0].name)
            return True
        self.meant = left
        self.named_by.append(word)
        self._took(word, word, left[0].title if len(left) == 1 else left[0].name)
        return True

    def _close(self) -> None:
        """What the line as a whole lacks, and the setting it means."""
        said, end = self.said, f"{self.length}-{self.length}"
        base = {} if self.from_stock else dict(self.before)
        stock = {knob.key: knob.stock for knob in self.knobs}
        said.values = {key: one for key, one in {**base, **self.named}.items() if one != stock.get(key)}
        said.setting = describe_setting(self.knobs, said.values)
        self.meant = self._fully_named() or self.meant
        if not self.meant and len(self.workloads) == 1 and said.outcome is not None:
            self.meant = list(self.workloads)
            self._say_counts_for(self.meant[0])
        if len(self.meant) == 1:
            said.workload_id = self.meant[0].id
        elif self.meant:
            self._ask_which()
        elif said.outcome in FAILURES and self.fallback is not None and RESULT not in said.figures:
            said.workload_id = self.fallback.id
            self._say_counts_for(self.fallback)
        else:
            names = ", ".join(dict.fromkeys(workload.name for workload in self.workloads))
            said.problems.append(Problem(end, "workload_missing", {"known": names}))
        if said.outcome is None:
            said.problems.append(Problem(end, "outcome_missing", {"known": tuple(OUTCOME_WORDS)}))
        if said.power_point != "unknown" and not any("power" in column for column in said.figures):
            said.problems.append(Problem(end, "point_without_power"))

    def _fully_named(self) -> list[LineWorkload]:
        """Of several workloads left, the one whose options are all named where the others have more; else none."""
        typed = [word.text for word in self.named_by]

        def is_named(option: str) -> bool:
            return any(part.startswith(word.rstrip("p")) for part in _words_of(option) for word in typed)

        named = [one for one in self.meant if all(is_named(option) for option in one.options)]
        most = max((len(one.options) for one in named), default=0)
        found = [one for one in named if len(one.options) == most]
        return found if len(found) == 1 else []

    def _ask_which(self) -> None:
        word = self.named_by[0]
        titles = " or ".join(one.title for one in self.meant[:4])
        shared = frozenset.intersection(*(one.words for one in self.meant))
        apart = sorted({part for one in self.meant for option in one.options for part in _words_of(option)} - shared)
        code = "options_ambiguous" if apart else "workload_ambiguous"
        self._wrong(word, code, word=word.text, titles=titles, known=tuple(apart[:8]))

    def _say_counts_for(self, workload: LineWorkload) -> None:
        """A failure without a workload is told of the one that would be run next, any run of the only one there is; the line
        says so before it is logged."""
        for place, one in enumerate(self.said.understood):
            if one.meaning.startswith("ended: "):
                meaning = f"{one.meaning}; no workload named, so it counts for {workload.name}"
                self.said.understood[place] = Understood(one.start, one.end, meaning)


def _factor(unit: str, own: str) -> float | None:
    """What one of a unit is in a knob's own; None where they measure different things, or are the same."""
    if not unit or unit == own:
        return None
    scale = next((scale for scale in SCALES if unit in scale and own in scale), None)
    return scale[unit] / scale[own] if scale else None


def _only_scale(knob: Knob, number: float) -> float | None:
    """The factor to a knob's unit of a number typed without one: None where the number can be the value as it stands, and 1000
    or 0.001 where only so it can (1.35 of a voltage in mV)."""
    if knob.low <= number <= knob.high or knob.stock == 0:
        return None
    own = knob.unit.lower()
    scale = next((scale for scale in SCALES if own in scale), {})
    found = {round(one / scale[own], 9) for one in scale.values() if knob.low <= number * one / scale[own] <= knob.high}
    return found.pop() if len(found) == 1 else None


def _same_unit(unit: str, own: str) -> bool:
    return unit == own or any(unit in some and own in some for some in _RESULT_UNITS)


def _parted(found: re.Match[str], knobs: Sequence[Knob], workloads: Sequence[LineWorkload]) -> list[_Word]:
    """A word as it stands; a knob written together with its value as two."""
    text = found.group().lower()
    joined = _JOINED.fullmatch(text)
    names = {word for knob in knobs for word in (knob.key, *knob.name.lower().split(), *knob.facts.words)}
    known = text in names or any(text in workload.words for workload in workloads)
    if joined and joined.group(1) == "x" and not known and any(knob.unit == "x" for knob in knobs):
        # x46 for 46x
        return [_Word(f"{joined.group(2)}x", found.start(), found.end())]
    if joined and joined.group(1) in names and not known:
        middle = found.start() + joined.end(1)
        return [_Word(joined.group(1), found.start(), middle), _Word(joined.group(2), middle, found.end())]
    return [_Word(text, found.start(), found.end())]


def _named(text: str, workloads: Sequence[LineWorkload]) -> list[LineWorkload]:
    """Workloads that a word may mean: those that have it as a word; if none, those with a word that begins with it."""
    exact = [workload for workload in workloads if text in workload.words]
    return exact or [workload for workload in workloads if any(part.startswith(text) for part in workload.words)]


def _number(text: str) -> float:
    return float(plain_number(text))


def _time_said(parts: Mapping[str, float]) -> str:
    return " ".join(f"{number:g} {'s' if unit == 'sec' else unit}" for unit, number in parts.items())


def read_quick_line(
    line: str,
    knobs: Sequence[Knob],
    workloads: Sequence[LineWorkload],
    before: Mapping[str, float],
    *,
    failed_before: bool = False,
    fallback: LineWorkload | None = None,
) -> QuickLine:
    """What a line says of a run.

    before: the setting of the run before; knobs that are not named stay as they were there, unless the line says stock
    failed_before: that run failed, so that nobody stays there without a word
    fallback: the workload of a failure for which none is named, such as a machine that did not start
    """
    if len(line) > MOST_CHARACTERS:
        return QuickLine(
            problems=[
                Problem(
                    f"{MOST_CHARACTERS}-{len(line)}",
                    "quick_line_too_long",
                    {"count": len(line), "most": MOST_CHARACTERS},
                )
            ]
        )
    reader = _Reader(line, knobs, workloads, before, fallback)
    said = reader.read()
    if failed_before and before and not reader.from_stock and not reader.named:
        said.problems.append(Problem("0-0", "failed_before", {"setting": describe_setting(knobs, before)}))
    return said


def _shortest_name(workload: LineWorkload, workloads: Sequence[LineWorkload]) -> list[str]:
    """Words that mean this workload and no other: one of its name, or one with options beside it; empty where none do."""
    for word in _words_of(workload.name):
        if _named(word, workloads) == [workload]:
            return [word]
    first = next(iter(_words_of(workload.name)), "")
    found, left = [first], _named(first, workloads)
    for option in (part for one in workload.options for part in _words_of(one)):
        narrower = [one for one in left if option in one.words]
        if len(narrower) < len(left):
            found, left = [*found, option], narrower
        if left == [workload]:
            return found
    # others have these options and more: naming each option means this one (the line is read once more before it is offered)
    return [first, *(word for option in workload.options for word in _words_of(option)[:1])]


def begin_quick_line(
    values: Mapping[str, float],
    workload_id: int,
    minutes: float | None,
    knobs: Sequence[Knob],
    workloads: Sequence[LineWorkload],
) -> str:
    """The line of a test that is still to be made: setting, workload and minutes; what was measured and how it ended are
    left to whoever makes it. Empty where the grammar has no words for it (a workload that shares all of its words).

    values: the knobs that do not are at stock; minutes: planned, None where the workload ends by itself
    """
    words = ["stock"]
    for knob in knobs:
        if (value := values.get(knob.key, knob.stock)) != knob.stock:
            words += [knob.key, f"{value:+.12g}" if knob.stock == 0 else f"{value:.12g}"]
    own = _shortest_name(next(workload for workload in workloads if workload.id == workload_id), workloads)
    line = " ".join([*words, *own, "" if minutes is None else f"{minutes:.12g}min "])
    said = read_quick_line(f"{line}ok", knobs, workloads, {})
    turned = {knob.key: values[knob.key] for knob in knobs if values.get(knob.key, knob.stock) != knob.stock}
    meant = (said.values, said.workload_id, said.figures) == (
        turned,
        workload_id,
        {} if minutes is None else {"duration_s": minutes * 60},
    )
    return line if meant and not said.problems else ""
