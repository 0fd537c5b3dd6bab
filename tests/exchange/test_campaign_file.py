"""A campaign out and in again, number for number; and files that do not hold together."""

import orjson
import polars as pl
import pytest
from django.core.management import call_command
from hypothesis import given
from hypothesis import strategies as st

from tests.drafts import run_draft
from tests.exchange.campaign_json import campaign_json
from trelvo.core.baseline.ladder import ladder_of
from trelvo.core.problems import Refused
from trelvo.exchange.archive.json_file import from_json
from trelvo.exchange.archive.restore import restore
from trelvo.exchange.files.runs_csv import harmless, runs_csv
from trelvo.logbook.cases import case_alone
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.models import Build, Campaign, Rig, Run, Series
from trelvo.logbook.rows.series_bytes import from_parquet
from trelvo.messages.problems import problem_text


@pytest.fixture
def told(story):
    """The demo's main campaign: every outcome, logs, runs set aside, two builds."""
    return Campaign.objects.get(name__contains="summer")


def emptied():
    call_command("flush", interactive=False, verbosity=0)
    assert not Rig.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_round_trip_into_an_empty_logbook(told, now):
    before = campaign_json(told)
    ladders = [ladder_of(case_alone(told), workload, told.rig.present_build()) for workload in told.workloads.all()]
    emptied()
    back = restore(from_json(before), now)
    assert campaign_json(back) == before
    build = back.rig.present_build()
    for workload, ladder in zip(back.workloads.all(), ladders, strict=True):
        again = ladder_of(case_alone(back), workload, build)
        assert [setting.gain for setting in again.settings] == [setting.gain for setting in ladder.settings]
    assert Series.objects.filter(run__campaign=back).count() > 5


@pytest.mark.django_db
def test_twice_is_refused_and_a_copy_stands_beside(told, now):
    document = from_json(campaign_json(told))
    with pytest.raises(Refused, match="campaign_there_already"):
        restore(document, now)
    runs = told.runs.count()
    copy = restore(document, now, as_copy=True)
    assert copy.name == f"{told.name} (copy)"
    assert copy.runs.count() == told.runs.count() == runs
    assert copy.rig != told.rig


@pytest.mark.django_db
def test_a_rig_that_is_there_gets_what_it_lacks(told, now):
    document = from_json(campaign_json(told))
    told.runs.all().delete()
    told.delete()
    builds, rigs = Build.objects.count(), Rig.objects.count()
    back = restore(document, now)
    assert (Build.objects.count(), Rig.objects.count()) == (builds, rigs)
    assert back.rig.campaigns.count() == 2


@pytest.mark.django_db
def test_an_identity_that_is_taken_is_refused_in_words(told, now):
    document = orjson.loads(campaign_json(told))
    runs = Run.objects.count()
    taken = broken(document, "campaign.uid", "7b0dd0a4-1111-4222-8333-444455556666")
    with pytest.raises(Refused, match="identity_taken"):
        restore(from_json(taken), now)
    assert (Run.objects.count(), Campaign.objects.filter(name=told.name).count()) == (runs, 1)


def broken(document: dict, path: str, value) -> bytes:
    *way, last = [int(word) if word.isdigit() else word for word in path.split(".")]
    place = document
    for step in way:
        place = place[step]
    place[last] = value
    return orjson.dumps(document)


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("format", "something", "format"),
        ("version", 99, "version"),
        ("runs.0.outcome", "melted", "runs.0.outcome"),
        ("runs.0.value", "fast", "runs.0.value"),
        ("runs.0.value", -5.0, "runs.0.value"),
        ("runs.0.setting", "7b0dd0a4-1111-4222-8333-444455556666", "runs.0.setting"),
        ("knobs.1.step", 0.0, "knobs.1.step"),
        ("settings.1.values", {"power": 500}, "settings.1.values.power"),
        ("settings.1.values", {}, "settings"),
        ("runs.1.series.0.parquet_base64", "AAAA", "runs.1.series.0.parquet_base64"),
        ("campaign.colour", "red", "campaign.colour"),
        ("workloads", [], "workloads"),
        ("knobs", [], "knobs"),
    ],
)
def test_a_file_that_does_not_hold_together_names_the_field(told, now, path, value, where):
    document = orjson.loads(campaign_json(told))
    counts = Run.objects.count(), Campaign.objects.count()
    with pytest.raises(Refused) as caught:
        restore(from_json(broken(document, path, value)), now, as_copy=True)
    assert where in [problem.where for problem in caught.value.problems]
    assert (Run.objects.count(), Campaign.objects.count()) == counts


@given(st.binary(max_size=300))
def test_any_bytes_are_refused_in_words(data):
    with pytest.raises(Refused, match=r"not_json|not_a_campaign_file"):
        from_json(data)


def test_runs_as_csv(campaign, stock, gorge, now):
    for value in (93.6, 93.5):
        log_run(campaign, stock, gorge, run_draft("completed", now, value, note="=1+1"), now)
    set_aside(campaign.runs.first(), "cold start", now)
    frame = pl.read_csv(runs_csv(campaign))
    assert frame["value"].to_list() == [93.6, 93.5]
    assert frame["knob_power"].to_list() == [100, 100]
    assert frame["set_aside_reason"].to_list() == ["cold start", None]
    assert frame["note"][0] == "'=1+1"


