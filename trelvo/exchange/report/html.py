"""A report as one HTML file: styles and drawings inside, no script, prints on A4 and letter."""

from dataclasses import dataclass
from pathlib import Path

from django.template import Context, Engine

from trelvo.exchange.report.blocks import Block, Bullets, Drawing, Paragraph, Report, Table

_TEMPLATES = Engine(dirs=[str(Path(__file__).parent)], autoescape=True)
# Width of a drawing in the units of its picture; of its labels; height of a line; space below for the axis.
WIDTH, LABELS, LINE, FOOT = 880.0, 440.0, 20.0, 36.0
MOST_LABEL = 70


@dataclass(frozen=True)
class Mark:
    label: str
    y: float
    x: float
    low: float | None
    high: float | None
    value: str


@dataclass(frozen=True)
class Tick:
    x: float
    label: str


@dataclass(frozen=True)
class Picture:
    """A drawing with everything at its place."""

    kind: str
    width: float
    height: float
    zero: float
    foot: float
    marks: tuple[Mark, ...]
    ticks: tuple[Tick, ...]
    unit: str
    words: str


def as_html(report: Report) -> str:
    """The report; everything a user has typed is escaped by the template."""
    sections = [
        {"title": one.title, "blocks": [_shown(block) for block in one.blocks], "number": number}
        for number, one in enumerate(report.sections)
    ]
    return _TEMPLATES.get_template("report.html").render(Context({"report": report, "sections": sections}))


def drawing_svg(report: Report) -> str:
    """The report's first drawing alone, as SVG; empty where it has none."""
    blocks = (block for section in report.sections for block in section.blocks)
    drawing = next((block for block in blocks if isinstance(block, Drawing)), None)
    if drawing is None:
        return ""
    return _TEMPLATES.get_template("drawing.svg").render(Context({"block": picture_of(drawing)})).strip()


def _shown(block: Block) -> object:
    if isinstance(block, Paragraph):
        return {"kind": "paragraph", "words": block.words, "quiet": block.quiet}
    if isinstance(block, Bullets):
        return {"kind": "bullets", "items": block.items}
    if isinstance(block, Table):
        rows = [[(cell, place in block.numbers) for place, cell in enumerate(row)] for row in block.rows]
        headers = [(cell, place in block.numbers) for place, cell in enumerate(block.headers)]
        return {"kind": "table", "headers": headers, "rows": rows}
    return picture_of(block)


def picture_of(block: Drawing) -> Picture:
    """Where everything of a drawing stands: the scale holds every whisker and nothing's line."""
    ends = [block.none]
    for whisker in block.whiskers:
        ends += [whisker.value, *(end for end in (whisker.low, whisker.high) if end is not None)]
    low, high = min(ends), max(ends)
    room = (high - low or 1.0) * 0.06
    low, high = low - room, high + room

    def x(value: float) -> float:
        return LABELS + (value - low) / (high - low) * (WIDTH - LABELS - 70)

    marks = tuple(
        Mark(
            one.label if len(one.label) <= MOST_LABEL else f"{one.label[: MOST_LABEL - 1]}…",
            LINE * (place + 1),
            x(one.value),
            None if one.low is None else x(one.low),
            None if one.high is None else x(one.high),
            f"{one.value:+.1f}".replace("-", "−"),
        )
        for place, one in enumerate(block.whiskers)
    )
    foot = LINE * (len(marks) + 1)
    step = next(one for one in (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 1e9) if (high - low) / one <= 8)
    first = int(low // step) + 1
    ticks = tuple(Tick(x(k * step), f"{k * step:+g}".replace("-", "−")) for k in range(first, int(high // step) + 1))
    return Picture(
        kind="picture",
        width=WIDTH,
        height=foot + FOOT,
        zero=x(block.none),
        foot=foot,
        marks=marks,
        ticks=ticks,
        unit=block.unit,
        words=block.words,
    )
