"""Takes the pictures in docs/screenshots again, from the demo data, at 1280 x 800. Started by ./run.py shots."""

import re
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.e2e.conftest import CHROMIUM
from tests.server.process import ask, serving

FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def run_live(address: str, title: str, workload: str, speed: float) -> int:
    """Starts a run on the simulator of the dome's campaign; its number."""
    settings = ask(f"{address}/api/campaigns/3/settings")
    workloads = ask(f"{address}/api/campaigns/3")["workloads"]
    body = {
        "setting_id": next(setting["id"] for setting in settings if title in setting["title"]),
        "workload_id": next(one["id"] for one in workloads if workload in one["name"]),
        "speed": speed,
    }
    return int(ask(f"{address}/api/campaigns/3/live", body)["run_id"])


def copy_now(page: Page) -> None:
    page.locator("[data-test=copy-now]").click()
    page.get_by_role("link", name="Download", exact=True).first.wait_for()
    page.get_by_role("button", name="Check the database in full").click()
    page.locator("[data-test=checked]").wait_for()
    # the word that it is done goes away by itself
    page.locator(".ant-message-notice").wait_for(state="detached")


def type_line(page: Page) -> None:
    """The line that the advice began for a real machine, being typed on: understood so far, and what it lacks."""
    page.keyboard.press("a")
    page.wait_for_timeout(1200)
    page.keyboard.type("58,6 61c 52w wall")
    page.wait_for_timeout(800)


def wait_for(mark: str) -> Callable[[Page], None]:
    """What is computed first takes the server a second or two."""

    def wait(page: Page) -> None:
        page.locator(f"[data-test={mark}]").wait_for()
        page.wait_for_timeout(1500)

    return wait


def choose_card(page: Page) -> None:
    page.get_by_role("button", name="A graphics card").click()


def plan_tonight(page: Page) -> None:
    page.get_by_label("Time at the bench").fill("300")
    page.get_by_role("button", name="Plan it").click()
    page.locator("[data-test=stretches]").wait_for()


VIEWS: dict[str, tuple[str, Callable[[Page], None] | None, bool]] = {
    "campaigns": ("/", None, False),
    "new-campaign": ("/new", choose_card, False),
    "tonight": ("/campaigns/2/tonight", plan_tonight, False),
    "prepare": ("/campaigns/3/prepare", None, False),
    "baseline": ("/campaigns/3/baseline", None, False),
    "climb": ("/campaigns/3/climb?knob=core&setting=11", None, False),
    "climb-dim": ("/campaigns/3/climb?knob=core", None, True),
    "compare": ("/campaigns/3/compare", None, False),
    "prove": ("/campaigns/3/prove", None, False),
    "practice": ("/practice/1", None, False),
    "logbook": ("/logbook?sort=power_w", None, False),
    "keep": ("/campaigns/3/keep", None, False),
    "rig": ("/rigs/1", None, False),
    "data": ("/data", copy_now, False),
    "lab-trade-off": ("/campaigns/6/lab?sheet=trade", wait_for("untried"), False),
    "lab-heat": ("/campaigns/3/lab?sheet=heat", wait_for("heat-says"), False),
}


def show_log(page: Page) -> None:
    """The last figures, what held the part back, and the first strips."""
    page.get_by_role("button", name="Look up the rows").first.scroll_into_view_if_needed()
    page.mouse.wheel(0, 430)


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as data,
        serving(data, "--demo") as address,
        sync_playwright() as playwright,
    ):
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)

        def shoot(name: str, view: str, act: Callable[[Page], None] | None = None, dim: bool = False) -> None:
            context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB")
            page = context.new_page()
            if dim:
                page.add_init_script("localStorage.setItem('trelvo-theme', 'dim')")
            page.goto(address + view)
            page.locator("h1").wait_for()
            page.get_by_text(re.compile("^Reading .+ …$")).first.wait_for(state="detached")
            page.wait_for_timeout(1500)
            if act:
                act(page)
            page.wait_for_timeout(600)
            page.screenshot(path=FOLDER / f"{name}.png")
            context.close()

        for name, (view, act, dim) in VIEWS.items():
            shoot(name, view, act, dim)
        logged = next(one for one in ask(f"{address}/api/campaigns/7/runs")["runs"] if one["series"])
        shoot("run-with-log", f"/runs/{logged['id']}", show_log)
        shoot("quick-line", "/campaigns/5/climb?knob=voltage", type_line)
        run = run_live(address, "core clock +60", "Winter sky", 10)
        time.sleep(8)
        shoot("live-run", f"/runs/{run}")
        ask(f"{address}/api/runs/{run}/live/end", {"outcome": "safety limit", "note": "Stopped by hand."})
        browser.close()


if __name__ == "__main__":
    main()
