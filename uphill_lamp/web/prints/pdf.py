"""PDF from a template, by WeasyPrint; what its libraries lack is told, not thrown."""

from __future__ import annotations

from base64 import b64encode
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string

PACKAGES = "libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"


def sheet(request: HttpRequest, template: str, context: dict[str, Any], name: str) -> HttpResponse:
    """A template as a PDF file."""
    try:
        from weasyprint import HTML  # heavy, and asks for libraries of the system
        from weasyprint.urls import URLFetcher
    except (OSError, ImportError):
        page = {
            "title": "No PDF can be made here",
            "words": f"The system's text libraries are missing. On Debian: apt-get install {PACKAGES}. Everything else works without them.",
        }
        return render(request, "lost.html", page, status=503)
    held_only = URLFetcher(allowed_protocols=("data",))  # a sheet fetches nothing but what it holds itself
    data = HTML(string=render_to_string(template, context, request), url_fetcher=held_only).write_pdf()
    answer = HttpResponse(data, content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="{name}"'
    return answer


def held(jpeg: bytes) -> str:
    """A picture as an address that holds it."""
    return f"data:image/jpeg;base64,{b64encode(jpeg).decode()}"
