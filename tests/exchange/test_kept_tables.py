"""A dropped log is parsed once for every use within ten minutes."""

import pytest

from trelvo.exchange.logs import kept_tables
from trelvo.exchange.logs.kept_tables import table_of
from trelvo.exchange.logs.long_format import read_any_table

LOG = b"time s,temp \xc2\xb0C\n" + b"".join(b"%d,%d\n" % (n, 60 + n % 3) for n in range(40))


@pytest.fixture
def parsed(monkeypatch):
    """What was parsed: one entry a time."""
    found = []

    def read(data, *more):
        found.append(data)
        return read_any_table(data, *more)

    monkeypatch.setattr(kept_tables, "_kept", kept_tables._Kept())
    monkeypatch.setattr(kept_tables, "read_any_table", read)
    return found


def test_looked_at_checked_and_stored_it_is_parsed_once(parsed):
    # to be looked at, nothing is known of it; then it is asked for by what was found out
    table = table_of(LOG)
    assert table_of(LOG, table.layout.separator, table.layout.decimal) is table
    assert table_of(LOG, table.layout.separator, table.layout.decimal) is table
    assert len(parsed) == 1
    # another file, and the same one read in another way, are others
    assert table_of(LOG + b"40,61\n", ",", ".").rows == 41
    assert table_of(LOG, ",", ",") is not table
    assert len(parsed) == 3


def test_after_ten_minutes_it_is_parsed_anew(parsed, monkeypatch):
    clock = [1000.0]
    monkeypatch.setattr(kept_tables.time, "monotonic", lambda: clock[0])
    table = table_of(LOG, ",", ".")
    clock[0] += 599
    assert table_of(LOG, ",", ".") is table
    clock[0] += 602
    assert table_of(LOG, ",", ".") is not table
    assert len(parsed) == 2


def test_only_the_last_two_are_kept_and_none_that_is_large(parsed, monkeypatch):
    for number in range(3):
        table_of(LOG + b"%d,60\n" % (40 + number), ",", ".")
    assert len(kept_tables._kept._tables) == 2
    monkeypatch.setattr(kept_tables, "MOST_BYTES", 10)
    table_of(LOG + b"99,60\n", ",", ".")
    assert len(kept_tables._kept._tables) == 2
