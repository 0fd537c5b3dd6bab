"""What hands do at two in the morning: text for a number, keys with something open, the next line before the last is saved."""

import re

from playwright.sync_api import expect

from tests.e2e.conftest import small_campaign, until


def test_text_that_is_no_number_stops_saving_and_nothing_is_lost(page, shared_address):
    campaign = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{campaign}/prepare")
    goal = page.get_by_test_id("goal-panel")
    goal.get_by_label("Accept one failure in").fill("abc")
    goal.get_by_role("button", name="Save the goal").click()
    goal.get_by_text("is no number (hours)").last.wait_for()
    assert goal.get_by_label("Accept one failure in").input_value() == "abc"
    goal.get_by_label("Accept one failure in").fill("80")
    goal.get_by_role("button", name="Save the goal").click()
    goal.get_by_text("one failure in 80 h").first.wait_for()


def test_a_goal_changed_in_another_window_is_not_written_over(page, context, shared_address):
    campaign = small_campaign(shared_address)
    address = f"{shared_address}/campaigns/{campaign}/prepare"
    page.goto(address)
    mine = page.get_by_test_id("goal-panel")
    mine.get_by_label("Accept one failure in").fill("70")
    other = context.new_page()
    other.goto(address)
    theirs = other.get_by_test_id("goal-panel")
    theirs.get_by_label("Accept one failure in").fill("90")
    theirs.get_by_role("button", name="Save the goal").click()
    theirs.get_by_text("one failure in 90 h").first.wait_for()
    other.close()
    mine.get_by_role("button", name="Save the goal").click()
    mine.get_by_text("hours was 50, now 90").wait_for()
    mine.get_by_role("button", name="Show what is there now").click()
    mine.get_by_text("one failure in 90 h").first.wait_for()


def test_keys_belong_to_the_form_that_is_open(page, shared_address):
    campaign = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{campaign}/climb")
    page.get_by_test_id("next-title").wait_for()
    page.keyboard.press("n")
    form = page.get_by_role("dialog", name="Log a run")
    form.get_by_label("Average frame rate").wait_for()
    # before and after the focus has gone into it
    page.keyboard.press("4")
    form.get_by_text("Program crash").click()
    page.keyboard.press("4")
    assert page.url.endswith("/climb")
    assert form.get_by_role("radio", name="System crash").is_checked()


def test_the_help_opens_from_the_quick_line_and_its_key_closes_it(page, shared_address):
    campaign = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{campaign}/climb")
    page.get_by_test_id("next-title").wait_for()
    page.keyboard.press("q")
    page.keyboard.type("stock")
    page.keyboard.press("?")
    sheet = page.get_by_role("dialog", name="Help")
    sheet.wait_for()
    assert page.get_by_label(re.compile("^Quick line")).input_value() == "stock"
    page.keyboard.press("?")
    sheet.wait_for(state="hidden")


def test_the_next_line_may_be_typed_while_the_last_is_saved(page, shared_address):
    campaign = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{campaign}/climb")
    page.get_by_test_id("next-title").wait_for()
    # the server takes its time
    page.route("**/quick-line", lambda route: (page.wait_for_timeout(800), route.continue_()))
    page.keyboard.press("q")
    line = page.get_by_label(re.compile("^Quick line"))
    line.fill("stock gorge 93.4 ok")
    page.get_by_role("button", name=re.compile("^Log it")).click()
    line.fill("stock gorge 93.6 ok")
    page.locator(".ant-message-notice").first.wait_for()
    assert line.input_value() == "stock gorge 93.6 ok"


def test_enter_on_the_next_line_counts_once_the_last_is_saved(page, shared_address):
    campaign = small_campaign(shared_address)
    page.goto(f"{shared_address}/campaigns/{campaign}/climb")
    page.get_by_test_id("next-title").wait_for()
    page.route("**/quick-line", lambda route: (page.wait_for_timeout(800), route.continue_()))
    page.keyboard.press("q")
    line = page.get_by_label(re.compile("^Quick line"))
    for result in ("93.4", "93.6"):
        line.fill(f"stock gorge {result} ok")
        page.get_by_text(f"Gorge {result} fps").wait_for()
        page.keyboard.press("Enter")
    expect(line).to_have_value("")
    page.get_by_text("Understood:").wait_for(state="hidden")
    until(page, f"async () => (await (await fetch('/api/campaigns/{campaign}/runs')).json()).runs.length === 2")


def test_the_step_is_brought_into_view_on_its_own_page_too(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/keep")
    page.get_by_test_id("next-title").get_by_text("Say how the run").wait_for()
    focused = "() => document.activeElement?.id === 'how-it-ended'"
    page.keyboard.press("a")
    page.wait_for_url(re.compile(r"/runs/\d+"))
    until(page, focused)
    page.evaluate("document.activeElement.blur(); window.scrollTo(0, 9999)")
    page.get_by_test_id("next-title").wait_for()
    page.keyboard.press("a")
    until(page, focused)
