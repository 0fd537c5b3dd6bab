"""Answers as JSON that every reader can read: JSON knows no infinity, and a browser refuses the whole answer for one."""

import json
import logging
import math
from typing import Any

from django.http import HttpRequest
from ninja.renderers import JSONRenderer

log = logging.getLogger(__name__)


class FiniteJSON(JSONRenderer):
    """A number that is none is told as none, and noted in the log: whoever answered should have said so in words."""

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> Any:
        try:
            return json.dumps(data, cls=self.encoder_class, allow_nan=False)
        except ValueError:
            log.error("The answer to %s holds a number that is not finite.", request.path)
            return json.dumps(_finite(data), cls=self.encoder_class, allow_nan=False)


def _finite(data: Any) -> Any:
    if isinstance(data, dict):
        return {key: _finite(value) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_finite(value) for value in data]
    return None if isinstance(data, float) and not math.isfinite(data) else data
