"""Runs as tests describe them: figures by their words, as they would be typed in one line."""

from trelvo.core.base.figures import BY_WORD
from trelvo.core.compare.sides import REFERENCE, Side
from trelvo.core.goal.comparison import compared
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.runs import RunDraft, figure
from trelvo.logbook.models import Campaign


def run_draft(outcome="completed", started_at=None, value=None, duration_s=None, fan="", note="", **read):
    """A run with figures by word; power_point says where the watts were read."""
    point = read.pop("power_point", "unknown")
    figures = [
        figure(word, float(number), point if word == "power_w" else "unknown")
        for word, number in read.items()
        if number is not None
    ]
    return RunDraft(outcome, started_at, value, duration_s, fan, note, figures)


def run_body(**fields):
    """The same as the API takes it."""
    point = fields.pop("power_point", "unknown")
    figures = []
    for word in [word for word in fields if word in BY_WORD]:
        key, value = BY_WORD[word].key, fields.pop(word)
        of = {"quantity": key.quantity, "part": key.part, "statistic": key.statistic}
        figures.append(of | {"value": value, "point": point if word == "power_w" else "unknown"})
    return fields | {"figures": figures}


def read_of(run, word):
    """What a run has of a figure, or None; of a row or of an answer."""
    if isinstance(run, dict):
        return next((one["value"] for one in run["figures"] if one["word"] == word and not one["replaced"]), None)
    return next((one.value for one in run.figures.filter(replaced=False) if one.key.word == word), None)


def in_snapshot(rows, row):
    """What is in a snapshot for a row of the database."""
    return next(one for one in rows if one.id == row.pk)


def versus(campaign, reference, candidates, now, *, correct=True, reference_build=None):
    """Settings of one campaign against another of its own, as Compare shows it."""
    case = case_alone(Campaign.objects.get(pk=campaign.pk))
    judged = case.campaign.judged_build
    build = in_snapshot(case.campaign.builds, reference_build) if reference_build else judged
    base = Side(REFERENCE, case, in_snapshot(case.campaign.settings, reference), build)
    settings = [in_snapshot(case.campaign.settings, row) for row in candidates]
    sides = [Side(n, case, setting, judged) for n, setting in enumerate(settings, start=1)]
    return compared(base, sides, now, correct=correct)
