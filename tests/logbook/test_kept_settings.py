"""Kept settings as their rows tell them: since when something is otherwise, how warm it was, and what counts as evidence."""

from datetime import timedelta

import pytest

from tests.drafts import in_snapshot, run_draft
from trelvo.core.keep.service import evidence_of, proof_of
from trelvo.logbook.answers.kept_settings import kept_setting_view
from trelvo.logbook.cases import case_of
from trelvo.logbook.commands.campaigns import WorkloadDraft, add_workloads, create_campaign
from trelvo.logbook.commands.journal import write_entry
from trelvo.logbook.commands.kept_settings import keep, log_use, put_in_use, settle_failure
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import InUse
from trelvo.messages.texts import rendered, text_of

PARTS = (PartDraft("Graphics card", "Card"),)


@pytest.fixture
def kept(campaign, stock, gorge, now):
    """+60 MHz with 80 h behind it, which are just enough, kept on the first day."""
    tuned = add_setting(campaign, {"core": 60}, "", now)
    for setting, hours in ((stock, 1 / 6), (tuned, 40)):
        for value in (93.6, 93.8):
            begun = now - timedelta(hours=hours)
            draft = run_draft("completed", begun, value, duration_s=hours * 3600, room_c=22.0)
            log_run(campaign, setting, gorge, draft, now)
    case = case_of(campaign)
    setting = in_snapshot(case.campaign.settings, tuned)
    proof = proof_of(case, setting, case.campaign.testable)
    build = campaign.rig.present_build()
    evidence = rendered(evidence_of(case, setting, now))
    return keep(campaign, tuned.pk, build.pk, "Evenings", "every day", [], evidence, proof, now, in_use=True)


def seen(kept_setting, at):
    return kept_setting_view(kept_setting, at)


def day(now, number):
    return now + timedelta(days=number)


def test_a_change_is_told_from_the_day_on_which_it_came(kept, now):
    add_build(kept.rig, BuildDraft(PARTS, driver="43.0"), day(now, 10))
    add_build(kept.rig, BuildDraft(PARTS, driver="43.0", cooling="dusted"), day(now, 20))
    changes = {change.kind: change.since for change in seen(kept, day(now, 30)).changes}
    assert changes == {"driver": day(now, 10), "cooling": day(now, 20)}
    # there and back again: nothing is otherwise
    add_build(kept.rig, BuildDraft(PARTS, driver="41.2"), day(now, 25))
    view = seen(kept, day(now, 30))
    assert (view.changes, view.proof) == ([], "fresh")


def test_another_card_is_another_specimen(kept, now):
    add_build(kept.rig, BuildDraft((PartDraft("Graphics card", "Card", "second one"),), driver="41.2"), day(now, 5))
    view = seen(kept, day(now, 6))
    assert [(change.kind, text_of(change.says)) for change in view.changes] == [
        ("tuned part", "Graphics card: Card → Card (second one)")
    ]
    assert view.proof == "stale"
    assert view.chance < 0.6 < view.required


@pytest.mark.parametrize(
    ("rooms", "warm"), [([24.0], False), ([27.5], True), ([30.0, 23.0], False), ([23.0, 30.0], True)]
)
def test_the_newest_room_counts_wherever_it_was_read(kept, now, rooms, warm):
    for number, room_c in enumerate(rooms, start=1):
        if number % 2:
            log_use(kept, 1.0, day(now, number), room_c=room_c)
        else:
            write_entry(kept.rig, "season", "Room read.", day(now, number), day(now, number), room_c)
    assert ("season" in {change.kind for change in seen(kept, day(now, 9)).changes}) is warm


def test_hours_count_by_how_hard_they_were(kept, gorge, now):
    before = seen(kept, day(now, 1)).chance
    log_use(kept, 100.0, day(now, 2))
    light = seen(kept, day(now, 3)).chance
    log_use(kept, 100.0, day(now, 4), variant=gorge)
    hard = seen(kept, day(now, 5)).chance
    assert before < light < hard
    assert hard - light > 2 * (light - before)


def test_a_failure_counts_until_someone_else_is_to_blame(kept, now):
    entry = log_use(kept, 3.0, day(now, 2), outcome="system crash", minutes=20)
    failed = seen(kept, day(now, 3))
    assert (failed.failures, failed.proof, failed.lower) == (1, "failed in use", None)
    settle_failure(entry, "edge moved", day(now, 4))
    blamed = seen(kept, day(now, 5))
    # system crash: three steps of 15 MHz back
    assert (blamed.lower, blamed.lower_title) == ({"core": 15.0}, "core clock +15\u00a0MHz")
    settle_failure(entry, "supply or cable", day(now, 6))
    innocent = seen(kept, day(now, 7))
    assert (innocent.failures, innocent.lower, innocent.proof) == (0, None, "fresh")


def test_runs_set_aside_are_no_evidence(kept, gorge, now):
    before = seen(kept, day(now, 1)).chance
    run = log_run(
        kept.campaign, kept.setting, gorge, run_draft("system crash", day(now, 2), duration_s=60), day(now, 2)
    )
    assert seen(kept, day(now, 3)).chance < before
    set_aside(run, "the plug was out", day(now, 3))
    assert seen(kept, day(now, 4)).chance == pytest.approx(before)


def test_a_workload_of_another_campaign_on_the_rig_is_in_use_too(kept, now):
    fjord = add_workloads([WorkloadDraft("Fjord", "frame rate", "fps", True, 2)])
    core = kept.campaign.knobs.get(key="core").as_knob()
    create_campaign(kept.rig, "Later", "speed", "", [core], [], day(now, 3), fjord)
    view = seen(kept, day(now, 4))
    assert [change.says.code for change in view.changes] == ["new_since_proof"]
    assert [(one.act, one.workload) for one in view.check][-1] == ("gain", "Fjord")


def test_a_rig_runs_with_one_setting_at_a_time(kept, stock, now):
    evidence, proof = kept.evidence, kept.proof
    other = keep(
        kept.campaign, stock.pk, kept.build_id, "Stock", "quiet", [], evidence, proof, day(now, 2), in_use=True
    )
    put_in_use(kept, day(now, 5))
    put_in_use(kept, day(now, 6))
    spans = [(one.kept_setting_id, one.since, one.until) for one in InUse.objects.order_by("id")]
    assert spans == [
        (kept.pk, now, day(now, 2)),
        (other.pk, day(now, 2), day(now, 5)),
        (kept.pk, day(now, 5), None),
    ]
    assert seen(kept, day(now, 7)).since == day(now, 5)
