"""The first minutes of a newcomer: three ways in, how many acts to a first verdict, and what fits into an evening."""

import re

from tests.e2e.conftest import choose, small_campaign, until
from tests.e2e.following import step_said, take_step
from tests.server.process import ask

# By hand, every press and every field: wanted of a newcomer from nothing to the first verdict.
MOST_TO_A_VERDICT = 35


class Hand:
    """Does things on a page, and counts them as the acts of a person."""

    def __init__(self, page):
        self.page, self.acts = page, 0

    def click(self, target):
        target.click()
        self.acts += 1

    def fill(self, label, text):
        self.page.get_by_label(label).fill(text)
        self.acts += 1

    def press(self, key):
        self.page.keyboard.press(key)
        self.acts += 1


def wait_for_the_end(page):
    """Until nothing of this campaign goes on any more."""
    page.get_by_test_id("under-way").wait_for(state="detached", timeout=120_000)


def verdicts(address):
    """Words of the verdicts that Compare gives so far in the first campaign, beside "too few runs"."""
    candidates = ask(f"{address}/api/campaigns/1/compare")["versus"]["candidates"]
    cells = [cell for candidate in candidates for cell in candidate["column"]["cells"]]
    return {cell["verdict"]["word"] for cell in cells if cell["verdict"]} & {"gain", "loss", "tie"}


def test_from_nothing_to_a_first_verdict_on_the_simulator(page, empty_address):
    # a specimen with room above stock: on one in thirty there is nothing to gain, and the honest end is no verdict
    page.add_init_script("Math.random = () => 0.0025")
    page.goto(empty_address)
    hand = Hand(page)
    hand.click(page.get_by_role("button", name="Begin on the simulator"))
    page.wait_for_url(re.compile("/baseline"))
    page.get_by_test_id("next-title").filter(has_text="at stock, 3 times each").wait_for()
    hand.press("a")
    page.get_by_test_id("under-way").wait_for()
    # what goes on shows in the tab's title, too
    until(page, "document.title === 'Running: First try on the simulator – Trelvo'")
    wait_for_the_end(page)
    while not verdicts(empty_address) and hand.acts < MOST_TO_A_VERDICT:
        step_said(page)
        # what was not begun cost a press, too
        hand.acts += take_step(page) or 1
    hand.press("5")
    page.get_by_test_id("verdict").filter(has_text=re.compile("gain|loss|tie")).first.wait_for()
    assert hand.acts <= MOST_TO_A_VERDICT, hand.acts


def test_a_machine_of_ones_own_in_few_acts(page, empty_address):
    page.goto(f"{empty_address}/new")
    hand = Hand(page)
    hand.click(page.get_by_role("button", name="A laptop"))
    hand.fill("Name of the campaign", "Cooler on the train")
    hand.click(page.get_by_role("button", name="Next: Rig"))
    hand.click(page.get_by_role("button", name="Read it from this machine"))
    page.get_by_text(re.compile("Read. ")).wait_for()
    assert page.get_by_label("Operating system").input_value()
    hand.fill("Name of the rig", "Travel machine")
    hand.click(page.get_by_role("button", name="Create the campaign"))
    page.get_by_text("No run yet.").first.wait_for()
    assert hand.acts == 6
    # the next one is like it: rig, knobs and workloads are there already
    page.goto(f"{empty_address}/new")
    # the earlier campaign comes late: what is pressed meanwhile counts once it is there
    page.route("**/api/campaigns/1", lambda route: (page.wait_for_timeout(1500), route.continue_()))
    choose(page, "Or like an earlier campaign", "Cooler on the train")
    page.get_by_label("Name of the campaign").fill("Cooler still")
    page.get_by_role("button", name="Create the campaign").click()
    page.wait_for_url(re.compile("/campaigns/2/baseline"))
    page.get_by_text("No run yet.").first.wait_for()
    page.keyboard.press("1")
    page.get_by_role("heading", name=re.compile("Travel machine, build 1")).wait_for()


def test_what_was_typed_is_not_replaced_without_a_word(page, shared_address):
    page.goto(f"{shared_address}/new?step=knobs")
    page.get_by_role("button", name="Fan", exact=True).click()
    page.get_by_label("Highest").fill("80")
    page.goto(f"{shared_address}/new")
    page.get_by_role("button", name="An old board").click()
    page.get_by_role("dialog").get_by_role("button", name="Cancel").click()
    page.goto(f"{shared_address}/new?step=knobs")
    assert page.get_by_label("Highest").input_value() == "80"
    page.get_by_role("button", name="Start over").click()
    page.get_by_label("Highest").wait_for(state="detached")


def test_an_evening_is_laid_over_the_clock(page, shared_address):
    campaign = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{campaign}/climb")
    page.get_by_test_id("next-title").wait_for()
    page.keyboard.press("e")
    page.get_by_label("Time at the bench").fill("3")
    page.get_by_role("button", name="Plan it").click()
    page.get_by_text("Type from 5 to 1440 minutes.").wait_for()
    page.get_by_label("Time at the bench").fill("90")
    page.get_by_role("button", name="Plan it").click()
    first = page.get_by_test_id("stretches").locator("li").first
    first.get_by_text("Run Gorge at stock, 3 runs in all.").wait_for()
    # three runs of a minute and a minute each to set up
    first.get_by_text("6 min: 3 runs of 3 min together, 3 min setup").wait_for()
    begin, end = re.match(r"(\d\d:\d\d)–(\d\d:\d\d)", first.locator(".when").inner_text()).groups()
    minutes = [int(hour) * 60 + int(minute) for hour, minute in (begin.split(":"), end.split(":"))]
    assert (minutes[1] - minutes[0]) % (24 * 60) in (5, 6, 7)
    with page.expect_download() as download:
        page.get_by_test_id("calendar").click()
    assert "BEGIN:VEVENT" in download.value.path().read_text()
    # it is kept over a reload, and gone when it is not wanted
    page.reload()
    page.get_by_test_id("stretches").wait_for()
    page.get_by_role("button", name="Change the time").click()
    page.get_by_label("Time at the bench").wait_for()
