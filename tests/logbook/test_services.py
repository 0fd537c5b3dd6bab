"""Everything that writes: complete or not at all, nothing overwritten."""

from dataclasses import replace
from datetime import timedelta

import pytest
from django.db import IntegrityError, connection

from tests.conftest import CORE, GORGE, POWER
from tests.drafts import read_of, run_draft
from trelvo.core.base.figures import BY_WORD
from trelvo.core.base.knobs import Knob
from trelvo.core.logs.figures import Figures, LoggedFigure
from trelvo.core.next_step.standing import standing_of
from trelvo.core.problems import Refused
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign
from trelvo.logbook.commands.instruments import set_counting
from trelvo.logbook.commands.logs import attach_log, remember_choice, remembered_choice, supplied
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build, create_rig
from trelvo.logbook.commands.runs import log_run, set_aside, take_back
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, Part, Run, Setting
from trelvo.logbook.rows.log_draft import LogDraft


def wheres(caught):
    return [problem.where for problem in caught.value.problems]


@pytest.mark.django_db
def test_the_database_keeps_its_own_order():
    with connection.cursor() as cursor:
        pragmas = {name: cursor.execute(f"PRAGMA {name}").fetchone()[0] for name in ("foreign_keys", "busy_timeout")}
    assert pragmas == {"foreign_keys": 1, "busy_timeout": 20_000}


def test_a_campaign_with_impossible_values_says_all_of_them_and_stores_nothing(campaign, now):
    knobs = [Knob("core", "Core", "MHz", 400, 15, -300, 300), Knob("core", "Again", "MHz", 0, 0, -300, 300)]
    workloads = [
        WorkloadDraft("Gorge", "time", "s", True, 0),
        WorkloadDraft("gorge", "frame rate", "fps", True, 1, {}, 0),
    ]
    with pytest.raises(Refused) as caught:
        create_campaign(campaign.rig, "Two", "speed", "", knobs, workloads, now)
    assert wheres(caught) == [
        "knobs.0.stock", "knobs.1.key", "knobs.1.step",
        "workloads.0.minutes", "workloads.0.higher_is_better", "workloads.1.name", "workloads.1.cap_fps",
    ]  # fmt: skip
    assert Campaign.objects.count() == 1


def test_a_campaign_needs_something_to_turn_and_to_measure(campaign, now):
    with pytest.raises(Refused) as caught:
        create_campaign(campaign.rig, "Two", "speed", "", [], [], now)
    assert wheres(caught) == ["knobs", "workloads"]


def test_workloads_of_a_rig_serve_its_next_campaign(campaign, gorge, now):
    second = create_campaign(campaign.rig, "Two", "speed", "", [CORE], [], now, kept_workloads=[gorge])
    assert list(second.workloads.all()) == [gorge]


def test_a_build_is_followed_never_changed(campaign, now):
    first = campaign.rig.present_build()
    later = add_build(campaign.rig, BuildDraft(parts=(PartDraft("Graphics card", "Card"),), driver="41.5"), now)
    first.refresh_from_db()
    assert (first.number, first.driver, later.number, later.driver) == (1, "41.2", 2, "41.5")
    assert Part.objects.filter(build=first).count() == 1
    with pytest.raises(Refused, match="rig_there_already"):
        create_rig("bench ", BuildDraft(), now)


def test_settings_are_checked_and_exist_once(campaign, now):
    setting = add_setting(campaign, {"core": 90, "power": 100}, "", now)
    assert setting.values == {"core": 90.0}
    with pytest.raises(Refused, match="setting_there_already"):
        add_setting(campaign, {"core": 90.0}, "", now)
    with pytest.raises(Refused, match="stock_there_already"):
        add_setting(campaign, {"core": 0}, "", now)
    with pytest.raises(Refused) as caught:
        add_setting(campaign, {"core": 100, "power": 130, "fan": 3}, "", now)
    assert sorted(wheres(caught)) == ["values.core", "values.fan", "values.power"]
    assert campaign.settings.count() == 2
    with pytest.raises(IntegrityError):
        Setting.objects.create(campaign=campaign, values={}, fingerprint="", created_at=now)


@pytest.mark.parametrize(
    ("draft", "where"),
    [
        ({"value": 0.0}, "value"),
        ({"value": float("nan")}, "value"),
        ({"value": 90.0, "power_w": -5.0}, "power_w"),
        ({"value": 90.0, "temp_max_c": 400.0}, "temp_max_c"),
        ({"value": 90.0, "temp_max_c": 12.0, "room_c": 25.0}, "temp_max_c"),
        ({"value": 90.0, "core_mhz": 1e6}, "core_mhz"),
        ({"value": 90.0, "outcome": "no start"}, "value"),
    ],
)
def test_runs_that_cannot_be(campaign, stock, gorge, now, draft, where):
    with pytest.raises(Refused) as caught:
        log_run(campaign, stock, gorge, run_draft(**{"outcome": "completed", **draft}), now)
    assert wheres(caught) == [where]
    assert not Run.objects.exists()


