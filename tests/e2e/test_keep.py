"""Keeping, using, failing months later, finding the cause, keeping less: in the browser, on the simulator."""

import itertools
import re

import pytest

from tests.e2e.conftest import choose, until
from tests.server.process import Served

SEED, EDGE_MOVED = 28, 11
_numbers = itertools.count(1)


@pytest.fixture(scope="module")
def kept_server(new_folder):
    with Served(new_folder()) as running:
        yield running


@pytest.fixture
def climbed(kept_server):
    """A campaign of the simulator with stock and one tuned setting, each workload twice; its number."""
    server = kept_server
    kind = next(one for one in server.ask("/api/simulator") if one["key"] == "dome")
    campaign = server.ask(
        "/api/campaigns",
        {
            "name": "Evening shows",
            "goal": "speed",
            "rig": {
                "name": f"Tower card {next(_numbers)}",
                "build": {"driver": "1.0"},
                "simulator": "dome",
                "simulator_seed": SEED,
            },
            "knobs": [one for one in kind["knobs"] if one["key"] in ("core", "power")],
            "workloads": [one for one in kind["workloads"] if one["name"] == "Gorge flythrough"],
        },
    )
    stock = server.ask(f"/api/campaigns/{campaign['id']}/settings")[0]
    tuned = server.ask(f"/api/campaigns/{campaign['id']}/settings", {"values": {"core": 45}, "note": ""})
    gorge = campaign["workloads"][0]["id"]
    for setting, values in ((stock, (93.6, 93.4, 93.8)), (tuned, (95.9, 96.1, 96.0))):
        for value in values:
            body = {"setting_id": setting["id"], "workload_id": gorge, "outcome": "completed", "value": value}
            server.ask(f"/api/campaigns/{campaign['id']}/runs", body | {"duration_s": 600, "figures": []})
    return campaign["id"], gorge


def test_kept_used_failed_found_out_and_kept_at_less(page, kept_server, climbed):
    campaign_id, gorge = climbed
    page.add_init_script("localStorage.setItem('trelvo-speed', '1800')")
    page.goto(f"{kept_server.address}/campaigns/{campaign_id}/climb")
    page.get_by_test_id("next-title").wait_for()
    page.keyboard.press("6")
    page.get_by_test_id("candidates").get_by_role("button", name="core clock +45 MHz").click()
    page.get_by_test_id("components").get_by_text("The tuned part: ").wait_for()
    page.get_by_label("Name", exact=True).fill("Evenings")
    page.get_by_role("button", name="Keep this setting").click()
    card = page.get_by_test_id("kept-setting")
    card.get_by_text("+45 MHz").first.wait_for()
    assert card.get_by_test_id("proof-state").inner_text() == "not shown to be stable yet"

    # hours with one key, a slip taken back, then hours on the simulator
    page.keyboard.press("u")
    page.get_by_label("Hours of use without a failure").fill("-4")
    page.get_by_role("button", name="Log the hours").click()
    page.get_by_text("−4 hours of use cannot be.").first.wait_for()
    page.get_by_label("Hours of use without a failure").fill("12")
    page.get_by_role("button", name="Log the hours").click()
    card.get_by_test_id("use-says").filter(has_text="no failure").wait_for()
    page.locator(".ant-message-notice", has_text="Hours logged").get_by_role("button", name="Undo").click()
    card.get_by_test_id("use-says").filter(has_text="no hours of use logged yet").wait_for()
    kept_setting = kept_server.ask("/api/kept-settings")[0]
    kept_server.ask(
        f"/api/kept-settings/{kept_setting['id']}/simulator-time", {"workload_id": gorge, "seed": EDGE_MOVED}
    )
    card.get_by_text("On the simulator: use it for hours in one go").click()
    card.get_by_label("Hours", exact=True).fill("200")
    card.get_by_role("button", name="Use it", exact=True).click()

    # it fails; the tests are followed to the culprit, which is the truth
    search = page.get_by_test_id("search")
    search.wait_for()
    assert card.get_by_test_id("proof-state").inner_text() == "failed in use"
    probe, culprit = search.get_by_test_id("probe"), search.get_by_test_id("culprit")
    for _ in range(6):
        probe.or_(culprit).first.wait_for()
        if culprit.count():
            break
        before = probe.inner_text()
        search.get_by_role("button", name="Try it on the simulator").click()
        until(page, "was => document.querySelector('[data-test=probe]')?.innerText !== was", before)
    assert culprit.inner_text().startswith("The edge has moved")
    search.get_by_role("button", name="It was edge moved").click()
    card.get_by_test_id("kept-setting-next").filter(has_text="the tuning was to blame").wait_for()

    # a step down is run, and kept instead
    lower = re.search(r"Step down to (.+), and keep that", card.get_by_test_id("kept-setting-next").inner_text())[1]
    assert lower != "core clock +45 MHz"
    if lower == "stock":
        page.get_by_test_id("candidates").get_by_role("button", name="stock").click()
    else:
        card.get_by_test_id("kept-setting-next").get_by_role("button", name="Run it").click()
        page.get_by_test_id("candidates").get_by_role("button", name=lower).wait_for(timeout=120_000)
        page.get_by_test_id("components").get_by_role("heading", name=lower).wait_for()
    page.get_by_label("Name", exact=True).fill("Evenings, older")
    # the head says the same: run it first, then keep it
    page.get_by_test_id("next-title").filter(has_text=f"Keep {lower} instead.").first.wait_for()
    page.get_by_role("button", name=re.compile("^Keep (this setting|stock)$")).click()
    page.get_by_test_id("kept-setting").filter(has_text="Evenings, older").get_by_text("In use since").wait_for()
    earlier = page.get_by_test_id("kept-setting").filter(has_text="Not in use")
    assert earlier.count() == 1
    earlier.get_by_role("button", name="No longer keep").click()
    page.get_by_label("Why").fill("its edge has moved")
    page.get_by_role("dialog").get_by_role("button", name="No longer keep").click()
    earlier.wait_for(state="detached")
    given_up = kept_server.ask(f"/api/kept-settings/{kept_setting['id']}")
    assert given_up["reason"] == "its edge has moved"
    assert [said for said in page.complaints if "422" not in said] == []


