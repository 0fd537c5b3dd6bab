"""The demo shows every state, and is invented from end to end."""

from django.core.management import call_command

from tests.moment import NOW
from trelvo.core.base.runs import OUTCOME_MEANING
from trelvo.demo.story import load_story
from trelvo.logbook.answers.campaign import summary_of
from trelvo.logbook.answers.standing import standing_of
from trelvo.logbook.models import Campaign, Rig, Run
from trelvo.logbook.rows.kept_data import data_of


def states(name):
    standing = standing_of(data_of(Campaign.objects.get(name__contains=name)))
    return {stage.name: stage.state for stage in standing.stages}


def test_every_state_of_a_campaign_is_there(story):
    assert states("past 66") == {
        "Prepare": "done",
        **dict.fromkeys(["Baseline", "Climb", "Prove", "Compare", "Keep"], "to do"),
    }
    assert states("less heat")["Baseline"] == "under way"
    assert states("in the cold")["Baseline"] == "stale"
    summer = states("summer")
    assert (summer["Baseline"], summer["Climb"]) == ("done", "under way")


def test_one_machine_is_not_a_stand_in(story):
    real = Campaign.objects.get(rig__standin="")
    assert states(real.name)["Climb"] == "under way"
    assert not real.runs.filter(live__isnull=False).exists()


def test_every_outcome_is_there(story):
    assert {run.outcome for run in Run.objects.all()} == set(OUTCOME_MEANING) - {"stopped by hand"}


def test_runs_lie_in_the_past_and_in_order(story, now):
    times = list(Run.objects.order_by("id", "figures__id").values_list("started_at", flat=True))
    assert max(times) < now


def test_there_is_a_gain_and_it_is_a_gain(story):
    best = summary_of(data_of(Campaign.objects.get(name__contains="summer")), NOW).goal.best
    assert best.speed.low > 1.01
    assert next(one for one in best.conditions if one.key == "stability").state != "broken"


def test_loading_twice_changes_nothing(story):
    before = Run.objects.count()
    call_command("load_demo")
    assert (Run.objects.count(), Rig.objects.count()) == (before, 6)


def test_the_same_story_every_time(story, now):
    first = list(Run.objects.order_by("id", "figures__id").values_list("outcome", "value", "figures__value"))
    call_command("flush", interactive=False, verbosity=0)
    load_story(now)
    assert list(Run.objects.order_by("id", "figures__id").values_list("outcome", "value", "figures__value")) == first


def test_a_run_was_stopped_by_its_guard_rail_beyond_a_confirmed_ceiling(story):
    run = Run.objects.get(outcome="stopped by a guard rail")
    kinds = [mark.kind for mark in run.marks.all()]
    assert (kinds[0], kinds[-2:]) == ("confirmation", ["breach", "outcome"])
    assert run.series.count() == 1
