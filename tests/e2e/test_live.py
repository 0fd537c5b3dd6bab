"""Live runs in the browser: begun without hardware, watched, stopped, crashed, lost and found."""

import re
import subprocess
import sys
from collections import Counter
from urllib.parse import urlsplit

import pytest

from tests.e2e.conftest import choose
from tests.server.process import Served, ask, simulator_campaign


@pytest.fixture
def server(new_folder):
    """For tests that kill it, leave a question open, or count what is asked: the end of any run brings questions."""
    with Served(new_folder()) as running:
        yield running


@pytest.fixture(scope="module")
def shared(new_folder):
    """For tests that look at their own campaign only."""
    with Served(new_folder()) as running:
        yield running


def start(page, speed="60× real time", setting=None, workload=None, runs=None):
    page.keyboard.press("l")
    page.get_by_role("button", name="Start the run").wait_for()
    if setting:
        pick(page, "Settings", setting)
    if workload:
        pick(page, "Workloads", workload)
    choose(page, "Speed", speed)
    if runs:
        page.get_by_label("Runs of each").fill(runs)
    page.get_by_role("button", name=re.compile("Start the run|Line up")).click()


def agree(page):
    """Reads the caution that comes before a knob that can hurt something, and says yes to it."""
    caution = page.locator(".ant-modal-confirm").get_by_role("button", name=re.compile("^Yes, "))
    caution.click()
    caution.wait_for(state="detached")


def pick(page, label, option):
    """The one option of a list that takes several."""
    field = page.get_by_label(label, exact=True)
    box = field.locator("xpath=ancestor::div[contains(concat(' ', @class, ' '), ' ant-select ')]")
    while box.locator(".ant-select-selection-item-remove").count():
        box.locator(".ant-select-selection-item-remove").first.click()
    box.click()
    page.keyboard.type(option.split("\u00a0")[0])
    page.locator(f".ant-select-dropdown:visible .ant-select-item-option[title='{option}']").click()
    page.keyboard.press("Tab")


def test_a_new_user_without_hardware_makes_a_run(page, empty_address):
    page.goto(f"{empty_address}/new")
    page.get_by_role("button", name="The simulator").click()
    page.get_by_label("Name of the campaign").fill("A try")
    page.get_by_role("button", name="Next: Rig").click()
    page.get_by_text("heats, throttles and fails like a real one").wait_for()
    assert page.get_by_label("Name of the rig").input_value().startswith("Dome machine")
    page.get_by_label("Specimen").fill("12")
    page.get_by_role("button", name="Create the campaign").click()
    page.get_by_text("No run yet.").first.wait_for()

    # limits first: one that cannot be is refused beside its field
    page.keyboard.press("1")
    page.get_by_role("region", name="Safety limits").get_by_role("button", name="Change").click()
    page.get_by_role("button", name="Another limit").click()
    page.get_by_label("At", exact=True).fill("999")
    page.get_by_role("button", name="Save the safety limits").click()
    page.locator(".field-trouble", has_text="999 °C cannot serve as a limit of temperature").wait_for()
    page.get_by_label("At", exact=True).fill("86")
    page.get_by_role("button", name="Save the safety limits").click()
    page.get_by_role("cell", name="86 °C").wait_for()

    start(page)
    page.wait_for_url(re.compile(r"/runs/\d+"))
    # it ends by itself and shows what it measured
    page.get_by_role("heading", name="Figures").wait_for()
    assert page.get_by_text("Completed").first.is_visible()
    assert re.search(r"Average frame rate|fps", page.locator("main").inner_text())
    page.get_by_text("Drag across a chart").first.wait_for()
    # the browser notes the refusal that was asked for, and nothing else
    assert [said for said in page.complaints if "422" not in said] == []


def test_stop_note_and_crash_by_keys(page, shared):
    campaign, _, _ = simulator_campaign(shared, "Keys")
    for act in ("stop", "crash"):
        page.goto(f"{shared.address}/campaigns/{campaign['id']}/climb")
        page.get_by_role("button", name="Run on the simulator").first.wait_for()
        # half an hour, for nothing may end by itself before its key is pressed
        start(page, "1× – as it would be", workload="Kiln")
        page.locator("[data-strip='temperature']").wait_for()
        page.locator("[data-strip='core clock']").wait_for()
        page.get_by_role("button", name="more readings").wait_for()
        page.get_by_text("Held back by").wait_for()
        if act == "stop":
            page.keyboard.press("m")
            page.get_by_label("What you noticed").fill("a flicker at the left")
            page.keyboard.press("Enter")
            page.get_by_role("cell", name="a flicker at the left").wait_for()
            page.keyboard.press("s")
            page.get_by_text("Stopped at the screen.").first.wait_for()
            assert page.get_by_text("Stopped by hand").first.is_visible()
        else:
            page.keyboard.press("x")
            page.get_by_text("How did it crash?").wait_for()
            page.get_by_role("button", name="Program crash").click()
            page.get_by_role("heading", name="Figures").wait_for()
            assert page.get_by_text("Program crash").first.is_visible()
    runs = shared.ask(f"/api/campaigns/{campaign['id']}/runs")["runs"]
    assert [run["outcome"] for run in runs] == ["stopped by hand", "program crash"]


