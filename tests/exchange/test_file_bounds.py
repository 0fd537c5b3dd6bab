"""A file may hold no text or list that the form for the same thing would refuse."""

import annotated_types
import pytest
from pydantic import BaseModel

from trelvo.api.campaigns import CampaignIn
from trelvo.api.instruments import InstrumentIn
from trelvo.api.journal import EntryIn
from trelvo.api.knobs import KnobIO
from trelvo.api.rigs import BuildIn, PartIO, WorkloadIn
from trelvo.api.runs import RunIn
from trelvo.api.settings import SettingIn
from trelvo.api.targets import TargetIn
from trelvo.exchange.archive.entries import (
    BuildEntry,
    CampaignEntry,
    InstrumentEntry,
    KnobEntry,
    PartEntry,
    RunEntry,
    SettingEntry,
    TargetEntry,
    WorkloadEntry,
)
from trelvo.exchange.archive.kept_setting_entries import JournalFileEntry

FORM_AND_ENTRY = (
    (CampaignIn, CampaignEntry), (InstrumentIn, InstrumentEntry), (EntryIn, JournalFileEntry),
    (KnobIO, KnobEntry), (BuildIn, BuildEntry), (PartIO, PartEntry), (WorkloadIn, WorkloadEntry), (RunIn, RunEntry),
    (SettingIn, SettingEntry), (TargetIn, TargetEntry),
)  # fmt: skip


def lengths(schema: type[BaseModel]) -> dict[str, tuple[int, float]]:
    """Least and most length by field, where either is bounded."""
    found = {}
    for name, field in schema.model_fields.items():
        least = [limit.min_length for limit in field.metadata if isinstance(limit, annotated_types.MinLen)]
        most = [limit.max_length for limit in field.metadata if isinstance(limit, annotated_types.MaxLen)]
        if least or most:
            found[name] = max(least, default=0), min(most, default=float("inf"))
    return found


@pytest.mark.parametrize(("form", "entry"), FORM_AND_ENTRY, ids=lambda schema: schema.__name__)
def test_an_entry_is_bounded_as_its_form(form, entry):
    asked, there = lengths(form), lengths(entry)
    # a run may have more figures than a form sends at once: those of its logs
    shared = (asked.keys() & entry.model_fields.keys()) - {"figures"}
    assert shared
    wider = {name for name in shared if there.get(name, (0, float("inf")))[1] > asked[name][1]}
    emptier = {name for name in shared if there.get(name, (0, 0.0))[0] < asked[name][0]}
    assert (wider, emptier) == (set(), set())
