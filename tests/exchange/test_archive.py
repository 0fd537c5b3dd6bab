"""The data package: valid for others, number for number for ourselves, and no way in for what is not one."""

import contextlib
import csv
import io
import json
import re
import tracemalloc
import zipfile
from datetime import UTC, datetime
from pathlib import Path

import frictionless
import pytest
from django.apps import apps
from hypothesis import given
from hypothesis import strategies as st

from tests.drafts import run_draft
from trelvo.core.problems import Refused
from trelvo.exchange.archive.merge import import_archive, plan_of
from trelvo.exchange.archive.read import read_archive
from trelvo.exchange.archive.tables import BY_NAME, TABLES, Column, cell, columns_of, value_of
from trelvo.exchange.archive.write import write_archive
from trelvo.logbook.commands.journal import write_entry
from trelvo.logbook.commands.runs import log_run, set_aside
from trelvo.logbook.models import Campaign, JournalEntry, KeptSetting, Rig, Run

KEPT = Path(__file__).parents[1] / "kept"
DOCS = Path(__file__).parents[2] / "docs" / "formats.md"


def packed(now, campaigns=None):
    file = io.BytesIO()
    write_archive(campaigns or list(Campaign.objects.order_by("id")), file, now, whole=campaigns is None)
    file.seek(0)
    return file


@pytest.fixture(scope="module")
def _packed_once():
    return {}


@pytest.fixture
def package(story, now, _packed_once):
    """The whole of the demo as a package; written once, for the demo is the same in every test."""
    if "all" not in _packed_once:
        _packed_once["all"] = packed(now).getvalue()
    return io.BytesIO(_packed_once["all"])


def tables(file):
    """Rows by table, each table in an order of its own; what is computed again besides."""
    with zipfile.ZipFile(file) as package:
        return {
            name: sorted(package.read(name).decode().splitlines())
            for name in package.namelist()
            if name.startswith("data/")
        }


def empty_the_logbook():
    """Everything but accounts goes; in an order that no reference minds."""
    from django.db import connection

    with connection.constraint_checks_disabled():
        for model in apps.get_app_config("logbook").get_models(include_auto_created=True):
            model._base_manager.all()._raw_delete("default")
    connection.check_constraints()


def test_it_is_a_data_package_for_others(package, tmp_path):
    """By frictionless, the reference library for Tabular Data Packages: every table against its schema and its references."""
    with zipfile.ZipFile(package) as files:
        files.extractall(tmp_path)
    report = frictionless.Package(str(tmp_path / "datapackage.json")).validate()
    assert report.valid, report.flatten(["type", "title", "message"])[:5]
    assert {task.name for task in report.tasks} >= {"runs", "figures", "kept-settings", "use-entries", "verdicts"}
    assert sum(task.stats["rows"] for task in report.tasks) > 500


def test_out_and_in_again_number_for_number(package, now):
    first = package
    before = tables(first)
    with zipfile.ZipFile(first) as files:
        series = {name: files.read(name) for name in files.namelist() if name.startswith("series/")}
    empty_the_logbook()
    assert Run.objects.count() == 0
    plan = import_archive(read_archive(first, now), now)
    assert {campaign.state for campaign in plan.campaigns} == {"new"}
    assert plan.runs == sum(campaign.runs for campaign in plan.campaigns) == Run.objects.count()
    again = packed(now)
    after = tables(again)
    assert after.keys() == before.keys()
    for name in before:
        assert after[name] == before[name], name
    with zipfile.ZipFile(again) as other:
        assert {name: other.read(name) for name in other.namelist() if name.startswith("series/")} == series
    assert KeptSetting.objects.count() == 3


