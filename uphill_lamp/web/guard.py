"""What stands between a foreign page and the app: who may ask, what an answer may be used for, and a token where the machine is shared."""

from __future__ import annotations

import errno
import hmac
import os
import re
from collections.abc import Callable

from django.core.exceptions import BadRequest
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from uphill_lamp.web.memory import asked, give_back

Answer = Callable[[HttpRequest], HttpResponse]
OWN_SITES = ("same-origin", "none", "")  # "none": typed, bookmarked or opened by another program; nothing: an older browser, or no browser
COOKIE, YEAR_S = "uphill_key", 365 * 86400
DENIED = (
    "accelerometer camera display-capture encrypted-media geolocation gyroscope hid idle-detection magnetometer midi payment serial usb "
    "xr-spatial-tracking"
)
POLICY = ", ".join([*(f"{name}=()" for name in DENIED.split()), "fullscreen=(self)", "microphone=(self)"])


MOST_BYTES = 25_000_000  # of a request; what a page takes of a file is less, and said there
MOST_CLIP_BYTES = 2_000_000_000  # where pictures, sounds and clips are measured: streamed to the disk, never held
MEASURED_AT = re.compile(r"/measure/|/setups/\d+/check/measure/")
HEAVY_BYTES = 200_000  # what was sent has been taken apart into far more


class Guard:
    """Middleware, before all else that answers with anything of a user's."""

    def __init__(self, answer: Answer) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        asked()
        answer = self._refused(request) or self.answer(request)
        if _length(request) > HEAVY_BYTES:
            give_back()
        answer.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        answer.headers.setdefault("Permissions-Policy", POLICY)
        answer.headers.setdefault("Cache-Control", "no-store")  # pictures say themselves how long they stay true
        return answer

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """A full disk is said as that."""
        full = (isinstance(exception, OperationalError) and "full" in str(exception)) or (
            isinstance(exception, OSError) and exception.errno == errno.ENOSPC
        )
        if not full:
            return None
        page = {
            "title": "There is no room left on the disk",
            "words": "Your last change was not kept; every change answered before it is. Make room on the disk and do it again: the app goes on by itself.",
        }
        return render(request, "lost.html", page, status=507)

    def _refused(self, request: HttpRequest) -> HttpResponse | None:
        if request.content_params and request.content_params.get("charset", "utf-8").lower() not in ("utf-8", "utf8"):
            raise BadRequest("only UTF-8 is read")
        most = MOST_CLIP_BYTES if MEASURED_AT.fullmatch(request.path) else MOST_BYTES
        if _length(request) > most:
            page = {
                "title": "That is too large",
                "words": f"A file may have at most {most // 1_000_000} MB here. Nothing was changed.",
            }
            return render(request, "lost.html", page, status=413)
        if (token := os.environ.get("UPHILL_TOKEN")) and not request.path.startswith("/static/"):
            if (refused := _without_token(request, token)) is not None:
                return refused
        return _foreign(request)


def _length(request: HttpRequest) -> int:
    text = request.META.get("CONTENT_LENGTH") or ""
    return int(text) if text.isdecimal() else 0


def _foreign(request: HttpRequest) -> HttpResponse | None:
    """Another page, also one on another port of this machine, may lead a reader to the list of setups, and do nothing else."""
    if request.headers.get("Sec-Fetch-Site", "") in OWN_SITES:
        return None
    leads = (
        request.method == "GET"
        and request.headers.get("Sec-Fetch-Mode") == "navigate"
        and request.headers.get("Sec-Fetch-Dest") == "document"
    )
    if leads and request.path == "/":
        return None
    if leads:
        return render(request, "foreign.html", {"address": request.get_full_path()}, status=403)
    return HttpResponse("Asked for by another page: refused.", status=403, content_type="text/plain; charset=utf-8")


def _without_token(request: HttpRequest, token: str) -> HttpResponse | None:
    """On a shared machine only who has the printed address gets in; from then on a cookie stands for it."""
    if hmac.compare_digest(request.GET.get("key", ""), token):
        answer = redirect(request.path)
        answer.set_cookie(COOKIE, token, max_age=YEAR_S, httponly=True, samesite="Strict")
        return answer
    if hmac.compare_digest(request.COOKIES.get(COOKIE, ""), token):
        return None
    page = {
        "title": "This app is private",
        "words": "Open it by the whole address that was printed where it was started, with the key at its end.",
    }
    return render(request, "lost.html", page, status=403)
