"""Every view with the demo data: nothing complains, nothing is cut off sideways, and it works by keyboard."""

import re
from pathlib import Path

import pytest

from tests.e2e.conftest import until

VIEWS = [
    "/",
    "/new",
    "/campaigns/1/climb",
    "/campaigns/2/baseline",
    "/campaigns/3/prepare",
    "/campaigns/4/prepare",
    "/campaigns/2/tonight",
    "/new?step=workloads",
    "/campaigns/3/baseline",
    "/campaigns/3/climb",
    "/campaigns/3/climb?knob=core",
    "/campaigns/3/prove",
    "/campaigns/1/prove",
    "/campaigns/3/compare",
    "/campaigns/1/compare",
    "/campaigns/1/keep",
    "/campaigns/3/keep",
    "/campaigns/5/keep",
    "/campaigns/6/lab",
    "/campaigns/6/lab?sheet=power",
    "/campaigns/6/lab?sheet=curve",
    "/campaigns/6/lab?sheet=sweep",
    "/campaigns/4/lab?sheet=budget",
    "/campaigns/3/lab?sheet=heat",
    "/campaigns/3/lab?sheet=supply",
    "/rigs/1",
    "/kept-settings/1/card",
    "/runs/20",
    "/logbook",
    "/data",
    "/practice",
    "/practice/1",
    "/nowhere",
]


AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
# only colours differ between the themes
SERIOUS = """async colours => (await axe.run(document, {
        resultTypes: ['violations'], ...(colours ? {runOnly: {type: 'rule', values: ['color-contrast']}} : {})
    })).violations
    .filter(one => ['serious', 'critical'].includes(one.impact))
    .map(one => `${one.id}: ${one.nodes[0].html.slice(0, 200)}`)"""


UNNAMED = """() => [...document.querySelectorAll('input:not([type=hidden]), select, textarea, button, a[href]')]
  .filter(e => e.offsetParent !== null && e.tabIndex >= 0)
  .filter(e => !(e.labels?.length || e.getAttribute('aria-label') || e.getAttribute('aria-labelledby')
      || e.textContent.trim() || e.title || e.querySelector('[aria-label], title') || e.closest('.ant-select-multiple')))
  .map(e => e.outerHTML.slice(0, 120))"""
# what has a light ground anywhere in the content
LIGHT = """() => [...document.querySelectorAll('main *')].filter(e => {
    const [r, g, b, a = 1] = (getComputedStyle(e).backgroundColor.match(/[\\d.]+/g) ?? []).map(Number)
    return a > 0.5 && r + g + b > 600 && e.clientWidth > 40 && e.clientHeight > 20
  }).map(e => e.className)"""


@pytest.mark.parametrize("view", VIEWS)
def test_a_view_is_whole(page, demo_address, view):
    page.goto(demo_address + view)
    page.locator("h1").first.wait_for()
    page.wait_for_load_state("networkidle")
    # on a slow machine the answers are there before what is drawn of them
    page.locator("main [role=status]").filter(has_text=re.compile("^Reading ")).first.wait_for(state="detached")
    assert page.complaints == []
    assert not re.search(r"NaN|Infinity|undefined|null", page.locator("main").inner_text())
    assert page.locator("h1").count() == 1
    # everything that can be used has a name
    assert page.evaluate(UNNAMED) == []
    for width in (1280, 820, 390):
        page.set_viewport_size({"width": width, "height": 800})
        # charts follow a moment after the window
        until(page, "width => document.documentElement.scrollWidth <= width", width)
    # what someone who cannot see it is told: by axe-core, in both themes
    page.set_viewport_size({"width": 1280, "height": 800})
    page.evaluate(AXE.read_text())
    assert page.evaluate(SERIOUS, False) == []
    page.get_by_role("button", name="Dim theme").click()
    # no light ground is left over; and colours that are still on their way to the other theme are nobody's
    until(page, f"({LIGHT})().length === 0")
    until(page, "document.getAnimations().every(one => one.playState !== 'running')")
    assert page.evaluate(SERIOUS, True) == []
    assert page.complaints == []


