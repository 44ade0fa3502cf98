"""Pictures by what they show: a document's, after one of its moves, its light, and as a file to keep."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.views.decorators.http import require_GET

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.field.camera.metering import meter
from uphill_lamp.core.field.light.lit_scene import lit_scene_of
from uphill_lamp.drawings.draftsman import Draftsman
from uphill_lamp.web.answers import by_method
from uphill_lamp.web.bench import cards, page
from uphill_lamp.web.setups.documents import appraised, kept, text_of
from uphill_lamp.web.setups.models import Revision

DRAFTSMAN = Draftsman()  # drafts are drawn beside the answering, so that a drag gets both at once
PATIENCE_S = 3.0  # for a draftsman that is getting ready: drawn here, a draft would hold up all other answers as long
PICTURE_WIDTHS = (page.DRAFT_PX, *cards.KEPT_PX)
FILE_PX = 1280


def picture(request: HttpRequest, digest: str, width: int) -> HttpResponse:
    """What they see of a document, drawn: one in memory, or any revision's."""
    if width not in PICTURE_WIDTHS:
        raise Http404
    appraisal = by_digest(digest)
    if width == page.DRAFT_PX and (drawn := DRAFTSMAN.draft(text_of(appraisal.setup).encode(), appraisal.metered, PATIENCE_S)):
        return HttpResponse(drawn, content_type="image/jpeg")
    from uphill_lamp.drawings.far_side.render import columns_of, rendered

    columns = columns_of(appraisal.setup, width)
    drawn = rendered(appraisal.lit_scene, appraisal.metered, columns, draft=width == page.DRAFT_PX).jpeg()
    if width in cards.KEPT_PX and Revision.objects.filter(digest=digest).exists():  # what is only tried is not worth the room
        cards.keep(digest, width, drawn)
    return HttpResponse(drawn, content_type="image/jpeg")


@require_GET
@by_method
def after(request: HttpRequest, digest: str, move: str) -> HttpResponse:
    """What they would see after a move that is offered for a document."""
    from uphill_lamp.drawings.far_side.render import columns_of, rendered

    appraisal = by_digest(digest)
    offered = appraisal.move(move)
    if offered is None:
        raise Http404
    try:
        lit_scene = lit_scene_of(applied(appraisal.setup, offered.patch))
    except Refused:
        raise Http404 from None
    return HttpResponse(rendered(lit_scene, meter(lit_scene), columns_of(lit_scene.setup, cards.FULL_PX)).jpeg(), content_type="image/jpeg")


@require_GET
@by_method
def levels(request: HttpRequest, digest: str) -> HttpResponse:
    """The same view in false colours: how much light falls where."""
    from uphill_lamp.drawings.far_side.levels import light_levels

    return HttpResponse(light_levels(by_digest(digest)).jpeg(), content_type="image/jpeg")


@require_GET
def png(request: HttpRequest, digest: str) -> HttpResponse:
    """The picture as a PNG file to keep."""
    from uphill_lamp.drawings.far_side.render import columns_of, render

    appraisal = by_digest(digest)
    response = HttpResponse(render(appraisal, columns_of(appraisal.setup, FILE_PX)).png(), content_type="image/png")
    response["Content-Disposition"] = 'attachment; filename="what-they-see.png"'
    return response


def by_digest(digest: str) -> Appraisal:
    """A document in memory, or any revision's."""
    appraisal = kept(digest)
    if appraisal is None:
        revision = Revision.objects.filter(digest=digest).first()
        if revision is None:
            raise Http404
        _, appraisal = appraised(revision.document)
    return appraisal
