from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware


class CompressionMiddleware(GZipMiddleware):
    """Compresses answers, but not streams of events: a compressor would hold each back until enough had gathered."""

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        if response.headers.get("Content-Type", "").startswith("text/event-stream"):
            return response
        return super().process_response(request, response)
