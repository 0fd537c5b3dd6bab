"""Takes the pictures in docs/screenshots anew, from the demo data, at 1280 x 800. Started by ./run.py shots."""

import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.e2e.conftest import CHROMIUM, serving

FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def open_rung(page: Page) -> None:
    page.locator("[data-rung]").nth(1).click()


def down(page: Page) -> None:
    page.mouse.wheel(0, 300)


def open_form(page: Page) -> None:
    page.keyboard.press("n")


VIEWS: dict[str, tuple[str, Callable[[Page], None] | None, bool]] = {
    "campaigns": ("/", None, False),
    "new-campaign": ("/new", None, False),
    "prepare": ("/campaigns/3/prepare", None, False),
    "baseline": ("/campaigns/3/baseline", None, False),
    "climb": ("/campaigns/3/climb", open_rung, False),
    "climb-dim": ("/campaigns/3/climb", None, True),
    "log-a-run": ("/campaigns/3/climb", open_form, False),
    "compare": ("/campaigns/3/compare", down, False),
    "run-with-log": ("/runs/18", None, False),
}


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as data,
        serving(data, "--demo") as address,
        sync_playwright() as playwright,
    ):
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        for name, (view, act, dim) in VIEWS.items():
            context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB")
            page = context.new_page()
            if dim:
                page.add_init_script("localStorage.setItem('trelvo-theme', 'dim')")
            page.goto(address + view)
            page.wait_for_load_state("networkidle")
            if act:
                act(page)
            page.wait_for_timeout(600)
            page.screenshot(path=FOLDER / f"{name}.png")
            context.close()
        browser.close()


if __name__ == "__main__":
    main()