def test_nothing_comes_in_twice_and_what_differs_is_shown(package, now):
    file = package
    runs, journal, rigs = Run.objects.count(), JournalEntry.objects.count(), Rig.objects.count()
    plan = import_archive(read_archive(file, now), now)
    assert {one.state for one in plan.campaigns} == {"there already"}
    assert (plan.rigs, plan.runs, plan.journal, plan.imported) == ((), 0, 0, ())
    assert (Run.objects.count(), JournalEntry.objects.count(), Rig.objects.count()) == (runs, journal, rigs)
    campaign = Campaign.objects.get(name__contains="summer")
    set_aside(campaign.runs.filter(outcome="completed", set_aside_at=None).first(), "a doubt", now)
    gorge = campaign.workloads.get(workload__name="Gorge flythrough")
    log_run(campaign, campaign.settings.get(fingerprint=""), gorge, run_draft("completed", now, 91.0), now)
    plan = plan_of(read_archive(file, now))
    differs = next(one for one in plan.campaigns if one.state == "differs")
    assert [difference.params for difference in differs.differences] == [
        {"table": "runs", "only_here": 1, "only_there": 0, "changed": 1}
    ]
    # what is here stays as it is
    import_archive(read_archive(file, now), now)
    assert Run.objects.count() == runs + 1
    # unless the archive's state is wanted as well: as a copy beside it
    done = import_archive(read_archive(file, now), now, [differs.uid])
    copy = Campaign.objects.get(name=f"{campaign.name} (copy)")
    assert (copy.runs.count(), done.imported) == (differs.runs, (copy.pk,))
    assert Run.objects.count() == runs + 1 + differs.runs


def test_one_campaign_goes_alone_into_a_logbook_that_has_its_rig(story, now):
    campaign = Campaign.objects.get(name__contains="first try")
    file, runs = packed(now, [campaign]), campaign.runs.count()
    assert "Ticket desk" not in str(tables(io.BytesIO(file.getvalue())))
    campaign.runs.all().delete()
    campaign.delete()
    plan = import_archive(read_archive(file, now), now)
    assert [(one.state, one.runs) for one in plan.campaigns] == [("new", runs)]
    assert plan.rigs == ()
    assert Campaign.objects.get(name__contains="first try").kept_settings.count() == 1


def test_a_rig_without_a_campaign_and_its_journal_go_along(story, now):
    lone = Rig.objects.create(name="On the shelf", created_at=now)
    write_entry(lone, "thought", "=HYPERLINK(1)", now, now)
    file = packed(now)
    assert "'=HYPERLINK" in zipfile.ZipFile(io.BytesIO(file.getvalue())).read("data/journal.csv").decode()
    empty_the_logbook()
    plan = import_archive(read_archive(file, now), now)
    assert "On the shelf" in plan.rigs
    assert JournalEntry.objects.get(rig__name="On the shelf").text == "=HYPERLINK(1)"


def test_ten_lines_of_polars_as_the_docs_have_them(package, tmp_path):
    code = re.search(r"```python\n(import io, zipfile.*?)```", DOCS.read_text(encoding="utf-8"), re.DOTALL)[1]
    assert len([line for line in code.splitlines() if line.strip()]) <= 10
    path = tmp_path / "p.zip"
    path.write_bytes(package.getvalue())
    said = io.StringIO()
    space = {"PACKAGE": str(path)}
    with contextlib.redirect_stdout(said):
        exec(code, space)
    means = space["means"]
    assert means.height > 20
    assert "Gorge flythrough" in means["name"].to_list()
    assert "shape:" in said.getvalue()


def remade(file, change):
    """The package with some of its files changed, left out (None) or added."""
    made = io.BytesIO()
    with zipfile.ZipFile(file) as package, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as other:
        files = {name: package.read(name) for name in package.namelist()} | change
        for name, content in files.items():
            if content is not None:
                other.writestr(name, content)
    made.seek(0)
    return made


def spoilt(file, table, old, new):
    text = zipfile.ZipFile(io.BytesIO(file.getvalue())).read(f"data/{table}.csv").decode()
    assert old in text
    return remade(io.BytesIO(file.getvalue()), {f"data/{table}.csv": text.replace(old, new, 1)})


