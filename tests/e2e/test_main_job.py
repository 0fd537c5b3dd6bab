"""The main job, by hand, from an empty logbook to a gain with its interval."""

import math
import re

import numpy as np
import pytest
from scipy import stats

from tests.e2e.conftest import choose, describe

STOCK, LOWER, UPPER = [93.61, 93.48, 94.05], [96.8, 96.5], [98.9]


def expected_gain(stock, setting, groups):
    """Ratio and 95 % interval from scipy alone: two-sample t on logarithms with the pooled deviation of all repeats."""
    logs = [np.log(group) for group in groups if len(group) > 1]
    df = sum(len(group) - 1 for group in logs)
    sd = math.sqrt(sum(((group - group.mean()) ** 2).sum() for group in logs) / df)
    difference = np.log(setting).mean() - np.log(stock).mean()
    low, high = stats.t.interval(0.95, df, difference, sd * math.sqrt(1 / len(stock) + 1 / len(setting)))
    return [(math.exp(number) - 1) * 100 for number in (difference, low, high)]


def read_gain(text):
    """Percentages on the screen: +4.1 % +3.5 to +4.7 %."""
    return [
        float(found.replace("−", "-")) for found in re.findall(r"[+−±]?(\d+\.\d|[+−]\d+\.\d)", text.replace("+", ""))
    ]


def log_run(page, value, outcome=None, **figures):
    if outcome:
        page.locator(".outcomes label", has_text=outcome).click()
    if value is not None:
        page.get_by_label("Average frame rate").fill(value)
    for label, figure in figures.items():
        page.get_by_label(label, exact=True).fill(figure)
    page.get_by_role("button", name="Log the run").click()
    page.get_by_role("button", name="Log the run").wait_for(state="hidden")


def add_setting(page, steps):
    page.keyboard.press("r")
    for _ in range(steps):
        page.get_by_label("Core clock one step up").click()
    page.get_by_role("button", name="Add the setting").click()
    page.get_by_label("Core clock one step up").wait_for(state="hidden")


def test_from_an_empty_logbook_to_a_gain(page, empty_address, tmp_path):
    page.goto(empty_address)
    page.get_by_role("link", name="Describe the first campaign").click()

    # a form with an impossible value says which and why
    describe(page, "Tower card", "Dome bench", "Gorge flythrough", "1,5")
    page.get_by_role("navigation", name="Steps of the description").get_by_role("button", name="Rig").click()
    page.get_by_label("Part 1: maker and model").fill("Card of the tower")
    page.get_by_label("Driver").fill("41.2")
    page.get_by_role("button", name="Next: Knobs").click()
    page.get_by_label("Smallest step").fill("0")
    # what was typed is still there after a reload
    page.reload()
    assert page.get_by_label("Smallest step").input_value() == "0"
    page.get_by_role("button", name="Create the campaign").click()
    page.locator(".knob .field-trouble", has_text="never reaches another value").wait_for()
    page.get_by_label("Smallest step").fill("15")
    page.get_by_role("button", name="Create the campaign").click()

    # baseline of three, with a decimal comma
    page.get_by_text("No run yet.").wait_for()
    for value in STOCK:
        page.keyboard.press("n")
        log_run(page, str(value).replace(".", ","), **{"Mean power": "176,5"}, Room="24")
    page.get_by_test_id("mean").get_by_text("93.71").wait_for()
    low, high = stats.t.interval(0.95, 2, np.mean(STOCK), stats.sem(STOCK))
    assert page.get_by_test_id("interval").inner_text() == f"{low:.2f} to {high:.2f} fps"

    # two settings, and one that fails
    page.keyboard.press("3")
    for steps, values in ((2, LOWER), (2, UPPER), (4, [])):
        page.get_by_role("button", name="Add a setting").wait_for()
        add_setting(page, steps)
        for value in values:
            page.get_by_role("button", name="Log a run here").click()
            log_run(page, str(value), **{"Mean power": "190"})
            # the next setting starts from here, once the ladder knows it
            page.get_by_test_id("setting").first.get_by_test_id("gain").wait_for()
        if not values:
            page.get_by_role("button", name="Log a run here").click()
            log_run(page, None, outcome="System crash")

    settings = page.get_by_test_id("setting")
    assert [setting.get_attribute("data-title").replace("\u00a0", " ") for setting in settings.all()] == [
        "core clock +120 MHz", "core clock +60 MHz", "core clock +30 MHz", "stock",
    ]  # fmt: skip
    settings.nth(0).get_by_role("img", name="System crash").first.wait_for()
    groups = [STOCK, LOWER, UPPER]
    for place, values in ((1, UPPER), (2, LOWER)):
        shown = read_gain(settings.nth(place).get_by_test_id("gain").inner_text())
        assert shown == pytest.approx(expected_gain(STOCK, values, groups), abs=0.051)

    # a log dropped on the upper setting's run fills what was not typed
    settings.nth(0).locator("[data-setting]").click()
    settings.nth(1).locator("[data-setting]").click()
    settings.nth(1).get_by_role("link", name="Open").click()
    page.get_by_text("Drop a log here").wait_for()
    log = tmp_path / "attic.csv"
    rows = [f"{i / 2:g};{2400 + i % 3};{50 + i / 10:.1f};{189 + i % 2}".replace(".", ",") for i in range(120)]
    log.write_text("\n".join(["Time;Core clock MHz;Hot spot °C;Board W", *rows, "60;24"]), encoding="utf-8-sig")
    page.set_input_files("input[aria-label='Log file']", log)
    page.get_by_role("button", name="Read it like this").click()
    page.get_by_text("it was cut off").wait_for()
    page.get_by_text("The last line is cut off: drop it").click()
    page.get_by_role("button", name="Read it like this").click()
    page.get_by_role("button", name="Save the log with this run").click()
    page.get_by_role("row", name="Highest temperature 61.9 °C from the log").wait_for()
    assert page.get_by_role("row", name="Mean power 190.0 W typed").is_visible()
    assert page.get_by_text("120 rows").is_visible()

    # setting a run aside can be undone from the message itself
    page.get_by_role("button", name="Set aside").click()
    page.get_by_label("Why").fill("window was open")
    page.locator(".ant-modal-footer").get_by_role("button", name="Set aside").click()
    page.get_by_text("Set aside: window was open").wait_for()
    page.locator(".ant-message-notice", has_text="Set aside").get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Set aside").wait_for()
    refused = [said for said in page.complaints if "422" not in said]
    assert refused == []


