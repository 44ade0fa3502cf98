"""The quick start: answers in, a complete setup out."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from uphill_lamp.core.document import Refused, applied
from uphill_lamp.core.document.patch import replace
from uphill_lamp.core.document.quickstart import QUESTIONS, UNNAMED, setup_from_answers
from uphill_lamp.web.setups import flows


@require_http_methods(["GET", "POST"])
def ask(request: HttpRequest) -> HttpResponse:
    """Asks; on answers, makes the setup and opens it."""
    answers: dict[str, object] = {question.key: [] if question.several else "" for question in QUESTIONS}
    name, faults = "", {}
    if request.method == "POST":
        name = request.POST.get("name", "").strip()
        for question in QUESTIONS:
            answers[question.key] = request.POST.getlist(question.key) if question.several else request.POST.get(question.key, "")
        try:
            document = setup_from_answers({key: answer for key, answer in answers.items() if answer}, name)
            if not name:
                document = applied(document, (replace("/name", flows.free_name(UNNAMED)),), origin=None)
            return redirect("bench-start", flows.create(document, "Quick start").pk)
        except Refused as refused:
            faults = {fault.path.strip("/"): f"Found {fault.found}; expected {fault.expected}." for fault in refused.faults}
    asked = [
        {
            "question": question,
            "number": number,
            "chosen": answers[question.key] if question.several else [answers[question.key]],
            "fault": faults.get(question.key),
        }
        for number, question in enumerate(QUESTIONS, 1)
    ]
    context = {"asked": asked, "name": name, "name_fault": faults.get("name"), "faults": faults}
    return render(request, "quickstart/ask.html", context, status=422 if faults else 200)
