"""Dropping logs on a run: columns that were guessed wrongly, files that cannot be, and what is remembered."""

import pytest

from tests.drafts import run_body
from tests.e2e.conftest import choose, small_campaign
from tests.server.process import ask


@pytest.fixture
def run_page(page, shared_address):
    """The page of a run with a typed result and typed watts."""
    here = f"{shared_address}/api/campaigns/{small_campaign(shared_address)}"
    workload, stock = ask(here)["workloads"][0]["id"], ask(f"{here}/settings")[0]["id"]
    typed = run_body(setting_id=stock, workload_id=workload, outcome="completed", value=93.6, power_w=180)
    page.goto(f"{shared_address}/runs/{ask(f'{here}/runs', typed)['id']}")
    page.get_by_text("Drop a log here").wait_for()
    return page


def give(page, folder, name, text):
    file = folder / name
    file.write_bytes(text if isinstance(text, bytes) else text.encode())
    page.set_input_files("input[aria-label='Log file']", file)


LOG = "t;alpha;beta;remark\n0;2400,5;181,5;a\n1;2401,5;182,5;b\n2;2402,5;183,5;c\n"


def test_what_was_guessed_wrongly_is_said_once_and_remembered(run_page, tmp_path):
    page = run_page
    give(page, tmp_path, "odd.csv", LOG)
    page.get_by_text("This is a guess").wait_for()
    choose(page, "What alpha is", "core clock")
    choose(page, "What beta is", "power")
    page.get_by_role("button", name="Read it like this").click()
    assert "the log covers 2 s: 3 rows, one every 1.0 s" in page.get_by_test_id("covers").inner_text()
    page.get_by_role("row", name="Core clock reached 2402 MHz").wait_for()
    # the typed watts stand unless the user wants the log's
    page.get_by_role("row", name="Mean power 182.5 W 180.0 W").get_by_text("use the log’s").click()
    # two seconds of a minute: it is asked first
    page.get_by_text("The log covers 2 s; the workload takes about 60 s.").wait_for()
    assert page.get_by_role("button", name="Save the log with this run").is_disabled()
    page.get_by_text("The log is right; keep it so").click()
    page.get_by_role("button", name="Save the log with this run").click()
    page.get_by_role("row", name="Mean power 182.5 W from the log, The part's own report").wait_for()
    assert page.get_by_role("row", name="Mean power 180.0 W typed, replaced by the log").is_visible()
    page.get_by_text("odd.csv").last.wait_for()
    give(page, tmp_path, "odd.csv", LOG)
    page.get_by_text("Read as you said last time for these columns").wait_for()


UGLY = "Time;graphics clock;graphics temp;processor temp;graphics power\n;[MHz];[°C];[°C];[W]\n" + "".join(
    f"{n * 500};1.{830 + n % 9};6{n % 9},5;51,5;{0 if n == 7 else 212},5\n" for n in range(140)
)


def test_what_only_the_user_can_say_is_asked_and_a_figure_is_looked_up(run_page, tmp_path):
    page = run_page
    give(page, tmp_path, "ugly.csv", UGLY.replace("0,5\n", "0\n", 1).replace(";0,5", ";0"))
    page.get_by_text("only milliseconds give a possible log").wait_for()
    choose(page, "Which part is tuned here?", "graphics")
    page.get_by_text("1830 to 1838, mean 1834 MHz.").wait_for()
    page.get_by_role("button", name="Read it like this").click()
    page.get_by_role("alert").get_by_text("It reads 0 in 1 of 140 rows").wait_for()
    choose(page, "Readings of zero", "nothing was read: leave them out")
    page.get_by_role("button", name="Read it like this").click()
    page.get_by_role("row", name="Highest temperature 68.5 °C").wait_for()
    page.get_by_role("button", name="Save the log with this run").click()
    page.get_by_role("button", name="Look up the rows").click()
    place = page.get_by_role("listitem").filter(has_text="Highest temperature 68.5 °C")
    assert "“graphics temp”, highest at 4 s, line 11" in place.inner_text()
    place.get_by_role("button", name="Look at it").click()
    page.get_by_role("row", name="11 4.000 1838 68.5").wait_for()


@pytest.mark.parametrize(
    ("name", "text", "what"),
    [
        ("empty.csv", b"", "The file is empty (0 bytes)."),
        ("picture.csv", bytes(range(256)), "This is not a text file."),
        ("letter.csv", "dear friend\nit ran well\n", "every line is one single cell"),
        ("warm.csv", "time,temp\n0,50\n1,warm\n", "“warm” is not a number"),
        ("back.csv", "time,temp\n5,50\n4,51\n", "Time runs backwards"),
        ("hot.csv", "time,temp °C\n0,50\n1,4120\n", "4120 °C cannot be a temperature"),
    ],
)
def test_a_file_that_cannot_be_says_what_to_do(run_page, tmp_path, name, text, what):
    page = run_page
    give(page, tmp_path, name, text)
    page.get_by_role("button", name="Read it like this").or_(page.get_by_role("alert")).first.wait_for()
    if page.get_by_role("button", name="Read it like this").is_visible():
        page.get_by_role("button", name="Read it like this").click()
    page.get_by_role("alert").get_by_text(what).wait_for()
    assert page.get_by_text("nothing was stored").is_visible()
    assert page.get_by_role("button", name="Save the log with this run").count() == 0


def test_a_file_over_the_limit_is_refused_before_it_is_sent(run_page, tmp_path):
    page = run_page
    sent = []
    page.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
    file = tmp_path / "long.csv"
    with file.open("wb") as out:
        out.truncate(65 * 1024 * 1024)
    page.set_input_files("input[aria-label='Log file']", file)
    page.get_by_text("long.csv is 65 MiB; the most that is taken is 64 MiB.").wait_for()
    assert sent == []
