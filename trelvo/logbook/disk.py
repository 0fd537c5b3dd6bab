"""When a commit is on the disk: by default before it is answered, for readings with the next one that waits."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection


@contextmanager
def without_waiting_for_the_disk() -> Iterator[None]:
    """Commit without waiting until the disk has it (`PRAGMA synchronous=NORMAL`), for batches of readings and heartbeats.

    A power cut may take the last of them back; the database stays whole. All else is on the disk when it is answered
    (`FULL`, set for every connection): a tuned machine that serves itself crashes hard as part of the job.
    """
    if connection.in_atomic_block:
        # the pragma cannot change inside a transaction; the outer one decides
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA synchronous=NORMAL")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA synchronous=FULL")
