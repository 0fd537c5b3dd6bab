import getpass
import os
from argparse import ArgumentParser
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError


class Command(BaseCommand):
    help = "Adds an account, or gives it a new password. Needed before Trelvo is served to other machines."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        # from the environment for scripts, else typed twice and never shown
        password = os.environ.get("TRELVO_PASSWORD") or self._typed()
        users = get_user_model().objects
        user = users.filter(username=options["name"]).first() or get_user_model()(username=options["name"])
        try:
            validate_password(password, user)
        except ValidationError as trouble:
            raise CommandError(" ".join(trouble.messages)) from trouble
        user.set_password(password)
        user.save()
        self.stdout.write(f"Account {options['name']} is ready.")

    def _typed(self) -> str:
        first = getpass.getpass("Password: ")
        if first != getpass.getpass("Once more: "):
            raise CommandError("The two differ. Nothing was changed.")
        return first
