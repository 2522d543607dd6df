"""How answers are sent: compressed, and with how long they hold."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware


class Sending(GZipMiddleware):
    """Compresses what is sent whole, and says of what nobody else has spoken for that it
    is to be asked for anew. What comes line by line goes out line by line.

    https://www.rfc-editor.org/rfc/rfc9111#section-5.2.2
    """

    def process_response(
        self, request: HttpRequest, response: HttpResponseBase
    ) -> HttpResponseBase:
        if not response.has_header("Cache-Control"):
            response["Cache-Control"] = "private, no-cache"
        if response.streaming or not isinstance(response, HttpResponse):
            return response
        return super().process_response(request, response)
