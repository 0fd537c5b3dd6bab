"""The real program in a real browser: its own process, its own data folder, Debian's Chromium."""

import os
import re
import shutil
import subprocess
import sys
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Page, sync_playwright

from tests.e2e.witness import Witness

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]


@contextmanager
def serving(folder, *more):
    """Starts the server as run.py does and gives its address once it has printed it."""
    call = [sys.executable, "-m", "trelvo.server", "serve", "--port", "0", "--no-browser", *more]
    environment = {**os.environ, "TRELVO_DATA": str(folder), "DJANGO_SETTINGS_MODULE": "trelvo.server.settings"}
    with subprocess.Popen(call, cwd=ROOT, env=environment, stdout=subprocess.PIPE, text=True) as server:
        try:
            for line in server.stdout:
                if found := re.search(r"ready at (http://\S+)/", line):
                    yield found[1]
                    break
            else:
                pytest.fail(f"the server ended with {server.wait()} before it was ready")
        finally:
            server.terminate()
            server.wait(timeout=20)


@pytest.fixture(scope="session")
def demo_address(tmp_path_factory):
    """The program with the demo data; tests that use it change nothing."""
    with serving(tmp_path_factory.mktemp("demo"), "--demo") as address:
        yield address


@pytest.fixture(scope="session")
def new_folder(tmp_path_factory):
    """Makes data folders with an empty logbook: made once by the program itself, then copied, which is much faster."""
    first = tmp_path_factory.mktemp("first")
    with serving(first):
        pass

    def make():
        return shutil.copytree(first, tmp_path_factory.mktemp("new"), dirs_exist_ok=True)

    return make


@pytest.fixture(scope="session")
def shared_address(new_folder):
    """The program with what other tests have left; for tests that make a campaign of their own and look at nothing else."""
    with serving(new_folder()) as address:
        yield address


@pytest.fixture
def empty_address(new_folder):
    """The program with an empty logbook."""
    with serving(new_folder()) as address:
        yield address


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        playwright.selectors.set_test_id_attribute("data-test")
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield chromium
        chromium.close()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item, call):
    report = yield
    witness = getattr(item, "witness", None)
    if report.failed and call.when == "call" and witness and not witness.page.is_closed():
        report.sections.append(("Browser", witness.report()))
    return report


@pytest.fixture
def page(browser, request):
    """A page of a fresh visitor that notes everything the browser complains about."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB", timezone_id="Europe/Berlin")
    context.grant_permissions(["clipboard-read", "clipboard-write"])
    fresh = context.new_page()

    # a busy machine may take its time; what never comes fails all the same
    fresh.set_default_timeout(60_000)
    witness = request.node.witness = Witness(fresh)
    fresh.complaints = witness.complaints
    yield fresh
    context.close()


def choose(page: Page, label: str, option: str) -> None:
    """Chooses an option of a drop-down by the words on the screen."""
    field = page.get_by_label(label, exact=True).last
    field.locator("xpath=ancestor::div[contains(concat(' ', @class, ' '), ' ant-select ')]").click()
    page.locator(f".ant-select-dropdown:visible .ant-select-item-option[title='{option}']").click()
