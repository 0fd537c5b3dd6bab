"""Snapshots are kept from one answer to the next, and are never stale: fresh equals kept, whatever is changed."""

import gc
import json
import random
import weakref
from datetime import timedelta

import pytest
from django.apps import apps
from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext

from tests.drafts import run_draft
from tests.token_oracle import NOT_WATCHED, WATCHED, begin, left_unsaid, watch
from trelvo.logbook import store, summaries
from trelvo.logbook.commands.corrections import Correction, correct_run
from trelvo.logbook.commands.goal import set_goal, set_terms
from trelvo.logbook.commands.instruments import InstrumentDraft, keep_instrument
from trelvo.logbook.commands.journal import write_entry
from trelvo.logbook.commands.rigs import BuildDraft, add_build
from trelvo.logbook.commands.runs import log_run, set_aside, take_back
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, CampaignSummary, Run
from trelvo.logbook.store import empty_store, latest

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
SUMMER = "summer"


def answers_of(client, campaign, everything=True):
    """All answers about a campaign, and the list of all of them where everything is asked for."""
    found = {path: client.get(f"/api/campaigns/{campaign.pk}{path}").json() for path in ANSWERS}
    return found | ({"list": client.get("/api/campaigns").json()} if everything else {})


def afresh(client, campaign, everything=True):
    """The same with nothing kept: neither snapshots nor summaries."""
    empty_store()
    kept = list(CampaignSummary.objects.all())
    CampaignSummary.objects.all().delete()
    found = answers_of(client, campaign, everything)
    CampaignSummary.objects.all().delete()
    CampaignSummary.objects.bulk_create(kept)
    return found


def same(kept, fresh):
    # the moment of asking is in no answer, so all of it must be alike
    for path, answer in fresh.items():
        assert json.dumps(kept[path], sort_keys=True) == json.dumps(answer, sort_keys=True), path


def test_the_oracle_knows_every_table(db):
    tables = {
        model._meta.db_table.removeprefix("logbook_")
        for model in apps.get_app_config("logbook").get_models(include_auto_created=True)
    }
    assert tables == {*WATCHED, *NOT_WATCHED}
    assert not set(WATCHED) & NOT_WATCHED


def test_the_oracle_finds_a_change_that_no_command_made(campaign, stock, gorge, now):
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 93.0), now)
    watch()
    before = begin()
    Run.objects.filter(pk=run.pk).update(value=94.0)
    assert left_unsaid(before) == [f"campaign {campaign.pk}"]
    before = begin()
    set_aside(run, "noise from the street", now)
    assert left_unsaid(before) == []


def test_a_snapshot_cannot_be_changed(campaign):
    snapshot = latest(campaign)
    with pytest.raises(AttributeError):
        snapshot.name = "other"
    for name in ("knobs", "settings", "workloads", "test_suite", "runs", "safety_limits", "targets", "kept_settings"):
        assert isinstance(getattr(snapshot, name), tuple), name


def test_a_campaign_that_changes_while_it_is_loaded_is_loaded_again(campaign, stock, gorge, now, monkeypatch):
    real, late = store.load_snapshots, [93.0]

    def changed_meanwhile(ids, tokens):
        found = real(ids, tokens)
        if late:
            log_run(campaign, stock, gorge, run_draft("completed", now, late.pop()), now)
        return found

    monkeypatch.setattr(store, "load_snapshots", changed_meanwhile)
    assert [run.value for run in latest(campaign).runs] == [93.0]
    assert latest(campaign) is latest(campaign)


def test_a_campaign_that_never_rests_is_given_but_not_kept(campaign, stock, gorge, now, monkeypatch):
    real = store.load_snapshots

    def always(ids, tokens):
        found = real(ids, tokens)
        log_run(campaign, stock, gorge, run_draft("completed", now, 93.0), now)
        return found

    with monkeypatch.context() as patch:
        patch.setattr(store, "load_snapshots", always)
        assert len(latest(campaign).runs) == store.MOST_LOADS - 1
    assert len(latest(campaign).runs) == store.MOST_LOADS


def test_a_snapshot_is_freed_as_soon_as_nobody_uses_it(client, story):
    campaign = Campaign.objects.get(name__contains=SUMMER)
    answers_of(client, campaign)
    gone = weakref.ref(latest(campaign))
    # memory is looked over seldom: what refers to itself would pile up with every run
    gc.disable()
    try:
        empty_store()
        assert gone() is None
    finally:
        gc.enable()


def test_least_used_campaigns_go_first(story, monkeypatch):
    monkeypatch.setattr(store, "MOST_RUNS", 1)
    first, second = Campaign.objects.order_by("pk")[:2]
    kept = latest(first)
    latest(second)
    assert latest(first) is not kept
    assert latest(first).runs == kept.runs


def test_what_was_taken_back_with_its_transaction_was_never_there(client, campaign, stock, gorge, now):
    for value in (93.0, 93.4, 93.1):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    before = answers_of(client, campaign)
    with transaction.atomic():
        log_run(campaign, stock, gorge, run_draft("completed", now, 150.0), now)
        assert answers_of(client, campaign)["/baseline"] != before["/baseline"]
        transaction.set_rollback(True)
    same(answers_of(client, campaign), before)
    log_run(campaign, stock, gorge, run_draft("completed", now, 93.2), now)
    same(answers_of(client, campaign), afresh(client, campaign))


