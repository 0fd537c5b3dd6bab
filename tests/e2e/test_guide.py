"""The guide's numbered steps, run as they are in docs/guide.md; and the guide where Help shows it."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.following import MOST_MS, step_said, take_step
from tests.server.process import ask

DOCS = Path(__file__).resolve().parents[2] / "docs"
GUIDE = (DOCS / "guide.md").read_text(encoding="utf-8")
TERMS = DOCS.parent / "web" / "src" / "ui" / "words" / "terms.ts"
MOST_PRESSES = 80

# What a step may ask for. The words around them are for the reader.
STEP = re.compile(
    r"(?P<open>[Oo]pen) \*\*(?P<opened>[^*]+)\*\*"
    r"|(?P<click>[Cc]lick) \*\*(?P<clicked>[^*]+)\*\*"
    r"|(?P<fill>[Tt]ype) `(?P<filled>[^`]+)` into \*\*(?P<field>[^*]+)\*\*"
    r"|(?P<type>[Tt]ype) `(?P<typed>[^`]+)`"
    r"|(?P<until>[Pp]ress) `(?P<again>[^`]+)` until the next step begins with “(?P<begins>[^”]+)”"
    r"|(?P<press>[Pp]ress) `(?P<key>[^`]+)`"
    r"|(?P<wait>[Ww]ait for) “(?P<text>[^”]+)”"
)


def sections():
    """Each section that has numbered steps, by its heading."""
    parts = re.split(r"^## (.+)$", GUIDE, flags=re.MULTILINE)
    found = {}
    for heading, text in zip(parts[1::2], parts[2::2], strict=True):
        steps = re.findall(r"^\d+\. (.+)$", text, flags=re.MULTILINE)
        if steps:
            found[heading] = steps
    return found


def press_until(page: Page, key: str, begins: str) -> list[str]:
    """One step after the other, each taken once what is on the screen has settled; the steps that were told, the last one too."""
    page.get_by_test_id("under-way").wait_for(state="detached", timeout=MOST_MS)
    told = []
    while len(told) < MOST_PRESSES:
        said = step_said(page)
        if said.startswith(begins):
            return [*told, said]
        if take_step(page, key):
            told.append(said)
    raise AssertionError(f"not there after {MOST_PRESSES} presses: {told[-5:]}")


def do(page: Page, step: str, told: list[str]) -> int:
    """Does all that one step asks for; how much that was. told: takes what the next step said on the way"""
    asked = list(STEP.finditer(step))
    for found in asked:
        if found["open"]:
            page.get_by_role("link", name=found["opened"], exact=True).first.click()
        elif found["click"]:
            page.get_by_role("button", name=re.compile(f"^{re.escape(found['clicked'])}")).first.click()
        elif found["fill"]:
            page.get_by_label(found["field"], exact=True).fill(found["filled"])
        elif found["type"]:
            page.keyboard.type(found["typed"])
        elif found["until"]:
            told += press_until(page, found["again"], found["begins"])
        elif found["press"]:
            press(page, found["key"])
        else:
            page.get_by_text(found["text"]).first.wait_for(timeout=MOST_MS)
    return len(asked)


def press(page: Page, key: str) -> None:
    line = page.get_by_label(re.compile("^Quick line"))
    typed = line.input_value() if line.count() and line.is_visible() else ""
    page.keyboard.press(key)
    if typed and key == "Enter":
        # logged once the line is empty again
        expect(line).to_have_value("")


@pytest.mark.parametrize("heading", sections())
def test_the_steps_of_the_guide_as_they_stand(page, empty_address, heading):
    page.add_init_script("Math.random = () => 0.028")
    page.goto(empty_address)
    page.get_by_role("link", name="Describe the first campaign").wait_for()
    told: list[str] = []
    for step in sections()[heading]:
        before = len(told)
        assert do(page, step, told), step
        if len(told) > before:
            met_by_one_key(empty_address, told)
    # what changed under a key is refused, and said
    assert [complaint for complaint in page.complaints if "422" not in complaint] == []


def met_by_one_key(address: str, told: list[str]) -> None:
    """The one key alone has led from the baseline to a setting that meets the goal in every condition. All other goals, without
    a screen: tests/api/test_one_step.py."""
    best = ask(f"{address}/api/campaigns/1/goal")["goal"]["best"]
    assert told[-1] == f"Keep {best['title']}."
    assert len(told) <= 42
    assert best["standing"] == "meets it"
    assert {one["state"] for one in best["conditions"]} == {"shown"}


def test_help_leads_to_the_guide_with_its_pictures_and_sections(page, demo_address):
    page.goto(demo_address)
    page.keyboard.press("?")
    page.get_by_role("link", name="Guide: from an empty logbook to a kept setting").click()
    page.get_by_role("heading", name="Guide", exact=True).wait_for()
    page.wait_for_load_state("networkidle")
    pictures = page.locator(".guide img")
    assert pictures.count() == GUIDE.count("](screenshots/") > 3
    assert pictures.evaluate_all("all => all.every(one => one.naturalWidth > 600)")
    for heading in sections():
        page.get_by_role("navigation", name="Sections of the guide").get_by_role("link", name=heading).click()
        expect(page.get_by_role("heading", name=heading)).to_be_in_viewport()
    assert page.complaints == []


def test_the_words_of_the_guide_are_those_of_help():
    rows = dict(re.findall(r"^\| ([^|]+) \| ([^|]+) \|$", GUIDE.partition("## The words")[2], flags=re.MULTILINE))
    terms = TERMS.read_text(encoding="utf-8")
    told = {row: rows[row] for row in rows if row not in ("word", "---")}
    assert len(told) == terms.count("\n  [")
    for word, meaning in told.items():
        assert f"'{word}'" in terms
        assert f"'{meaning}'" in terms
