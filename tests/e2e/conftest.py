"""The real program in a real browser: its own process, its own data folder, Debian's Chromium."""

import itertools

import pytest
from playwright.sync_api import Page, expect, sync_playwright

from tests.e2e.kept_page import VIEWPORT, KeptPage, waiting_room
from tests.e2e.witness import LISTEN, Witness
from tests.server.process import ask, serving

# a busy machine may take its time; what never comes fails all the same
PATIENCE_MS = 120_000
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]


@pytest.fixture(scope="session")
def demo_address(tmp_path_factory):
    """The program with the demo data; tests that use it change nothing."""
    with serving(tmp_path_factory.mktemp("demo"), "--demo") as address:
        yield address


@pytest.fixture(scope="session")
def new_folder(tmp_path_factory):
    """Makes data folders; the server that is started on one finds an empty logbook there."""
    return lambda: tmp_path_factory.mktemp("new")


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


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item, call):
    report = yield
    item.failed = getattr(item, "failed", False) or report.failed
    witness = getattr(item, "witness", None)
    if report.failed and call.when == "call" and witness and not witness.page.is_closed():
        report.sections.append(("Browser", witness.report()))
    return report


@pytest.fixture(scope="session")
def context(tmp_path_factory):
    """One browser with a profile of its own: only with one does it keep what it compiled of the screens from page to page."""
    with sync_playwright() as playwright:
        playwright.selectors.set_test_id_attribute("data-test")
        context = playwright.chromium.launch_persistent_context(
            tmp_path_factory.mktemp("profile"),
            executable_path="/usr/bin/chromium",
            args=CHROMIUM,
            viewport=VIEWPORT,
            locale="en-GB",
            timezone_id="Europe/Berlin",
            permissions=["clipboard-read", "clipboard-write"],
        )
        context.set_default_timeout(PATIENCE_MS)
        expect.set_options(timeout=PATIENCE_MS)
        # a visitor comes with nothing kept from the one before
        context.add_init_script("""if (window.name !== 'known' && location.protocol === 'http:') {
            localStorage.clear()
            sessionStorage.clear()
            window.name = 'known'
        }""")
        context.add_init_script(LISTEN)
        yield context
        context.close()


@pytest.fixture(scope="session")
def kept_page(context):
    with waiting_room() as address:
        yield KeptPage(context, address)


@pytest.fixture
def page(kept_page, request):
    """A page of a fresh visitor that notes everything the browser complains about."""
    page = kept_page.page()
    witness = request.node.witness = Witness(page)
    page.complaints = witness.complaints
    yield page
    witness.leave()
    kept_page.spoilt |= request.node.failed
    kept_page.leave()


def until(page: Page, expression: str, arg: object = None) -> None:
    """Waits until an expression of the page is true; asked from outside, for the page's own policy lets no text be run."""
    for _ in range(PATIENCE_MS // 50):
        if page.evaluate(expression, arg):
            return
        page.wait_for_timeout(50)
    raise AssertionError(f"never true: {expression}")


# a rig's name stands for one rig
_numbers = itertools.count(1)


def small_campaign(address: str) -> int:
    """Describes a campaign of one knob and one workload, nothing run yet; its number."""
    number = next(_numbers)
    core = {"key": "core", "name": "Core clock", "unit": "MHz", "stock": 0, "step": 15, "low": -300, "high": 300}
    gorge = {"name": "Gorge", "measure": "frame rate", "unit": "fps", "higher_is_better": True, "minutes": 1}
    rig = {"name": f"Bench {number}", "build": {"driver": "1.0"}}
    body = {"name": f"Up {number}", "goal": "speed", "rig": rig, "knobs": [core | {"away": 1}], "workloads": [gorge]}
    return ask(f"{address}/api/campaigns", body)["id"]


def describe(page: Page, campaign: str, rig: str, workload: str, minutes: str = "1") -> None:
    """Goes through the steps of a new campaign of one knob and one workload; all but the last press of a button."""
    page.get_by_label("Name of the campaign").fill(campaign)
    page.get_by_role("button", name="Next: Rig").click()
    page.get_by_label("Name of the rig").fill(rig)
    page.get_by_role("button", name="Next: Knobs").click()
    page.get_by_role("button", name="Core clock", exact=True).click()
    page.get_by_role("button", name="Next: Workloads").click()
    page.locator(".workload").get_by_label("Name").fill(workload)
    page.get_by_label("Minutes a run").fill(minutes)


def choose(page: Page, label: str, option: str) -> None:
    """Chooses an option of a drop-down by the words on the screen."""
    # one that is still sliding shut has options, too, and a click would wait for one of these
    page.locator(".ant-select-dropdown:visible").first.wait_for(state="hidden")
    field = page.get_by_label(label, exact=True).last
    field.locator("xpath=ancestor::div[contains(concat(' ', @class, ' '), ' ant-select ')]").click()
    page.locator(f".ant-select-dropdown:visible .ant-select-item-option[title='{option}']").click()
