"""The run protocol's services: nothing lost, nothing twice, whatever the order; silence is noticed and asked about."""

import uuid
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.drafts import read_of
from tests.moment import NOW
from trelvo.core.problems import Refused
from trelvo.core.watch.safety_limits import SafetyLimit
from trelvo.logbook.answers.live_news import news_of
from trelvo.logbook.commands import live as service
from trelvo.logbook.commands.bench_tokens import known_token, make_token, withdraw_token
from trelvo.logbook.commands.live import Batch, LiveDraft
from trelvo.logbook.commands.safety_limits import set_safety_limits
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Chunk, LiveRun, Mark, Run
from trelvo.logbook.rows.live_series import sent_of
from trelvo.logbook.rows.lookups import safety_limits_of
from trelvo.logbook.rows.series_bytes import from_parquet

CHANNELS = [
    {"name": "clock", "quantity": "core clock", "unit": "MHz"},
    {"name": "die", "quantity": "temperature", "unit": "°C"},
    {"name": "board", "quantity": "power", "unit": "W", "point": "cables"},
]


def draft(**more):
    return LiveDraft("desk", CHANNELS, planned_s=90, **more)


def batch(number, die=60.0, frames=()):
    """The number'th second of a run, ten readings."""
    t = number - 1 + np.arange(10) / 10
    values = np.column_stack([2000 + t, np.full(10, die), np.full(10, 150.0)])
    return Batch(number, t, values, np.array(frames, dtype=float))


@pytest.fixture
def live(campaign, stock, gorge):
    return service.open_run(campaign, stock, gorge, draft(), NOW)


def take(live, *batches, now=NOW):
    return [service.take_batch(live.pk, one, now) for one in batches]


def test_a_run_is_written_before_it_starts_and_tells_the_truth_from_then_on(live):
    run = Run.objects.get()
    assert (run.outcome, run.value, live.state) == ("connection lost", None, "open")


def test_from_opening_to_its_end(live):
    take(live, *(batch(n, frames=[10.0] * 99 + [40.0]) for n in (1, 2, 3)))
    service.finish(live.pk, "completed", None, "", NOW)
    run = Run.objects.get()
    telemetry, frames = run.series.all()
    assert telemetry.rows == 30
    assert from_parquet(telemetry.parquet)["clock"].tolist() == (2000 + np.arange(30) / 10).tolist()
    # 300 frames in 3.09 s; the time-weighted mean of what rose evenly is its middle
    assert run.value == pytest.approx(300 / 3.09)
    assert (read_of(run, "core_mhz"), read_of(run, "temp_max_c")) == (pytest.approx(2001.45), 60)
    assert (read_of(run, "power_w"), run.duration_s) == (pytest.approx(150), pytest.approx(2.9))
    assert run.figures.get(quantity="power").instrument.kind == "clamp"
    assert frames.rows == 300
    assert not Chunk.objects.exists()
    assert LiveRun.objects.get().state == "ended"


def test_a_run_that_failed_gets_no_value_from_its_frames(live):
    take(live, batch(1, frames=[10.0] * 100))
    service.finish(live.pk, "program crash", 88.0, "", NOW)
    run = Run.objects.get()
    assert (run.outcome, run.value, read_of(run, "core_mhz")) == ("program crash", None, pytest.approx(2000.45))


