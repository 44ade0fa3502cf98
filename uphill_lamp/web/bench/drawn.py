"""A picture as it was drawn before, else drawn now: nothing to draw with is imported until something has to be."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_GET

from uphill_lamp.web import heavy
from uphill_lamp.web.answers import by_method
from uphill_lamp.web.bench import cards


@require_GET
@by_method
def picture(request: HttpRequest, digest: str, width: int) -> HttpResponse:
    """What they see of a document, by its digest: as it was drawn before, else drawn now."""
    drawn = cards.kept(digest, width)
    if drawn is not None:
        return HttpResponse(drawn, content_type="image/jpeg")
    heavy.load()  # only where something has to be drawn
    from uphill_lamp.web.bench import pictures

    return pictures.picture(request, digest, width)
