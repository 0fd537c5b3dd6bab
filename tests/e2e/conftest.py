"""The real program in a real browser: its own process, its own data folder, Debian's Chromium."""

import itertools
import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest
from playwright.sync_api import Page, expect, sync_playwright

from tests.e2e.witness import Witness
from tests.server.process import ask, serving

CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]

VIEWPORT = {"width": 1280, "height": 800}


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
        # a busy machine may take its time; what never comes fails all the same
        context.set_default_timeout(60_000)
        expect.set_options(timeout=60_000)
        # a visitor comes with nothing kept from the one before
        context.add_init_script("""if (window.name !== 'known' && location.protocol === 'http:') {
            localStorage.clear()
            sessionStorage.clear()
            window.name = 'known'
        }""")
        yield context
        context.close()


class KeptPage:
    """A page that goes from test to test: a new one loads and compiles everything anew, which is half of what it costs.

    What a test did to it that nobody can take back (a script before each page, a failure, an end) brings a new one.
    """

    def __init__(self, context, waiting_room):
        self.context, self.waiting_room, self.page, self.spoilt = context, waiting_room, None, True

    def fresh(self):
        """A page of a visitor who has seen nothing yet, with a witness of its own."""
        if self.spoilt or self.page.is_closed():
            self.leave()
            self.page, self.spoilt = self.context.new_page(), False
            add = self.page.add_init_script
            self.page.add_init_script = lambda *words: (setattr(self, "spoilt", True), add(*words))
        return self.page, Witness(self.page)

    def leave(self):
        if self.page and not self.page.is_closed():
            self.page.close()

    def wipe(self):
        """Nothing of this visitor is left to the next."""
        self.page.unroute_all(behavior="ignoreErrors")
        self.page.goto(self.waiting_room)
        self.page.evaluate("window.name = ''")
        self.page.emulate_media(media="null", color_scheme="null", reduced_motion="null")
        self.page.set_viewport_size(VIEWPORT)


@pytest.fixture(scope="session")
def waiting_room():
    """An empty page at the servers' own site: anywhere else the browser would begin a new process, which knows nothing."""

    class Empty(BaseHTTPRequestHandler):
        def do_GET(self):
            self.send_response(200)
            self.send_header("Content-Type", "text/html")
            self.end_headers()

        def log_message(self, *words):
            pass

    with ThreadingHTTPServer(("127.0.0.1", 0), Empty) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield f"http://127.0.0.1:{server.server_port}/"
        server.shutdown()


@pytest.fixture(scope="session")
def kept_page(context, waiting_room):
    return KeptPage(context, waiting_room)


@pytest.fixture
def page(context, kept_page, request):
    """A page of a fresh visitor that notes everything the browser complains about."""
    page, witness = kept_page.fresh()
    request.node.witness = witness
    page.complaints = witness.complaints
    yield page
    witness.leave()
    context.clear_cookies()
    if request.node.failed:
        kept_page.spoilt = True
    if not kept_page.spoilt and not page.is_closed():
        kept_page.wipe()


def until(page: Page, expression: str, arg: object = None) -> None:
    """Waits until an expression of the page is true; asked from outside, for the page's own policy lets no text be run."""
    for _ in range(1200):
        if page.evaluate(expression, arg):
            return
        page.wait_for_timeout(50)
    raise AssertionError(f"not true within a minute: {expression}")


# a rig's name stands for one rig
_numbers = itertools.count(1)


def small_campaign(address: str) -> int:
    """Describes a campaign of one knob and one workload, nothing run yet; its number."""
    number = next(_numbers)
    core = {"key": "core", "name": "Core clock", "unit": "MHz", "stock": 0, "step": 15, "low": -300, "high": 300}
    gorge = {"name": "Gorge", "measure": "frame rate", "unit": "fps", "higher_is_better": True, "minutes": 1}
    rig = {"name": f"Bench {number}", "fitting": {"driver": "1.0"}}
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