def test_a_server_killed_under_the_eyes_of_the_user(page, server):
    campaign, stock, workloads = simulator_campaign(server)
    body = {"setting_id": stock, "workload_id": workloads["Kiln"], "speed": 1}
    run = server.ask(f"/api/campaigns/{campaign['id']}/live", body)["run_id"]
    page.goto(f"{server.address}/runs/{run}")
    page.locator("[data-strip='power']").wait_for()
    server.kill()
    page.get_by_text("Connection lost; reconnecting").wait_for()
    server.start()
    # the line comes back by itself, and with it the question
    question = page.get_by_test_id("lost-run")
    question.wait_for()
    assert "Trelvo itself was stopped" in question.inner_text()
    # what had come in is drawn still, once
    assert page.locator("[data-strip='power']").count() == 1
    page.goto(server.address)
    page.get_by_test_id("lost-run").get_by_role("button", name="Something else").click()
    page.get_by_role("button", name="System crash").click()
    page.get_by_test_id("lost-run").wait_for(state="hidden")
    shown = server.ask(f"/api/runs/{run}")
    assert (shown["outcome"], len(shown["series"])) == ("system crash", 1)


def test_a_simulator_that_goes_down_is_asked_about_and_confirmed(page, server):
    campaign, _, _ = simulator_campaign(server)
    server.ask(f"/api/campaigns/{campaign['id']}/settings", {"values": {"core": 300, "power": 120}, "note": ""})
    page.goto(f"{server.address}/campaigns/{campaign['id']}/climb")
    page.get_by_role("button", name="Run on the simulator").first.wait_for()
    start(page, setting="power limit 120\u00a0%, core clock +300\u00a0MHz")
    agree(page)
    page.get_by_text("The run is written down already").wait_for()
    page.get_by_test_id("lost-run").get_by_role("button", name="Yes, no start").click()
    page.get_by_role("heading", name="Figures").wait_for()
    assert page.get_by_text("No start").first.is_visible()


def test_a_queue_fills_the_ladder(page, shared):
    campaign, _, _ = simulator_campaign(shared, "Queue")
    page.goto(f"{shared.address}/campaigns/{campaign['id']}/climb")
    page.get_by_role("button", name="Run on the simulator").first.wait_for()
    start(page, "600× real time", runs="3")
    queue = page.get_by_test_id("queue")
    queue.get_by_text("3 of 3 done").wait_for()
    page.get_by_test_id("setting").get_by_label("Completed").nth(2).wait_for()
    queue.get_by_role("button", name="Show all").click()
    assert queue.get_by_role("link", name="Open").count() == 3
    assert page.complaints == []


def test_a_setting_beyond_its_ceiling_wants_typed_words(page, shared):
    campaign, _, _ = simulator_campaign(shared, "Ceiling")
    safety_limits = {"safety_limits": [{"kind": "voltage ceiling", "limit": 0, "channel": "voltage"}]}
    shared.ask(f"/api/campaigns/{campaign['id']}/safety-limits", safety_limits, method="PUT")
    shared.ask(f"/api/campaigns/{campaign['id']}/settings", {"values": {"voltage": 25}, "note": ""})
    page.goto(f"{shared.address}/campaigns/{campaign['id']}/climb")
    page.get_by_role("button", name="Run on the simulator").first.wait_for()
    start(page, setting="voltage +25\u00a0mV")
    agree(page)
    page.get_by_text("More voltage ages a chip").wait_for()
    page.get_by_label("Typed confirmation").fill("yes")
    page.get_by_role("button", name="Start the run").click()
    page.get_by_text("If you mean it, type: voltage +25").wait_for()
    page.get_by_label("Typed confirmation").fill("voltage +25 mV")
    page.get_by_role("button", name="Start the run").click()
    page.get_by_role("cell", name="Confirmed by typing “voltage +25 mV”.").wait_for()


