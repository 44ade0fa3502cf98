"""The light of a date and of a year; the call moved along them."""

from __future__ import annotations

from collections import OrderedDict
from datetime import date, datetime, timedelta
from threading import Lock

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET

from uphill_lamp.core.areas.light.day import Day, DayRoom, day_of, year_of
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.field.light.sky_types import SKIES
from uphill_lamp.core.scene.wording import lux
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.drawings.day import YEAR_LEGEND, clock_changes, day_curve, held_down_by, spans_words, year_frame, year_png
from uphill_lamp.web.answers import by_method
from uphill_lamp.web.bench import page
from uphill_lamp.web.bench.cards import FULL_PX
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.rows import setup_of

EARLIEST, LATEST = 1900, 2100  # as the document allows
SKY_WORDS = {"clear": "Clear", "partly": "Some cloud", "overcast": "Overcast"}
MOST_KEPT, REPEATS = 4, 10

_rooms: OrderedDict[str, DayRoom] = OrderedDict()
_lock = Lock()


def _room(digest: str, document: Document) -> DayRoom:
    """A setup made ready for any instant; kept, since page, year and every change of date ask for it."""
    with _lock:
        if digest not in _rooms:
            _rooms[digest] = DayRoom.of(document)
            while len(_rooms) > MOST_KEPT:
                _rooms.popitem(last=False)
        _rooms.move_to_end(digest)
        return _rooms[digest]


@require_GET
def day(request: HttpRequest, setup_id: int) -> HttpResponse:
    """The light of the call's own date and sky, or of others asked for."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    digest, appraisal = appraised(setup.head.document)
    document = appraisal.setup
    asked = request.GET.get("date", "")
    wanted = _date(asked) if asked else document.place.call_at.date()
    sky = request.GET.get("sky", document.place.sky)
    if sky not in SKIES:
        sky = document.place.sky
    context = page.within_setup(request, setup, appraisal, page.stage_of("light")) | {"sky": sky, "skies": SKY_WORDS, "asked": asked}
    if wanted is None:
        context["fault"] = f"Expected a date from {EARLIEST} to {LATEST}, such as 2026-11-24."
        return render(request, "day/day.html", context, status=422)
    light = day_of(_room(digest, document), wanted, sky)
    context["repeats"] = _repeats(_room(digest, document), document, sky) if document.call.repeats == "weekly" else ()
    context |= {
        "digest": digest, "picture_px": FULL_PX, "alt": alt_text(appraisal), "day": light,
        "curve": day_curve(light), "steps": _steps(light), "at": light.nearest(datetime.combine(wanted, document.place.call_at.time())),
        "asked": wanted.isoformat(), "told": _told(light), "changes": clock_changes(light), "legend": YEAR_LEGEND,
        "windows": bool(document.room.windows), "year": year_frame(light, reverse("year-sheet", args=[setup.pk, digest, wanted.year, sky])),
        "as_it_is": wanted == document.place.call_at.date() and sky == document.place.sky,
    }  # fmt: skip
    return render(request, "day/day.html", context)


def _repeats(room: DayRoom, document: Document, sky: str) -> list[dict[str, object]]:
    """The next ten of a call that repeats every week: the light on the face at its hour, by the windows alone and with the lamps."""
    rows = []
    for week in range(REPEATS):
        when = document.place.call_at + timedelta(weeks=week)
        light = day_of(room, when.date(), sky)
        at = light.nearest(when)
        rows.append({
            "when": when, "windows": lux(float(light.windows.level_lx[at])), "lamps": lux(float(light.lamps.level_lx[at])),
            "good": bool(light.good(light.lamps)[at]), "sunny": bool(light.windows.sun_share[at] > 0),
        })  # fmt: skip
    return rows


def _date(asked: str) -> date | None:
    """The date asked for, if it is one that a setup may have."""
    try:
        given = date.fromisoformat(asked)
    except ValueError:
        return None
    return given if EARLIEST <= given.year <= LATEST else None


def _steps(light: Day) -> list[dict[str, object]]:
    """What the page's script shows at each instant: wall-clock time, its words, and light by windows alone and with lamps [lx]."""
    return [
        {"at": f"{clock:%Y-%m-%dT%H:%M}", "words": f"{clock:%H:%M}", "windows": round(float(windows), 1), "lamps": round(float(lamps), 1)}
        for clock, windows, lamps in zip(light.clock, light.windows.level_lx, light.lamps.level_lx, strict=True)
    ]


def _told(light: Day) -> list[tuple[str, str]]:
    """The day in words: pairs of what and when."""
    never = f"at no time; most of the day it fails by: {held_down_by(light)}"
    return [
        ("Looks good with the lamps as they are", spans_words(light, light.good_spans) or never),
        ("Windows alone give too little", spans_words(light, light.dark_spans) or "at no time"),
        ("Sun falls on your face", spans_words(light, light.sunny_spans) or "at no time"),
    ]


@require_GET
@by_method
def year_sheet(request: HttpRequest, setup_id: int, digest: str, year: int, sky: str) -> HttpResponse:
    """A year by day and hour, for the setup as it stands: its digest is part of the address."""
    setup = setup_of(setup_id)
    assert setup.head is not None
    known, appraisal = appraised(setup.head.document)
    if sky not in SKIES or known != digest or not EARLIEST <= year <= LATEST:
        raise Http404
    light = year_of(_room(digest, appraisal.setup), year, sky)
    level = day_of(_room(digest, appraisal.setup), date(year, 1, 1), sky).level
    return HttpResponse(year_png(light, level), content_type="image/png")
