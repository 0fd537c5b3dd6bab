"""Who may do what: every operation that changes something, and the role it takes. Reading is for everyone who is signed in.

An *owner* may do everything. An account of role *bench* logs runs: it adds, and changes or removes nothing that is there.
"""

import re
from typing import Literal

Role = Literal["bench", "owner"]

# Adding runs and what belongs to them, and calculations that store nothing.
_BENCH = (
    "POST /api/account/password",
    "POST /api/account/sign-out-everywhere",
    "POST /api/campaigns/{campaign_id}/cautions",
    "POST /api/campaigns/{campaign_id}/predict",
    "POST /api/campaigns/{campaign_id}/goal/try",
    "POST /api/campaigns/{campaign_id}/live",
    "POST /api/campaigns/{campaign_id}/queue",
    "POST /api/campaigns/{campaign_id}/queue/cancel",
    "POST /api/campaigns/{campaign_id}/queue/pause",
    "POST /api/campaigns/{campaign_id}/queue/resume",
    "POST /api/campaigns/{campaign_id}/quick-line",
    "POST /api/campaigns/{campaign_id}/quick-line/read",
    "POST /api/campaigns/{campaign_id}/runs",
    "POST /api/campaigns/{campaign_id}/settings",
    "POST /api/campaigns/{campaign_id}/sweep",
    "POST /api/claims/check",
    "POST /api/claims/prefill",
    "POST /api/kept-settings/{kept_setting_id}/simulator-use",
    "POST /api/kept-settings/{kept_setting_id}/use",
    "POST /api/logs/preview",
    "POST /api/practice",
    "POST /api/practice/{practice_id}/keep",
    "POST /api/practice/{practice_id}/test",
    "POST /api/rigs/{rig_id}/journal",
    "POST /api/runs/{run_id}/live/end",
    "POST /api/runs/{run_id}/live/notes",
    "POST /api/runs/{run_id}/logs",
    "POST /api/sums/connectors",
    "POST /api/sums/oxygen",
    "POST /api/use/{entry_id}/probes",
    "POST /api/use/{entry_id}/simulator-probe",
)
_OWNER = (
    "POST /api/accounts/{account_id}",
    "POST /api/archive/import",
    "POST /api/archive/plan",
    "POST /api/bench-tokens/{token_id}/withdraw",
    "POST /api/campaigns",
    "PUT /api/campaigns/{campaign_id}/archived",
    "POST /api/campaigns/{campaign_id}/baseline/enough",
    "POST /api/campaigns/{campaign_id}/test-suite",
    "PUT /api/campaigns/{campaign_id}/counting",
    "PUT /api/campaigns/{campaign_id}/curve",
    "POST /api/campaigns/{campaign_id}/delete",
    "PUT /api/campaigns/{campaign_id}/goal",
    "PUT /api/campaigns/{campaign_id}/safety-limits",
    "POST /api/campaigns/{campaign_id}/kept-settings",
    "POST /api/campaigns/{campaign_id}/knobs",
    "PATCH /api/campaigns/{campaign_id}/knobs/{key}",
    "PUT /api/campaigns/{campaign_id}/knobs/{key}",
    "POST /api/campaigns/{campaign_id}/targets",
    "PUT /api/campaigns/{campaign_id}/terms",
    "POST /api/campaigns/{campaign_id}/undelete",
    "PUT /api/campaigns/{campaign_id}/way",
    "PUT /api/campaigns/{campaign_id}/what-counts",
    "POST /api/campaigns/{campaign_id}/workloads",
    "DELETE /api/campaigns/{campaign_id}/workloads/{workload_id}",
    "POST /api/copies",
    "POST /api/copies/restore",
    "POST /api/copies/restore-file",
    "POST /api/database/check",
    "PUT /api/instruments/{instrument_id}",
    "DELETE /api/journal/{entry_id}",
    "PUT /api/journal/{entry_id}",
    "POST /api/journal/{entry_id}/bring-back",
    "PUT /api/kept-settings/{kept_setting_id}",
    "POST /api/kept-settings/{kept_setting_id}/in-use",
    "POST /api/kept-settings/{kept_setting_id}/simulator-time",
    "POST /api/kept-settings/{kept_setting_id}/take-back",
    "POST /api/rigs",
    "PUT /api/rigs/{rig_id}",
    "POST /api/rigs/{rig_id}/bench-tokens",
    "POST /api/rigs/{rig_id}/builds",
    "POST /api/rigs/{rig_id}/instruments",
    "POST /api/runs/{run_id}/correct",
    "POST /api/runs/{run_id}/set-aside",
    "POST /api/runs/{run_id}/take-back",
    "DELETE /api/targets/{target_id}",
    "PUT /api/targets/{target_id}",
    "DELETE /api/use/{entry_id}",
    "POST /api/use/{entry_id}/verdict",
    "PUT /api/workloads/{workload_id}",
    # what is read here is for those who may restore and let others in
    "GET /api/accounts",
    "GET /api/copies",
    "GET /api/copies/{name}/contents",
    "GET /api/copies/{name}/file",
    "GET /api/rigs/{rig_id}/bench-tokens",
)
OPERATIONS: dict[str, Role] = {**dict.fromkeys(_BENCH, "bench"), **dict.fromkeys(_OWNER, "owner")}
_PATTERNS = [
    (method, re.compile(re.sub(r"\\\{[^}]*\\\}", "[^/]+", re.escape(path))), role)
    for (method, path), role in ((operation.split(" ", 1), role) for operation, role in OPERATIONS.items())
]


def role_for(method: str, path: str) -> Role:
    """The role that a request takes. What changes something and is not in the table is for owners."""
    read = method in ("GET", "HEAD", "OPTIONS")
    for of, pattern, role in _PATTERNS:
        if (of == method or (read and of == "GET")) and pattern.fullmatch(path):
            return role
    return "bench" if read else "owner"
