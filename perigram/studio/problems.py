"""Errors as RFC 9457 problem details, each with a sentence a designer understands."""

from __future__ import annotations

import json
import logging
import re
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig, SuspiciousOperation
from django.db.utils import OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.parser import Parser

from perigram.core.errors import PerigramError

log = logging.getLogger(__name__)


_REFUSED = {
    400: ("Not understood", "What was sent could not be read. Load the page again and try once more."),
    403: ("Refused", "This page has grown old. Load it again; what was saved is kept."),
    404: ("Not here", "There is nothing at this address."),
    405: ("Not here", "That cannot be done at this address."),
}
#: Half of a character that is written as two, alone: no text can hold it, but JSON can.
_HALF = re.compile(rb"\\u[dD][89a-fA-F]")


#: MariaDB's numbers for a disk without room: ER_DISK_FULL, ER_RECORD_FILE_FULL.
_NO_ROOM = (1021, 1114)


class Problem(Exception):
    """An answer that is not what was asked for; `extra` joins the problem details."""

    def __init__(self, status: int, title: str, detail: str, **extra: Any) -> None:
        super().__init__(detail)
        self.status, self.title, self.detail, self.extra = status, title, detail, extra


def answer(status: int, title: str, detail: str, **extra: Any) -> HttpResponse:
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail, **extra}
    return JsonResponse(body, status=status, content_type="application/problem+json")


def documents(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """What the framework refuses under /api with a page of its own is a problem document too."""

    def middleware(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        plain = not response.get("Content-Type", "").startswith("application/")
        if request.path.startswith("/api/") and response.status_code >= 400 and plain:
            title, detail = _REFUSED.get(response.status_code, ("Refused", "This could not be done."))
            return answer(response.status_code, title, detail)
        return response

    return middleware


class Reader(Parser):
    """Reads bodies that text can hold."""

    def parse_body(self, request: HttpRequest) -> Any:
        body = super().parse_body(request)
        if _HALF.search(request.body):
            json.dumps(body, ensure_ascii=False).encode()
        return body


class Api(NinjaAPI):
    """An API whose every refusal is described as a problem document."""

    def get_openapi_schema(self, **options: Any) -> Any:
        schema = super().get_openapi_schema(**options)
        refusal = {
            "description": "Refused, with a sentence that says why",
            "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemOut"}}},
        }
        for operations in schema["paths"].values():
            for operation in operations.values():
                said = {str(status): one for status, one in operation["responses"].items()}
                operation["responses"] = {"4XX": refusal, **said}
        return schema


def install(api: NinjaAPI) -> None:
    """Make every error of the API a problem document."""

    @api.exception_handler(Problem)
    def problem(request: HttpRequest, error: Problem) -> HttpResponse:
        return answer(error.status, error.title, error.detail, **error.extra)

    @api.exception_handler(PerigramError)
    def unusable(request: HttpRequest, error: PerigramError) -> HttpResponse:
        return answer(422, "Cannot be used", str(error))

    @api.exception_handler(ValidationError)
    def malformed(request: HttpRequest, error: ValidationError) -> HttpResponse:
        first = error.errors[0]
        where = " › ".join(str(step) for step in first["loc"][1:])
        return answer(422, "Not understood", f"{where}: {first['msg']}.")

    @api.exception_handler(HttpError)
    def refused(request: HttpRequest, error: HttpError) -> HttpResponse:
        """What the framework turns away by itself: bodies that are no JSON, calls without their token."""
        title, detail = _REFUSED.get(error.status_code, ("Refused", f"{error}."))
        return answer(error.status_code, title, detail)

    @api.exception_handler(AuthenticationError)
    def signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return answer(401, "Signed out", "You are signed out. Sign in to go on; nothing is lost.")

    @api.exception_handler(Http404)
    def missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return answer(404, "Not here", "This is not in your shop. It may have been removed.")

    @api.exception_handler(RequestDataTooBig)
    def too_large(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE / 1e6
        return answer(413, "Too large", f"That is more than {most:.0f} MB. Use smaller or fewer pictures.")

    @api.exception_handler(SuspiciousOperation)
    @api.exception_handler(MultiPartParserError)
    def unreadable(request: HttpRequest, error: Exception) -> HttpResponse:
        return answer(400, *_REFUSED[400])

    @api.exception_handler(OperationalError)
    def without_room(request: HttpRequest, error: OperationalError) -> HttpResponse:
        if error.args[:1] and error.args[0] in _NO_ROOM:
            log.error("%s %s: no room left on the disk", request.method, request.path)
            return answer(
                507,
                "No room left",
                "There is no room left on the server's disk. It can be saved once there is.",
            )
        return failed(request, error)

    @api.exception_handler(Exception)
    def failed(request: HttpRequest, error: Exception) -> HttpResponse:
        log.exception("%s %s failed", request.method, request.path)
        return answer(
            500, "Failed", "Something went wrong on our side. Your last saved state is safe; try again."
        )
