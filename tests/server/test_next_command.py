"""`trelvo next`: the one step on the command line, in the words of the campaign's page."""

from io import StringIO

import pytest
from django.core.management import CommandError, call_command


def said(*words):
    out = StringIO()
    call_command("next", *words, stdout=out)
    return out.getvalue().splitlines()


def test_the_step_of_the_page(client, story):
    for card in client.get("/api/campaigns").json():
        lines = said(str(card["id"]))
        assert lines[0] == f"{card['name']}: {card['goal_words']['text']}. {card['goal_far']['text']}"
        assert lines[1] == f"Next: {card['next']['step']['title']['text']} {card['next']['step']['why']['text']}"
        assert len(lines) == 2 + len(card["next"]["instead"])


def test_a_campaign_by_part_of_its_name(story):
    assert said("summer")[0].startswith("Dome: hold 72 through the summer show: 72 fps held in every workload")


@pytest.mark.parametrize(
    ("word", "told"), [("Dome", "2 campaigns are called that"), ("attic", "No campaign is called attic")]
)
def test_a_name_that_is_not_clear(story, word, told):
    with pytest.raises(CommandError, match=told):
        said(word)
