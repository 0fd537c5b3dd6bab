"""The API: routers, one noun a module. Thin: parse, call a service or the core, answer."""

import trelvo.api.texts  # noqa: F401 - tells the types of the core how they are sent, before any router asks
from trelvo.api import (
    accounts,
    baseline,
    bench,
    bench_tokens,
    campaigns,
    claims,
    climb,
    compare,
    copies,
    files,
    goal,
    health,
    instruments,
    journal,
    keep,
    lab,
    ladder,
    live,
    live_stream,
    logbook,
    logs,
    practice,
    presets,
    proof,
    queue,
    quick_line,
    registry,
    rigs,
    runs,
    session,
    settings,
    simulator,
    targets,
    tonight,
    trade_off,
    what_counts,
)
from trelvo.api.document import DocumentedAPI
from trelvo.api.errors import register_errors
from trelvo.api.rendering import FiniteJSON

api = DocumentedAPI(title="Trelvo", version="1", docs_url=None, renderer=FiniteJSON())
register_errors(api)
for module in (
    health, registry, instruments, rigs, presets, campaigns, logbook, settings, runs, baseline, ladder, logs, compare,
    what_counts,
    targets, claims, files, simulator, goal, tonight, trade_off, climb, proof, keep, lab, journal, quick_line, practice, live,
    live_stream, queue, bench, bench_tokens, session, copies, accounts,
):  # fmt: skip
    api.add_router("", module.router)
