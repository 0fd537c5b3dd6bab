"""Starting on what cannot be used: plain words, an exit status, and what is there stays as it was."""

import os
import re
import sqlite3
import subprocess
import sys
from contextlib import closing

import pytest

from tests.server.process import ROOT, Served
from tests.server.templates import fill
from trelvo.server.log_file import OncePerMinute
from trelvo.server.opening import DATABASE_TROUBLE, FOLDER_TROUBLE, folder_trouble


def trelvo(folder, *words, **environment):
    call = [sys.executable, "-m", "trelvo", *words]
    ended = subprocess.run(
        call,
        cwd=ROOT,
        env={**os.environ, "TRELVO_DATA": str(folder), **environment},
        capture_output=True,
        text=True,
        timeout=300,
    )
    said = ended.stdout + ended.stderr
    assert "Traceback" not in said
    return ended.returncode, said


def start(folder, *words):
    return trelvo(folder, "serve", "--port", "0", "--no-browser", *words)


def test_a_folder_that_is_a_file(tmp_path):
    (tmp_path / "data").write_text("mine")
    code, said = start(tmp_path / "data")
    assert (code, "is a file, not a folder" in said) == (FOLDER_TROUBLE, True)
    assert (tmp_path / "data").read_text() == "mine"


def test_a_full_disk_and_a_folder_that_cannot_be_written(tmp_path, monkeypatch):
    assert folder_trouble(tmp_path / "new") is None
    monkeypatch.setattr(
        "trelvo.server.opening.shutil.disk_usage", lambda folder: type("Usage", (), {"free": 5_000_000})
    )
    assert "Only 5 MB are free" in folder_trouble(tmp_path)
    monkeypatch.setattr(
        "pathlib.Path.write_bytes", lambda *a: (_ for _ in ()).throw(OSError(30, "Read-only file system"))
    )
    assert "Nothing can be written" in folder_trouble(tmp_path)
    assert list(tmp_path.iterdir()) == [tmp_path / "new"]


@pytest.mark.parametrize(
    ("content", "what"),
    [
        (b"time,temp\n", "is no database"),
        (b"SQLite format 3\x00" + os.urandom(30_000), "is damaged"),
    ],
)
def test_a_database_that_is_none(tmp_path, content, what):
    fill(tmp_path, demo=False)
    code, said = trelvo(tmp_path, "backup", str(tmp_path / "copies" / "asked-20310101-000000.sqlite3"))
    assert code == 0
    (tmp_path / "trelvo.sqlite3").write_bytes(content)
    code, said = start(tmp_path)
    assert code == DATABASE_TROUBLE
    assert what in said
    assert "Nothing was changed" in said
    assert (tmp_path / "trelvo.sqlite3").read_bytes() == content
    # the message names the copy to restore, and what it names works
    copy = re.search(r"restore (\S+)", said)[1]
    code, said = trelvo(tmp_path, "restore", copy, "--yes")
    assert code == 0, said
    with Served(tmp_path) as server:
        assert server.ask("/api/campaigns") == []
    assert (next(tmp_path.glob("trelvo.damaged-*.sqlite3"))).read_bytes() == content


def test_a_database_of_another_program_and_of_a_newer_version(tmp_path):
    with closing(sqlite3.connect(tmp_path / "trelvo.sqlite3")) as base:
        base.execute("CREATE TABLE music (title TEXT)")
        base.commit()
    assert "not Trelvo's" in start(tmp_path)[1]
    fill(tmp_path / "later", demo=False)
    with closing(sqlite3.connect(tmp_path / "later" / "trelvo.sqlite3")) as base:
        base.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('logbook', '9999_later', '2031-01-01')"
        )
        base.commit()
    assert "written by a newer Trelvo (9999_later)" in start(tmp_path / "later")[1]


def test_an_empty_file_is_a_new_logbook(tmp_path):
    (tmp_path / "trelvo.sqlite3").write_bytes(b"")
    with Served(tmp_path) as server:
        assert server.ask("/api/campaigns") == []


def test_a_certificate_that_is_none(tmp_path):
    for name in ("cert", "key"):
        (tmp_path / name).write_text("not one")
    code, said = start(tmp_path, "--cert", str(tmp_path / "cert"), "--key", str(tmp_path / "key"))
    assert code == 1
    assert "cannot be used for https" in said


def test_one_server_on_a_folder_and_copies_while_it_runs(tmp_path):
    with Served(tmp_path) as server:
        code, said = start(tmp_path)
        assert code == 1
        assert f"is in use by process {server.process.pid} (serving at http://127.0.0.1:{server.port}/)" in said
        code, said = trelvo(tmp_path, "backup", str(tmp_path / "copy.sqlite3"))
        assert (code, "0 campaigns, 0 runs" in said) == (0, True)
        assert "is in use by" in trelvo(tmp_path, "restore", str(tmp_path / "copy.sqlite3"), "--yes")[1]
        for name in ("trelvo.sqlite3", "secret.key", "server.lock"):
            assert (tmp_path / name).stat().st_mode & 0o077 == 0, name
    # the lock ends with its holder, however that happens
    with Served(tmp_path) as server:
        server.kill()
        code, said = trelvo(tmp_path, "restore", str(tmp_path / "copy.sqlite3"))
        assert (code, "Say --yes" in said) == (1, True)
        assert trelvo(tmp_path, "restore", str(tmp_path / "copy.sqlite3"), "--yes")[0] == 0


def test_a_clean_stop_leaves_one_whole_file(tmp_path):
    with Served(tmp_path) as server:
        server.ask("/api/rigs", {"name": "Kept", "build": {}})
    wal = tmp_path / "trelvo.sqlite3-wal"
    assert not wal.exists() or wal.stat().st_size == 0
    with closing(sqlite3.connect(tmp_path / "trelvo.sqlite3")) as base:
        assert base.execute("SELECT name FROM logbook_rig").fetchall() == [("Kept",)]


def test_the_same_trouble_is_written_once_a_minute(monkeypatch):
    import logging

    clock = iter([0.0, 1.0, 2.0, 70.0])
    monkeypatch.setattr("trelvo.server.log_file.time.monotonic", lambda: next(clock))
    once = OncePerMinute()
    records = [logging.LogRecord("trelvo", logging.ERROR, "", 0, "The disk is full", None, None) for _ in range(4)]
    assert [once.filter(record) for record in records] == [True, False, False, True]
    assert "2 times more" in records[3].msg
