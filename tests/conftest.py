"""What all tests share: a moment in time and a campaign made through the services."""

import os
import pickle

import pytest
from django.apps import apps
from django.db import connection, transaction
from django.test import Client
from hypothesis import settings

from tests import token_oracle
from tests.moment import NOW
from tests.server.templates import made_once
from trelvo.core.base.knobs import Knob
from trelvo.demo.story import load_story
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, create_rig
from trelvo.logbook.models import Campaign
from trelvo.logbook.store import empty_store
from trelvo.server.management.commands.serve import collect_seldom

# No example fails for being slow on a busy machine; where changes land, the same examples are tried every time.
settings.register_profile("trelvo", deadline=None, derandomize=bool(os.environ.get("CI")))
settings.load_profile("trelvo")

POWER = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")
CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1, "core clock")
GORGE = WorkloadDraft("Gorge", "frame rate", "fps", True, 1.5, {"resolution": "3840 × 2160"})
RENDER = WorkloadDraft("Render", "time", "s", False, 2)


def pytest_collection_finish():
    """As the server does it: what is loaded by now stays, and to look it over again and again takes a tenth of the tests."""
    collect_seldom()


@pytest.fixture
def now():
    return NOW


@pytest.fixture(autouse=True)
def empty_snapshot_store():
    """What other tests have loaded is not kept for this one."""
    empty_store()


class WatchedClient(Client):
    """Sends requests, and fails where one changes something without replacing its token."""

    def request(self, **request):
        if request["REQUEST_METHOD"] in ("GET", "HEAD") or not connection.in_atomic_block:
            return super().request(**request)
        token_oracle.watch()
        before = token_oracle.begin()
        answer = super().request(**request)
        assert token_oracle.left_unsaid(before) == [], f"{request['REQUEST_METHOD']} {request['PATH_INFO']}"
        return answer


@pytest.fixture
def client():
    return WatchedClient()


@pytest.fixture(scope="session")
def story_rows(django_db_setup, django_db_blocker):
    """Every row of the demo story, by the statement that puts it there; worked on the simulator once for all lanes."""

    def make(home):
        models = apps.get_app_config("logbook").get_models(include_auto_created=True)
        with django_db_blocker.unblock(), transaction.atomic():
            load_story(NOW)
            rows = {}
            for table in (model._meta.db_table for model in models):
                found = connection.connection.execute(f"SELECT * FROM {table}")
                names = [f'"{column[0]}"' for column in found.description]
                into = f"INSERT INTO {table} ({', '.join(names)}) VALUES ({', '.join('?' * len(names))})"
                rows[into] = found.fetchall()
            transaction.set_rollback(True)
        (home / "rows").write_bytes(pickle.dumps(rows))

    return pickle.loads((made_once("story", make) / "rows").read_bytes())


@pytest.fixture
def story(db, story_rows):
    """The demo as it has just been loaded, and nothing read of it yet."""
    with transaction.atomic():
        connection.connection.execute("PRAGMA defer_foreign_keys = ON")
        for into, rows in story_rows.items():
            connection.connection.executemany(into, rows)


@pytest.fixture
def campaign(db) -> Campaign:
    """A campaign with two knobs and two workloads, nothing logged yet."""
    build = BuildDraft(parts=(PartDraft("Graphics card", "Card"),), driver="41.2")
    rig = create_rig("Bench", build, NOW)
    return create_campaign(rig, "Up", "speed", "", [POWER, CORE], [GORGE, RENDER], NOW)


@pytest.fixture
def stock(campaign):
    return campaign.settings.get(fingerprint="")


@pytest.fixture
def gorge(campaign):
    return campaign.workloads.get(workload__name="Gorge")
