"""Errors as RFC 9457 problem details, each with a sentence a designer understands."""

from __future__ import annotations

import logging
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from perigram.core.errors import PerigramError

log = logging.getLogger(__name__)


_REFUSED = {
    400: ("Not understood", "What was sent could not be read. Load the page again and try once more."),
    403: ("Refused", "This page has grown old. Load it again; what was saved is kept."),
}


class Problem(Exception):
    """An answer that is not what was asked for; `extra` joins the problem details."""

    def __init__(self, status: int, title: str, detail: str, **extra: Any) -> None:
        super().__init__(detail)
        self.status, self.title, self.detail, self.extra = status, title, detail, extra


def answer(status: int, title: str, detail: str, **extra: Any) -> HttpResponse:
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail, **extra}
    return JsonResponse(body, status=status, content_type="application/problem+json")


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

    @api.exception_handler(Exception)
    def failed(request: HttpRequest, error: Exception) -> HttpResponse:
        log.exception("%s %s failed", request.method, request.path)
        return answer(
            500, "Failed", "Something went wrong on our side. Your last saved state is safe; try again."
        )