@pytest.mark.parametrize(
    ("change", "where", "code"),
    [
        ({"../../etc/passwd": b"x"}, "file", "foreign_file"),
        ({"data/../../x.csv": b"x"}, "file", "foreign_file"),
        ({"data/runs.csv": None}, "file", "member_missing"),
        ({"datapackage.json": b"{"}, "datapackage.json", "member_not_json"),
        ({"datapackage.json": b'{"trelvo": {"format": "other"}}'}, "datapackage.json", "not_an_archive"),
        (
            {"datapackage.json": json.dumps({"trelvo": {"format": "trelvo-package", "version": 9}}).encode()},
            "datapackage.json",
            "archive_of_other_version",
        ),
        ({"data/knobs.csv": b"key,name\ncore,Core\n"}, "data/knobs.csv", "columns_differ"),
        ({"data/knobs.csv": b"\xff\xfe"}, "data/knobs.csv", "not_utf8"),
    ],
)
def test_what_is_no_package_is_refused_in_words(package, now, change, where, code):
    with pytest.raises(Refused) as refused:
        read_archive(remade(package, change), now)
    problem = refused.value.problems[0]
    assert (problem.where, problem.code) == (where, code)


@pytest.mark.parametrize(
    ("table", "old", "new"),
    [
        ("runs", ",completed,", ",exploded,"),
        ("settings", '""core"":60.0', '""core"":6100.0'),
        ("figures", ",mean,", ",middling,"),
        ("kept_settings", "Summer shows", ""),
        ("use_entries", ",58.0,", ",-58.0,"),
    ],
)
def test_a_cell_that_cannot_be_is_named_and_nothing_is_stored(package, now, table, old, new):
    file = spoilt(package, table, old, new)
    empty_the_logbook()
    with pytest.raises(Refused) as refused:
        import_archive(read_archive(file, now), now)
    assert refused.value.problems[0].where
    assert (Run.objects.count(), Rig.objects.count()) == (0, 0)


def test_a_packed_bomb_stops_at_its_bound(package, now, monkeypatch):
    from trelvo.exchange.archive import read

    monkeypatch.setattr(read, "MOST_TABLE_BYTES", 200_000)
    file = remade(package, {"data/marks.csv": b"x" * 400_000})
    with pytest.raises(Refused, match="archive_too_large"):
        read_archive(file, now)
    with pytest.raises(Refused, match="not_a_zip_file"):
        read_archive(io.BytesIO(b"PK but not really"), now)


def figures_of(rows):
    """A table of figures with so many empty rows."""
    headers = [one.name for one in columns_of(BY_NAME["figures"])]
    return (",".join(headers) + "\r\n" + ("," * (len(headers) - 1) + "\r\n") * rows).encode()


@pytest.mark.parametrize(
    ("table", "says"),
    [
        # 40 kB once zipped
        (lambda: b"," * 20_000_000, "line_too_long"),
        (lambda: figures_of(1_000_000), "archive_too_many_cells"),
    ],
)
def test_a_table_of_nothing_takes_no_more_memory_than_its_bound(package, now, table, says, monkeypatch):
    from trelvo.exchange.archive import read

    monkeypatch.setattr(read, "MOST_CELLS", 2_000_000)
    file = remade(package, {"data/figures.csv": table()})
    tracemalloc.start()
    try:
        with pytest.raises(Refused, match=says):
            read_archive(file, now)
        _, peak = tracemalloc.get_traced_memory()
    finally:
        tracemalloc.stop()
    # two million empty cells in dictionaries of a row each
    assert peak < 250 * 1024**2


def test_a_log_that_is_named_twice_is_refused_before_it_is_read(package, now):
    lines = zipfile.ZipFile(io.BytesIO(package.getvalue())).read("data/series.csv").split(b"\r\n")
    twice = b"\r\n".join([lines[0], *[lines[1]] * 40, b""])
    with pytest.raises(Refused, match="line_twice"):
        read_archive(remade(package, {"data/series.csv": twice}), now)


