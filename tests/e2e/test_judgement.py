"""Baseline and Compare as their user works them: verdicts, traps, claims, targets, what counts."""

import re

import pytest

from tests.e2e.conftest import describe, until
from tests.e2e.test_main_job import log_run
from tests.server.process import ask

COMPARE = "/campaigns/3/compare"


def test_compare_from_choice_to_markdown(page, demo_address):
    page.goto(demo_address + COMPARE)
    page.get_by_test_id("overall").first.wait_for()
    sentences = page.get_by_test_id("overall").all_inner_texts()
    assert len(sentences) == 3
    assert all(re.match(r"[+−]\d+\.\d % ± \d+\.\d overall: a gain", sentence) for sentence in sentences)
    page.get_by_role("button", name="Copy as Markdown").click()
    page.get_by_role("button", name="Copied").wait_for()
    copied = page.evaluate("navigator.clipboard.readText()")
    assert copied.startswith("| Workload | Setting | Mean | Gain |")
    assert sentences[0] in copied
    assert "- +" in copied
    # fewer candidates, and the address says which
    page.locator(".ant-select-selection-item-remove").first.click()
    page.wait_for_url(re.compile(r"candidates=\d+"))
    page.get_by_test_id("overall").nth(2).wait_for(state="detached")
    page.reload()
    page.get_by_test_id("overall").first.wait_for()
    assert page.get_by_test_id("overall").count() == 2


def test_the_same_speed_for_less_power_asks_whether_the_speed_is_kept(page, demo_address):
    """Under such a goal a tie is what the user wants: Compare states the goal's condition, not runs that would show a gain."""
    page.goto(f"{demo_address}/campaigns/5/compare")
    kept = page.get_by_test_id("kept-speed")
    kept.nth(1).wait_for()
    assert re.match(r"at least 99 % of stock’s speed: not shown yet\.", kept.first.inner_text())
    assert page.locator(".versus").get_by_text("too few runs").count() == 0


def test_the_plain_sum_says_why_it_misleads(page, demo_address):
    page.goto(demo_address + COMPARE)
    page.get_by_test_id("overall").first.wait_for()
    assert page.get_by_text("% of the sum").count() == 0
    page.locator("label", has_text="Plain sum").get_by_role("switch").click()
    assert page.get_by_text("Gorge flythrough makes").count() == 3
    page.locator("label", has_text="as bars").get_by_role("switch").click()
    page.get_by_text("In each group from the left: stock, the reference").wait_for()
    with page.expect_download() as download:
        page.locator("figure", has_text="In each band").get_by_role("button", name="SVG").click()
    assert download.value.suggested_filename == "Ratios.svg"


def test_holm_can_be_switched_off(page, demo_address):
    page.goto(demo_address + COMPARE)
    switch = page.locator("label", has_text="Holm").get_by_role("switch")
    switch.click()
    page.wait_for_url(re.compile("holm=off"))
    page.locator("label", has_text="Holm").locator("[aria-checked=false]").wait_for()


def test_traps_show_what_they_speak_of(page, demo_address):
    # the memory's climb as it was: past the top of the score
    settings = ask(f"{demo_address}/api/campaigns/3/settings")
    climbed = [
        setting["id"] for setting in settings if setting["values"].get("memory") and "voltage" not in setting["values"]
    ]
    page.goto(f"{demo_address}{COMPARE}?candidates={','.join(map(str, climbed))}")
    trap = page.get_by_test_id("trap").filter(has_text="score falls while the clock rises").first
    trap.locator("summary").click()
    trap.get_by_text("Go back to").first.wait_for()
    trap.get_by_role("button", name="Show me").first.click()
    one = page.get_by_test_id("trap").filter(has_text="one run only").first
    one.locator("summary").click()
    one.get_by_role("link", name="Show me the run").first.click()
    page.wait_for_url(re.compile(r"/runs/\d+"))


@pytest.mark.parametrize(
    ("said", "found"),
    [
        ("7.8", "comes from this mistake: percent difference"),
        ("8.1", "Right: 8.1 % more speed."),
        ("much", "“much” is not a number."),
    ],
)
def test_claims(page, demo_address, said, found):
    page.goto(demo_address + COMPARE)
    claim = page.get_by_test_id("claim")
    claim.get_by_label("Before").fill("8421")
    claim.get_by_label("After").fill("9105")
    claim.get_by_label("What was said").fill(said)
    claim.get_by_role("button", name="Check it").click()
    page.get_by_text(found).wait_for()


def test_a_claim_is_filled_in_from_a_line_that_is_certain_and_asked_for_where_it_is_not(page, demo_address):
    page.goto(demo_address + COMPARE)
    claim = page.get_by_test_id("claim")
    claim.get_by_text("Fill in from two results").click()
    line = claim.get_by_label("A line")
    line.fill("120 fps to 135 fps, 12.5 % faster")
    claim.get_by_role("button", name="Fill in").click()
    until(page, "() => document.querySelector('[data-test=claim] input[placeholder=\"9105\"]').value === '135'")
    claim.get_by_role("button", name="Check it").click()
    page.get_by_test_id("finding").get_by_text("Right").wait_for()
    line.fill("lost 10 %, then gained 10 %")
    claim.get_by_role("button", name="Fill in").click()
    claim.get_by_text("This line can be read in more than one way.").wait_for()


def test_sides_of_one_earlier_build_are_no_trap(page, demo_address):
    page.goto(f"{demo_address}/campaigns/2/compare")
    page.get_by_test_id("overall").first.wait_for()
    assert page.get_by_test_id("trap").filter(has_text="stale baseline").count() == 0


def test_a_baseline_with_a_cold_first_run(page, empty_address):
    page.goto(f"{empty_address}/new")
    describe(page, "Cold start", "Bench", "Gorge")
    page.get_by_role("button", name="Create the campaign").click()
    page.get_by_text("No run yet.").wait_for()
    for value in ("90.4", "93.6", "93.5", "93.9", "93.7"):
        page.keyboard.press("n")
        log_run(page, value)
    page.get_by_text("probably a warm-up").wait_for()
    coarse = page.get_by_test_id("meter").inner_text()
    page.keyboard.press("w")
    page.get_by_text("probably a warm-up").wait_for(state="detached")
    until(page, "was => document.querySelector('[data-test=meter]').innerText !== was", coarse)
    assert page.get_by_test_id("meter").inner_text().startswith("This bench can tell 0.")
    page.locator(".ant-message-notice", has_text="Set aside").get_by_role("button", name="Undo").click()
    page.get_by_text("probably a warm-up").wait_for()

    # what counts is the user's: a finer wish leaves the stage under way until enough is said
    page.get_by_role("button", name="What counts").click()
    page.get_by_label("The baseline should tell apart").fill("0,1")
    page.get_by_label("Temperature limit").fill("84")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("can tell 0.1 % apart").wait_for()
    page.get_by_role("button", name="Accept this baseline").click()
    page.get_by_role("button", name="Undo").wait_for()

    # a target is told, shown in the comparison, and taken off again
    page.keyboard.press("5")
    page.get_by_text("Nothing to compare yet").wait_for()
    page.get_by_role("button", name="Add a target").click()
    page.get_by_label("Target name").fill("The next model")
    page.get_by_role("button", name="Save the target").click()
    page.get_by_text("A target without results is none.").wait_for()
    page.get_by_label("Gorge", exact=True).fill("108")
    page.get_by_role("button", name="Save the target").click()
    page.get_by_role("button", name="Save the target").wait_for(state="hidden")
    assert [said for said in page.complaints if "422" not in said] == []
