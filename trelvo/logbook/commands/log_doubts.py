"""What is asked before a log is kept: what does not go with its run, and whether it is kept already."""

from collections.abc import Sequence

from trelvo.core.logs.doubts import Pair, log_doubts
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.commands.logs import Supplied
from trelvo.logbook.models import Run, Series
from trelvo.logbook.rows.log_draft import LogDraft


def doubts_of(run: Run, draft: LogDraft, figures: Sequence[Supplied]) -> list[Problem]:
    """What of a log does not agree with what was typed for its run, and where else it is kept."""
    typed_s = run.duration_s if "duration_s" not in run.log_figures else None
    pairs = [
        Pair(figure.name, figure.unit, figure.quantity, figure.value, figure.typed)
        for figure in figures
        if figure.typed is not None and figure.mark not in ("duration_s", "frames")
    ]
    planned_s = run.variant.minutes * 60
    covers_s = draft.figures.duration_s
    doubts = log_doubts(covers_s, typed_s, planned_s, draft.every_s, draft.longest_gap_s, pairs)
    return [*_kept_elsewhere(run, draft.digest), *doubts]


def _kept_elsewhere(run: Run, digest: str) -> list[Problem]:
    """The same file with this run is refused; with another run it is asked about."""
    if not digest:
        return []
    same = Series.objects.filter(digest=digest, run__campaign__deleted_at=None).select_related("run__campaign")
    if here := same.filter(run=run).first():
        raise Refused(Problem("file", "log_kept_already", {"file": here.file_name}))
    return [
        Problem(
            "sure",
            "log_kept_elsewhere",
            {"run": one.run_id, "campaign": one.run.campaign.name, "file": one.file_name},
        )
        for one in same[:3]
    ]
