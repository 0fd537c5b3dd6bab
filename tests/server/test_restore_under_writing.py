"""Backups restored while others write: what was acknowledged is in what was replaced, or in what is there afterwards."""

import sqlite3
import threading
import urllib.error
from contextlib import closing
from pathlib import Path

import pytest
from django.db import OperationalError, connection

from tests.moment import NOW
from tests.server.process import Served
from trelvo.exchange.store import write_gate
from trelvo.exchange.store.write_gate import RESTORING, no_other_writes
from trelvo.logbook.models import Rig

RESTORES, WRITERS = 10, 3


class Writer(threading.Thread):
    """Adds rigs until it is stopped; takes down those that were acknowledged, and what was answered instead."""

    def __init__(self, server, name, stop):
        super().__init__()
        self.server, self.stop = server, stop
        self.name, self.acknowledged, self.refused = name, [], []

    def run(self):
        number = 0
        while not self.stop.is_set():
            number += 1
            name = f"{self.name} {number}"
            try:
                self.server.ask("/api/rigs", {"name": name, "build": {}})
            except urllib.error.HTTPError as trouble:
                self.refused.append(trouble.code)
            except Exception as trouble:
                self.refused.append(str(trouble))
            else:
                self.acknowledged.append(name)


def rigs_in(file):
    with closing(sqlite3.connect(file)) as base:
        return {name for (name,) in base.execute("SELECT name FROM logbook_rig")}


def test_nothing_acknowledged_is_lost_while_backups_are_restored(tmp_path):
    with Served(tmp_path) as server:
        empty = server.ask("/api/copies", {})["name"]
        stop = threading.Event()
        writers = [Writer(server, f"Writer {number}", stop) for number in range(WRITERS)]
        for writer in writers:
            writer.start()
        found = set()
        for _ in range(RESTORES):
            server.ask("/api/copies/restore", {"name": empty})
            # only the newest few are kept
            for file in Path(tmp_path, "copies").glob("replaced-*.sqlite3"):
                found |= rigs_in(file)
        stop.set()
        for writer in writers:
            writer.join()
        found |= {one["name"] for one in server.ask("/api/rigs")}
    acknowledged = {name for writer in writers for name in writer.acknowledged}
    assert len(acknowledged) > RESTORES
    assert acknowledged <= found
    assert {str(one)[-3:] for writer in writers for one in writer.refused} <= {"503"}


@pytest.mark.django_db(transaction=True)
def test_others_are_refused_until_the_end_and_the_restore_itself_writes(tmp_path):
    said = []

    def write():
        try:
            Rig.objects.create(name="Another thread's", created_at=NOW)
        except OperationalError as trouble:
            said.append(str(trouble))
        finally:
            connection.close()

    def in_a_thread():
        thread = threading.Thread(target=write)
        thread.start()
        thread.join()

    with no_other_writes(tmp_path / "none.sqlite3"):
        in_a_thread()
        Rig.objects.create(name="Own", created_at=NOW)
    assert (said, [one.name for one in Rig.objects.all()]) == ([RESTORING], ["Own"])
    in_a_thread()
    assert Rig.objects.count() == 2


def test_a_write_that_was_let_through_is_waited_for(tmp_path):
    """Between the gate and the database a thread may be held up for as long as a busy machine likes."""
    entered, go_on, order = threading.Event(), threading.Event(), []

    def execute(sql, params, many, context):
        entered.set()
        go_on.wait()
        order.append("written")

    writer = threading.Thread(target=write_gate._refuse_writes, args=(execute, "BEGIN IMMEDIATE", (), False, {}))
    writer.start()
    entered.wait()

    def replace():
        with no_other_writes(tmp_path / "none.sqlite3"):
            order.append("replaced")

    restore = threading.Thread(target=replace)
    restore.start()
    # whoever comes now is refused
    while not write_gate._owner:
        pass
    with pytest.raises(OperationalError, match=RESTORING):
        write_gate._refuse_writes(execute, "INSERT", (), False, {})
    go_on.set()
    writer.join()
    restore.join()
    assert order == ["written", "replaced"]
