"""Models, one noun a module."""

from trelvo.logbook.models.bench_account import BenchAccount
from trelvo.logbook.models.bench_token import BenchToken
from trelvo.logbook.models.campaign import Campaign, Goal
from trelvo.logbook.models.change_token import ChangeToken
from trelvo.logbook.models.figure import Figure
from trelvo.logbook.models.instrument import InstrumentRow
from trelvo.logbook.models.journal import CautionYes, JournalEntry, JournalKind
from trelvo.logbook.models.kept_setting import InUse, KeptSetting, KeptSettingUse, UseEntry
from trelvo.logbook.models.knob import KnobRow
from trelvo.logbook.models.live import Chunk, LiveRun
from trelvo.logbook.models.mapping import ColumnMapping
from trelvo.logbook.models.mark import Mark
from trelvo.logbook.models.practice import Practice
from trelvo.logbook.models.queue import Queue, QueueItem
from trelvo.logbook.models.rig import Build, Part, Rig
from trelvo.logbook.models.run import Run
from trelvo.logbook.models.safety_limit import SafetyLimitRow
from trelvo.logbook.models.series import Series
from trelvo.logbook.models.setting import Setting
from trelvo.logbook.models.summary import CampaignSummary
from trelvo.logbook.models.target import Target
from trelvo.logbook.models.workload import Variant, Workload

__all__ = [
    "BenchAccount",
    "BenchToken",
    "Build",
    "Campaign",
    "CampaignSummary",
    "CautionYes",
    "ChangeToken",
    "Chunk",
    "ColumnMapping",
    "Figure",
    "Goal",
    "InUse",
    "InstrumentRow",
    "JournalEntry",
    "JournalKind",
    "KeptSetting",
    "KeptSettingUse",
    "KnobRow",
    "LiveRun",
    "Mark",
    "Part",
    "Practice",
    "Queue",
    "QueueItem",
    "Rig",
    "Run",
    "SafetyLimitRow",
    "Series",
    "Setting",
    "Target",
    "UseEntry",
    "Variant",
    "Workload",
]