@settings(max_examples=25)
@given(st.permutations(range(1, 9)), st.lists(st.integers(1, 8), max_size=6))
@pytest.mark.django_db
def test_any_order_and_any_repeat_give_the_same_readings(order, again):
    """Out of order, or twice: the same is kept, and the receipt says what is missing."""
    from tests.conftest import CORE, GORGE
    from trelvo.logbook.commands.campaigns import create_campaign
    from trelvo.logbook.commands.rigs import BuildDraft, create_rig

    rig = create_rig(f"Bench {uuid.uuid4()}", BuildDraft(), NOW)
    campaign = create_campaign(rig, "Up", "speed", "", [CORE], [GORGE], NOW)
    live = service.open_run(campaign, campaign.settings.get(), campaign.workloads.get(), draft(), NOW)
    seen: set[int] = set()
    for number in [*order, *again]:
        (receipt,) = take(live, batch(number))
        seen.add(number)
        through = max((n for n in range(9) if set(range(1, n + 1)) <= seen), default=0)
        assert receipt.through == through
        assert receipt.missing == [n for n in range(through + 1, max(seen)) if n not in seen]
    sent = sent_of(live, list(live.chunks.all()))
    assert sent.time_s.tolist() == np.concatenate([batch(n).time_s for n in range(1, 9)]).tolist()


def test_another_batch_under_the_same_number_is_refused(live):
    take(live, batch(1))
    with pytest.raises(Refused, match="batch_there_already"):
        take(live, batch(1, die=61))
    assert live.chunks.count() == 1


def test_after_the_end_a_repeat_does_no_harm_and_what_is_new_is_refused(live):
    take(live, batch(1))
    service.finish(live.pk, "completed", 90.0, "", NOW)
    (receipt,) = take(live, batch(1))
    assert receipt.stop == "ended: completed"
    with pytest.raises(Refused, match="run_has_ended"):
        take(live, batch(2))
    assert Run.objects.get().series.get().rows == 10


def test_a_run_that_broke_off_at_its_first_reading_keeps_it(live):
    service.take_batch(live.pk, Batch(1, np.array([0.2]), np.array([[2000.0, 60.0, 150.0]]), np.empty(0)), NOW)
    service.finish(live.pk, "system crash", None, "", NOW)
    run = Run.objects.get()
    assert (run.series.get().rows, run.duration_s, read_of(run, "core_mhz")) == (1, 0.2, None)


def test_opening_twice_under_one_identity_opens_one_run(campaign, stock, gorge):
    uid = uuid.uuid4()
    first, again = (service.open_run(campaign, stock, gorge, draft(uid=uid), NOW) for _ in range(2))
    assert first.pk == again.pk
    token, _ = make_token(campaign.rig, "other bench", NOW)
    with pytest.raises(Refused, match="run_identity_taken"):
        service.open_run(campaign, stock, gorge, draft(uid=uid), NOW, token)


def test_a_breach_stops_the_run_with_its_reason(campaign, live):
    set_safety_limits(campaign, [SafetyLimit("temperature", 80)])
    first, second = take(live, batch(1), batch(2, die=80.5))
    assert first.stop == ""
    assert "80.5 °C" in second.stop
    run = Run.objects.get()
    assert run.outcome == "safety limit"
    assert [mark.kind for mark in run.marks.all()] == ["breach", "outcome"]
    assert "limit of 80 °C, 1.0 s into the run" in run.marks.first().text
    # what led to it is kept
    assert run.series.get().rows == 20


def test_a_setting_beyond_its_ceiling_is_opened_only_with_typed_words(campaign, gorge):
    set_safety_limits(campaign, [SafetyLimit("voltage ceiling", 110, "power")])
    setting = add_setting(campaign, {"power": 115}, "", NOW)
    for typed in ("", "yes"):
        with pytest.raises(Refused, match="above_ceiling"):
            service.open_run(campaign, setting, gorge, draft(confirmation=typed), NOW)
    assert not Run.objects.exists()
    live = service.open_run(campaign, setting, gorge, draft(confirmation="POWER 115%"), NOW)
    assert "POWER 115%" in live.run.marks.get(kind="confirmation").text


def test_silence_is_noticed_and_the_bench_may_come_back(live):
    take(live, batch(1))
    later = NOW + timedelta(seconds=4)
    assert service.lose_silent(later) == []
    later = NOW + timedelta(seconds=6)
    assert service.lose_silent(later) == [live.run_id]
    assert LiveRun.objects.get().state == "lost"
    assert service.likely(LiveRun.objects.get()).outcome == "system crash"
    take(live, batch(2), now=later + timedelta(seconds=120))
    live.refresh_from_db()
    assert live.state == "open"
    assert "back after 126 s" in live.run.marks.last().text


