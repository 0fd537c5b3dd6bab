"""What a report is made of, whatever it is written as: sections of paragraphs, lists, tables and drawings."""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Paragraph:
    words: str
    quiet: bool = False


@dataclass(frozen=True)
class Bullets:
    items: tuple[str, ...]


@dataclass(frozen=True)
class Table:
    """numbers: columns of numbers, by place"""

    headers: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    numbers: frozenset[int] = frozenset()


@dataclass(frozen=True)
class Whisker:
    """One line of a drawing: a value with its interval, None where none is known."""

    label: str
    value: float
    low: float | None
    high: float | None


@dataclass(frozen=True)
class Drawing:
    """Values with whiskers on one scale, nothing at `none`. unit: of the axis; words: what it shows, to be read aloud"""

    whiskers: tuple[Whisker, ...]
    unit: str
    words: str
    none: float = 0.0


Block = Paragraph | Bullets | Table | Drawing


@dataclass(frozen=True)
class Section:
    title: str
    blocks: tuple[Block, ...]


@dataclass(frozen=True)
class Report:
    """short: twelve lines at most, for a post"""

    title: str
    lead: str
    sections: tuple[Section, ...]
    short: tuple[str, ...]
    footer: str


def table(headers: Sequence[str], rows: Sequence[Sequence[str]], numbers: Sequence[int] = ()) -> Table:
    return Table(tuple(headers), tuple(tuple(row) for row in rows), frozenset(numbers))
