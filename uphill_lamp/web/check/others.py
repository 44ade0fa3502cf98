"""Pictures and sounds of anybody, without a setup: one table, or the same as CSV; nothing of it is kept."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_http_methods

from uphill_lamp.core.check.general import SHOTS, Told, general
from uphill_lamp.core.document.faults import Refused
from uphill_lamp.looking.children import Answer
from uphill_lamp.web.answers import csv_file
from uphill_lamp.web.check.lines import told
from uphill_lamp.web.check.takes import measured_uploads, short_name, why_not
from uphill_lamp.web.guard import MOST_CLIP_BYTES

MOST_FILES = 8


@require_http_methods(["GET", "POST"])
def others(request: HttpRequest) -> HttpResponse:
    """The page; files posted are measured one after another and told side by side."""
    files, shot = request.FILES.getlist("files"), request.POST.get("shot", "call_tile")
    context: dict[str, Any] = {"shots": SHOTS, "shot": shot, "most": MOST_FILES, "most_gb": MOST_CLIP_BYTES // 1_000_000_000}
    fault = ""
    if request.method == "POST":
        fault = "" if shot in SHOTS else "Choose what the picture is for."
        fault = fault or ("" if files else "Choose one file or several first: pictures or sounds.")
        fault = fault or ("" if len(files) <= MOST_FILES else f"{len(files)} files are too many at once: {MOST_FILES} at most.")
    if request.method == "GET" or fault:
        return render(request, "check/others.html", context | {"fault": fault}, status=422 if fault else 200)
    reports = measured_uploads([(upload, False, None) for upload in files], request.POST.get("underway", ""))
    columns = [_column(short_name(upload.name or ""), report, shot) for upload, report in zip(files, reports, strict=True)]
    if request.POST.get("as") == "csv":
        return _csv(columns)
    names = list(dict.fromkeys(row.id for column in columns for row in column["rows"]))
    labels = {row.id: row.label for column in columns for row in column["rows"]}
    table = [{"label": labels[name], "cells": [_cell(column, name) for column in columns if not column["fault"]]} for name in names]
    return render(request, "check/others.html", context | {"columns": columns, "table": table})


def _column(name: str, report: Answer, shot: str) -> dict[str, Any]:
    """A file's name, its figures, or why there are none."""
    if isinstance(report, Refused):
        return {"name": name, "rows": (), "fault": why_not(report, "It"), "notes": []}
    rows = general(report, shot)
    return {"name": name, "rows": rows, "fault": "", "notes": report["notes"], "wanting": sum(row.state == "wanting" for row in rows)}


def _row(column: dict[str, Any], name: str) -> Told | None:
    return next((row for row in column["rows"] if row.id == name), None)


def _cell(column: dict[str, Any], name: str) -> dict[str, Any]:
    row = _row(column, name)
    return {"row": row, "value": told(row.value, row.unit) if row else "", "name": column["name"]}


def _csv(columns: list[dict[str, Any]]) -> HttpResponse:
    lines = [["file", "figure", "value", "unit", "state", "move", "refused"]]
    for column in columns:
        lines += [[column["name"], row.id, told(row.value, ""), row.unit, row.state, row.move, row.refused] for row in column["rows"]]
        if column["fault"]:
            lines.append([column["name"], "", "", "", "refused", "", column["fault"]])
    return csv_file(lines, "measured.csv")
