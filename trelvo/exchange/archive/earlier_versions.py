"""Campaign files of earlier versions as documents of the present one."""

import uuid
from typing import Any

from trelvo.core.base.figures import BY_WORD
from trelvo.core.base.instruments import KIND_AT, NAME_AT, PART_AT, Point
from trelvo.core.base.workloads import read_options
from trelvo.core.registry.guess import guess_role

# Figures that stood in a run's own fields until version 2.
FIELDS = (
    "low_1_fps", "low_01_fps", "power_w", "temp_max_c", "temp_mean_c", "temp_start_c", "room_c", "core_mhz", "memory_mhz",
    "voltage_v",
)  # fmt: skip
SURE_UNTIL_5 = 0.9


def from_earlier(raw: dict[str, Any], present: int) -> dict[str, Any]:
    """The document in the present version's form. What is not as its own version has it is left for the check to name."""
    lists = all(isinstance(raw.get(word), list) for word in ("runs", "workloads", "knobs"))
    if not lists or not isinstance(raw.get("rig"), dict) or not isinstance(raw.get("campaign"), dict):
        return raw
    if raw.get("version") == 1:
        raw = _second(raw)
    if raw.get("version") == 2:
        raw = _third(raw)
    if raw.get("version") == 3:
        raw = _fourth(raw)
    if raw.get("version") == 4:
        raw = _fifth(raw)
    if raw.get("version") == 5:
        raw = {**_sixth(raw), "version": 6}
    # version 7 added a field that may be missing: the component a knob was put in
    return {**raw, "version": present} if raw.get("version") == 6 else raw


def _second(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 1 had no stand-in, guard rail, mark or battery to write down."""
    tests = {"kind": "title", "parts": [], "techniques": []}
    return {
        **raw,
        "version": 2,
        "guard_rails": [],
        "battery": [],
        "rig": {**raw["rig"], "standin": "", "standin_seed": 0},
        "runs": [{**run, "marks": []} if isinstance(run, dict) else run for run in raw["runs"]],
        "workloads": [{**tests, **one} if isinstance(one, dict) else one for one in raw["workloads"]],
    }


def _fourth(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 3 kept neither the goal's numbers nor the way of working."""
    return {**raw, "version": 4, "campaign": {**raw["campaign"], "terms": {}, "way": {}}}


def _fifth(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 4 knew neither keepers nor a journal, and left out what was corrected of a workload."""
    workloads = [{"corrections": [], **one} if isinstance(one, dict) else one for one in raw["workloads"]]
    return {**raw, "version": 5, "workloads": workloads, "keepers": [], "journal": [], "cautions": []}


def _sixth(raw: dict[str, Any]) -> dict[str, Any]:
    """Until version 5 one was 90 % sure of stability where the goal did not say otherwise."""
    terms = raw["campaign"].get("terms")
    if not isinstance(terms, dict):
        return raw
    return {**raw, "campaign": {**raw["campaign"], "terms": {"sure": SURE_UNTIL_5, **terms}}}


def _third(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 2 had figures in the run's own fields, options as a text, and neither instruments nor roles."""
    rig = raw["rig"]
    points = sorted(
        {str(run.get("power_point")) for run in raw["runs"] if isinstance(run, dict) and run.get("power_w")}
    )
    instruments: dict[str, dict[str, Any]] = {
        str(point): _instrument(str(rig.get("uid")), point) for point in points if point in KIND_AT
    }
    return {
        **raw,
        "version": 3,
        "rig": {**rig, "instruments": list(instruments.values())},
        "campaign": {**raw["campaign"], "counting": {}, "archived_at": None},
        "knobs": [_knob(knob) if isinstance(knob, dict) else knob for knob in raw["knobs"]],
        "workloads": [_workload(one) if isinstance(one, dict) else one for one in raw["workloads"]],
        "retired": [],
        "runs": [_run(run, instruments) if isinstance(run, dict) else run for run in raw["runs"]],
    }


def _instrument(rig_uid: str, point: str) -> dict[str, Any]:
    """The same identity whenever the same file is read."""
    at: Point = point  # type: ignore[assignment]
    return {
        "uid": str(uuid.uuid5(uuid.NAMESPACE_OID, f"{rig_uid} {point}")), "name": NAME_AT[at], "kind": KIND_AT[at],
        "quantity": "power", "part": PART_AT.get(at, "tuned part"), "place": "", "resolution": None,
        "offset": 0.0, "offset_sd": 0.0,
        "factor": 1.0, "factor_sd": 0.0, "trust": "trusted", "trust_since": None, "trust_why": "", "replaced_by": None,
    }  # fmt: skip


def _knob(knob: dict[str, Any]) -> dict[str, Any]:
    role = guess_role(str(knob.get("key")), str(knob.get("name")), str(knob.get("unit") or "")).role
    return {**knob, "role": role, "part": "tuned part", "retired_at": None}


def _workload(workload: dict[str, Any]) -> dict[str, Any]:
    options = workload.get("options")
    return {**workload, "options": read_options(options) if isinstance(options, str) else options}


def _run(run: dict[str, Any], instruments: dict[str, dict[str, Any]]) -> dict[str, Any]:
    typed = dict(run["typed"]) if isinstance(run.get("typed"), dict) else {}
    logged = run["log_figures"] if isinstance(run.get("log_figures"), list) else []
    figures = []
    for field in FIELDS:
        key = BY_WORD[field].key
        shared = {"quantity": key.quantity, "part": key.part, "statistic": key.statistic}

        def read_by(point: object, field: str = field) -> str | None:
            return instruments[str(point)]["uid"] if field == "power_w" and str(point) in instruments else None

        if run.get(field) is not None:
            source = "log" if field in logged else "typed"
            by = read_by(run.get("power_point"))
            figures.append({**shared, "instrument": by, "value": run[field], "source": source, "replaced": False})
        if field in typed:
            by = read_by(typed.get("power_point"))
            figures.append({**shared, "instrument": by, "value": typed.pop(field), "source": "typed", "replaced": True})
    typed.pop("power_point", None)
    kept = {name: value for name, value in run.items() if name not in (*FIELDS, "power_point")}
    return {**kept, "typed": typed, "log_figures": [one for one in logged if one not in FIELDS], "figures": figures}
