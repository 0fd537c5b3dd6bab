"""The next step, taken by its key and waited for: what a person does who only follows it."""

import re

from playwright.sync_api import Page

from tests.e2e.conftest import until

# a run of an hour at 1800 times real time, on a busy machine
MOST_MS = 120_000
NOT_BEGUN = re.compile("The next step has just changed|Not begun: ")
# true in the page once a run has its page, a queue is worked through, something is asked, or it is said that nothing was begun
BEGUN = """before => location.href !== before || document.querySelector('.ant-modal-confirm') !== null
    || [...document.querySelectorAll('[data-test=under-way]')].some((one) => one.textContent.includes('of the queue'))
    || /The next step has just changed|Not begun: /.test(document.querySelector('.ant-message')?.textContent ?? '')"""


def take_step(page: Page, key: str = "a") -> int:
    """Presses the key of the step once, answers what is asked, and waits until what it began is over; how many acts it took, 0
    where nothing was begun.

    A queue is worked through on the page; a single run has its own, which opens a moment after it has begun, and says what comes
    next once it has ended
    """
    figures = page.get_by_role("heading", name="Figures")
    yes = page.get_by_role("button", name=re.compile("^Yes, "))
    queue = page.get_by_test_id("under-way").filter(has_text="of the queue")
    before, acts = page.url, 1
    page.keyboard.press(key)
    until(page, BEGUN, before)
    caution = page.locator(".ant-modal-confirm").get_by_role("button", name=re.compile("^Yes, "))
    if caution.count() and page.url == before:
        # a knob that can hurt something is turned for the first time: read, and said yes to
        caution.press("Enter")
        caution.wait_for(state="detached")
        acts += 1
        until(page, BEGUN, before)
    if page.url == before and not queue.count():
        # what has changed under the key is not begun, and that is said
        page.get_by_text(NOT_BEGUN).first.wait_for(state="detached")
        return 0
    if "/runs/" in page.url and page.url != before:
        # until its page is gone the run before shows figures and a next step too, and the new one may be over before anyone looks
        page.locator(f'[data-run="{page.url.split("/runs/")[1].split("?")[0]}"]').wait_for()
        figures.or_(yes).first.wait_for(timeout=MOST_MS)
        if yes.count():
            yes.first.press("Enter")
            acts += 1
            figures.wait_for(timeout=MOST_MS)
    else:
        queue.wait_for(state="detached", timeout=MOST_MS)
    return acts


def step_said(page: Page) -> str:
    """The title of the next step, once the screen has settled."""
    title = page.get_by_test_id("next-title")
    title.wait_for(timeout=MOST_MS)
    page.wait_for_load_state("networkidle")
    return title.inner_text()
