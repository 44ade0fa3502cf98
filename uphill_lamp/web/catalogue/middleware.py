"""Which catalogue is meant while an answer is worked out."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from django.http import HttpRequest, HttpResponse

from uphill_lamp.core.catalogue.meant import using

if TYPE_CHECKING:
    from uphill_lamp.core.catalogue.prices import Catalogue


class InForce:
    """Middleware: whatever an answer works out asks the catalogue as it is now; most answers, such as a drag's, ask none."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with using(_in_force):
            return self.answer(request)


def _in_force() -> Catalogue:
    from uphill_lamp.web.catalogue.flows import in_force  # late: the first page asks for no price

    return in_force()
