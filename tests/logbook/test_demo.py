"""The demo shows every state, and is invented from end to end."""

import sqlite3
from contextlib import closing

from django.core.management import call_command
from django.db import connection

from tests.moment import NOW
from tests.server.templates import fill
from trelvo.core.next_step.standing import standing_of
from trelvo.core.next_step.summary import summary_of
from trelvo.core.registry.outcomes import OUTCOMES
from trelvo.logbook.cases import case_alone
from trelvo.logbook.models import Campaign, Rig, Run

TOLD = """
    SELECT run.id, run.outcome, run.value, figure.id, figure.value
    FROM logbook_run AS run LEFT JOIN logbook_figure AS figure ON figure.run_id = run.id ORDER BY run.id, figure.id
"""


def states(name):
    standing = standing_of(case_alone(Campaign.objects.get(name__contains=name)))
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


def test_one_machine_is_not_a_simulator(story):
    real = Campaign.objects.get(rig__simulator="")
    assert states(real.name)["Climb"] == "under way"
    assert not real.runs.filter(live__isnull=False).exists()


def test_every_outcome_is_there(story):
    assert {run.outcome for run in Run.objects.all()} == set(OUTCOMES) - {"stopped by hand"}


def test_runs_lie_in_the_past_and_in_order(story, now):
    times = list(Run.objects.order_by("id", "figures__id").values_list("started_at", flat=True))
    assert max(times) < now


def test_there_is_a_gain_and_it_is_a_gain(story):
    best = summary_of(case_alone(Campaign.objects.get(name__contains="summer")), NOW).goal.best
    assert best.speed.low > 1.005
    assert next(condition for condition in best.conditions if condition.key == "stability").state != "broken"


def test_loading_twice_changes_nothing(story):
    before = Run.objects.count()
    call_command("load_demo")
    assert (Run.objects.count(), Rig.objects.count()) == (before, 6)


def test_the_same_story_every_time(story, tmp_path):
    # loaded by another process, at another moment
    fill(tmp_path, demo=True)
    with closing(sqlite3.connect(tmp_path / "trelvo.sqlite3")) as file:
        with connection.cursor() as cursor:
            assert cursor.execute(TOLD).fetchall() == file.execute(TOLD).fetchall()
        assert file.execute("SELECT count(*) FROM logbook_run").fetchone() == (286,)


def test_a_run_was_stopped_by_its_safety_limit_beyond_a_confirmed_ceiling(story):
    run = Run.objects.get(outcome="safety limit")
    kinds = [mark.kind for mark in run.marks.all()]
    assert (kinds[0], kinds[-2:]) == ("confirmation", ["breach", "outcome"])
    assert run.series.count() == 1
