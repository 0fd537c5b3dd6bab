"""The next step, taken by its key and waited for: what a person does who only follows it."""

import re

from playwright.sync_api import Page, expect

# a run of an hour at 600 times real time, on a busy machine
MOST_MS = 120_000


def take_step(page: Page, key: str = "a", back: str = "b") -> bool:
    """Presses the key of the step once, answers what is asked, and waits until what it began is over; whether it was taken.

    A queue is worked through on the page; a single run has its own, which opens a moment after it has begun, and is left again
    """
    figures = page.get_by_role("heading", name="Figures")
    yes = page.get_by_role("button", name=re.compile("^Yes, "))
    queue = page.get_by_test_id("under-way").filter(has_text="of the queue")
    changed = page.get_by_text("The next step has just changed").or_(page.get_by_text("Not begun: "))
    page.keyboard.press(key)
    expect(figures.or_(yes).or_(queue).or_(changed).first).to_be_visible(timeout=MOST_MS)
    if changed.count() and "/runs/" not in page.url and not queue.count():
        # what has changed under the key is not begun, and that is said
        changed.first.wait_for(state="detached")
        return False
    caution = page.locator(".ant-modal-confirm").get_by_role("button", name=re.compile("^Yes, "))
    if caution.count() and "/runs/" not in page.url:
        # a knob that can hurt something is turned for the first time: read, and said yes to
        caution.press("Enter")
        caution.wait_for(state="detached")
        expect(figures.or_(queue).first).to_be_visible(timeout=MOST_MS)
    if "/runs/" in page.url:
        if yes.count():
            yes.first.press("Enter")
        figures.wait_for(timeout=MOST_MS)
        page.keyboard.press(back)
        page.wait_for_url(re.compile("/climb"))
    else:
        queue.wait_for(state="detached", timeout=MOST_MS)
    return True


def step_said(page: Page) -> str:
    """The title of the next step, once the screen has settled."""
    title = page.get_by_test_id("next-title")
    title.wait_for(timeout=MOST_MS)
    page.wait_for_load_state("networkidle")
    return title.inner_text()
