"""Writes every answer about a database to a file, or compares two such files; see `tests/guard/answers.py`."""

import gzip
import json
import os
import sys
import tempfile
from pathlib import Path

from tests.guard.differences import differences


def write(out: str, database: str) -> None:
    """Asks a copy of the database for everything, and writes it down. database: a file, or "synthetic" for what is made up"""
    with tempfile.TemporaryDirectory() as folder:
        os.environ |= {"TRELVO_DATA": folder, "DJANGO_SETTINGS_MODULE": "trelvo.server.settings"}
        if database != "synthetic":
            whole = Path(database).read_bytes()
            Path(folder, "trelvo.sqlite3").write_bytes(gzip.decompress(whole) if database.endswith(".gz") else whole)
        import django

        django.setup()
        from django.core.management import call_command
        from django.test import Client

        from tests.guard.answers import addresses, answers_of

        call_command("migrate", verbosity=0)
        if database == "synthetic":
            from tests.guard.synthetic import make
            from tests.moment import NOW

            make(NOW)
        client = Client(SERVER_NAME="127.0.0.1")
        found = answers_of(client, addresses(client))
        Path(out).write_bytes(gzip.compress(json.dumps(found).encode()))
        print(f"{len(found)} answers of {database} in {out}")


def compare(old: str, new: str, renames: str = "") -> int:
    """Prints every field that differs; how many do. renames: a JSON file of old names and new"""
    before, after = (json.loads(gzip.decompress(Path(file).read_bytes())) for file in (old, new))
    renamed = json.loads(Path(renames).read_text(encoding="utf-8")) if renames else {}
    found = list(differences(before, after, renamed=renamed))
    print("\n".join([*found[:200], f"{len(found)} fields differ in {len(before)} and {len(after)} answers"]))
    return len(found)


if __name__ == "__main__":
    if sys.argv[1:2] == ["write"]:
        write(*sys.argv[2:])
    else:
        sys.exit(min(compare(*sys.argv[2:]), 1))
