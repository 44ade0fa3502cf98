"""How addresses answer that are not asked as a page."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable
from functools import wraps
from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseNotAllowed
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.views.decorators.cache import cache_control
from django.views.decorators.http import condition

from uphill_lamp.web.method import method

View = Callable[..., HttpResponseBase]


def posted(page: str, *parts: str, of_setup: str = "") -> Callable[[View], View]:
    """For forms alone: whoever opens such an address by hand, or comes back to it, is led to the page its form stands on.

    Args:
        page: name of that page's address.
        parts: which parts of this address that one takes.
        of_setup: name of the page's address where this one names a setup, if it differs.
    """

    def decorate(view: View) -> View:
        @wraps(view)
        def answer(request: HttpRequest, **named: Any) -> HttpResponseBase:
            if request.method == "POST":
                return view(request, **named)
            if request.method not in ("GET", "HEAD"):
                return HttpResponseNotAllowed(["POST"])
            if of_setup and "setup_id" in named:
                return redirect(of_setup, setup_id=named["setup_id"])
            return redirect(page, **{part: named[part] for part in parts})

        return answer

    return decorate


def by_method(view: View) -> View:
    """For what an address says whole, such as a document's picture: a browser may keep it, and asks whether the method is still the same."""
    unchanged = condition(etag_func=lambda request, **named: f'"{method()}"')
    return cache_control(private=True, no_cache=True)(unchanged(view))


def csv_file(table: Iterable[Iterable[object]], name: str) -> HttpResponse:
    """Rows as a CSV file to keep; no cell begins a formula."""
    from uphill_lamp.core.catalogue.table import safe_cell  # late: the first page needs none of the computation

    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows([safe_cell(str(cell)) for cell in row] for row in table)
    answer = HttpResponse("\ufeff" + out.getvalue(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer
