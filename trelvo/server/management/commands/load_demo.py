from typing import Any

from django.core.management.base import BaseCommand
from django.utils import timezone

from trelvo.demo.story import load_story
from trelvo.logbook.models import Rig


class Command(BaseCommand):
    # looked over by the tests; here they would only be waited for
    requires_system_checks = []
    help = "Loads the demo data into an empty logbook; leaves a logbook with anything in it as it is."

    def handle(self, *args: Any, **options: Any) -> None:
        if Rig.objects.exists():
            return
        self.stdout.write("Loading the demo data …")
        load_story(timezone.now())
