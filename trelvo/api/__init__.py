"""The API: routers, one noun a module. Thin: parse, call a service or the core, answer."""

from ninja import NinjaAPI

from trelvo.api import archives, baseline, campaigns, compare, health, judgement, ladder, logs, rigs, runs, settings
from trelvo.api.errors import register_errors

api = NinjaAPI(title="Trelvo", version="1", docs_url=None)
register_errors(api)
for module in (health, rigs, campaigns, settings, runs, baseline, ladder, logs, compare, judgement, archives):
    api.add_router("", module.router)
