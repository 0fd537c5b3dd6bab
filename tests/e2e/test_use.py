"""Use by people: names that are long, a rig that changes, mistakes in a form, a small screen."""

import re

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import choose, describe, small_campaign
from tests.e2e.following import step_said
from tests.e2e.test_main_job import add_setting, log_run
from tests.e2e.test_screens import UNNAMED
from tests.server.process import ask


@pytest.fixture
def started(page, shared_address):
    """The baseline of a campaign of one knob and one workload, just described."""
    page.goto(f"{shared_address}/campaigns/{small_campaign(shared_address)}/baseline")
    page.get_by_text("No run yet.").wait_for()
    return page


def test_the_form_for_a_run_has_names_and_keys(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/climb")
    page.get_by_test_id("setting").first.wait_for()
    page.keyboard.press("n")
    page.get_by_role("button", name="Log the run").wait_for()
    assert page.evaluate(UNNAMED) == []
    page.locator(".outcomes label", has_text="Completed").click()
    page.keyboard.press("3")
    assert page.locator(".outcomes label.on").inner_text().startswith("Program crash")
    # a dialog: the tab key stays in it, and Escape closes an open list before the sheet
    sheet = page.get_by_role("dialog", name="Log a run")
    for _ in range(40):
        page.keyboard.press("Tab")
        assert sheet.evaluate("sheet => sheet.contains(document.activeElement)")
    sheet.get_by_label("Workload").focus()
    page.keyboard.press("ArrowDown")
    page.locator(".ant-select-open").wait_for()
    page.keyboard.press("Escape")
    page.locator(".ant-select-open").wait_for(state="detached")
    assert page.get_by_role("button", name="Log the run").is_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Log the run").wait_for(state="hidden")


def test_a_run_half_typed_outlives_back_and_reload(started):
    page = started
    page.keyboard.press("n")
    page.get_by_label("Mean power").fill("181,5")
    page.get_by_label("Note").fill("window open")
    page.goto(page.url.replace("/baseline", "/climb"))
    page.get_by_test_id("next-title").wait_for()
    page.go_back()
    page.reload()
    page.get_by_text("No run yet.").wait_for()
    page.keyboard.press("n")
    page.get_by_role("button", name="Log the run").wait_for()
    assert page.get_by_label("Mean power").input_value() == "181.5"
    assert page.get_by_label("Note").input_value() == "window open"


def test_a_key_pressed_while_a_sheet_slides_away_counts(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/climb")
    page.get_by_test_id("next-title").wait_for()
    button = page.get_by_role("button", name="Log the run")
    for _ in range(3):
        page.keyboard.press("n")
        button.wait_for()
        # both keys in one breath, with the focus still in the form
        page.keyboard.press("Escape")
        page.evaluate("""() => document.activeElement.dispatchEvent(
            new KeyboardEvent('keydown', { key: 'n', bubbles: true, cancelable: true }))""")
        page.locator(".ant-drawer-open").get_by_role("button", name="Log the run").wait_for()
        page.keyboard.press("Escape")
        button.wait_for(state="hidden")


def test_two_tabs_hear_of_each_other(started, context):
    page = started
    other = context.new_page()
    other.goto(page.url)
    other.get_by_text("No run yet.").wait_for()
    page.keyboard.press("n")
    log_run(page, "93.6")
    other.get_by_text("No run yet.").wait_for(state="detached")
    other.close()


def test_long_names_are_wrapped_and_not_cut(page, empty_address):
    long = "Winter" + "nightsky" * 12
    page.set_viewport_size({"width": 820, "height": 1000})
    page.goto(f"{empty_address}/new")
    describe(page, long, long, long)
    page.get_by_label("Option preset").fill(long)
    page.get_by_role("button", name="Create the campaign").click()
    page.get_by_text("No run yet.").wait_for()
    stages = ("baseline", "prepare", "climb", "prove", "compare", "tonight")
    for view in (*(f"/campaigns/1/{stage}" for stage in stages), "/", "/new?step=workloads"):
        page.goto(empty_address + view)
        page.get_by_text(long).first.wait_for()
        page.wait_for_load_state("networkidle")
        for width in (1280, 820):
            page.set_viewport_size({"width": width, "height": 1000})
            assert page.evaluate("document.documentElement.scrollWidth") <= width, (view, width)


def test_a_rig_that_changes_makes_its_baseline_stale(started):
    page = started
    for value in ("93.6", "93.5", "93.7"):
        page.keyboard.press("n")
        log_run(page, value)
    page.keyboard.press("1")
    page.get_by_role("button", name="Something has changed").click()
    page.get_by_label("Driver").last.fill("2.0")
    page.get_by_role("button", name="Begin build 2").click()
    page.get_by_role("heading", name=re.compile(r"Bench \d+, build 2")).wait_for()
    page.locator("nav .station", has_text="Baseline").locator(".note", has_text="stale").wait_for()
    page.keyboard.press("2")
    page.get_by_text("Stock was measured under an earlier build.").wait_for()
    page.get_by_text("No run yet.").wait_for()


def test_a_run_that_cannot_be_stays_in_the_form(started):
    page = started
    page.keyboard.press("n")
    page.get_by_role("button", name="Log the run").click()
    page.get_by_text("A completed run has a result.").first.wait_for()
    page.get_by_label("Average frame rate").fill("ninety")
    page.get_by_text("This is not a number.").wait_for()
    page.get_by_label("Average frame rate").fill("93,6")
    page.get_by_label("Highest temperature").fill("640")
    page.get_by_role("button", name="Log the run").click()
    page.locator(".number-field", has_text="Highest temperature").get_by_role("alert").wait_for()
    assert page.get_by_label("Average frame rate").input_value() == "93,6"
    page.get_by_label("Highest temperature").fill("64")
    page.get_by_role("button", name="Log, then another like it").click()
    page.get_by_test_id("mean").wait_for()
    expect(page.get_by_label("Average frame rate")).to_have_value("")


def test_a_setting_off_the_grid_names_its_neighbours(started):
    page = started
    page.keyboard.press("3")
    page.get_by_text("Only stock so far.").wait_for()
    page.keyboard.press("r")
    page.get_by_label("Core clock", exact=True).fill("100")
    page.get_by_role("button", name="Add the setting").click()
    page.get_by_text("The nearest values are 90 and 105 MHz.").first.wait_for()
    page.get_by_label("Core clock", exact=True).fill("105")
    page.get_by_role("button", name="Add the setting").click()
    page.get_by_text("Added: core clock +105").wait_for()


def test_the_next_setting_starts_from_the_last_that_held(started):
    page = started
    page.keyboard.press("3")
    page.get_by_text("Only stock so far.").wait_for()
    add_setting(page, 2)
    page.get_by_role("button", name="Log a run here").click()
    log_run(page, "95.0")
    page.keyboard.press("r")
    page.get_by_text(re.compile(r"Starts from core clock \+30")).wait_for()
    assert page.get_by_label("Core clock", exact=True).input_value() == "30"


def test_watts_read_at_the_wall_are_not_mixed_with_others(started):
    page = started
    for point in ("the part’s own report", "meter at the wall"):
        page.keyboard.press("n")
        page.get_by_label("Average frame rate").fill("93.6")
        page.get_by_label("Mean power", exact=True).fill("200")
        choose(page, "Power read by", point)
        page.get_by_role("button", name="Log the run").click()
        page.get_by_role("button", name="Log the run").wait_for(state="hidden")
    page.get_by_text("read at different points: no mean").wait_for()


def test_motion_is_left_out_for_those_who_ask(page, demo_address):
    page.emulate_media(reduced_motion="reduce")
    page.goto(demo_address)
    page.locator("h1").wait_for()
    durations = page.evaluate("getComputedStyle(document.querySelector('.ant-btn')).transitionDuration")
    assert max(float(word.strip().removesuffix("s")) for word in durations.split(",")) <= 0.001
    # nor does anything turn for ever, faster than anyone can look
    turns = """() => {
        const button = document.querySelector('.ant-btn')
        button.style.animationIterationCount = 'infinite'
        return getComputedStyle(button).animationIterationCount
    }"""
    assert page.evaluate(turns) == "1"
    page.emulate_media(reduced_motion="no-preference")
    assert page.evaluate(turns) == "infinite"


def test_a_run_just_logged_can_be_taken_back(started):
    page = started
    page.keyboard.press("n")
    log_run(page, "936")
    page.get_by_test_id("mean").wait_for()
    page.get_by_role("button", name="Undo").click()
    page.get_by_test_id("mean").wait_for(state="detached")
    page.get_by_text("The 1 run").click()
    page.get_by_text("Taken back right after it was logged.").wait_for()

    # an act whose answer does not come says so, also where there is no form to say it in
    page.route("**/take-back", lambda route: route.abort())
    page.get_by_role("button", name="Count again").click()
    page.get_by_text("Not done: Trelvo’s server does not answer.").wait_for()
    page.unroute("**/take-back")
    page.get_by_role("button", name="Count again").click()
    page.get_by_test_id("mean").wait_for()
    page.keyboard.press("n")
    page.route("**/set-aside", lambda route: route.abort())
    log_run(page, "937")
    page.get_by_role("button", name="Undo").click()
    page.get_by_text("Not undone: Trelvo’s server does not answer.").wait_for()
    page.locator("tbody").get_by_text("937").first.wait_for()


def test_a_network_that_goes_away_stops_nothing(started):
    page = started
    # what a browser says when a cable is pulled; Trelvo's own server is on this machine still
    page.evaluate("window.dispatchEvent(new Event('offline'))")
    page.keyboard.press("n")
    log_run(page, "93.6")
    page.get_by_test_id("mean").get_by_text("93.6").wait_for()
    page.keyboard.press("3")
    page.get_by_text("Only stock so far.").wait_for()


def test_a_run_that_has_ended_says_what_comes_next_in_the_same_words(page, demo_address):
    # a machine that is logged by hand: the step begins its line there, too
    run = ask(f"{demo_address}/api/campaigns/5/runs")["runs"][0]
    page.goto(f"{demo_address}/runs/{run['id']}")
    assert step_said(page) == ask(f"{demo_address}/api/campaigns/5/next")["step"]["title"]["text"]
    page.keyboard.press("a")
    line = page.get_by_label(re.compile("^Quick line"))
    expect(line).to_have_value(ask(f"{demo_address}/api/campaigns/5")["next"]["step"]["line"])
    page.keyboard.press("Escape")
    page.keyboard.press("3")
    page.wait_for_url(re.compile("/campaigns/5/climb"))
