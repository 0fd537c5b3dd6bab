"""The simulator, driven as the server drives it, step by step without a clock."""

from datetime import timedelta

import pytest
from django.db import OperationalError
from django.utils import timezone

from tests.drafts import read_of
from tests.moment import NOW
from trelvo.bench.driver import SEND_EVERY_S, Driver
from trelvo.bench.queue import cancel, hold_after_stop, line_up, set_paused
from trelvo.bench.rigs import knobs_for, workloads_for
from trelvo.bench.runs import open_on_simulator
from trelvo.core.problems import Refused
from trelvo.core.watch.safety_limits import SafetyLimit
from trelvo.logbook.commands.campaigns import create_campaign
from trelvo.logbook.commands.live import clock_moved, find_left_open, finish, lose_silent
from trelvo.logbook.commands.rigs import BuildDraft, create_rig
from trelvo.logbook.commands.safety_limits import set_safety_limits
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, LiveRun, Queue, Run


@pytest.fixture
def dome(db) -> Campaign:
    """A campaign on a simulator card, nothing run yet."""
    rig = create_rig("Card", BuildDraft(), NOW, "dome", 71)
    return create_campaign(rig, "Up", "speed", "", knobs_for("dome"), workloads_for("dome"), NOW)


@pytest.fixture
def driver():
    return Driver()


def start(dome, values=None, load="Gorge flythrough", speed=600.0, **more):
    setting = add_setting(dome, values, "", NOW) if values else dome.settings.get(fingerprint="")
    # the driver lives in real time, so the run has to begin there too
    return open_on_simulator(dome, setting, dome.workloads.get(workload__name=load), speed, timezone.now(), **more)


def drive(driver, live, steps=80, seconds=0.5):
    for _ in range(steps):
        driver.step(seconds)
        live.refresh_from_db()
        if live.state != "open":
            return


def test_a_run_at_stock_completes_with_all_its_figures(dome, driver):
    live = start(dome)
    drive(driver, live)
    run = live.run
    run.refresh_from_db()
    assert (live.state, run.outcome) == ("ended", "completed")
    assert 85 < run.value < 95
    assert run.duration_s == pytest.approx(90)
    assert run.figures.get(quantity="power", part="tuned part", instrument__kind="own report").source == "live"
    assert read_of(run, "low_1_fps") < run.value
    telemetry, frames = run.series.all()
    assert telemetry.rows == 450
    assert frames.rows == pytest.approx(90 * run.value, rel=0.01)
    assert driver.sessions == {}


def test_scores_and_times_are_the_workloads_own(dome, driver):
    for load, low, high in (("Dust rings", 7000, 9000), ("Lantern render", 110, 130)):
        live = start(dome, load=load)
        drive(driver, live)
        live.run.refresh_from_db()
        assert low < live.run.value < high


def test_real_time_is_real_time(dome, driver):
    live = start(dome, speed=1.0)
    for _ in range(40):
        driver.step(0.1)
    live.refresh_from_db()
    # at most what is gathered before it is sent
    assert 3.4 <= live.elapsed_s <= 4.0


def test_six_hundred_times_real_time_is_that(dome, driver):
    live = start(dome, load="Kiln", speed=600.0)
    for _ in range(20):
        driver.step(0.1)
    live.refresh_from_db()
    # what is owed at the end is less than one stretch
    assert 1200 - SEND_EVERY_S * 600 <= live.elapsed_s <= 1200


def test_with_nothing_to_do_it_asks_nothing_and_still_notices_a_run(dome, driver, django_assert_num_queries):
    """Ten times a second beside somebody's measurement: what has not been written to is not looked at."""
    driver.step(0.1)
    with django_assert_num_queries(0):
        for _ in range(5):
            driver.step(0.1)
    live = start(dome)
    drive(driver, live)
    assert live.state == "ended"


def test_what_could_not_be_taken_up_is_tried_again_though_nobody_has_written_since(dome, driver, monkeypatch):
    driver.step(0.1)
    live = start(dome)

    def locked():
        raise OperationalError("database is locked")

    with monkeypatch.context() as patch:
        patch.setattr(driver, "_adopt", locked)
        with pytest.raises(OperationalError):
            driver.step(0.1)
    drive(driver, live)
    assert live.state == "ended"


def test_one_rig_runs_one_thing_at_a_time(dome, driver):
    start(dome)
    with pytest.raises(Refused, match="bench_busy"):
        start(dome, {"core": 15})


def test_a_safety_limit_stops_the_simulator(dome, driver):
    set_safety_limits(dome, [SafetyLimit("temperature", 45)])
    live = start(dome, load="Kiln")
    drive(driver, live)
    live.run.refresh_from_db()
    assert live.run.outcome == "safety limit"
    assert "above the limit of 45 °C" in live.run.marks.get(kind="breach").text
    assert live.run.duration_s < 600


