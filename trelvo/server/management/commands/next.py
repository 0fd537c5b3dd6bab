from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from trelvo.core.goal.service import goal_view
from trelvo.core.next_step.service import next_of
from trelvo.core.next_step.standing import standing_of
from trelvo.core.task import Task
from trelvo.logbook.cases import case_of
from trelvo.logbook.models import Campaign
from trelvo.messages.texts import text_of


class Command(BaseCommand):
    # looked over by the tests; here they would only be waited for
    requires_system_checks = []
    help = "Says what to do next in a campaign: the same words as on its page."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("campaign", help="its number, or part of its name")
        parser.add_argument("--minutes", type=float, help="bench time there is (default: no limit)")

    def handle(self, *args: Any, **options: Any) -> None:
        case = case_of(_found(options["campaign"]))
        told = next_of(case, standing_of(case), timezone.now(), options["minutes"])
        goal = goal_view(case)
        self.stdout.write(f"{case.campaign.name}: {text_of(goal.words)}. {text_of(goal.far)}")
        self.stdout.write(f"Next: {_said(told.step)}")
        for other in told.instead:
            self.stdout.write(f"Or instead: {_said(other)}")


def _said(step: Task) -> str:
    return text_of(step.title.then(step.why))


def _found(word: str) -> Campaign:
    """The one campaign that is meant."""
    rows = Campaign.objects.present().select_related("rig")
    meant = list(rows.filter(pk=int(word)) if word.isdigit() else rows.filter(name__icontains=word))
    if len(meant) == 1:
        return meant[0]
    names = "; ".join(f"{one.id} {one.name}" for one in meant or rows)
    what = f"{len(meant)} campaigns are called that" if meant else f"No campaign is called {word}"
    raise CommandError(f"{what}. Choose one: {names or 'there is none yet'}.")