def test_a_token_and_the_command_to_use_it(page, shared, tmp_path):
    campaign, _, _ = simulator_campaign(shared, "Token")
    page.goto(f"{shared.address}/campaigns/{campaign['id']}/prepare")
    page.get_by_label("Token for which machine").fill("desk")
    page.get_by_role("button", name="Make a token").click()
    words = page.get_by_test_id("token").inner_text()
    # the command as it stands on the page makes a run, in a shell of a machine that has nothing yet
    command = page.get_by_test_id("command").inner_text()
    assert f"--campaign {campaign['id']} " in command
    folder = tmp_path / "machine"
    folder.mkdir()
    short = f"{command} --minutes 0.03 --every 0.2 --spool {folder}/spool".replace("python3 ", f"{sys.executable} ")
    ran = subprocess.run(
        ["sh", "-c", short], cwd=folder, timeout=300, stdin=subprocess.DEVNULL, capture_output=True, text=True
    )
    assert ran.returncode == 0, ran.stdout + ran.stderr
    assert "The run has ended." in ran.stdout
    assert shared.ask("/api/bench/campaigns", token=words)[0]["id"] == campaign["id"]
    # the same for the other shell
    choose(page, "Its system", "Windows (PowerShell)")
    other = page.get_by_test_id("command").inner_text()
    assert other.startswith("py -c ")
    assert f"; if ($?) {{ $env:TRELVO_TOKEN = '{words}'; py trelvo-agent.pyz --server {shared.address} " in other
    page.get_by_role("button", name="Withdraw").click()
    page.get_by_text("withdrawn").wait_for()


def test_a_stretch_of_a_log_in_full_detail(page, demo_address):
    logged = next(run for run in ask(f"{demo_address}/api/campaigns/3/runs")["runs"] if run["series"])
    page.goto(f"{demo_address}/runs/{logged['id']}")
    chart = page.locator("figure").first
    chart.locator("path").first.wait_for(state="attached")
    page.wait_for_load_state("networkidle")
    chart.scroll_into_view_if_needed()
    box = chart.bounding_box()
    asked = []
    page.on("request", lambda request: asked.append(request.url))
    page.mouse.move(box["x"] + box["width"] * 0.4, box["y"] + 90)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + 95, steps=5)
    page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + 95, steps=5)
    page.mouse.up()
    page.get_by_text("in full detail.").first.wait_for()
    assert any("from_s=" in url for url in asked)
    page.get_by_role("button", name="The whole log").first.click()
    page.get_by_text("Drag across a chart").first.wait_for()


def test_the_advice_is_followed_with_one_key(page, server):
    campaign, _, _ = simulator_campaign(server, "Advice")
    page.goto(f"{server.address}/campaigns/{campaign['id']}/climb?knob=core")
    advice = page.get_by_test_id("advice")
    headline = advice.get_by_test_id("next-step")
    headline.wait_for()
    choose(page, "Speed of the simulator", "600×")
    here = f"/api/campaigns/{campaign['id']}"
    # the way that was chosen is kept, and all is asked again once
    with page.expect_response(lambda answer: answer.request.method == "GET" and answer.url.endswith(here)):
        advice.get_by_label("fixed steps").check()
    headline.get_by_text("Test +15 MHz for 5 min with Kiln").wait_for()
    page.locator("h1").click()
    asked = Counter()
    page.on("request", lambda request: asked.update([f"{request.method} {urlsplit(request.url).path}"]))
    page.keyboard.press("t")
    page.wait_for_url(re.compile(r"/runs/\d+"))
    page.get_by_role("heading", name="Figures").wait_for()
    page.get_by_test_id("next-title").wait_for()
    page.get_by_test_id("held-back").wait_for()
    # from the key to the next step all that has changed is asked for once, and nothing else
    series = next(path for path in asked if path.startswith("GET /api/series/") and not path.endswith("/held-back"))
    for question in (f"GET {here}", f"POST {here}/live", f"GET {here}/cautions", series, f"{series}/held-back"):
        assert asked[question] == 1, question
    assert {f"GET {here}/{what}" for what in ("climb", "ladder", "settings", "ceiling")}.isdisjoint(asked)
    page.get_by_role("link", name="Back to the climb").click()
    page.get_by_test_id("knob-turns").get_by_role("button", name="Core clock").click()
    advice.get_by_label("fixed steps").check()
    # it held, so the next is one step further; by bisection it would be half-way to the end
    headline.get_by_text("Test +30 MHz for 5 min").wait_for()
    advice.get_by_role("row", name="bisection").get_by_text("Test +165 MHz for 5 min").wait_for()
    assert page.complaints == []
