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
    # looked over by the tests; here they would only be waited for
    requires_system_checks = []
    help = "Adds an account, or gives it a new password. Needed before Trelvo is served to other machines."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("name")
        parser.add_argument("--bench", action="store_true", help="may log runs, may not delete or replace anything")

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
        first = not users.filter(is_staff=True, is_active=True).exclude(pk=user.pk).exists()
        if options["bench"] and first:
            raise CommandError("The first account is an owner's. Make that one first, without --bench.")
        user.is_staff, user.is_active = not options["bench"], True
        user.set_password(password)
        user.save()
        self.stdout.write(
            f"Account {options['name']} is ready: {'an owner' if user.is_staff else 'a bench, which may log and not delete'}."
        )

    def _typed(self) -> str:
        first = getpass.getpass("Password: ")
        if first != getpass.getpass("Once more: "):
            raise CommandError("The two differ. Nothing was changed.")
        return first
