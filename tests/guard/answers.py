"""Every answer that a database gives, address by address, with the clock stopped: what a rework must not change.

`python -m tests.guard write FILE DATABASE` writes them down; `python -m tests.guard compare OLD NEW` says which fields differ.
"""

from typing import Any
from unittest.mock import patch
from urllib.parse import urlencode

from django.test import Client

from tests.moment import NOW
from trelvo.logbook.models import Campaign, InstrumentRow, KeptSetting, Rig, Run, Series, Setting

Answers = dict[str, Any]
# Of this machine and this moment, or of what is sent piece by piece; files are compared by what they hold elsewhere.
LEFT_OUT = (
    "/api/health", "/api/licences", "/api/this-machine", "/api/session", "/api/copies", "/api/accounts", "/api/practice",
    "/api/runs/{run_id}/stream", "/api/bench/", "/api/series/{series_id}/rows",
)  # fmt: skip
EVENINGS_MIN = (30, 180)


def addresses(client: Client) -> list[str]:
    """Every address that is read, with every number that its database has for it and the queries that change the answer."""
    found = []
    for path, operations in client.get("/api/openapi.json").json()["paths"].items():
        if "get" in operations and not path.startswith(LEFT_OUT):
            found += [
                f"{one}?{urlencode(query)}" if query else one for one in _filled(path) for query in _queries(path, one)
            ]
    return sorted(set(found))


def answers_of(client: Client, asked: list[str]) -> Answers:
    """Answers by address: JSON as it is, anything else as lines of text; the status where it is not 200."""
    found: Answers = {}
    with patch("django.utils.timezone.now", return_value=NOW):
        for address in asked:
            answer = client.get(address)
            if answer.headers["Content-Type"].startswith("application/json"):
                found[address] = answer.json() if answer.status_code == 200 else [answer.status_code, answer.json()]
            else:
                found[address] = answer.content.decode("utf-8", "replace").splitlines()
    return found


def _filled(path: str) -> list[str]:
    word = path.partition("{")[2].partition("}")[0]
    if not word:
        return [path]
    rows: dict[str, Any] = {
        "campaign_id": Campaign.objects.present(), "rig_id": Rig.objects, "run_id": Run.objects, "series_id": Series.objects,
        "kept_setting_id": KeptSetting.objects, "instrument_id": InstrumentRow.objects,
    }  # fmt: skip
    numbers = rows[word].order_by("pk").values_list("pk", flat=True) if word in rows else ()
    return [path.replace(f"{{{word}}}", str(number)) for number in numbers]


def _queries(path: str, address: str) -> list[dict[str, object]]:
    """Queries that bring another answer from an address; none, where it is asked as it is."""
    number = next((int(part) for part in address.split("/") if part.isdigit()), 0)
    if "{campaign_id}" in path:
        return _campaign_queries(path.rpartition("/")[2], Campaign.objects.get(pk=number))
    if path == "/api/instruments/{instrument_id}/agreement":
        rig = InstrumentRow.objects.get(pk=number).rig
        return [{"second": instrument.pk} for instrument in rig.instruments.exclude(pk=number)]
    if path == "/api/lab/supply":
        return [{"wall_w": 332, "rated_w": 650}]
    if path == "/api/lab/droop":
        return [{"idle_v": 12.1, "load_v": 11.9, "amperes": 20}]
    if path == "/api/lab/sound":
        return [{"dba": 38, "fan": 60, "other_fan": 80}]
    return [{}]


def _campaign_queries(last: str, campaign: Campaign) -> list[dict[str, object]]:
    settings = list(Setting.objects.filter(campaign=campaign).order_by("pk").values_list("pk", flat=True))
    workloads = list(campaign.workloads.order_by("pk").values_list("pk", flat=True))
    knobs = [{"knob": key} for key in campaign.knobs.values_list("key", flat=True)]
    each = [{"setting_id": pk} for pk in settings]
    queries: dict[str, list[dict[str, object]]] = {
        "climb": [{}, *knobs], "plan": [{}, *knobs], "sweep": [{}, *knobs], "proof": [{}, *each], "keep": [{}, *each],
        "heat": [{}, *each], "power": [{}, *({"workload_id": pk} for pk in workloads)], "ceiling": each,
        "ladder": [{}, *({"workload_id": pk} for pk in workloads)],
        "tonight": [{"minutes": one, "begin": NOW.isoformat()} for one in EVENINGS_MIN],
        "compare": [{}, {"holm": False, "looks": False}, *({"reference": pk} for pk in settings[1:3])],
    }  # fmt: skip
    return queries.get(last, [{}])
