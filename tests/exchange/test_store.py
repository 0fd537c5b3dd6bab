"""Copies of the database: whole, checked, kept for a week, restore; and files that are no such copy."""

import sqlite3
import uuid
from contextlib import closing
from datetime import timedelta

import pytest

from tests.moment import NOW
from tests.server.templates import fill
from trelvo.core.problems import Refused
from trelvo.exchange.store.copies import (
    BEFORE_KEPT,
    DAILY_KEPT,
    clear_unfinished,
    copies_in,
    copy_file,
    copy_to,
    daily_copy_is_due,
    make_copy,
    put_back,
)
from trelvo.exchange.store.database_file import look_over
from trelvo.messages.problems import refusal_text


@pytest.fixture
def database(tmp_path):
    fill(tmp_path, demo=False)
    return tmp_path / "trelvo.sqlite3"


def add_rig(database, name):
    with closing(sqlite3.connect(database)) as base:
        told = [uuid.uuid5(uuid.NAMESPACE_OID, name).hex, name, str(NOW)]
        columns = "uid, name, created_at, simulator, simulator_seed, simulator_fault"
        base.execute(f"INSERT INTO logbook_rig ({columns}) VALUES (?, ?, ?, '', 0, '{{}}')", told)
        base.commit()


def rigs(database):
    with closing(sqlite3.connect(database)) as base:
        return sorted(row[0] for row in base.execute("SELECT name FROM logbook_rig"))


def test_a_copy_holds_what_is_not_merged_yet_and_is_one_file(database, tmp_path):
    with closing(sqlite3.connect(database)) as base:
        base.execute("PRAGMA journal_mode=WAL")
        add_rig(database, "desk")
        told = []
        contents = copy_to(database, tmp_path / "out" / "copy.sqlite3", told.append)
    assert rigs(tmp_path / "out" / "copy.sqlite3") == ["desk"]
    assert [file.name for file in (tmp_path / "out").iterdir()] == ["copy.sqlite3"]
    assert (contents.campaigns, contents.runs) == (0, 0)
    assert told[-1] == 1.0
    assert (tmp_path / "out" / "copy.sqlite3").stat().st_mode & 0o077 == 0


def test_putting_back_keeps_what_was_there(database, tmp_path):
    add_rig(database, "old")
    copy = make_copy(database, "asked", NOW)
    add_rig(database, "new")
    # a reader that stays open sees all of the one or all of the other
    with closing(sqlite3.connect(database)) as reader:
        assert reader.execute("SELECT count(*) FROM logbook_rig").fetchone() == (2,)
        kept = put_back(copy, database, NOW)
        assert reader.execute("SELECT name FROM logbook_rig").fetchall() == [("old",)]
    assert rigs(kept) == ["new", "old"]
    assert [one.why for one in copies_in(tmp_path)] == [
        "what was there before a copy was put back",
        "made when asked for",
    ]


def test_copies_are_rotated_and_two_of_one_second_have_two_names(database, tmp_path):
    for day in range(DAILY_KEPT + 3):
        make_copy(database, "daily", NOW + timedelta(days=day))
    assert make_copy(database, "before", NOW) != make_copy(database, "before", NOW)
    for hour in range(BEFORE_KEPT + 2):
        make_copy(database, "before", NOW + timedelta(hours=hour + 1))
    names = [one.name for one in copies_in(tmp_path)]
    assert sum(name.startswith("daily") for name in names) == DAILY_KEPT
    assert sum(name.startswith("before") for name in names) == BEFORE_KEPT
    assert copies_in(tmp_path)[0].made_at == NOW + timedelta(days=DAILY_KEPT + 2)


def test_when_a_daily_copy_is_due(database, tmp_path):
    assert daily_copy_is_due(tmp_path, NOW)
    make_copy(database, "daily", NOW)
    assert not daily_copy_is_due(tmp_path, NOW + timedelta(hours=23))
    assert daily_copy_is_due(tmp_path, NOW + timedelta(hours=24))
    # the clock was set back by a year
    assert daily_copy_is_due(tmp_path, NOW - timedelta(days=365))


def test_what_a_kill_left_behind_is_cleared(database, tmp_path):
    (tmp_path / "copies").mkdir()
    (tmp_path / "copies" / ".daily-20310101-000000.sqlite3.unfinished").write_bytes(b"half")
    (tmp_path / ".sent-x.unfinished").write_bytes(b"half")
    # SQLite keeps a journal beside a file that it writes
    (tmp_path / "copies" / ".daily-20310101-000000.sqlite3.unfinished-journal").write_bytes(b"half")
    assert clear_unfinished(tmp_path) == 3
    assert list(tmp_path.rglob("*unfinished*")) == []
    assert copies_in(tmp_path) == []


def test_a_copy_clears_what_a_killed_one_left_at_its_place(database, tmp_path):
    for suffix in ("", "-journal"):
        (tmp_path / f".mine.sqlite3.unfinished{suffix}").write_bytes(b"half")
    copy_to(database, tmp_path / "mine.sqlite3")
    assert list(tmp_path.glob("*unfinished*")) == []
    assert list(tmp_path.glob(".*unfinished*")) == []


