"""What all tests share: a moment in time and a campaign made through the services."""

import copy
import os

import pytest
from django.apps import apps
from django.db import transaction
from hypothesis import settings

from tests.moment import NOW
from trelvo.core.base.knobs import Knob
from trelvo.demo.story import load_story
from trelvo.logbook.acts.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.acts.rigs import FittingDraft, PartDraft, create_rig
from trelvo.logbook.models import Campaign

# No example fails for being slow on a busy machine; where changes land, the same examples are tried every time.
settings.register_profile("trelvo", deadline=None, derandomize=bool(os.environ.get("CI")))
settings.load_profile("trelvo")

POWER = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")
CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1, "core clock")
GORGE = WorkloadDraft("Gorge", "frame rate", "fps", True, 1.5, {"resolution": "3840 × 2160"})
RENDER = WorkloadDraft("Render", "time", "s", False, 2)


@pytest.fixture
def now():
    return NOW


@pytest.fixture(scope="session")
def story_rows(django_db_setup, django_db_blocker):
    """Every row of the demo story, worked on the stand-in once for all tests."""
    models = list(apps.get_app_config("logbook").get_models(include_auto_created=True))
    with django_db_blocker.unblock(), transaction.atomic():
        load_story(NOW)
        rows = [(model, list(model.objects.all())) for model in models]
        transaction.set_rollback(True)
    return rows


@pytest.fixture
def story(db, story_rows):
    """The demo as it has just been loaded."""
    waiting = [entry for entry in story_rows if entry[1]]
    while waiting:
        model, rows = waiting.pop(0)
        needed = {f.related_model for f in model._meta.fields if f.related_model and f.related_model is not model}
        if needed & {other for other, _ in waiting}:
            waiting.append((model, rows))
        else:
            model.objects.bulk_create(copy.deepcopy(rows))


@pytest.fixture
def campaign(db) -> Campaign:
    """A campaign with two knobs and two workloads, nothing logged yet."""
    fitting = FittingDraft(parts=(PartDraft("Graphics card", "Card"),), driver="41.2")
    rig = create_rig("Bench", fitting, NOW)
    return create_campaign(rig, "Up", "speed", "", [POWER, CORE], [GORGE, RENDER], NOW)


@pytest.fixture
def stock(campaign):
    return campaign.settings.get(fingerprint="")


@pytest.fixture
def gorge(campaign):
    return campaign.workloads.get(workload__name="Gorge")
