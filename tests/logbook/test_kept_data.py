"""What is kept from one answer to the next: as quick as nothing, and never stale, whatever changes the database."""

import json
import random
from datetime import timedelta

import pytest
from django.apps import apps
from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext

from tests.drafts import run_draft
from trelvo.logbook.acts.corrections import Correction, correct_run
from trelvo.logbook.acts.goal import set_goal, set_terms
from trelvo.logbook.acts.runs import log_run, set_aside, take_back
from trelvo.logbook.acts.settings import add_setting
from trelvo.logbook.answers import cards
from trelvo.logbook.models import Campaign, Figure, Fitting, InstrumentRow, Run, Setting
from trelvo.logbook.rows import kept_data
from trelvo.logbook.rows.kept_data import data_of
from trelvo.logbook.rows.stamps import STAMPED, UNSTAMPED, read_stamps

ANSWERS = (
    "",
    "/ladder",
    "/baseline",
    "/climb",
    "/proof",
    "/compare",
    "/goal",
    "/power",
    "/response",
    "/budget",
    "/keep",
    "/trade-off",
)


def answers_of(client, campaign, everything=True):
    """All answers about a campaign, and the list of all of them where everything is asked for."""
    found = {path: client.get(f"/api/campaigns/{campaign.pk}{path}").json() for path in ANSWERS}
    return found | ({"list": client.get("/api/campaigns").json()} if everything else {})


def afresh(client, campaign, monkeypatch, everything=True):
    """The same with nothing at hand."""
    with monkeypatch.context() as patch:
        patch.setattr(kept_data, "_shelf", kept_data._Shelf())
        patch.setattr(cards, "read_cards", lambda ids: {})
        patch.setattr(cards, "write_cards", lambda some: None)
        return answers_of(client, campaign, everything)


class AskedBetween(dict):
    """Lets another thread's question in right after each value that is stored, as on a busy server."""

    def __init__(self, ask):
        super().__init__()
        self.ask, self.asking = ask, False

    def __setitem__(self, key, value):
        super().__setitem__(key, value)
        if not self.asking:
            self.asking = True
            self.ask()
            self.asking = False


def same(kept, fresh):
    # the moment of asking is in no answer, so all of it must be alike
    for path, answer in fresh.items():
        assert json.dumps(kept[path], sort_keys=True) == json.dumps(answer, sort_keys=True), path


def marks(campaign):
    return read_stamps([campaign.pk], [campaign.rig_id], {}).of(campaign.pk, campaign.rig_id)


def test_every_table_is_stamped_or_said_to_need_no_stamp(db):
    tables = {
        model._meta.db_table.removeprefix("logbook_")
        for model in apps.get_app_config("logbook").get_models(include_auto_created=True)
    }
    assert tables == {*STAMPED, *UNSTAMPED}
    assert not set(STAMPED) & set(UNSTAMPED)


@pytest.mark.parametrize("table", STAMPED)
def test_a_change_of_any_row_of_a_stamped_table_is_told(story, table):
    campaign = Campaign.objects.get(name__contains="summer")
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT id FROM logbook_{table}")
        ids = [row[0] for row in cursor.fetchall()]
        assert ids or table in ("cautionyes", "campaign_retired", "useentry", "mark"), "the demo has none of these"
        every = list(Campaign.objects.all())
        before = {one.pk: marks(one) for one in every}
        for number in ids[:1]:
            cursor.execute(f"UPDATE logbook_{table} SET id = id WHERE id = {number}")
            after = {one.pk: marks(one) for one in every}
            assert before != after
    assert before[campaign.pk] is not None


def test_what_nothing_has_changed_is_not_read_again(client, story):
    campaign = Campaign.objects.get(name__contains="summer")
    client.get(f"/api/campaigns/{campaign.pk}/goal")
    with CaptureQueriesContext(connection) as asked:
        client.get(f"/api/campaigns/{campaign.pk}/goal")
    assert len(asked) == 2, [one["sql"] for one in asked.captured_queries]


def test_of_the_runs_only_those_that_changed_are_read_again(story):
    campaign = Campaign.objects.get(name__contains="summer")
    data = data_of(campaign)
    data.facts(data.runs)
    run = Run.objects.filter(campaign=campaign, outcome="completed", value__isnull=False).first()
    log_run(
        campaign, run.setting, run.variant, run_draft("completed", run.started_at, 81.0, power_w=190.0), run.started_at
    )
    with CaptureQueriesContext(connection) as asked:
        later = data_of(campaign)
        facts = later.facts(later.runs)
    read = [one["sql"] for one in asked.captured_queries if 'FROM "logbook_run"' in one["sql"]]
    assert len(read) == 1
    assert "IN (" in read[0]
    assert len(facts) == len(data.runs) + 1
    assert sum(one in facts for one in data.facts(data.runs)) == len(data.runs)


def test_what_is_kept_is_whole_at_every_moment(story):
    data = data_of(Campaign.objects.get(name__contains="summer"))
    data.of_rows = AskedBetween(lambda: data.facts(data.runs))
    assert len(data.facts(data.runs)) == len(data.runs) > 0
    assert data.of_rows


def test_what_was_taken_back_with_its_transaction_was_never_there(client, campaign, stock, gorge, now, monkeypatch):
    for value in (93.0, 93.4, 93.1):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    before = answers_of(client, campaign)
    with transaction.atomic():
        log_run(campaign, stock, gorge, run_draft("completed", now, 150.0), now)
        assert answers_of(client, campaign)["/baseline"] != before["/baseline"]
        transaction.set_rollback(True)
    same(answers_of(client, campaign), before)
    log_run(campaign, stock, gorge, run_draft("completed", now, 93.2), now)
    same(answers_of(client, campaign), afresh(client, campaign, monkeypatch))


