"""Campaign files up to version 7 and archives of version 1 used other words for fields, tables and values: the words of today."""

from collections.abc import Callable, Mapping
from typing import Any

OUTCOMES = {
    "odd numbers": "artifacts",
    "program closed": "program crash",
    "machine down": "system crash",
    "stopped by a guard rail": "safety limit",
    "contact lost": "connection lost",
}
STRATEGIES = {"by the numbers": "adaptive", "halving": "bisection"}
APPROACHES = {"by the numbers": "statistical"}
# Tables of an archive of version 1, by their name today.
TABLES = {"builds": "fittings", "safety_limits": "guard_rails", "kept_settings": "keepers"}
# Columns of its tables, by their name then.
COLUMNS = {
    "standin": "simulator",
    "standin_seed": "simulator_seed",
    "fitting": "build",
    "keeper": "kept_setting",
}
ROLES = {"battery": "test_suite"}
_FIELDS = {
    "": {"guard_rails": "safety_limits", "battery": "test_suite", "keepers": "kept_settings"},
    "rig": {"standin": "simulator", "standin_seed": "simulator_seed", "fittings": "builds"},
    "of a run or kept setting": {"fitting": "build"},
    "way": {"wary": "cautious", "school": "approach"},
    "evidence": {"schools": "approaches", "fitting": "build"},
}


def _renamed(value: Any, names: Mapping[str, str]) -> Any:
    """A dictionary with its fields under the names of today; anything else as it is, for the check to name."""
    return {names.get(name, name): one for name, one in value.items()} if isinstance(value, dict) else value


def _changed(value: Any, name: str, change: Callable[[Any], Any]) -> Any:
    return {**value, name: change(value[name])} if isinstance(value, dict) and name in value else value


def _each(change: Callable[[Any], Any]) -> Callable[[Any], Any]:
    return lambda value: [change(one) for one in value] if isinstance(value, list) else value


def _word(words: Mapping[str, str]) -> Callable[[Any], Any]:
    return lambda value: words.get(value, value) if isinstance(value, str) else value


def way_of_today(way: Any) -> Any:
    found = _renamed(way, _FIELDS["way"])
    return _changed(_changed(found, "strategy", _word(STRATEGIES)), "approach", _word(APPROACHES))


def evidence_of_today(evidence: Any) -> Any:
    return _changed(_renamed(evidence, _FIELDS["evidence"]), "approaches", _each(_word(APPROACHES)))


def _run(run: Any) -> Any:
    return _changed(_renamed(run, _FIELDS["of a run or kept setting"]), "outcome", _word(OUTCOMES))


def _kept_setting(kept: Any) -> Any:
    found = _changed(_renamed(kept, _FIELDS["of a run or kept setting"]), "evidence", evidence_of_today)
    return _changed(found, "entries", _each(lambda entry: _changed(entry, "outcome", _word(OUTCOMES))))


def document_of_today(raw: dict[str, Any]) -> dict[str, Any]:
    """A campaign file of version 7 with the fields and values of a document of today."""
    found = _renamed(raw, _FIELDS[""])
    found = _changed(found, "rig", lambda rig: _renamed(rig, _FIELDS["rig"]))
    found = _changed(found, "campaign", lambda campaign: _changed(campaign, "way", way_of_today))
    found = _changed(found, "runs", _each(_run))
    return dict(_changed(found, "kept_settings", _each(_kept_setting)))


# What becomes of the cells of an archive of version 1: by the table's name today and by column.
CELLS: Mapping[str, Mapping[str, Callable[[Any], Any]]] = {
    "campaigns": {"way": way_of_today},
    "campaign_workloads": {"role": _word(ROLES)},
    "runs": {"outcome": _word(OUTCOMES)},
    "kept_settings": {"evidence": evidence_of_today},
    "use_entries": {"outcome": _word(OUTCOMES)},
}
