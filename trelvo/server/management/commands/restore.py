import sys
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.utils import timezone

from trelvo.core.problems import Refused
from trelvo.exchange.store.copies import put_back
from trelvo.exchange.store.database_file import Contents, look_over
from trelvo.messages.problems import problem_text, refusal_text
from trelvo.server.lock import FolderLock
from trelvo.server.migrating import bring_up_to_date


class Command(BaseCommand):
    # looked over by the tests; here they would only be waited for
    requires_system_checks = []
    help = "Puts a copy back in place of the database; what was there is kept as another copy."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", help="a copy that Trelvo has made")
        parser.add_argument("--yes", action="store_true", help="do not ask")

    def handle(self, *args: Any, **options: Any) -> None:
        database, copy = settings.DATA / "trelvo.sqlite3", Path(options["file"]).expanduser().resolve()
        lock = FolderLock(settings.DATA)
        lock.take("putting a copy back")
        try:
            coming = look_over(copy, thorough=True)
            self.stdout.write(f"{copy} holds {in_words(coming)}.")
            self.stdout.write(f"It replaces {self._present(database)}.")
            if not options["yes"] and not self._agreed():
                raise CommandError("Nothing was changed.")
            kept = self._put_back(copy, database)
        except Refused as trouble:
            raise CommandError(refusal_text(trouble)) from None
        connection.close()
        for line in bring_up_to_date(database, timezone.now()):
            self.stdout.write(line)
        self.stdout.write(f"Done. What was there is kept: {kept}" if kept else "Done.")

    def _present(self, database: Path) -> str:
        if not database.is_file() or database.stat().st_size == 0:
            return "nothing: there is no database here yet"
        try:
            return f"{in_words(look_over(database, thorough=False))} in {database}"
        except Refused as trouble:
            return f"a database that cannot be read ({problem_text(trouble.problems[0]).what})"

    def _agreed(self) -> bool:
        if not sys.stdin.isatty():
            raise CommandError("Say --yes to put it back; nothing was changed.")
        return input("Put it back? Type yes: ").strip().lower() == "yes"

    def _put_back(self, copy: Path, database: Path) -> Path | None:
        """A database that is no longer one is moved aside; a whole one is kept as a copy."""
        try:
            if database.is_file() and database.stat().st_size:
                look_over(database, thorough=False)
        except Refused:
            aside = database.with_name(f"{database.stem}.damaged-{timezone.now():%Y%m%d-%H%M%S}{database.suffix}")
            connection.close()
            # with what was not merged into it yet: someone may still save something from the two
            for rest in ("", "-wal", "-shm"):
                part = database.with_name(database.name + rest)
                if part.exists():
                    part.rename(aside.with_name(aside.name + rest))
            put_back(copy, database, timezone.now())
            return aside
        return put_back(copy, database, timezone.now())


def in_words(contents: Contents) -> str:
    newest = f", the newest of {contents.newest}" if contents.newest else ""
    return f"{contents.campaigns} campaigns and {contents.runs} runs{newest}"
