"""What the page Go shows of the sheet on a phone, and the page that the phone gets."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone

from uphill_lamp.drawings.square_code import square_code
from uphill_lamp.web.go import phone


def page_of(sheet: phone.Sheet | None, context: dict[str, Any]) -> dict[str, Any]:
    """What the page shows of it; an open one is given its lines anew."""
    if sheet is None:
        return {"phone": None}
    phone.renewed(sheet.setup_id, sheet_page(context, sheet.until), [row["line"].id for row in context["lines"]])
    code = square_code(sheet.address, "The address as a square code for the phone's camera")
    return {"phone": sheet, "phone_code": code, "phone_until": timezone.localtime(sheet.until, context["call"].begins.tzinfo)}


def sheet_page(context: dict[str, Any], until: datetime) -> str:
    """The whole page that a phone gets."""
    local = timezone.localtime(until, context["call"].begins.tzinfo)
    return render_to_string("go/phone.html", {name: context[name] for name in ("setup", "call", "lines")} | {"until": local})