def test_no_runs_as_csv(campaign):
    assert runs_csv(campaign) == b"run\n"


@pytest.mark.parametrize(
    "text", ["=cmd()", "+1", "-1", "@x", "\uff1dcmd()", "\uff0b1", "\uff20x", "\u200b=1", "\ufeff =1"]
)
def test_text_is_made_harmless_for_spreadsheets(text):
    assert harmless(text) == "'" + text
    assert harmless("a" + text) == "a" + text


@pytest.mark.django_db
def test_a_file_of_version_1_is_read_as_before_there_were_safety_limits_and_marks(told, now):
    document = orjson.loads(campaign_json(told))
    document["version"] = 1
    del document["safety_limits"], document["rig"]["simulator"], document["rig"]["simulator_seed"]
    for run in document["runs"]:
        del run["marks"]
    copy = restore(from_json(orjson.dumps(document)), now, as_copy=True)
    assert copy.runs.count() == told.runs.count()
    assert (copy.safety_limits.count(), copy.rig.simulator) == (0, "")
    document["rig"]["moon"] = 1
    with pytest.raises(Refused, match="field_unknown"):
        from_json(orjson.dumps(document))


@pytest.mark.django_db
@pytest.mark.parametrize(("said", "sure"), [({}, 0.9), ({"sure": 0.8}, 0.8)])
def test_a_file_of_version_5_keeps_the_sureness_that_was_usual_then(told, now, said, sure):
    document = orjson.loads(campaign_json(told))
    document["version"] = 5
    document["campaign"]["terms"] = said
    assert restore(from_json(orjson.dumps(document)), now, as_copy=True).terms["sure"] == sure


@pytest.mark.django_db
def test_safety_limits_and_marks_go_along(told, now):
    copy = restore(from_json(campaign_json(told)), now, as_copy=True)
    assert [str(safety_limit) for safety_limit in copy.safety_limits.all()] == [
        str(safety_limit) for safety_limit in told.safety_limits.all()
    ]
    stopped = copy.runs.get(outcome="safety limit")
    assert [mark.kind for mark in stopped.marks.all()] == ["confirmation", "note", "breach", "outcome"]


def spoilt(told, now, change):
    document = orjson.loads(campaign_json(told))
    change(document)
    return orjson.dumps(document)


def with_series(document):
    return next(run for run in document["runs"] if run["series"])["series"][0]


SPOILS = [
    (lambda d: d["runs"][0].update(note="a" * 30_000), "runs.0", "This is longer than 4000 characters"),
    (lambda d: d["runs"][0].update(note="bell \u0007"), "runs.0", "control characters"),
    (lambda d: d["campaign"].update(name="\u200b\u200b"), "campaign", "nothing that can be seen"),
    (lambda d: d["runs"][0].update(started_at="9999-12-31T23:59:59Z"), "runs.0", "the year 9999 cannot be"),
    (lambda d: d["campaign"].update(price=-3), "campaign.price", "-3 is too little: the least is 0"),
    (lambda d: d["runs"][0].update(frames=-5), "runs.0.frames", "-5 is too little: the least is 0"),
    (lambda d: d["runs"][0].update(duration_s=-1), "runs.0.duration_s", "-1 is too little: the least is 0"),
    (lambda d: with_series(d)["channels"][0].update(header=""), "channels", "Entry 1, header: This is empty."),
    (lambda d: with_series(d)["channels"][0].pop("column"), "channels", "Entry 1, column: This is missing."),
    (
        lambda d: with_series(d)["channels"][0].update(surprise=1),
        "channels",
        "Entry 1, surprise: There is no field of this name.",
    ),
    (lambda d: d["workloads"][0].update(minutes=0), "workloads.0.minutes", "0 is too little: it must be more than 0"),
]


@pytest.mark.django_db
@pytest.mark.parametrize(("change", "where", "what"), SPOILS)
def test_what_no_screen_could_show_does_not_come_in(told, now, change, where, what):
    before = Campaign.objects.count()
    with pytest.raises(Refused) as caught:
        restore(from_json(spoilt(told, now, change)), now, as_copy=True)
    assert where in caught.value.problems[0].where
    assert what in problem_text(caught.value.problems[0]).what
    assert Campaign.objects.count() == before


@pytest.mark.django_db
def test_a_small_log_that_unpacks_to_gigabytes_stops_at_its_bound(told, now):
    import base64
    import io

    out = io.BytesIO()
    # the same number twenty million times
    pl.select(time_s=pl.repeat(0.0, 20_000_000)).write_parquet(out, compression="zstd")
    assert len(out.getvalue()) < 1_000_000

    def change(document):
        with_series(document)["parquet_base64"] = base64.b64encode(out.getvalue()).decode()

    with pytest.raises(Refused) as caught:
        restore(from_json(spoilt(told, now, change)), now, as_copy=True)
    assert caught.value.problems[0].where.endswith("parquet_base64")
    words = io.BytesIO()
    pl.DataFrame({"time_s": ["a"]}).write_parquet(words)
    with pytest.raises(ValueError, match="no numbers"):
        from_parquet(words.getvalue())
