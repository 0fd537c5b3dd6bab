"""The laboratory in the browser: laws from runs, a setting predicted and tried, heat while a run goes on."""

import re

import pytest

from tests.server.process import Served, ask

# clock in MHz, voltage in V and watts of made runs: 40 W + 130 W · f / 2300 · V²
RUNS = {(): (2300, 1.0, 170.0), (-25,): (2300, 0.975, 163.6), (-50,): (2300, 0.95, 157.3), (-75,): (2300, 0.925, 151.2)}


@pytest.fixture(scope="module")
def lab_server(new_folder):
    with Served(new_folder()) as running:
        yield running


@pytest.fixture(scope="module")
def campaign(lab_server):
    """Stock and three lower voltages of a simulator's card, with clock, voltage and watts typed; its number."""
    server = lab_server
    kind = next(one for one in server.ask("/api/simulator") if one["key"] == "dome")
    made = server.ask(
        "/api/campaigns",
        {
            "name": "Foyer card",
            "goal": "efficiency",
            "rig": {"name": "Foyer", "build": {"driver": "1.0"}, "simulator": "dome", "simulator_seed": 5},
            "knobs": [one for one in kind["knobs"] if one["key"] in ("core", "voltage")],
            "workloads": [one for one in kind["workloads"] if one["name"] in ("Gorge flythrough", "Kiln")],
        },
    )
    gorge = next(one["id"] for one in made["workloads"] if one["name"] == "Gorge flythrough")
    address = f"/api/campaigns/{made['id']}"
    (stock,) = server.ask(f"{address}/settings")
    for turned, (mhz, volt, watts) in RUNS.items():
        setting = server.ask(f"{address}/settings", {"values": {"voltage": turned[0]}, "note": ""}) if turned else stock
        for off in (-0.4, 0.0, 0.4):
            read = {"core_mhz": mhz + off, "voltage_v": volt, "power_w": watts + off}
            figures = [figure(word, value) for word, value in read.items()]
            body = {"setting_id": setting["id"], "workload_id": gorge, "outcome": "completed", "value": 93 + off / 10}
            server.ask(f"{address}/runs", body | {"duration_s": 90, "figures": figures})
    return made


def figure(word, value):
    quantity = {"core_mhz": "core clock", "voltage_v": "voltage", "power_w": "power"}[word]
    return {"quantity": quantity, "part": "tuned part", "statistic": "mean", "value": value}


def test_a_setting_is_predicted_and_becomes_a_setting(page, lab_server, campaign):
    page.goto(f"{lab_server.address}/campaigns/{campaign['id']}/climb")
    page.get_by_test_id("next-title").wait_for()
    page.keyboard.press("i")
    page.get_by_role("link", name="Power", exact=True).click()
    page.get_by_test_id("law").get_by_text("do not follow clock and voltage").wait_for()
    assert page.get_by_test_id("power-settings").locator("tbody tr").count() == 4
    page.get_by_label("Voltage", exact=True).fill("-100")
    predicted = page.get_by_test_id("predicted")
    predicted.get_by_text(re.compile(r"^14[3-7] ± \d+ W$")).wait_for()
    page.get_by_role("button", name="Try this one").click()
    page.wait_for_url(re.compile(r"/climb\?setting=\d+"))
    settings = lab_server.ask(f"/api/campaigns/{campaign['id']}/settings")
    assert {"voltage": -100} in [setting["values"] for setting in settings]


def test_a_curve_is_pasted_and_shaped(page, lab_server, campaign):
    page.goto(f"{lab_server.address}/campaigns/{campaign['id']}/lab?sheet=curve")
    page.get_by_role("button", name="Type or paste a curve").click()
    text = page.get_by_label("A voltage and a clock a line: mV or V, then MHz")
    text.fill("800;1500\n870;1400")
    page.get_by_role("button", name="Save the curve").click()
    page.get_by_text("The curve falls from 1500 to 1400 MHz").wait_for()
    text.fill("800;1500\n870;1685\n1000;2100\n1050;2300")
    page.get_by_role("button", name="Save the curve").click()
    page.get_by_label("Voltage cap").fill("870")
    page.get_by_label("Clock there").fill("2895")
    page.get_by_test_id("shaped").get_by_text("the tool allows +1000. The highest target there is 2675 MHz").wait_for()
    page.get_by_label("Clock there").fill("2000")
    page.get_by_test_id("shaped").get_by_text("needs an offset of +315 MHz there").wait_for()
    assert page.get_by_test_id("points").locator("tbody tr").count() == 4


