"""A report as Markdown."""

from trelvo.exchange.report.blocks import Block, Bullets, Drawing, Paragraph, Report, Table


def as_markdown(report: Report) -> str:
    """The report with tables as pipes; drawings become tables of their numbers."""
    parts = [f"# {_plain(report.title)}", _plain(report.lead)]
    for section in report.sections:
        parts.append(f"## {_plain(section.title)}")
        parts += [_block(block) for block in section.blocks]
    parts.append(f"*{_plain(report.footer)}*")
    return "\n\n".join(parts) + "\n"


def _block(block: Block) -> str:
    if isinstance(block, Paragraph):
        return _plain(block.words)
    if isinstance(block, Bullets):
        return "\n".join(f"- {_plain(item)}" for item in block.items)
    if isinstance(block, Drawing):
        rows = tuple(
            (
                one.label,
                f"{one.value:.2f}",
                "" if one.low is None or one.high is None else f"{one.low:.2f} to {one.high:.2f}",
            )
            for one in block.whiskers
        )
        return _table(Table(("", block.unit, "95 %"), rows))
    return _table(block)


def _table(block: Table) -> str:
    lines = ["| " + " | ".join(_cell(header) for header in block.headers) + " |", "|" + " --- |" * len(block.headers)]
    lines += ["| " + " | ".join(_cell(one) for one in row) + " |" for row in block.rows]
    return "\n".join(lines)


def _plain(words: str) -> str:
    """Words of the user cannot become markup, a link or HTML."""
    # entities, since some readers take a tag for HTML although a backslash stands before it
    found = words.replace("\\", "\\\\").replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    for sign in "`*_[]|!#":
        found = found.replace(sign, f"\\{sign}")
    return " ".join(found.split())


def _cell(words: str) -> str:
    return _plain(words) or " "
