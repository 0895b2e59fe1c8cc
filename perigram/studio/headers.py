"""The interface's page and the headers that fence it in."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

_POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)


def content_security_policy(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Scripts, styles and pictures from this server alone, and no inline script."""

    def middleware(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        return response

    return middleware


def known_host(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Only hosts of this installation are answered, pages and files as well as calls."""

    def middleware(request: HttpRequest) -> HttpResponse:
        request.get_host()
        return get_response(request)

    return middleware


def client_address(request: HttpRequest) -> str:
    """Where a call comes from; the proxy says so where there is one, and nobody else is believed."""
    said: str = request.META.get("HTTP_X_FORWARDED_FOR", "") if settings.BEHIND_PROXY else ""
    return said.split(",")[-1].strip() or str(request.META.get("REMOTE_ADDR", ""))


@never_cache
@ensure_csrf_cookie
def interface(request: HttpRequest) -> HttpResponse:
    """The one page of the interface; it finds its own way by the address."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(
            "The interface has not been built. Run bin/start, or “npm run build” in web/.",
            status=503,
            content_type="text/plain; charset=utf-8",
        )
    return HttpResponse(page.read_bytes())
