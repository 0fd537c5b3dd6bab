"""A goal from baseline to its end, following the one step only, by keyboard only; where the end is stock. One that is met:
tests/e2e/test_guide.py. All goals: tests/api/test_one_step.py."""

import pytest

from tests.e2e.following import step_said, take_step
from tests.one_step import begun
from tests.server.process import Served

HOURS, SEED, MOST_MINUTES = 5, 28, 5
MOST_ACTS = 70


@pytest.fixture(scope="module")
def server(new_folder):
    with Served(new_folder()) as running:
        yield running


def follow(page, server, campaign_id):
    """Presses `a` until there is something to keep; answers what it is asked; the acts it took."""
    page.goto(f"{server.address}/campaigns/{campaign_id}/climb")
    acts = []
    while len(acts) < MOST_ACTS:
        said = step_said(page)
        if said.startswith("Keep"):
            return acts, said
        if take_step(page):
            acts.append(said)
    raise AssertionError(f"nothing to keep after {MOST_ACTS} acts: {acts[-5:]}")


def test_the_honest_end_may_be_stock(page, server):
    """A lower cap on this specimen takes speed before it takes degrees that count."""
    page.add_init_script("localStorage.setItem('trelvo-speed', '1800')")
    terms = {"hours": HOURS, "lows_too": False}
    campaign_id = begun(server, "quiet", "loft", ["cap"], ["Small dome", "Millrace"], terms, SEED, MOST_MINUTES)
    acts, said = follow(page, server, campaign_id)
    assert acts[0].startswith("Run ")
    assert said == "Keep stock."