def test_a_run_from_the_future_or_another_campaign(campaign, stock, gorge, now):
    with pytest.raises(Refused, match="in_the_future"):
        log_run(campaign, stock, gorge, run_draft("completed", now + timedelta(days=3), 90.0), now)
    longer = replace(GORGE, minutes=9)
    other = create_campaign(create_rig("Other", BuildDraft(), now), "O", "speed", "", [POWER], [longer], now)
    with pytest.raises(Refused, match="setting_of_other_campaign"):
        log_run(other, stock, gorge, run_draft("completed", now, 90.0), now)
    with pytest.raises(Refused, match="workload_not_of_campaign"):
        log_run(campaign, stock, other.workloads.get(), run_draft("completed", now, 90.0), now)


def test_setting_aside_keeps_the_run_and_can_be_undone(campaign, stock, gorge, now):
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 80.0), now)
    with pytest.raises(Refused, match="set_aside_without_reason"):
        set_aside(run, "  ", now)
    set_aside(run, "cold start", now)
    assert standing_of(case_alone(campaign)).stages[1].state == "to do"
    take_back(Run.objects.get())
    assert standing_of(case_alone(campaign)).stages[1].state == "under way"
    assert Run.objects.get().value == 80.0


def test_a_failure_is_set_aside_only_for_another_cause(campaign, stock, gorge, now):
    run = log_run(campaign, stock, gorge, run_draft("system crash", now), now)
    with pytest.raises(Refused, match="failure_set_aside_without_cause"):
        set_aside(run, "no", now)
    assert set_aside(run, "the supply's plug came loose", now).set_aside_at == now


def log_draft(**read):
    point = read.pop("point", "cables")
    others = tuple(
        LoggedFigure(BY_WORD[word].key, value, None, point if word == "power_w" else "unknown")
        for word, value in read.items()
    )
    return LogDraft("telemetry", "log.csv", 3, [], b"x", Figures(90.0, others=others), {}, 1.0)


def test_a_log_fills_what_is_empty_and_replaces_only_on_request(campaign, stock, gorge, now):
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 93.6, power_w=180.0, power_point="cables"), now)
    offered = {one.mark: one.typed for one in supplied(run, log_draft(power_w=171.5, temp_max_c=64.0).figures)}
    assert offered == {"duration_s": None, "power_w@cables": 180.0, "temp_max_c": None}
    attach_log(run, log_draft(power_w=171.5, temp_max_c=64.0), [], now)
    run.refresh_from_db()
    assert (read_of(run, "power_w"), read_of(run, "temp_max_c"), run.duration_s) == (180.0, 64.0, 90.0)
    attach_log(run, log_draft(power_w=171.5), ["power_w@cables"], now)
    assert read_of(run, "power_w") == 171.5
    kept = run.figures.get(replaced=True)
    assert (kept.value, kept.source) == (180.0, "typed")
    assert run.figures.get(quantity="power", replaced=False).source == "log"
    assert run.log_figures == ["duration_s"]
    with pytest.raises(Refused, match="log_lacks_figures"):
        attach_log(run, log_draft(), ["value"], now)
    assert run.series.count() == 2


def test_what_two_instruments_read_stands_side_by_side(campaign, stock, gorge, now):
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 93.6, power_w=310.0, power_point="wall"), now)
    attach_log(run, log_draft(power_w=180.0), [], now)
    read = {figure.instrument.name: figure.value for figure in run.figures.filter(quantity="power")}
    assert read == {"Meter at the wall": 310.0, "Clamp on the cables": 180.0}
    case = case_alone(campaign)
    assert case.facts(case.campaign.runs)[0].power_w == 310.0
    clamp = campaign.rig.instruments.get(kind="clamp")
    case = case_alone(set_counting(campaign, {"power": clamp.pk}))
    assert (case.facts(case.campaign.runs)[0].power_w, case.facts(case.campaign.runs)[0].power_point) == (
        180.0,
        "cables",
    )


@pytest.mark.django_db
def test_what_columns_meant_is_remembered_by_their_headers(now):
    assert remembered_choice("m") is None
    remember_choice("m", {"kind": "frames"}, now)
    remember_choice("m", {"kind": "telemetry"}, now)
    assert remembered_choice("m") == {"kind": "telemetry"}