def test_a_run_that_goes_on_says_where_it_settles(page, lab_server, campaign):
    kiln = next(one["id"] for one in campaign["workloads"] if one["name"] == "Kiln")
    stock = lab_server.ask(f"/api/campaigns/{campaign['id']}/settings")[0]["id"]
    body = {"setting_id": stock, "workload_id": kiln, "speed": 60}
    run = lab_server.ask(f"/api/campaigns/{campaign['id']}/live", body)["run_id"]
    page.goto(f"{lab_server.address}/runs/{run}")
    page.get_by_test_id("heat-now").get_by_text(re.compile(r"settles at \d+\.\d °C|°C ± \d", re.I)).wait_for()
    lab_server.ask(f"/api/runs/{run}/live/end", {"outcome": "stopped by hand", "note": ""})


def test_the_demo_shows_every_sheet(page, demo_address):
    page.goto(f"{demo_address}/campaigns/6/lab")
    page.get_by_test_id("untried").get_by_role("button", name="Try this one").first.wait_for()
    assert page.get_by_test_id("equal-speed").locator("tbody tr").count() >= 4
    page.get_by_role("link", name="Curve", exact=True).click()
    page.get_by_test_id("next-pair").wait_for()
    page.get_by_role("link", name="Heat", exact=True).click()
    page.get_by_test_id("heat-says").get_by_text("°C").wait_for()
    page.get_by_label("Temperature limit").fill("50")
    page.get_by_test_id("needs").get_by_text("not enough").first.wait_for()
    page.get_by_role("link", name="Supply and sound").click()
    page.get_by_label("At the wall").fill("332")
    page.get_by_label("Supply, rated").fill("750")
    page.get_by_test_id("supply").get_by_text("leave the supply").wait_for()
    page.get_by_test_id("learnt-droop").get_by_text("same clock").wait_for()


def test_a_split_that_pays_is_tried_with_one_click(page, demo_address):
    page.goto(f"{demo_address}/campaigns/4/lab?sheet=budget")
    page.get_by_test_id("budget-law").get_by_text("of the pace").wait_for()
    table = page.get_by_test_id("budget")
    assert table.locator("tbody tr").count() == 6
    table.get_by_role("row", name=re.compile("^power cap 28 W \\d")).get_by_role("button", name="Try").click()
    page.wait_for_url(re.compile(r"/climb\?setting=\d+"))
    # the new setting is looked at, with what runs it
    page.get_by_role("button", name=re.compile("^Run it")).first.wait_for()
    made = ask(f"{demo_address}/api/campaigns/4/settings")[-1]
    assert made["values"] == {"cap": 28, "graphics": made["values"]["graphics"]}
    assert 8 <= made["values"]["graphics"] <= 16


def test_a_log_shows_what_held_the_part_back(page, demo_address, lab_server):
    page.goto(f"{demo_address}/campaigns/3/lab?sheet=heat")
    page.get_by_test_id("heat-logs").get_by_role("link", name="Run", exact=True).first.click()
    page.get_by_test_id("held-back").get_by_text("power limit").first.wait_for()


def test_an_empty_lab_says_what_it_needs(page, demo_address):
    page.goto(f"{demo_address}/campaigns/1/lab?sheet=heat")
    page.get_by_text("No log of this rig tells of heat yet.").wait_for()
    page.get_by_role("link", name="Power", exact=True).click()
    page.get_by_text("It takes runs at three settings or more").wait_for()
    page.get_by_role("link", name="Trade-off", exact=True).click()
    page.get_by_text("No run at stock has its power read yet.").wait_for()
    page.get_by_role("link", name="Curve", exact=True).click()
    page.get_by_text("No curve yet.").wait_for()
    page.get_by_role("link", name="Budget", exact=True).click()
    page.get_by_text("No completed run has the watts of processor and graphics apart.").wait_for()


def test_a_sweep_is_laid_out_and_run_as_a_queue(page, lab_server, campaign):
    page.add_init_script("localStorage.setItem('trelvo-speed', '600')")
    page.goto(f"{lab_server.address}/campaigns/{campaign['id']}/lab?sheet=sweep")
    page.get_by_test_id("sweep").wait_for()
    page.get_by_label("From", exact=True).fill("0")
    page.get_by_label("To", exact=True).fill("30")
    page.get_by_label("Every", exact=True).fill("15")
    # a run that another test began may have come to its end meanwhile, or been stopped: then it is missing
    laid_out = lab_server.ask(f"/api/campaigns/{campaign['id']}/sweep?knob=core&first=0&last=30&every=15")
    missing = sum(not cell["runs"] for row in laid_out["rows"] for cell in row["cells"])
    assert missing in (4, 5)
    page.get_by_role("button", name=f"Run what is missing ({missing} runs)").click()
    page.get_by_test_id("queue").get_by_text(re.compile(f"of {missing} done")).wait_for()
    lab_server.ask(f"/api/campaigns/{campaign['id']}/queue/cancel", {})
