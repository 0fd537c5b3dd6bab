"""The data as a whole: a copy is made and restore, trouble with the disk is said on every page, licences are listed."""

import pytest
from playwright.sync_api import expect

from tests.server.process import ask


def test_a_copy_is_made_and_put_back(page, empty_address):
    ask(f"{empty_address}/api/rigs", {"name": "Before", "build": {}})
    page.goto(f"{empty_address}/data")
    page.get_by_test_id("copy-now").click()
    row = page.get_by_role("row", name="made when asked for")
    row.wait_for()
    with page.expect_download() as waiting:
        row.get_by_role("link", name="Download").click()
    copy = waiting.value.path()
    ask(f"{empty_address}/api/rigs", {"name": "After", "build": {}})
    row.get_by_role("button", name="Put back…").click()
    page.get_by_text("It replaces all that is here now").wait_for()
    page.get_by_role("button", name="Replace the logbook").click()
    page.get_by_role("row", name="what was there before a copy was put back").wait_for()
    assert [one["name"] for one in ask(f"{empty_address}/api/rigs")] == ["Before"]
    # the downloaded file does the same
    ask(f"{empty_address}/api/rigs", {"name": "Again", "build": {}})
    page.set_input_files(
        "input[aria-label='Copy to put back']", {"name": "my.sqlite3", "mimeType": "", "buffer": copy.read_bytes()}
    )
    page.get_by_role("button", name="Replace the logbook").click()
    expect(page.get_by_role("row", name="what was there before a copy was put back")).to_have_count(2)
    assert [one["name"] for one in ask(f"{empty_address}/api/rigs")] == ["Before"]
    page.get_by_role("button", name="Check the database in full").click()
    assert "Every page and index is whole" in page.get_by_test_id("checked").inner_text()


def test_a_file_that_is_no_copy_is_refused_in_words(page, empty_address):
    page.goto(f"{empty_address}/data")
    page.get_by_test_id("copy-now").wait_for()
    page.set_input_files(
        "input[aria-label='Copy to put back']", {"name": "log.csv", "mimeType": "", "buffer": b"time,temp\n0,1\n"}
    )
    page.get_by_role("button", name="Replace the logbook").click()
    page.get_by_text("is no database").wait_for()
    # the browser notes every refusal of the server by itself
    page.complaints.clear()


@pytest.mark.parametrize(
    ("health", "words"),
    [
        (
            {"status": "not writable", "writable": False, "free_mb": 0, "words": "The disk is full."},
            "Nothing can be written now.",
        ),
        (
            {"status": "low on room", "writable": True, "free_mb": 90, "words": "Only 90 MB are free."},
            "Little room left.",
        ),
    ],
)
def test_trouble_with_the_disk_is_said_on_every_page(page, shared_address, health, words):
    page.route("**/api/health", lambda route: route.fulfill(json=health))
    for path in ("/", "/logbook", "/data"):
        page.goto(shared_address + path)
        assert f"{words} {health['words']}" in page.get_by_test_id("health").inner_text()


def test_others_work_is_named_with_its_licence(page, shared_address):
    page.goto(f"{shared_address}/data")
    page.get_by_role("button", name="Show the list").click()
    table = page.get_by_test_id("licences")
    for name in ("Django", "vue", "echarts", "numpy"):
        expect(table.get_by_role("row").filter(has=page.get_by_role("cell", name=name, exact=True))).to_have_count(1)