def test_a_knob_is_parted_from_its_component_and_joined_again(page, kept_server, climbed):
    campaign_id, _ = climbed
    page.goto(f"{kept_server.address}/campaigns/{campaign_id}/keep")
    components = page.get_by_test_id("components")
    components.get_by_text("The tuned part: ").wait_for()
    components.get_by_text("Group knobs").click()

    choose(page, "Core clock", "On its own")
    components.get_by_text("Core clock: ").wait_for()
    # parted, it can be put into the other component by hand, or left to its part again
    choose(page, "Core clock", "Its part")
    components.get_by_text("Core clock: ").wait_for(state="detached")
    components.get_by_text("The tuned part: ").wait_for()


def test_the_story_is_handed_on_in_full_and_in_short(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/keep")
    with page.expect_download() as download:
        page.get_by_role("button", name="Report (HTML)").click()
    report = download.value.path().read_text(encoding="utf-8")
    assert download.value.suggested_filename == "dome-hold-72-through-the-summer-show-report.html"
    assert "<script" not in report
    page.get_by_role("button", name="Short, for a post").click()
    short = page.get_by_test_id("short-report")
    short.wait_for()
    assert len(short.inner_text().splitlines()) <= 12
    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_text("Copied.").wait_for()
    assert page.evaluate("navigator.clipboard.readText()").splitlines() == short.inner_text().splitlines()
    with page.expect_download() as picture:
        page.get_by_role("button", name="Picture (PNG)").click()
    assert picture.value.path().read_bytes()[:8] == b"\x89PNG\r\n\x1a\n"
    assert page.complaints == []


def test_the_years_of_a_rig_and_its_journal(page, kept_server, climbed):
    rig = kept_server.ask(f"/api/campaigns/{climbed[0]}")["rig_id"]
    page.goto(f"{kept_server.address}/rigs/{rig}")
    page.get_by_text("Nothing yet.").first.wait_for()
    page.keyboard.press("j")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("Text: please fill this in.").first.wait_for()
    page.get_by_label("In your words (Markdown is understood)").fill(
        "Dust out, **fans** oiled. <img src=x onerror=alert(1)>"
    )
    page.get_by_label("Day (blank = now)").fill("tomorrow")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("tomorrow is no day.").first.wait_for()
    page.get_by_label("Day (blank = now)").fill("")
    page.get_by_role("button", name="Save", exact=True).click()
    journal = page.get_by_test_id("journal")
    journal.locator("strong", has_text="fans").wait_for()
    assert journal.locator("img").count() == 0
    journal.get_by_role("button", name="Take out").click()
    journal.get_by_text("Nothing yet.").wait_for()
    page.locator(".ant-message-notice", has_text="Taken out").get_by_role("button", name="Undo").click()
    journal.locator("strong", has_text="fans").wait_for()
    page.get_by_text(re.compile(r"^In words")).click()
    page.get_by_test_id("timeline").get_by_role("listitem").filter(has_text="Dust out").wait_for()
    assert [said for said in page.complaints if "422" not in said] == []


def test_cautions_and_their_sums(page, kept_server, climbed):
    page.goto(f"{kept_server.address}/campaigns/{climbed[0]}/prepare")
    cautions = page.get_by_test_id("cautions")
    cautions.get_by_text("A raised power limit loads cables, connectors and board").click()
    cautions.get_by_role("button", name="Yes, I have read this").first.click()
    cautions.get_by_text(re.compile("yes on ")).wait_for()
    cautions.get_by_text("Load on power connectors").click()
    page.get_by_label("The card draws").fill("340")
    page.get_by_label("of it through the slot").fill("28,8")
    cautions.get_by_role("button", name="Work it out").click()
    # Ohm's law: 311.2 W over two plugs of 150 W are 25.9 A at 12 V
    said = page.get_by_test_id("connector-sum")
    said.wait_for()
    assert "25.9 A at 12 V, 104 %. More than they are rated for" in said.inner_text()


def test_the_card_to_print_says_everything_on_one_page(page, demo_address):
    page.goto(f"{demo_address}/kept-settings/2/card")
    card = page.get_by_test_id("print-card")
    card.get_by_role("heading", name="Cautions").wait_for()
    words = card.inner_text()
    for said in ("What to type, in this order", "How to go back", "What it rests on", "Cautions", "Makers' limits"):
        assert said in words
    page.emulate_media(media="print")
    # A4 at 96 dots an inch, less its margins
    assert card.bounding_box()["height"] < 1050
