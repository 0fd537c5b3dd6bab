"""Guess a knob's role from its key, name and unit, and say when that is not enough."""

import re
from dataclasses import dataclass

from trelvo.core.registry.roles import FACTS, Role

# Where words of several roles occur, the first of these wins: "memory clock" is a memory clock, "core count" no clock.
_ORDER: tuple[Role, ...] = (
    "fan", "wait states", "load line", "curve point", "voltage", "power limit", "memory clock", "bus clock", "multiplier",
    "core count", "core clock",
)  # fmt: skip
# Words that name a quantity but not whose: with a word beside them that nothing here knows, the role stays open.
_GENERIC = frozenset({"clock", "frequency", "limit", "offset", "cap", "ratio"})
# Words that say nothing about the role.
_FILLERS = frozenset(
    {"the", "of", "for", "my", "and", "target", "max", "maximum", "min", "mode", "setting", "level", "speed", "slider", "boost",
     "all", "offset", "graphics", "processor", "card", "chip", "state", "states", "point", "points", "mhz", "mv", "w"}
)  # fmt: skip


@dataclass(frozen=True)
class RoleGuess:
    """role: the likeliest role; choices: the roles still possible where name and unit leave a doubt, empty where they do not"""

    role: Role
    choices: tuple[Role, ...] = ()

    @property
    def certain(self) -> bool:
        return not self.choices


def guess_role(key: str, name: str, unit: str) -> RoleGuess:
    """Guess what a knob turns.

    The unit excludes first: a knob in mV is never a clock, one in W always a power limit. Among the roles left, the words of key
    and name decide. A knob without any known word or unit is "other".
    """
    tokens = re.findall(r"[a-zµ]+\d?", f"{key} {name}".lower())
    text = f" {' '.join(tokens)} "
    unit = unit.strip()
    by_unit = [role for role in _ORDER if unit.lower() in {one.lower() for one in FACTS[role].units}]
    named = [role for role in _ORDER if _matches(role, text)]
    if unit and not by_unit:
        # a unit that no role has, such as °C
        return RoleGuess("other")
    possible = [role for role in named if role in by_unit] if unit else named
    if not possible:
        return _without_words(unit, by_unit, named)
    role = possible[0]
    if unit and role == "core clock" and len(possible) == 1 and _is_unnamed(tokens):
        clocks = tuple(one for one in by_unit if FACTS[one].raising == "endangers")
        return RoleGuess(role, (*clocks, "other"))
    if not unit and (doubts := _doubts_without_unit(named, text)):
        return RoleGuess(role, (*doubts, "other"))
    return RoleGuess(role)


def _matches(role: Role, text: str) -> bool:
    return bool(_words_found(role, text))


def _words_found(role: Role, text: str) -> set[str]:
    return {word for word in FACTS[role].words if f" {word} " in text}


def _doubts_without_unit(named: list[Role], text: str) -> tuple[Role, ...]:
    """Roles that a name without a unit leaves open: "core offset" may be in MHz or in mV, a curve in volts or in steps.

    Empty where the likeliest role is named by a word of its own, or by the only word that is known.
    """
    if named[0] == "curve point":
        return ("voltage", "curve point")
    only_generic = _words_found(named[0], text) <= _GENERIC
    return tuple(named) if only_generic and len(named) > 1 else ()


def _without_words(unit: str, by_unit: list[Role], named: list[Role]) -> RoleGuess:
    """The unit alone: enough where one role has it; where the words contradict it, or several have it, the user decides."""
    if not unit:
        return RoleGuess("other")
    if len(by_unit) == 1:
        return RoleGuess(by_unit[0])
    if not named and set(by_unit) == {"voltage", "curve point"}:
        return RoleGuess("voltage")
    return RoleGuess("other", (*by_unit, "other"))


def _is_unnamed(tokens: list[str]) -> bool:
    """Whether only a general word such as "clock" was understood, beside a word that says whose clock it is."""
    specific = {word for word in FACTS["core clock"].words if word not in _GENERIC}
    if specific & set(tokens):
        return False
    known = {word for facts in FACTS.values() for phrase in facts.words for word in phrase.split()}
    return any(token not in known | _GENERIC | _FILLERS for token in tokens)
