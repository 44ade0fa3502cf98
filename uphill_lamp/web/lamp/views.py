"""Any spare screen as a lamp: colour, brightness, the light it gives at a distance."""

from __future__ import annotations

from dataclasses import asdict, dataclass

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from uphill_lamp.core.field.light.screen_lamp import Glass, lux_at
from uphill_lamp.core.scene.wording import lux
from uphill_lamp.core.tape.quantities import Unreadable, read
from uphill_lamp.drawings.whites import whites


@dataclass(frozen=True)
class Asked:
    """One field of the page: what it is called, what it may hold."""

    key: str
    label: str
    first: str
    unit: str
    low: float
    high: float
    length: bool


FIELDS = (
    Asked("diagonal", "Screen, corner to corner", "35", "cm", 0.05, 3.0, True),
    Asked("distance", "From your face", "60", "cm", 0.1, 5.0, True),
    Asked("luminance", "Its full white", "300", "cd/m²", 10, 3000, False),
)


@require_GET
def lamp(request: HttpRequest) -> HttpResponse:
    """The page; its figures come from what is typed, its colour from sliders that work at once."""
    values, fields, wrong = {}, [], False
    for field in FIELDS:
        text, fault = request.GET.get(field.key, field.first), ""
        try:
            values[field.key] = read("length" if field.length else "number", text, "cm")
            if not field.low <= values[field.key] <= field.high:
                raise Unreadable(f"expected {field.low:g} to {field.high:g} {'m' if field.length else field.unit}")
        except Unreadable as unreadable:
            fault, wrong = f"{unreadable}.".capitalize(), True
        fields.append({"field": field, "text": text, "fault": fault})
    full = None if wrong else lux_at(Glass(values["diagonal"], 16 / 9, values["luminance"]), values["distance"])
    context = {
        "fields": fields,
        "full_lx": full,
        "words": lux(full) if full is not None else "",
        "whites": [asdict(white) for white in whites()],
    }
    return render(request, "lamp/lamp.html", context, status=422 if wrong else 200)