def damaged(database):
    data = bytearray(database.read_bytes())
    data[8192:40_000] = bytes(31_808)
    database.write_bytes(bytes(data))


@pytest.mark.parametrize(
    ("spoil", "what"),
    [
        (lambda file: file.unlink(), "There is no file"),
        (lambda file: file.write_bytes(b""), "is empty"),
        (lambda file: file.write_text("time,temp\n1,2\n"), "is no database"),
        (damaged, "is damaged"),
        (
            lambda file: (file.unlink(), sqlite3.connect(file).execute("CREATE TABLE a (b)").connection.commit()),
            "not Trelvo's",
        ),
        (lambda file: newer(file), "written by a newer Trelvo (9999_later)"),
        (lambda file: changed(file, "INSERT INTO logbook_build_orphan"), "names a row of logbook_rig"),
        (lambda file: changed(file, "ALTER TABLE logbook_campaign DROP COLUMN currency"), "has no column currency"),
        (lambda file: changed(file, "ALTER TABLE auth_user DROP COLUMN first_name"), "has no column first_name"),
        (lambda file: changed(file, "CREATE VIEW logbook_seen AS SELECT 1"), "a view logbook_seen"),
        (
            lambda file: changed(
                file, "CREATE TRIGGER no_more BEFORE INSERT ON logbook_run BEGIN SELECT RAISE(ABORT, 'no'); END"
            ),
            "a trigger no_more",
        ),
        *(
            (
                lambda file, words=words: changed(file, f"UPDATE logbook_rig SET {words}"),
                f"in {words.partition(' ')[0]} that",
            )
            for words in (
                "created_at = 'yesterday'",
                "created_at = '2031-02-30 10:00:00'",
                "created_at = 20310230",
                "simulator_fault = '{'",
                "simulator_fault = x'00'",
                "simulator_seed = 'many'",
                "simulator_seed = 1.5",
                "uid = 'short'",
                "name = x'414243'",
            )
        ),
        (
            lambda file: changed(file, "UPDATE logbook_rig SET simulator_fault = " + "'" + "[" * 995 + "]" * 995 + "'"),
            "in simulator_fault",
        ),
    ],
)
def test_what_is_no_copy_is_refused_and_nothing_is_changed(database, tmp_path, spoil, what):
    add_rig(database, "kept")
    copy = make_copy(database, "asked", NOW)
    spoil(copy)
    with pytest.raises(Refused) as caught:
        put_back(copy, database, NOW)
    assert what in refusal_text(caught.value)
    assert rigs(database) == ["kept"]
    assert [one.name for one in copies_in(tmp_path) if one.name.startswith("replaced")] == []


ORPHAN = (
    "INSERT INTO logbook_journalentry (uid, rig_id, kind, at, text, earlier, made_at) "
    "VALUES ('0', 999, 'dust', '2031-01-01', 'x', '[]', '2031-01-01')"
)


def changed(file, statement):
    with closing(sqlite3.connect(file)) as base:
        base.execute("PRAGMA foreign_keys=OFF")
        base.execute("PRAGMA ignore_check_constraints=ON")
        base.execute(ORPHAN if "orphan" in statement else statement)
        base.commit()


def newer(file):
    with closing(sqlite3.connect(file)) as base:
        base.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('logbook', '9999_later', '2031-01-01')"
        )
        base.commit()


def test_a_quick_look_and_a_thorough_one_agree_on_a_whole_file(database):
    assert look_over(database, thorough=False) == look_over(database, thorough=True)


def test_a_copy_that_has_no_room_or_no_place_leaves_nothing(database, tmp_path, monkeypatch):
    usage = type("Usage", (), {"free": 1000})
    monkeypatch.setattr("trelvo.exchange.store.copies.shutil.disk_usage", lambda folder: usage)
    with pytest.raises(Refused, match="no_room_for_copy"):
        copy_to(database, tmp_path / "out" / "copy.sqlite3")
    monkeypatch.undo()
    with pytest.raises(Refused, match="target_is_a_folder"):
        copy_to(database, tmp_path)
    (tmp_path / "wall").write_text("")
    with pytest.raises(Refused, match="copy_not_written"):
        copy_to(database, tmp_path / "wall" / "copy.sqlite3")
    assert list((tmp_path / "out").iterdir()) == []


@pytest.mark.parametrize(
    "name", ["../trelvo.sqlite3", "trelvo.sqlite3", "daily-20310101-000000.sqlite3", "", "asked-x.sqlite3"]
)
def test_only_copies_are_given_out(database, tmp_path, name):
    with pytest.raises(Refused, match="no_such_copy"):
        copy_file(tmp_path, name)


def test_a_copy_of_what_is_in_use_is_made_whatever_it_holds(database):
    """A view of the user's own, or a cell that should not be there, is no reason to go without backups, or not to start."""
    add_rig(database, "kept")
    changed(database, "CREATE VIEW mine AS SELECT 1")
    changed(database, "UPDATE logbook_rig SET created_at = 'yesterday'")
    copy = make_copy(database, "daily", NOW)
    assert look_over(database, thorough=False).campaigns == 0
    with pytest.raises(Refused, match="a view mine"):
        put_back(copy, database, NOW)