def test_a_goal_that_is_only_tried_leaves_no_trace(client, story):
    campaign = Campaign.objects.get(name__contains=SUMMER)
    before = client.get(f"/api/campaigns/{campaign.pk}/goal").json()
    body = {"goal": "record", "terms": {}}
    tried = client.post(f"/api/campaigns/{campaign.pk}/goal/try", body, content_type="application/json")
    assert tried.status_code == 200
    assert tried.json()["words"] != before["goal"]["words"]
    assert client.get(f"/api/campaigns/{campaign.pk}/goal").json() == before


def test_after_a_start_the_list_is_told_from_its_summaries(client, story, now, monkeypatch):
    monkeypatch.setattr(summaries, "WORTH_KEEPING_S", 0.0)
    before = client.get("/api/campaigns").json()
    empty_store()
    with CaptureQueriesContext(connection) as asked:
        assert client.get("/api/campaigns").json() == before
    assert not any('FROM "logbook_run"' in query["sql"] for query in asked.captured_queries)
    # one that has changed is loaded again, and what the others have shown is still known
    campaign = Campaign.objects.get(name__contains=SUMMER)
    stock, variant = campaign.settings.get(fingerprint=""), campaign.workloads.first()
    log_run(campaign, stock, variant, run_draft("completed", now, 90.0), now)
    empty_store()
    after = {one["id"]: one for one in client.get("/api/campaigns").json()}
    assert after[campaign.pk]["run_count"] == next(one for one in before if one["id"] == campaign.pk)["run_count"] + 1
    assert all(after[one["id"]] == one for one in before if one["id"] != campaign.pk)


CHANGED = ("summer", "try", "Foyer")
# What changes more than one campaign: then the list of all of them is looked at as well.
WIDE = frozenset({"elsewhere", "instrument", "driver", "journal"})


@pytest.mark.parametrize("place", range(len(CHANGED)))
def test_kept_answers_are_those_computed_afresh_after_any_change(client, story, now, monkeypatch, place):
    """Commands in an order drawn by chance, a third of them at each of three campaigns; after each the answers, kept and
    afresh."""
    luck = random.Random(7)
    campaign = Campaign.objects.get(name__contains=CHANGED[place])
    runs = lambda: list(Run.objects.filter(campaign=campaign))  # noqa: E731

    def log():
        setting, variant = luck.choice(list(campaign.settings.all())), luck.choice(list(campaign.workloads.all()))
        outcome = luck.choice(["completed", "completed", "program crash"])
        value = round(90 + luck.random(), 1) if outcome == "completed" else None
        log_run(campaign, setting, variant, run_draft(outcome, now, value, duration_s=300.0, power_w=190.0), now)

    def tuned():
        knob = campaign.knobs.filter(retired_at=None).first()
        grid = [knob.low + knob.step * k for k in range(int((knob.high - knob.low) / knob.step) + 1)]
        taken = [one.values.get(knob.key, knob.stock) for one in campaign.settings.all()]
        add_setting(campaign, {knob.key: luck.choice([one for one in grid if one not in taken])}, "", now)

    def instrument():
        for row in campaign.rig.instruments.all():
            draft = InstrumentDraft(row.name, row.kind, row.quantity, row.part, offset=luck.uniform(-2, 2), factor=1.01)
            keep_instrument(campaign.rig, draft, row)

    def completed(of):
        return [run for run in Run.objects.filter(campaign=of) if run.outcome == "completed" and run.value]

    def correct():
        run = luck.choice(completed(campaign))
        correct_run(run, Correction({"value": round(run.value * 1.01, 1)}, "misread"), now)

    def elsewhere():
        other = luck.choice([one for one in Campaign.objects.exclude(pk=campaign.pk) if completed(one)])
        correct_run(completed(other)[-1], Correction({"outcome": "program crash", "value": None}, "it closed"), now)

    acts = {
        "log": log,
        "setting": tuned,
        "instrument": instrument,
        "correct": correct,
        "elsewhere": elsewhere,
        "aside": lambda: set_aside(luck.choice(runs()), "noise from the street", now),
        "back": lambda: [take_back(run) for run in runs() if run.set_aside_at],
        "terms": lambda: set_terms(Campaign.objects.get(pk=campaign.pk), {"sure": luck.choice([0.8, 0.9, 0.95])}),
        "goal": lambda: set_goal(
            Campaign.objects.get(pk=campaign.pk), luck.choice(["speed", "record"]), "", campaign.name
        ),
        "driver": lambda: add_build(campaign.rig, BuildDraft(driver=f"{luck.random():.2f}"), now),
        "later": lambda: correct_run(
            luck.choice(runs()), Correction({"started_at": now - timedelta(hours=luck.uniform(1, 9))}, "clock"), now
        ),
        "journal": lambda: write_entry(campaign.rig, "season", "Warm", now, now, 31.0),
    }
    # the list is kept in the database as well, however little time it took
    monkeypatch.setattr(summaries, "WORTH_KEEPING_S", 0.0)
    answers_of(client, campaign)
    for word in luck.sample(sorted(acts), len(acts))[place :: len(CHANGED)]:
        acts[word]()
        if luck.random() < 0.3:
            # as after a start
            empty_store()
        everything = word in WIDE
        same(answers_of(client, campaign, everything), afresh(client, campaign, everything))
