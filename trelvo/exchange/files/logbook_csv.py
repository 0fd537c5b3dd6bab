"""The logbook as CSV, streamed: one line a run, with the columns that were chosen. Described in docs/formats.md."""

import csv
import io
from collections.abc import Iterator, Sequence

from trelvo.core.base.figures import BY_WORD
from trelvo.core.problems import Problem, Refused
from trelvo.exchange.files.runs_csv import harmless
from trelvo.logbook.answers.logbook import Asked, LoggedRun, all_of

FIRST = ("started_at", "rig", "campaign", "workload", "options", "setting", "outcome", "value", "unit")
MORE = ("duration_s", "build", "aside_reason", "note")


def logbook_csv(asked: Asked, columns: Sequence[str]) -> Iterator[bytes]:
    """Lines as bytes. columns: words of further figures, or duration_s, build, aside_reason, note. Refused for others."""
    if unknown := [word for word in columns if word not in BY_WORD and word not in MORE]:
        raise Refused(Problem("columns", "no_such_column", {"column": unknown[0], "known": (*MORE, *BY_WORD)}))
    chosen = list(columns)
    return _lines(asked, chosen)


def _lines(asked: Asked, chosen: Sequence[str]) -> Iterator[bytes]:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["run", *FIRST, *chosen])
    for run in all_of(asked):
        writer.writerow([run.id, *(_cell(run, name) for name in [*FIRST, *chosen])])
        if out.tell() > 64 * 1024:
            yield out.getvalue().encode()
            out.seek(0)
            out.truncate()
    yield out.getvalue().encode()


def _cell(run: LoggedRun, name: str) -> object:
    if name in BY_WORD:
        return run.figures.get(name)
    value = getattr(run, name)
    return value.isoformat() if name == "started_at" else harmless(value) if isinstance(value, str) else value
