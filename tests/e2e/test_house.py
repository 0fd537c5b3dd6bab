"""The wider house in the browser: answers that come late, the logbook, instruments, other rigs, the end of a campaign."""

import re

import pytest

from tests.drafts import run_body
from tests.e2e.conftest import choose, small_campaign
from tests.server.process import ask


def test_what_was_begun_in_a_form_is_not_overwritten_by_an_answer_that_comes_late(page, shared_address):
    number = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{number}/climb")
    page.get_by_role("button", name="Add a setting").wait_for()
    # from now on every answer takes its time, and every question is asked again while the form is open
    page.route("**/api/**", lambda route: page.wait_for_timeout(150) or route.continue_())
    page.keyboard.press("r")
    stock, settings = (
        ask(f"{shared_address}/api/campaigns/{number}")["workloads"][0]["id"],
        ask(f"{shared_address}/api/campaigns/{number}/settings"),
    )
    body = run_body(setting_id=settings[0]["id"], workload_id=stock, outcome="completed", value=93.6)
    for press in range(4):
        page.get_by_label("Core clock one step up").click()
        ask(f"{shared_address}/api/campaigns/{number}/runs", body | {"value": 93.6 + press / 10})
        page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
    assert page.get_by_label("Core clock", exact=True).input_value() == "60"
    page.get_by_role("button", name="Add the setting").click()
    page.get_by_label("Core clock one step up").wait_for(state="hidden")
    page.unroute_all(behavior="ignoreErrors")
    titles = [one["title"] for one in ask(f"{shared_address}/api/campaigns/{number}/settings")]
    assert titles[1] == "core clock +60\u00a0MHz"


def test_the_logbook_finds_sorts_and_leads_to_a_run(page, demo_address):
    page.goto(demo_address)
    page.get_by_role("link", name="Logbook").click()
    page.get_by_test_id("logged").first.wait_for()
    assert page.get_by_test_id("logged").count() == 50
    choose(page, "Ended", "System crash")
    page.wait_for_url(re.compile("outcome=system"))
    page.get_by_text(re.compile(r"\d+ runs? found")).wait_for()
    page.get_by_role("button", name="Clear the filters").click()
    page.get_by_role("button", name=re.compile("^Mean power")).click()
    page.wait_for_url(re.compile("sort=power_w"))
    page.locator("th[aria-sort=descending]", has_text="Mean power").wait_for()
    page.get_by_label("Look for words").fill("coil whine gorge")
    page.get_by_text("No run fits these filters.").wait_for()
    page.get_by_label("Look for words").fill("winter")
    page.get_by_test_id("logged").first.get_by_role("link", name=re.compile("^Open")).click()
    page.get_by_role("heading", name=re.compile("Winter sky show")).wait_for()
    page.go_back()
    page.get_by_label("Look for words").wait_for()
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280
    page.set_viewport_size({"width": 820, "height": 1000})
    assert page.evaluate("document.documentElement.scrollWidth") <= 820
    page.set_viewport_size({"width": 1280, "height": 800})


def test_two_instruments_are_set_against_each_other(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/prepare")
    page.get_by_role("button", name="Compare two").click()
    page.get_by_text("They read different parts").wait_for()
    page.get_by_text(re.compile("Mean power, pairs")).wait_for()
    # the logs have both columns: each stretch is a pair; the card's watts are what the supply passes on of the wall's
    page.get_by_text(re.compile("Each pair is a mean over .* s after the first; that is taken out")).wait_for()
    assert page.locator("tr", has_text="The first rises by").inner_text().split("\t")[1].startswith("0.9")
    choose(page, "Compared", "run by run")
    page.get_by_text("Each pair is one run’s figure by both.").wait_for()


def test_an_instrument_is_described_and_doubted(page, shared_address):
    number = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{number}/prepare")
    page.get_by_role("button", name="Add an instrument").click()
    page.get_by_label("Name", exact=True).fill("clamp")
    page.get_by_label("Multiply its reading by").fill("0")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("A factor of 0 is no correction.").first.wait_for()
    page.get_by_label("Multiply its reading by").fill("1")
    page.get_by_label("Then add").fill("27,5")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_role("cell", name="+27.5 W").wait_for()
    page.get_by_role("button", name="Change clamp").click()
    choose(page, "Trust", "suspect")
    page.get_by_label("Why").fill("jaws do not close")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("suspect: jaws do not close").wait_for()


def test_a_workload_and_a_knob_come_later_and_a_campaign_ends(page, empty_address):
    number = small_campaign(empty_address)
    page.goto(f"{empty_address}/campaigns/{number}/prepare")
    page.get_by_role("button", name="Add a knob").click()
    for label, text in (
        ("Name", "Voltage"),
        ("Key", "voltage"),
        ("Unit", "mV"),
        ("Smallest step", "5"),
        ("Lowest", "-150"),
        ("Highest", "0"),
    ):
        page.locator(".ant-drawer-open .knob").get_by_label(label, exact=True).fill(text)
    choose(page, "Tuning direction", "downwards")
    page.get_by_role("button", name="Add the knob").click()
    page.get_by_role("cell", name="−150 to 0, downwards").wait_for()
    page.get_by_role("button", name="Retire Core clock").click()
    page.get_by_role("button", name="Use again Core clock").wait_for()
    page.get_by_role("button", name="Delete this campaign").click()
    page.get_by_text("With it go 1 setting, 0 runs and 0 logs.").wait_for()
    page.get_by_label("To delete it, type its name").fill(ask(f"{empty_address}/api/campaigns/{number}")["name"])
    page.get_by_role("button", name="Delete it").click()
    page.get_by_text("will be removed at the next start").wait_for()
    page.locator(".gone").get_by_role("button", name="Undo").click()
    page.get_by_role("heading", name=re.compile(r"Up \d+")).wait_for()


@pytest.mark.parametrize("width", [1280, 820])
def test_another_rigs_setting_joins_a_comparison(page, demo_address, width):
    page.set_viewport_size({"width": width, "height": 1000})
    loft, desk = 4, 5
    theirs = next(side for side in ask(f"{demo_address}/api/campaigns/{loft}/sides") if side["campaign_id"] == desk)
    page.goto(f"{demo_address}/campaigns/{loft}/compare?candidates={theirs['key']}")
    page.get_by_test_id("overall").first.wait_for()
    page.get_by_text(f"Ticket desk: {theirs['title']}").first.wait_for()
    page.get_by_text("another rig, see the reasons.").wait_for()
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.set_viewport_size({"width": 1280, "height": 800})
