"""Successive climbs of one specimen as checks of its edge: parted by time, by specimen and by what else was turned."""

from datetime import timedelta

import pytest

from tests.conftest import CORE
from tests.drafts import run_draft
from trelvo.core.keep.ageing import ageing_of
from trelvo.logbook.commands.campaigns import create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign
from trelvo.logbook.store import latest_of


def climbed(campaign, workload, at, held, failed):
    """A quarter of an hour at each value that held, and two failures at the one that did not."""

    def at_value(value):
        there = {one.values.get("core"): one for one in campaign.settings.all()}
        return there.get(value) or add_setting(campaign, {"core": value}, "", at)

    for value in held:
        setting = at_value(value)
        log_run(campaign, setting, workload, run_draft("completed", at, 95.0, duration_s=900), at)
    if failed is None:
        return []
    setting = at_value(failed)
    return [
        log_run(campaign, setting, workload, run_draft("system crash", at, None, duration_s=40), at) for _ in range(2)
    ]


def seen(campaign):
    return ageing_of(latest_of(list(Campaign.objects.filter(rig=campaign.rig))))


@pytest.fixture
def later(campaign, gorge, now):
    """Climbed in May and, in another campaign, two years later, 60 MHz lower."""
    climbed(campaign, gorge, now, (60, 90, 120), 135)
    then = now + timedelta(days=730)
    again = create_campaign(campaign.rig, "Again", "speed", "", [CORE], [], then, [gorge])
    climbed(again, gorge, then, (30, 60), 75)
    return again


def test_an_edge_that_came_nearer(campaign, later):
    (core,) = seen(campaign)
    assert (core.knob, len(core.checks)) == ("Core clock", 2)
    assert core.checks[0].campaign == campaign.name
    assert core.a_year == pytest.approx(30, abs=8)
    assert core.low < core.a_year < core.high
    assert (core.says.code == "edge_comes_nearer") == (core.low > 0)


def test_another_card_has_its_own_edge(campaign, gorge, later, now):
    then = now + timedelta(days=760)
    add_build(campaign.rig, BuildDraft((PartDraft("Graphics card", "Card", "second one"),)), then)
    climbed(later, gorge, then, (60, 90), 105)
    found = seen(campaign)
    assert [(one.specimen, len(one.checks)) for one in found] == [("Card", 2), ("Card (second one)", 1)]
    assert found[1].a_year is None


def test_what_found_no_edge_is_no_check(campaign, gorge, now):
    climbed(campaign, gorge, now, (60, 90), None)
    assert seen(campaign) == []
    failures = climbed(campaign, gorge, now + timedelta(days=100), (), 135)
    # what held was run months before: it may be another edge by now
    assert seen(campaign) == []
    climbed(campaign, gorge, now + timedelta(days=101), (60,), None)
    assert len(seen(campaign)) == 1
    for run in failures:
        set_aside(run, "the cable was loose", now)
    assert seen(campaign) == []
