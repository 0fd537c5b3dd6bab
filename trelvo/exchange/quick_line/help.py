"""The words of a quick line, as the help sheet shows them; the whole grammar is in docs/formats.md."""

from dataclasses import dataclass

from trelvo.core.registry.outcomes import OUTCOMES


@dataclass(frozen=True)
class LineHelp:
    """examples: as typed; means: what they stand for"""

    examples: str
    means: str


HELP: tuple[LineHelp, ...] = (
    LineHelp("core +135", "a knob by its key or name, then its value; knobs left out stay as in the last run"),
    LineHelp("stock", "knobs left out stand at stock instead"),
    LineHelp(
        "gorge",
        "the workload: the start of any word of its name or of its options; several words where one title stands there with "
        "several options",
    ),
    LineHelp("shadow 1440 ray", "name and options together"),
    LineHelp("8421", "the result, in the workload’s unit; point or comma"),
    LineHelp("72c 212w 1.05v", "highest temperature, power, voltage reached"),
    LineHelp("own cables wall", "where power was measured"),
    LineHelp("2475mhz memclock 9900", "core clock and memory clock reached"),
    LineHelp(
        "avg 105 min 75 max 130",
        "frame rate: average (the result), lowest, highest; min alone may be minutes and is asked about",
    ),
    LineHelp("1% 84  0.1% 61  low 84", "1 % and 0.1 % low"),
    LineHelp("12min 1.5h 90sec", "how long it ran"),
    LineHelp("room 24 noise 38 41dB fan 60 1450rpm", "room temperature, noise in dB(A), fan in % or rpm"),
    LineHelp(
        " ".join(facts.line_word for facts in OUTCOMES.values()),
        "how it ended; always needed. A failure needs no workload",
    ),
    LineHelp("# words", "a note, to the end of the line"),
)