def test_a_goal_that_is_only_tried_leaves_no_trace(client, story):
    campaign = Campaign.objects.get(name__contains="summer")
    before = client.get(f"/api/campaigns/{campaign.pk}/goal").json()
    body = {"goal": "record", "terms": {}}
    tried = client.post(f"/api/campaigns/{campaign.pk}/goal/try", body, content_type="application/json")
    assert tried.status_code == 200
    assert tried.json()["words"] != before["goal"]["words"]
    assert client.get(f"/api/campaigns/{campaign.pk}/goal").json() == before


def test_after_a_start_the_list_is_told_from_what_the_database_keeps(client, story, now, monkeypatch):
    monkeypatch.setattr(cards, "WORTH_KEEPING_S", 0.0)
    before = client.get("/api/campaigns").json()
    monkeypatch.setattr(kept_data, "_shelf", kept_data._Shelf())
    with CaptureQueriesContext(connection) as asked:
        assert client.get("/api/campaigns").json() == before
    assert not any('FROM "logbook_run"' in one["sql"] for one in asked.captured_queries)
    # one that has changed is read again, and what the others show is still told
    campaign = Campaign.objects.get(name__contains="summer")
    stock, variant = campaign.settings.get(fingerprint=""), campaign.workloads.first()
    log_run(campaign, stock, variant, run_draft("completed", now, 90.0), now)
    monkeypatch.setattr(kept_data, "_shelf", kept_data._Shelf())
    after = {one["id"]: one for one in client.get("/api/campaigns").json()}
    assert after[campaign.pk]["run_count"] == next(one for one in before if one["id"] == campaign.pk)["run_count"] + 1
    assert all(after[one["id"]] == one for one in before if one["id"] != campaign.pk)


CHANGED = ("summer", "try", "Foyer")
# What changes more than one campaign: then the list of all of them is looked at as well.
WIDE = frozenset({"elsewhere", "instrument", "driver", "gone"})


@pytest.mark.parametrize("place", range(len(CHANGED)))
def test_kept_answers_are_those_worked_out_afresh_after_any_change(client, story, now, monkeypatch, place):
    """Acts, and changes past all acts, in an order drawn by chance, a third of them at each of three campaigns; after each the
    answers, kept and afresh."""
    luck = random.Random(7)
    campaign = Campaign.objects.get(name__contains=CHANGED[place])
    runs = lambda: list(Run.objects.filter(campaign=campaign))  # noqa: E731

    def log():
        setting, variant = luck.choice(list(campaign.settings.all())), luck.choice(list(campaign.workloads.all()))
        outcome = luck.choice(["completed", "completed", "program closed"])
        value = round(90 + luck.random(), 1) if outcome == "completed" else None
        log_run(campaign, setting, variant, run_draft(outcome, now, value, duration_s=300.0), now)

    def figure():
        # past all acts, as a migration or another program would
        Figure.objects.filter(run=luck.choice(runs())).update(value=luck.uniform(50, 80))

    def rung():
        knob = campaign.knobs.filter(retired_at=None).first()
        grid = [knob.low + knob.step * k for k in range(int((knob.high - knob.low) / knob.step) + 1)]
        taken = [one.values.get(knob.key, knob.stock) for one in campaign.settings.all()]
        add_setting(campaign, {knob.key: luck.choice([one for one in grid if one not in taken])}, "", now)

    def instrument():
        InstrumentRow.objects.filter(rig=campaign.rig).update(offset=luck.uniform(-2, 2), factor=1.01)

    def correct():
        completed = [run for run in runs() if run.outcome == "completed" and run.value]
        run = luck.choice(completed)
        correct_run(run, Correction({"value": round(run.value * 1.01, 1)}, "misread"), now)

    def elsewhere():
        other = luck.choice(list(Campaign.objects.exclude(pk=campaign.pk)))
        failed = Run.objects.filter(campaign=other, outcome="completed").last()
        if failed:
            Run.objects.filter(pk=failed.pk).update(outcome="program closed", value=None)

    acts = {
        "log": log,
        "figure": figure,
        "rung": rung,
        "instrument": instrument,
        "correct": correct,
        "elsewhere": elsewhere,
        "aside": lambda: set_aside(luck.choice(runs()), "noise from the street", now),
        "back": lambda: [take_back(run) for run in runs() if run.set_aside_at],
        "terms": lambda: set_terms(Campaign.objects.get(pk=campaign.pk), {"sure": luck.choice([0.8, 0.9, 0.95])}),
        "goal": lambda: set_goal(
            Campaign.objects.get(pk=campaign.pk), luck.choice(["speed", "record"]), "", campaign.name
        ),
        "driver": lambda: Fitting.objects.filter(rig=campaign.rig).update(driver=f"{luck.random():.2f}"),
        "gone": lambda: Run.objects.filter(pk=luck.choice(runs()).pk).update(started_at=now + timedelta(hours=1)),
        "note": lambda: Setting.objects.filter(campaign=campaign).update(note="later"),
    }
    # the list is kept in the database as well, however little time it took
    monkeypatch.setattr(cards, "WORTH_KEEPING_S", 0.0)
    answers_of(client, campaign)
    for word in luck.sample(sorted(acts), len(acts))[place :: len(CHANGED)]:
        acts[word]()
        if luck.random() < 0.3:
            # as after a start
            monkeypatch.setattr(kept_data, "_shelf", kept_data._Shelf())
        everything = word in WIDE
        same(answers_of(client, campaign, everything), afresh(client, campaign, monkeypatch, everything))
