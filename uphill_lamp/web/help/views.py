"""Help and keys."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

KEYS = (
    ("1 to 8", "Place, Frame, Light, Sound, Backdrop, Eyes, Steps, Check: on every page of a setup"),
    ("Tab", "from thing to thing; the link “Skip to what to fix” comes early"),
    ("Space or Enter on a thing", "select it"),
    ("Arrows on a thing", "move it 1 cm; with Shift 10 cm"),
    ("Page up, Page down on a thing", "raise or lower it 1 cm; with Shift 10 cm"),
    ("[ and ] on a thing", "turn it 1 degree"),
    ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo"),
    ("O", "lines over the picture on or off"),
    ("F", "on the stage Light: how much light falls where, in colours, and back"),
    ("Pointer or focus on a move", "the picture as it would be after it"),
    ("G", "the picture as small as in a grid of many, and back"),
    ("B, held", "the picture as it was before the last change; the button “Before” draws a line across it to drag"),
    ("L, with the focus on the bench", "all lamps off, and on again"),
    ("/", "find a thing by its name"),
    ("K", "keys and help, over the page"),
    ("Esc", "let go"),
)
WORDS = (
    ("Headroom", "air between the top of your head and the top of the picture"),
    ("Eye line", "how far down the picture your eyes are"),
    ("View angle", "how high the lens stands, seen from your eyes"),
    ("Focal length, by width", "how long a lens is, told as it would be on a sensor 36 mm wide"),
    ("Stop down", "close the lens's aperture: more is sharp, and it asks for more light"),
    ("Place", "where in your home a call could be held; each place is a setup of its own"),
    ("Key", "the main light on your face"),
    ("Fill", "a weaker light that softens the key's shadows"),
    ("Stop", "a doubling or halving of light; 2 stops are four times"),
    ("Gain", "what a camera or amplifier adds when too little comes in; it adds noise too"),
    ("Mired", "a scale of whites on which equal steps look alike; candle 500, sky 100"),
    ("Tint", "green or pink in a light that should be white, told as Duv"),
    ("Burnt out", "so bright that the picture holds nothing but white"),
    ("Silhouette", "a face much darker than what is behind it"),
    ("Voice over room", "sound straight from your mouth against what walls throw back"),
    ("Origin", "where a figure comes from: assumed by us, entered by you, or measured"),
)


@require_GET
def help_page(request: HttpRequest) -> HttpResponse:
    """What the page shows, the words it uses, the keys."""
    over = request.headers.get("X-Uphill-Fragment") == "1"  # laid over the page that asks
    return render(request, "help/over.html" if over else "help/help.html", {"keys": KEYS, "words": WORDS})