def test_nothing_is_fetched_from_elsewhere(page, demo_address):
    asked = []
    page.on("request", lambda request: asked.append(request.url))
    page.goto(f"{demo_address}/campaigns/3/baseline")
    page.wait_for_load_state("networkidle")
    assert len(asked) > 5
    assert [url for url in asked if not url.startswith((demo_address, "data:", "blob:"))] == []


def test_the_quick_line_has_the_width_of_a_phone(page, demo_address):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo_address}/campaigns/3/climb")
    page.get_by_test_id("setting").first.wait_for()
    page.keyboard.press("q")
    page.keyboard.type("core 900 crash")
    page.get_by_text("is outside the range").wait_for()
    for part in (page.get_by_label(re.compile("^Quick line")), page.get_by_text("Understood:").locator("..")):
        assert part.bounding_box()["width"] > 300


def test_the_climb_by_keyboard(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3")
    page.wait_for_url(re.compile("/climb"))
    page.get_by_test_id("setting").first.wait_for()
    focused = "document.activeElement.getAttribute('aria-label')"
    for _ in range(6):
        page.keyboard.press("ArrowUp")
        page.wait_for_timeout(50)
        if page.evaluate(focused) == "power limit 110\u00a0%":
            break
    page.keyboard.press("Enter")
    opened = page.get_by_test_id("setting").locator("[aria-expanded=true]")
    assert opened.get_attribute("aria-label") == "power limit 110\u00a0%"
    page.keyboard.press("?")
    page.get_by_role("heading", name="How a run can end").wait_for()
    page.keyboard.press("Escape")
    page.get_by_role("heading", name="How a run can end").wait_for(state="hidden")
    page.keyboard.press("2")
    page.wait_for_url(re.compile("/baseline"))


def test_what_is_shown_can_be_kept_as_an_address(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/climb")
    page.get_by_test_id("workload").select_option(label="Lantern render")
    page.wait_for_url(re.compile(r"workload=\d+"))
    page.get_by_text("J/pass").wait_for()
    page.reload()
    page.get_by_text("J/pass").wait_for()
    page.go_back()
    page.get_by_text("frames/J").wait_for()


def test_a_stale_baseline_says_so(page, demo_address):
    page.goto(f"{demo_address}/campaigns/2/baseline")
    page.get_by_text("Stock was measured under an earlier build.").wait_for()


def test_copy_and_downloads(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/climb")
    page.get_by_test_id("setting").first.wait_for()
    page.get_by_role("button", name="Copy").last.click()
    page.get_by_role("button", name="Copied").wait_for()
    rows = page.evaluate("navigator.clipboard.readText()").split("\n")
    assert rows[0].split("\t")[:2] == ["Power limit %", "Core clock MHz"]
    assert len(rows) == page.get_by_test_id("setting").count() + 1
    page.keyboard.press("2")
    page.get_by_role("heading", name="Gorge flythrough").wait_for()
    for kind in ("CSV", "SVG", "PNG"):
        with page.expect_download() as download:
            page.locator("figure").first.get_by_role("button", name=kind).click()
        assert download.value.suggested_filename == f"Gorge flythrough at stock.{kind.lower()}"


def test_the_dim_bench_stays_dim(page, demo_address):
    page.goto(demo_address)
    page.get_by_role("button", name="Dim theme").click()
    page.reload()
    page.get_by_role("button", name="Light theme").wait_for()
    assert page.evaluate("getComputedStyle(document.body).backgroundColor") == "rgb(20, 25, 28)"


def test_a_server_that_is_away(page, demo_address):
    page.goto(f"{demo_address}/campaigns/3/baseline")
    page.get_by_role("heading", name="Gorge flythrough").wait_for()
    page.route("**/api/campaigns/*/runs", lambda route: route.abort())
    page.keyboard.press("n")
    page.get_by_label("Average frame rate").fill("93.5")
    page.get_by_role("button", name="Log the run").click()
    page.get_by_text("Trelvo’s server does not answer.").wait_for()
    assert page.get_by_label("Average frame rate").input_value() == "93.5"