def test_a_machine_that_goes_down_falls_silent_and_a_weaker_failure_is_told(dome, driver):
    live = start(dome, {"core": 300, "power": 120})
    driver.step(0.5)
    live.refresh_from_db()
    # it did not start, so it cannot say so: the run stays open until silence is noticed
    assert (live.state, live.elapsed_s) == ("open", 0)
    assert driver.sessions == {}
    outcomes = set()
    for core in (120, 135, 150):
        live.state = LiveRun.State.ENDED
        live.save()
        live = start(dome, {"core": core, "power": 120}, load="Kiln")
        drive(driver, live)
        live.run.refresh_from_db()
        outcomes.add(live.run.outcome)
    assert outcomes & {"artifacts", "program crash"}


def test_ending_by_hand_stops_the_simulator(dome, driver):
    live = start(dome, speed=10.0)
    driver.step(0.5)
    finish(live.pk, "safety limit", None, "Stopped by hand.", NOW)
    driver.step(0.5)
    assert driver.sessions == {}
    assert open_on_simulator(dome, live.run.setting, live.run.variant, 10, NOW).state == "open"


def test_a_run_ended_by_hand_makes_room_for_the_next_at_once(dome, driver):
    first = start(dome, speed=10.0)
    driver.step(0.5)
    finish(first.pk, "program crash", None, "", timezone.now())
    # begun before the driver has looked again
    second = open_on_simulator(dome, first.run.setting, first.run.variant, 600.0, timezone.now())
    drive(driver, second)
    second.run.refresh_from_db()
    first.run.refresh_from_db()
    assert (first.run.outcome, second.run.outcome) == ("program crash", "completed")
    assert second.run.duration_s == pytest.approx(90)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"speed": 5000.0}, "speed_out_of_range"),
        ({"minutes": 0.0}, "run_minutes_out_of_range"),
        ({"minutes": 1e9}, "run_minutes_out_of_range"),
    ],
)
def test_nonsense_is_refused(dome, change, says):
    with pytest.raises(Refused, match=says):
        start(dome, **change)
    assert not Run.objects.exists()


def test_a_real_rig_is_not_driven(campaign, stock, gorge):
    with pytest.raises(Refused, match="real_machine_run"):
        open_on_simulator(campaign, stock, gorge, 1, NOW)


def work(driver, queue, rounds=200):
    for _ in range(rounds):
        driver.step(1.0)
        if not queue.items.filter(state__in=("waiting", "running")).exists():
            return


def test_the_queue_is_worked_through_and_a_failed_setting_left(dome, driver):
    stock = dome.settings.get(fingerprint="")
    wild = add_setting(dome, {"core": 300, "power": 120}, "", NOW)
    gorge, rings = dome.workloads.all()[:2]
    queue = line_up(dome, [wild, stock], [gorge, rings], 2, 600.0)
    assert queue.items.count() == 8
    work(driver, queue)
    states = list(queue.items.values_list("setting_id", "state", "run__outcome"))
    assert states[0] == (wild.pk, "done", "no start")
    assert all(state == (wild.pk, "left out", None) for state in states[1:4])
    assert [state[1:] for state in states[4:]] == [("done", "completed")] * 4
    assert "ended with: no start" in queue.items.all()[1].why
    # the first run of a list is not the one that fills the caches
    values = Run.objects.filter(setting=stock, variant=gorge).values_list("value", flat=True)
    assert max(values) / min(values) < 1.025
    assert Run.objects.first().marks.filter(text__startswith="Warmed up at stock").exists()


def test_pause_cancel_and_a_new_list(dome, driver):
    stock, gorge = dome.settings.get(fingerprint=""), dome.workloads.first()
    queue = line_up(dome, [stock], [gorge], 3, 600.0)
    driver.step(0.1)
    set_paused(queue, True)
    queue.refresh_from_db()
    for _ in range(20):
        driver.step(1.0)
    assert list(queue.items.values_list("state", flat=True)) == ["done", "waiting", "waiting"]
    assert cancel(queue) == 2
    queue = line_up(dome, [stock], [gorge], 1, 600.0)
    assert (queue.items.count(), queue.paused) == (1, False)


def test_a_queue_is_held_after_a_stop(dome, driver):
    stock, gorge = dome.settings.get(fingerprint=""), dome.workloads.first()
    queue = line_up(dome, [stock], [gorge], 2, 1.0)
    driver.step(1.0)
    find_left_open(NOW)
    hold_after_stop()
    queue = Queue.objects.get()
    assert queue.paused
    assert list(queue.items.values_list("state", flat=True)) == ["done", "waiting"]
    Driver().step(1.0)
    assert Run.objects.count() == 1


@pytest.mark.parametrize(("repeats", "says"), [(0, "repeats_out_of_range"), (21, "repeats_out_of_range")])
def test_a_queue_of_nonsense(dome, repeats, says):
    stock, gorge = dome.settings.get(fingerprint=""), dome.workloads.first()
    with pytest.raises(Refused, match=says):
        line_up(dome, [stock], [gorge], repeats, 60)
    with pytest.raises(Refused, match="nothing_to_line_up"):
        line_up(dome, [], [gorge], 1, 60)