def test_a_heartbeat_keeps_contact(live):
    service.heartbeat(live.pk, NOW + timedelta(seconds=4))
    assert service.lose_silent(NOW + timedelta(seconds=8)) == []


def test_what_a_killed_server_left_open_is_found_and_answered(live):
    take(live, batch(1), batch(2))
    assert service.find_left_open(NOW + timedelta(minutes=3)) == [live.run_id]
    lost = LiveRun.objects.get()
    assert (lost.state, lost.server_stopped) == ("lost", True)
    assert service.likely(lost).outcome == "connection lost"
    service.finish(live.pk, "system crash", None, "It was dark.", NOW)
    run = Run.objects.get()
    assert (run.outcome, run.series.get().rows, run.duration_s) == ("system crash", 20, pytest.approx(1.9))
    assert service.find_left_open(NOW) == []


def test_an_answer_stands_and_what_the_bench_says_later_is_noted(live):
    service.finish(live.pk, "system crash", None, "", NOW)
    service.finish(live.pk, "completed", 90.0, "", NOW)
    run = Run.objects.get()
    assert (run.outcome, run.value) == ("system crash", None)
    assert "The bench says: completed" in run.marks.last().text


def test_news_go_on_where_they_were_left(live):
    take(live, batch(1), batch(2))
    first = news_of(live.run_id, 0)
    assert (first.rows, [len(p.values) for p in first.points]) == (20, [20, 20, 20])
    assert news_of(live.run_id, first.cursor).rows == 0
    # a batch that comes late is news all the same
    take(live, batch(4), batch(3))
    later = news_of(live.run_id, first.cursor)
    assert later.points[0].time_s.tolist() == [round(2 + i / 10, 3) for i in range(20)]
    assert later.standing.left_s == pytest.approx(90 - 3.9)


def test_news_are_thinned_but_keep_their_extremes(live):
    t = np.arange(5000) / 10
    values = np.column_stack([np.full(5000, 2000.0), np.full(5000, 60.0), np.full(5000, 150.0)])
    values[1234, 1] = 79
    service.take_batch(live.pk, Batch(1, t, values, np.empty(0)), NOW)
    die = news_of(live.run_id, 0).points[1]
    assert len(die.values) < 1300
    assert max(die.values) == 79


def test_notes_and_phases(live):
    service.add_mark(live.pk, Mark.Kind.PHASE, "warming up", NOW)
    service.add_mark(live.pk, Mark.Kind.NOTE, "a flicker", NOW, 12.5)
    live.refresh_from_db()
    assert live.phase == "warming up"
    assert live.run.marks.last().at_s == 12.5
    with pytest.raises(Refused, match="mark_without_text"):
        service.add_mark(live.pk, Mark.Kind.NOTE, "  ", NOW)


def test_safety_limits_are_kept_all_or_none(campaign):
    set_safety_limits(campaign, [SafetyLimit("temperature", 80), SafetyLimit("hours", 2)])
    for bad in ([SafetyLimit("power", 9e9)], [SafetyLimit("hours", 1), SafetyLimit("hours", 2)]):
        with pytest.raises(Refused):
            set_safety_limits(campaign, bad)
    assert safety_limits_of(campaign) == [SafetyLimit("temperature", 80), SafetyLimit("hours", 2)]


def test_a_token_is_known_until_it_is_withdrawn_and_kept_only_as_a_digest(campaign):
    token, words = make_token(campaign.rig, "desk", NOW)
    assert known_token(words, NOW) == token
    assert words not in str(token.__dict__)
    assert known_token(words + "x", NOW) is None
    withdraw_token(token, NOW)
    assert known_token(words, NOW) is None
    with pytest.raises(Refused, match="bench_without_name"):
        make_token(campaign.rig, "  ", NOW)
