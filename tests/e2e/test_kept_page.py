"""The page that goes from test to test: whoever comes next has seen nothing. And what a test that fails tells of it."""

import re

LEFT = "[localStorage.length, sessionStorage.length, document.cookie, window.innerWidth]"


def test_nothing_of_a_visitor_is_left_to_the_next(page, kept_page, shared_address):
    page.goto(shared_address)
    page.get_by_role("button", name="Dim theme").click()
    page.evaluate("sessionStorage.setItem('draft', '1'), document.cookie = 'known=1'")
    page.set_viewport_size({"width": 820, "height": 800})
    assert page.evaluate(LEFT) != [0, 0, "", 1280]
    kept_page.leave()
    assert kept_page.page() is page
    page.goto(shared_address)
    page.get_by_role("button", name="Dim theme").wait_for()
    assert page.evaluate("document.cookie") == ""
    kept = page.evaluate("[sessionStorage.getItem('draft'), localStorage.getItem('trelvo-theme')]")
    assert kept == [None, "as the system"]
    assert page.viewport_size == {"width": 1280, "height": 800}


def test_a_page_with_a_script_before_each_page_goes_to_nobody_else(page, kept_page, shared_address):
    page.add_init_script("window.changed = true")
    page.goto(shared_address)
    assert page.evaluate("window.changed")
    kept_page.leave()
    other = kept_page.page()
    other.goto(shared_address)
    assert other.evaluate("window.changed") is None


def test_a_test_that_fails_tells_what_was_asked_and_what_was_on_the_page(page, request, shared_address):
    page.route(re.compile("/api/campaigns"), lambda route: None)
    page.goto(shared_address)
    page.get_by_text("Reading").first.wait_for()
    page.evaluate("console.error('something broke')")
    told = request.node.witness.report()
    assert re.search(r"\d s GET http\S+/api/campaigns\S*: no answer yet", told)
    assert re.search(r"\d s GET http\S+/api/session: 200 at \d", told)
    assert "something broke" in told
    assert "Reading" in told
