"""Campaign files as Trelvo wrote them until version 7, for tests of their import."""

from typing import Any

import orjson

from trelvo.exchange.archive.document import campaign_document
from trelvo.exchange.archive.entries import CampaignDocument
from trelvo.exchange.archive.json_file import FORMAT, VERSION
from trelvo.logbook.models import Campaign


def as_json(document: CampaignDocument, **more: Any) -> bytes:
    """The document as a campaign file. more: fields of the file that differ from a correct one's"""
    head = {"format": FORMAT, "version": VERSION, "written_at": "2026-03-01T12:00:00+00:00"}
    return orjson.dumps({**head, **document.model_dump(mode="python"), **more})


def campaign_json(campaign: Campaign) -> bytes:
    """The campaign as a campaign file."""
    return as_json(campaign_document(campaign))
