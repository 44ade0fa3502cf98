"""Towns by what has been typed of their names."""

from __future__ import annotations

from django.http import HttpRequest, JsonResponse
from django.views.decorators.http import require_GET

from uphill_lamp.core.earth.towns import country_name, found


@require_GET
def towns(request: HttpRequest) -> JsonResponse:
    """The largest first: what is to be typed for each, and its country."""
    return JsonResponse(
        {"towns": [{"label": town.label, "country": country_name(town.country)} for town in found(request.GET.get("find", ""))]}
    )
