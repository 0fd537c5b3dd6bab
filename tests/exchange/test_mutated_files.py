"""A campaign file or a package with one field changed is refused or answers every question: nothing stored can stop a page."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction

from tests.drafts import run_draft
from tests.exchange.campaign_json import campaign_json
from tests.exchange.mutations import mutated, mutated_packages
from tests.exchange.test_archive import empty_the_logbook
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign

JSON = {"content_type": "application/json"}
MUTATIONS, PACKAGES = 300, 150
QUESTIONS = (
    "", "/baseline", "/climb", "/climb?knob=core", "/climb/plan", "/compare", "/sides", "/runs.csv",
    "/report.html", "/report.md", "/report", "/goal", "/next", "/cautions", "/keep", "/heat", "/power", "/budget", "/sweep",
    "/curve", "/droop", "/ladder", "/ceiling", "/safety-limits", "/proof", "/queue", "/runs", "/settings", "/tonight?minutes=60",
    "/trade-off", "/alternatives",
)  # fmt: skip
OF_ALL = ("/campaigns", "/kept-settings", "/rigs", "/logbook", "/workloads", "/tonight")


@pytest.fixture
def document(client, campaign, stock, gorge, now):
    """A real export with something in every table."""
    both = add_setting(campaign, {"core": 90, "power": 112}, "a note", now)
    core = add_setting(campaign, {"core": 90}, "", now)
    for setting, values, watts in (
        (stock, (93.6, 93.5, 93.7), 180.0),
        (core, (98.6, 98.7, 98.5), 186.0),
        (both, (98.7, 98.8, 98.6), 194.0),
    ):
        for value in values:
            draft = run_draft(
                "completed", now, value, duration_s=1800, power_w=watts, power_point="software", room_c=22.0, temp_max_c=61.0,
                core_mhz=2400.0, voltage_v=1.0,
            )  # fmt: skip
            log_run(campaign, setting, gorge, draft, now)
    log_run(campaign, both, gorge, run_draft("system crash", now, None, duration_s=600), now)
    base = f"/api/campaigns/{campaign.pk}"

    def post(path, body, status=201):
        answer = client.post(f"{base}{path}" if path.startswith("/") else f"/api/{path}", body, **JSON)
        assert answer.status_code == status, (path, answer.json())
        return answer.json()

    log = b"time;temp;board W\n" + b"".join(f"{n};{50 + n % 9};{180 + n % 5}\n".encode() for n in range(60))
    run = campaign.runs.first()
    preview = client.post("/api/logs/preview", {"file": SimpleUploadedFile("log.csv", log), "run_id": run.pk}).json()
    choice = json.dumps(preview["choice"])
    answer = client.post(
        f"/api/runs/{run.pk}/logs",
        {"file": SimpleUploadedFile("log.csv", log), "choice": choice, "store": True, "sure": True},
    )
    assert answer.json()["stored"], answer.json()
    kept = post("/kept-settings", {"setting_id": core.pk, "name": "Evenings", "use": "every day"})
    use = {"hours": 2, "outcome": "system crash", "minutes": 30, "workload_id": gorge.pk}
    entry = client.post(f"/api/kept-settings/{kept['id']}/use", use, **JSON).json()["entry_id"]
    client.post(f"/api/use/{entry}/probes", {"key": "stock", "failed": False, "minutes": 90}, **JSON)
    client.post(f"/api/rigs/{campaign.rig_id}/journal", {"kind": "dust", "text": "Dusted."}, **JSON)
    client.post(f"{base}/cautions", {"key": "power limit"}, **JSON)
    target = {"name": "Next one", "price": 500, "source": "", "conditions": "", "results": {str(gorge.pk): 110}}
    post("/targets", target)
    campaign.terms = {"hours": 50.0, "sure": 0.95, "shown": 0.9, "most_temp_c": 84.0}
    campaign.way = {"strategy": "adaptive", "cautious": False, "largest_steps": {"core": 30}, "approach": "as used"}
    campaign.weights = {str(gorge.uid): 2.0}
    campaign.curve = [{"voltage_v": 0.8, "core_mhz": 2000}, {"voltage_v": 1.0, "core_mhz": 2500}]
    campaign.save()
    return json.loads(campaign_json(campaign))


def failing_question(client, pk):
    """The first question about a campaign, or about all of them, that is answered with 5xx; None: all are answered."""
    for question in [f"/campaigns/{pk}{one}" for one in QUESTIONS] + list(OF_ALL):
        if client.get(f"/api{question}").status_code >= 500:
            return question.replace(str(pk), "N")
    return None


def troubles(client, document, count, seed):
    """What went wrong: where the file was changed, how, and which question answered 5xx; and how many were taken in."""
    client.raise_request_exception = False
    found, taken = [], 0
    for path, what, changed in mutated(document, count, seed):
        with transaction.atomic():
            file = SimpleUploadedFile("c.json", json.dumps(changed).encode())
            answer = client.post("/api/archive/import", {"file": file, "copies": document["campaign"]["uid"]})
            where = ".".join(str(step) for step in path)
            if answer.status_code >= 500:
                found.append((where, what, "import"))
            elif answer.status_code == 201:
                taken += 1
                if (question := failing_question(client, answer.json()["imported"][0])) is not None:
                    found.append((where, what, question))
            transaction.set_rollback(True)
    return found, taken


def package_troubles(client, package, count, seed):
    """The same of a package that comes into an empty logbook."""
    client.raise_request_exception = False
    found, taken = [], 0
    for where, changed in mutated_packages(package, count, seed):
        with transaction.atomic():
            empty_the_logbook()
            answer = client.post("/api/archive/import", {"file": SimpleUploadedFile("p.zip", changed)})
            if answer.status_code >= 500:
                found.append((where, "import"))
            for there in Campaign.objects.all():
                taken += 1
                if (question := failing_question(client, there.pk)) is not None:
                    found.append((where, question))
            transaction.set_rollback(True)
    return found, taken


def test_a_file_with_one_field_changed_is_refused_or_answers(client, document):
    found, taken = troubles(client, document, MUTATIONS, 1)
    assert found == []
    assert taken > MUTATIONS / 10


@pytest.fixture
def package(client, document, campaign):
    answer = client.get(f"/api/archive.zip?campaign_id={campaign.pk}")
    content = answer.getvalue()
    answer.close()
    return content


def test_a_package_with_one_cell_changed_is_refused_or_answers(client, package):
    found, taken = package_troubles(client, package, PACKAGES, 1)
    assert found == []
    assert taken > PACKAGES / 10
