from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from trelvo.core.problems import Refused
from trelvo.exchange.store.copies import copy_to
from trelvo.messages.problems import refusal_text


class Command(BaseCommand):
    # looked over by the tests; here they would only be waited for
    requires_system_checks = []
    help = "Copies the whole database into one file, also while Trelvo runs, and checks the copy."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", help="where the copy goes; a file of that name is replaced")

    def handle(self, *args: Any, **options: Any) -> None:
        database, target = settings.DATA / "trelvo.sqlite3", Path(options["file"]).expanduser().resolve()
        if not database.is_file():
            raise CommandError(f"There is no database in {settings.DATA} yet.")
        if target == database:
            raise CommandError("That is the database itself. Give another file.")
        try:
            contents = copy_to(database, target)
        except Refused as trouble:
            raise CommandError(refusal_text(trouble)) from None
        self.stdout.write(
            f"{target} holds everything as of now: {contents.campaigns} campaigns, {contents.runs} runs; "
            f"{target.stat().st_size / 1e6:.1f} MB, checked in full."
        )
