"""Models, one noun a module."""

from trelvo.logbook.models.campaign import Campaign, Goal
from trelvo.logbook.models.knob import KnobRow
from trelvo.logbook.models.mapping import ColumnMapping
from trelvo.logbook.models.rig import Fitting, Part, Rig
from trelvo.logbook.models.run import Run
from trelvo.logbook.models.series import Series
from trelvo.logbook.models.setting import Setting
from trelvo.logbook.models.target import Target
from trelvo.logbook.models.workload import Workload

__all__ = [
    "Campaign",
    "ColumnMapping",
    "Fitting",
    "Goal",
    "KnobRow",
    "Part",
    "Rig",
    "Run",
    "Series",
    "Setting",
    "Target",
    "Workload",
]
