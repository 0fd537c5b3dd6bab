"""Read a campaign file: one JSON document, which Trelvo wrote for a single campaign until version 7.

Trelvo now writes archives only.
"""

import orjson
from pydantic import ValidationError

from trelvo.core.problems import Problem, Refused
from trelvo.exchange.archive.earlier_terms import document_of_today
from trelvo.exchange.archive.earlier_versions import from_earlier
from trelvo.exchange.archive.entries import CampaignDocument
from trelvo.exchange.field_problems import field_problem

FORMAT, VERSION = "trelvo-campaign", 7
OF_THE_FILE = ("format", "version", "written_at")


def from_json(data: bytes) -> CampaignDocument:
    """The document in `data`, checked field by field. Raises Refused with the path of each field that is wrong."""
    try:
        raw = orjson.loads(data)
    except orjson.JSONDecodeError as trouble:
        raise Refused(Problem("file", "not_json", {"reason": trouble})) from trouble
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise Refused(Problem("format", "not_a_campaign_file"))
    raw = from_earlier(raw, VERSION)
    if raw.get("version") != VERSION:
        raise Refused(Problem("version", "file_of_newer_version", {"found": raw.get("version"), "known": VERSION}))
    raw = document_of_today(raw)
    try:
        return CampaignDocument.model_validate({name: raw[name] for name in raw if name not in OF_THE_FILE})
    except ValidationError as trouble:
        problems = [
            field_problem(error, ".".join(str(word) for word in error["loc"])) for error in trouble.errors()[:20]
        ]
        raise Refused(*problems) from trouble