@given(st.text(max_size=60), st.floats(allow_nan=False, allow_infinity=False), st.integers(-(10**12), 10**12))
def test_every_cell_reads_back_as_it_was(text, number, whole):
    words = Column("x", "string", False)
    assert value_of(cell(text), words) == text
    assert value_of(cell(number), Column("x", "number", False)) == number
    assert value_of(cell(whole), Column("x", "integer", True)) == whole
    assert value_of(cell(None), Column("x", "number", True)) is None
    # and through a whole line of a table, with whatever is next to it
    line = io.StringIO(newline="")
    csv.writer(line, lineterminator="\r\n").writerow([cell(text), cell(number)])
    line.seek(0)
    assert next(csv.reader(line)) == [cell(text), cell(number)]
    # no spreadsheet takes a text for a formula
    assert not cell(text).lstrip().startswith(("=", "+", "-", "@"))


def test_a_note_with_a_lone_carriage_return_comes_in_again(story, now):
    run = Run.objects.order_by("id").first()
    Run.objects.filter(pk=run.pk).update(note='first\rsecond, "third"\r\n=1+1')
    file = packed(now)
    empty_the_logbook()
    import_archive(read_archive(file, now), now)
    assert Run.objects.get(uid=run.uid).note == 'first\rsecond, "third"\r\n=1+1'


def test_every_table_names_what_it_hangs_on():
    for table in TABLES:
        names = [one.name for one in columns_of(table)]
        assert len(set(names)) == len(names)
        if table.parent:
            assert "uid" in BY_NAME[table.parent[0]].entry.model_fields


def test_over_the_api(client, story, now):
    answer = client.get("/api/archive.zip")
    content = b"".join(answer.streaming_content)
    answer.close()
    assert answer["Content-Type"] == "application/zip"

    def sent(path):
        file = io.BytesIO(content)
        file.name = "logbook.zip"
        return client.post(f"/api/archive/{path}", {"file": file})

    plan = sent("plan")
    assert plan.status_code == 200, plan.json()
    assert {one["state"] for one in plan.json()["campaigns"]} == {"there already"}
    assert sent("import").status_code == 201
    campaign = Campaign.objects.get(name__contains="summer")
    alone = client.get(f"/api/archive.zip?campaign_id={campaign.pk}")
    assert "dome-hold-72" in alone["Content-Disposition"]
    alone.close()
    assert client.get("/api/archive.zip?campaign_id=9999").status_code == 404


def test_an_archive_of_version_1_keeps_everything_under_the_names_of_today(db):
    now = datetime(2027, 1, 1, tzinfo=UTC)
    archive = read_archive(io.BytesIO((KEPT / "archive-version-1.zip").read_bytes()), now)
    plan = import_archive(archive, now)
    assert [campaign.state for campaign in plan.campaigns] == ["new", "new"]
    loft, desk = Campaign.objects.get(name__contains="Loft"), Campaign.objects.get(name__contains="desk")
    assert (loft.runs.count(), desk.runs.count()) == (26, 10)
    assert [(limit.kind, limit.limit) for limit in loft.safety_limits.all()] == [("temperature", 95.0), ("hours", 4.0)]
    assert desk.way == {"strategy": "adaptive", "cautious": False, "largest_steps": {}, "approach": "mixed load"}
    (kept,) = desk.kept_settings.all()
    assert kept.build == desk.runs.first().build
    assert set(kept.evidence) >= {"approaches", "build"}
    assert [entry.outcome for entry in kept.entries.all()] == ["", "program crash"]
    # written again and read again, it is the same
    again = read_archive(packed(now), now)
    assert {campaign.state for campaign in plan_of(again).campaigns} == {"there already"}