def test_beyond_a_ceiling_a_queue_asks_too(dome):
    set_safety_limits(dome, [SafetyLimit("voltage ceiling", 0, "voltage")])
    hot = add_setting(dome, {"voltage": 25}, "", NOW)
    with pytest.raises(Refused, match="above_ceiling_in_queue"):
        line_up(dome, [hot], [dome.workloads.first()], 1, 60)
    queue = line_up(dome, [hot], [dome.workloads.first()], 1, 60, "voltage +25 mV")
    Driver().step(0.1)
    assert queue.items.get().run.marks.filter(kind="confirmation").exists()


def test_two_settings_are_lined_up_in_turns(dome):
    stock, load = dome.settings.get(fingerprint=""), dome.workloads.first()
    tuned = add_setting(dome, {"core": 60}, "", NOW)
    queue = line_up(dome, [stock, tuned], [load], 3, 600.0, interleave=True)
    order = [item.setting_id == tuned.pk for item in queue.items.all()]
    assert order == [False, True, True, False, False, True]
    with pytest.raises(Refused, match="not_two_settings"):
        line_up(dome, [stock], [load], 2, 600.0, interleave=True)


def test_readings_that_cannot_be_written_wait_and_none_is_lost(dome, driver, monkeypatch):
    """The disk is full for a while, then has room again: the bench stands still meanwhile, and sends what it holds first."""
    from trelvo.bench import driver as driven

    real, full = driven.take_batch, []

    def take(live_id, batch, now):
        if full:
            raise OperationalError("database or disk is full")
        return real(live_id, batch, now)

    monkeypatch.setattr(driven, "take_batch", take)
    live = start(dome)
    drive(driver, live, steps=2, seconds=0.05)
    before = live.through
    assert before > 0
    full.append(True)
    for _ in range(5):
        driver.step(0.05)
    live.refresh_from_db()
    assert (live.state, live.through) == ("open", before)
    full.clear()
    drive(driver, live)
    run = live.run
    run.refresh_from_db()
    assert (live.state, run.outcome, live.beyond) == ("ended", "completed", [])
    assert run.series.first().rows == 450


def test_an_end_that_cannot_be_written_is_written_later(dome, driver, monkeypatch):
    from trelvo.bench import driver as driven

    real, locked = driven.finish, [True]

    def ended(*args):
        if locked:
            raise OperationalError("database is locked")
        return real(*args)

    monkeypatch.setattr(driven, "finish", ended)
    live = start(dome)
    drive(driver, live, steps=40)
    assert live.state == "open"
    locked.clear()
    drive(driver, live)
    assert live.state == "ended"
    assert live.run.series.first().rows == 450


@pytest.mark.parametrize("jump_s", [7200.0, -7200.0])
def test_a_clock_that_is_moved_loses_no_run(dome, driver, monkeypatch, jump_s):
    """Two hours forwards or back while a run goes on: no false silence, the run's own time goes on, and it is noted."""
    live = start(dome, load="Kiln", speed=1.0)
    drive(driver, live, steps=3)
    real = timezone.now
    monkeypatch.setattr(timezone, "now", lambda: real() + timedelta(seconds=jump_s))
    before = live.elapsed_s
    drive(driver, live, steps=6)
    assert (live.state, live.elapsed_s > before) == ("open", True)
    assert abs((timezone.now() - live.heard_at).total_seconds()) < 30
    marks = list(live.run.marks.filter(text__contains="clock of Trelvo's machine").values_list("text", flat=True))
    assert marks == [f"The clock of Trelvo's machine was moved by {jump_s:+.0f} s; the run's own time goes on."]


def test_real_silence_is_still_noticed_after_the_clock_was_moved(dome, driver):
    live = start(dome, load="Kiln", speed=1.0)
    drive(driver, live, steps=3)
    heard = live.heard_at
    # the clock went an hour forwards; the bench had been heard a second before
    now = heard + timedelta(seconds=3601)
    assert clock_moved(3600.0, now) == [live.run_id]
    assert lose_silent(now) == []
    assert lose_silent(now + timedelta(seconds=600)) == [live.run_id]
    # a bench that was heard of since the clock was moved is left alone
    assert clock_moved(-3600.0, now) == []


def test_a_machine_that_went_down_is_not_started_again_by_itself(dome, driver):
    """Far beyond the edge: it goes down at once, and stays silent until contact counts as lost."""
    live = start(dome, {"core": 240}, load="Kiln", speed=60.0)
    for _ in range(20):
        driver.step(0.2)
    live.refresh_from_db()
    assert list(live.run.marks.filter(kind="phase").values_list("text", flat=True)) == ["running"]
    assert driver.sessions == {}
    assert (live.beyond, lose_silent(live.heard_at + timedelta(hours=1))) == ([], [live.run_id])
