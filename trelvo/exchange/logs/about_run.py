"""What is known of the run that a log is dropped on, as far as it helps to read the log."""

from typing import cast

from trelvo.core.base.figures import Part
from trelvo.exchange.logs.guess import About
from trelvo.logbook.models import Run


def about_run(run: Run) -> tuple[About, frozenset[int]]:
    """The tuned part and the length of a run, and the instruments of its rig."""
    knobs = list(run.campaign.knobs.all())
    parts = {knob.part for knob in knobs} - {"tuned part"}
    several = len(parts & {"graphics", "processor"}) > 1
    tuned = cast(Part, next(iter(parts))) if len(parts) == 1 else None
    if tuned is None and not several and any(knob.as_knob().facts.processor for knob in knobs):
        tuned = "processor"
    expects_s = run.duration_s or run.variant.minutes * 60
    instruments = frozenset(run.campaign.rig.instruments.values_list("id", flat=True))
    return About(tuned, expects_s, several), instruments
