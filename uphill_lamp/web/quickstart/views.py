"""The quick start: answers in, a complete setup out. Two screens of five questions; what was answered on the first comes along."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from uphill_lamp.core.describing.asking import ASKED, UNKNOWN, setup_asked
from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.quickstart import UNNAMED
from uphill_lamp.web.setups import flows

PLAIN = ("town", "date", "money")
FIRST = 5  # questions on the first screen


@require_http_methods(["GET", "POST"])
def ask(request: HttpRequest) -> HttpResponse:
    """Asks; on answers, makes the setup and opens it."""
    answers: dict[str, Any] = {
        question.key: request.POST.getlist(question.key) if question.several else request.POST.get(question.key, "") for question in ASKED
    }
    name, plain = request.POST.get("name", "").strip(), {key: request.POST.get(key, "").strip() for key in PLAIN}
    screen, faults = 1, {}
    if request.method == "POST" and "next" in request.POST:
        screen = 2
    elif request.method == "POST" and "before" not in request.POST:
        try:
            document = setup_asked(answers, plain, name)
            if not name:
                document = applied(document, (replace("/name", flows.free_name(UNNAMED)),), origin=None)
            return redirect("bench-start", flows.create(document, "Quick start").pk)
        except Refused as refused:
            faults = {fault.path.strip("/"): f"Found {fault.found}; expected {fault.expected}." for fault in refused.faults}
            screen = 1 if any(question.key in faults for question in ASKED[:FIRST]) else 2
    return render(request, "quickstart/ask.html", _context(answers, plain, name, screen, faults), status=422 if faults else 200)


def _context(answers: dict[str, Any], plain: dict[str, str], name: str, screen: int, faults: dict[str, str]) -> dict[str, Any]:
    asked = [
        {
            "question": question, "number": number, "chosen": answers[question.key] if question.several else [answers[question.key]],
            "fault": faults.get(question.key), "shown": (number <= FIRST) == (screen == 1),
        }
        for number, question in enumerate(ASKED, 1)
    ]  # fmt: skip
    fields = [{"key": key, "text": plain[key], "fault": faults.get(key)} for key in PLAIN]
    return {
        "asked": asked,
        "fields": fields,
        "name": name,
        "name_fault": faults.get("name"),
        "faults": faults,
        "screen": screen,
        "unknown": UNKNOWN,
    }