def test_bad_files_say_what_to_do(page, empty_address, tmp_path):
    page.goto(empty_address)
    bad = tmp_path / "not.json"
    bad.write_text("{}")
    page.set_input_files("input[aria-label='Archive or campaign file']", bad)
    page.get_by_text("Trelvo did not write this file.").wait_for()
    assert page.get_by_text("Nothing was stored.").is_visible()


def test_a_campaign_goes_from_one_logbook_to_another(page, demo_address, empty_address, tmp_path):
    page.goto(f"{demo_address}/campaigns/3/prepare")
    with page.expect_download() as download:
        page.get_by_role("button", name="Download this campaign").click()
    file = tmp_path / "dome.zip"
    download.value.save_as(file)
    page.keyboard.press("3")
    page.get_by_test_id("setting").first.wait_for()
    gains = page.get_by_test_id("gain").all_inner_texts()
    assert len(gains) > 10
    page.goto(empty_address)
    page.set_input_files("input[aria-label='Archive or campaign file']", file)
    page.wait_for_url(re.compile(r"/campaigns/1/"))
    page.keyboard.press("3")
    page.get_by_test_id("setting").first.wait_for()
    assert page.get_by_test_id("gain").all_inner_texts() == gains


def test_the_runs_of_the_logbook_are_asked_for_with_the_page_and_only_once(page, demo_address):
    asked = []
    page.on("request", lambda request: asked.append(request.url.removeprefix(demo_address)))
    answer = page.goto(f"{demo_address}/logbook")
    page.get_by_test_id("logged").first.wait_for()
    page.wait_for_load_state("networkidle")
    assert "</api/logbook>" in answer.all_headers()["link"]
    assert [one for one in asked if one.startswith("/api/logbook")] == ["/api/logbook"]
    # another order is another question
    other = page.goto(f"{demo_address}/logbook?order=rising")
    page.get_by_test_id("logged").first.wait_for()
    assert "link" not in other.all_headers()
    assert any("falling=false" in one for one in asked)
    assert page.complaints == []


def test_the_whole_logbook_goes_into_another_as_an_archive(page, demo_address, empty_address, tmp_path):
    page.goto(f"{demo_address}/logbook")
    with page.expect_download() as download:
        page.get_by_test_id("archive").click()
    file = tmp_path / "logbook.zip"
    download.value.save_as(file)
    page.goto(f"{empty_address}/")
    page.get_by_role("link", name="Describe the first campaign").wait_for()
    page.set_input_files("input[aria-label='Archive or campaign file']", file)
    plan = page.get_by_test_id("import-plan")
    plan.get_by_text("Ticket desk: no fan at the counter").wait_for()
    assert plan.get_by_role("cell", name="new").count() == 7
    page.get_by_role("button", name="Import what is new").click()
    page.get_by_test_id("in-use").first.wait_for()
    assert page.get_by_test_id("next-title").count() == 7
    # twice brings nothing
    page.set_input_files("input[aria-label='Archive or campaign file']", file)
    page.get_by_text("There is nothing new in it.").wait_for()
    page.get_by_role("button", name="Close", exact=True).last.click()
    assert page.complaints == []


def test_choosing_the_power_point(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/baseline")
    page.get_by_role("heading", name="Gorge flythrough").wait_for()
    page.keyboard.press("n")
    choose(page, "Power read by", "Meter at the wall")
    assert page.locator("form").get_by_title("Meter at the wall").is_visible()
