"""The catalogue's page: prices, own items, what lies in a setup's drawer, CSV out and in."""

from __future__ import annotations

import math
import re
from datetime import date, datetime
from itertools import groupby
from typing import Any
from urllib.parse import urlencode

from django.core import signing
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET
from pydantic import ValidationError

from uphill_lamp.core.catalogue.kind import MOST_PRICE, NOTHING_YET, Kind
from uphill_lamp.core.catalogue.prices import BASE, Catalogue, catalogue
from uphill_lamp.core.catalogue.table import COLUMNS, MOST_BYTES, kind_of, read_table, written_table
from uphill_lamp.core.describing.putting import from_drawer
from uphill_lamp.core.document import Refused, read_setup
from uphill_lamp.core.document import Setup as Document
from uphill_lamp.core.document.faults import Fault
from uphill_lamp.core.document.patch import Patch, add, remove
from uphill_lamp.core.scene.wording import plain_sum
from uphill_lamp.web.answers import posted
from uphill_lamp.web.bench import page as bench
from uphill_lamp.web.catalogue import flows
from uphill_lamp.web.catalogue.models import Entry
from uphill_lamp.web.setups import flows as setups
from uphill_lamp.web.setups.documents import appraised
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.setups.rows import STALE, setup_of

ROLE_WORDS = {
    "support": "To stand things on", "arm": "Arms", "mount": "Stands and mounts", "bulb": "Bulbs", "lamp": "Lamps",
    "diffuser": "In front of a lamp", "sheet": "White sheets",
    "covering": "At the window", "glasses": "Glasses", "power": "Power", "microphone": "Microphones", "headphones": "Headphones",
    "input": "Inputs", "filter": "Round a microphone",
    "soft": "Soft things", "camera": "Cameras", "capture": "Capture", "lens": "Lenses", "prompter": "Prompter", "screen": "Screens",
    "keyboard": "Keys", "cable": "Cables",
    "adapter": "Adapters", "other": "Other things",
}  # fmt: skip


SAID = "catalogue.said"
EXAMPLE = "kind=panel;width_m=0.3;height_m=0.2;flux_lm=1200;cct_k=5000;stands=desk"
KINDS_A_PAGE = 200  # all that ship stand on one

# What an item of one's own may say besides, with what stands in its empty field.
OWN_MORE = (
    ("attributes", "Attributes", EXAMPLE), ("needs", "Needs", "usb_charger"), ("ports", "Ports", "usb_c.plug"), ("power_w", "Watts", ""),
    ("minutes_once", "Minutes to put it together", "10"), ("minutes_each_time", "Minutes before each call", "0"),
)  # fmt: skip
SHORT = ("price", "power_w", "minutes_once", "minutes_each_time")


def _setup(setup_id: int | None) -> Setup | None:
    if setup_id is None:
        return None
    return setup_of(setup_id)


@require_GET
def shown(request: HttpRequest, setup_id: int | None = None) -> HttpResponse:
    """All kinds; beside a setup with what lies in its drawer."""
    return _page(request, _setup(setup_id))


def _page(request: HttpRequest, setup: Setup | None, status: int = 200, **more: Any) -> HttpResponse:
    there = flows.in_force()
    document = read_setup(setup.head.document.encode()) if setup and setup.head else None
    owned: dict[str, int] = {}
    for item in document.kit if document else ():
        owned[item.entry] = owned.get(item.entry, 0) + item.count
    find = request.GET.get("find", "").strip()[:80]
    kinds = _found(there, find)
    pages = Paginator(kinds, KINDS_A_PAGE)
    part = pages.get_page(request.GET.get("page") or _page_of(kinds, more.get("typed", {}).get("entry") or request.GET.get("row", "")))
    groups = [
        (ROLE_WORDS[role], [_shown_kind(there, kind, owned, more.get("typed", {})) | _putting(setup, document, kind) for kind in of_role])
        for role, of_role in groupby(part, lambda kind: kind.role)
    ]
    own_more = _own_more(more.get("typed", {}), more.get("add_faults", {}))
    context: dict[str, Any] = {
        "setup": setup, "revision": setup.head if setup else None, "groups": groups, "page": part, "find": find, "columns": COLUMNS,
        "base": BASE, "short": SHORT, "own_more": own_more, "own_open": any(field["fault"] for field in own_more),
        "rates": sorted(there.rates.items()), "hidden": Entry.objects.filter(hidden=True),
        "lost": [item for item in document.kit if item.entry not in there.kinds] if document else (),
        "roles": ROLE_WORDS.items(), "typed": {}, "rate_typed": {}, "said": _own_words(request.GET.get("said", "")),
    }  # fmt: skip
    return render(request, "catalogue/catalogue.html", context | _around(request, setup) | more, status=status)


def _own_more(typed: dict[str, str], faults: dict[str, str]) -> list[dict[str, str]]:
    """The further fields of an item of one's own, with what was typed and what is wrong with it."""
    return [
        {"field": field, "label": label, "hint": hint, "value": typed.get(field, ""), "fault": faults.get(field, "")}
        for field, label, hint in OWN_MORE
    ]


def _found(there: Catalogue, find: str) -> list[Kind]:
    """Kinds whose name holds what is looked for, sort by sort."""
    order = {role: number for number, role in enumerate(ROLE_WORDS)}
    return sorted((kind for kind in there.kinds.values() if find.lower() in kind.name.lower()), key=lambda kind: order[kind.role])


def _page_of(kinds: list[Kind], entry: str) -> int:
    """The page on which a kind stands; the first if it stands nowhere."""
    return next((number // KINDS_A_PAGE + 1 for number, kind in enumerate(kinds) if kind.entry == entry), 1)


def _around(request: HttpRequest, setup: Setup | None) -> dict[str, Any]:
    """The setup's own frame, where the catalogue is opened from one."""
    if setup is None or setup.head is None:
        return {"frame": "base.html"}
    _, appraisal = appraised(setup.head.document)
    return {"frame": "within_setup.html"} | bench.within_setup(request, setup, appraisal, bench.STEPS)


def _shown_kind(there: Catalogue, kind: Kind, owned: dict[str, int], typed: dict[str, str]) -> dict[str, Any]:
    """A kind as its row shows it: what was typed there and not taken stays."""
    needs = [there.kinds[entry].name if entry in there.kinds else entry for entry in kind.needs]
    kept = typed if typed.get("entry") == kind.entry else {}
    price, currency = kept.get("price") or plain_sum(kind.price), kept.get("currency") or kind.currency
    return {"kind": kind, "owned": owned.get(kind.entry, 0), "needs": needs, "price": price, "currency": currency}


def _putting(setup: Setup | None, document: Document | None, kind: Kind) -> dict[str, Any]:
    """The way into the room for what lies in the drawer, and whether owning a kind changes anything yet."""
    item = next((owned for owned in document.kit if owned.entry == kind.entry), None) if document else None
    here = setup is not None and document is not None and item is not None and from_drawer(document, item.id) is not None
    address = f"{reverse('bench', args=[setup.pk, 'light'])}?picked=kit/{item.id}" if here and setup and item else ""
    return {"put_address": address, "nothing_yet": kind.entry in NOTHING_YET}


def _back(setup_id: int | None, announced: str, entry: str = "") -> HttpResponse:
    """To the page again, to the part where a kind stands, with what has been done."""
    address = reverse("catalogue-of", args=[setup_id]) if setup_id else reverse("catalogue")
    return redirect(f"{address}?{urlencode({'said': signing.dumps(announced, salt=SAID), **({'row': entry} if entry else {})})}")


def _own_words(signed: str) -> str:
    """What the app itself said in the address it led to; nobody else can put words into its mouth."""
    try:
        return str(signing.loads(signed, salt=SAID)) if len(signed) < 2000 else ""
    except signing.BadSignature:
        return ""


@posted("catalogue", of_setup="catalogue-of")
def owned(request: HttpRequest, setup_id: int) -> HttpResponse:
    """One click: a thing into the setup's drawer, or out of it."""
    setup = _setup(setup_id)
    assert setup is not None and setup.head is not None
    document, entry = read_setup(setup.head.document.encode()), request.POST.get("entry", "")
    kind = catalogue().kind(entry)
    lying = [item for item in document.kit if item.entry == entry]
    if kind is None and not lying:
        raise Http404
    patch: Patch
    if request.POST.get("take") == "out" and lying:
        patch, words = (remove(f"/kit/{lying[-1].id}"),), f"No longer in your drawer: {lying[-1].name}"
    else:
        assert kind is not None
        taken = {item.id for item in document.kit} | {item.name for item in document.kit}
        base = entry.replace("_", "-")[:34]
        new_id = next(name for name in (base, *(f"{base}-{n}" for n in range(2, 99))) if name not in taken)
        name = next(words for words in (kind.name, *(f"{kind.name[:70]} {n}" for n in range(2, 99))) if words not in taken)
        item: dict[str, Any] = {"id": new_id, "name": name, "entry": entry}
        if "thickness_m" in kind.attributes:
            item["thickness_m"] = kind.number("thickness_m")
        patch, words = (add("/kit/-", item),), f"Now in your drawer: {name}"
    try:
        setups.change(setup.pk, int(request.POST.get("parent") or 0), patch, words)
    except (setups.Stale, ValueError):
        return _page(request, setup, 409, fault=STALE)
    except Refused as refused:
        return _page(request, setup, 422, fault=f"Not saved: {refused}")
    return _back(setup_id, words, entry)


@posted("catalogue", of_setup="catalogue-of")
def priced(request: HttpRequest, setup_id: int | None = None) -> HttpResponse:
    """A price of one's own."""
    entry, text, currency = (
        request.POST.get("entry", ""),
        request.POST.get("price", "").strip(),
        request.POST.get("currency", "").strip().upper(),
    )
    price = _figure(text)
    kind = catalogue().kind(entry)
    if kind is None:
        raise Http404
    fault = ""
    if price is None or not 0 <= price <= MOST_PRICE:
        fault = f"Not saved: type a price from 0 to {MOST_PRICE}, such as 24 or 19.50."
    elif not re.fullmatch("[A-Z]{3}", currency):
        fault = f"Not saved: type a currency by its three letters, such as {BASE}."
    elif not catalogue().knows(currency):
        fault = f"Not saved: there is no rate for {currency} yet; enter one under Rates, below the list."
    if fault or price is None:
        return _page(request, _setup(setup_id), 422, row_fault=fault, typed={"entry": entry, "price": text[:20], "currency": currency[:8]})
    flows.reprice(entry, price, currency, _today())
    return _back(setup_id, f"{kind.name}: {price:g} {currency}, from today", entry)


@posted("catalogue", of_setup="catalogue-of")
def gone(request: HttpRequest, setup_id: int | None = None) -> HttpResponse:
    """A kind taken away, or the shipped ones back."""
    if request.POST.get("back"):
        flows.as_shipped()
        return _back(setup_id, "Kinds, prices and rates are as they came; your own items stay")
    try:
        if again := request.POST.get("again", ""):
            flows.bring_back(again)
            return _back(setup_id, f"Back in the catalogue: {Entry.objects.get(entry=again).name}", again)
        flows.let_go(entry := request.POST.get("entry", ""))
    except Entry.DoesNotExist:
        raise Http404 from None
    return _back(
        setup_id, f"Taken away: {Entry.objects.get(entry=entry).name}. Setups keep what they have of it; it can be brought back below"
    )


@posted("catalogue", of_setup="catalogue-of")
def rated(request: HttpRequest, setup_id: int | None = None) -> HttpResponse:
    """A rate of one's own."""
    currency, text = request.POST.get("currency", "").strip().upper(), request.POST.get("rate", "").strip()
    rate = _figure(text)
    if rate is None or not 1e-4 <= rate <= 1e6 or not re.fullmatch("[A-Z]{3}", currency) or currency == BASE:
        fault = f"Not saved: type another currency by its three letters, and how much of it one {BASE} gives, such as EUR and 1.15."
        return _page(request, _setup(setup_id), 422, rate_fault=fault, rate_typed={"currency": currency[:8], "rate": text[:20]})
    flows.set_rate(currency, rate)
    return _back(setup_id, f"1 {BASE} = {rate:g} {currency}")


@posted("catalogue", of_setup="catalogue-of")
def added(request: HttpRequest, setup_id: int | None = None) -> HttpResponse:
    """One's own item, typed in."""
    row = {name: request.POST.get(name, "").strip() for name in COLUMNS}
    row["priced_on"] = row["priced_on"] or _today().isoformat()
    row["entry"] = row["entry"] or re.sub(r"[^a-z0-9]+", "_", row["name"].lower()).strip("_")[:40]
    row["price"] = (row["price"] or "0").replace(",", ".")
    row["currency"] = row["currency"].upper() or BASE
    try:
        kind: Kind = kind_of(row, own=True)
        if kind.entry in catalogue().kinds:
            raise Refused([Fault("entry", f"{kind.entry}, which is there already", "another name")])
        flows.take([kind])
    except (ValidationError, Refused) as wrong:
        return _page(request, _setup(setup_id), 422, add_faults=_faults(wrong), typed=row)
    return _back(setup_id, f"Added: {kind.name}", kind.entry)


def _faults(wrong: ValidationError | Refused) -> dict[str, str]:
    """What is wrong, by the field it stands beside; what is wrong with none of them stands with the name."""
    if isinstance(wrong, Refused):
        faults = {fault.path.strip("/"): f"Not saved: found {fault.found}; expected {fault.expected}." for fault in wrong.faults}
    else:
        faults = {
            str(fault["loc"][0]) if fault["loc"] else "": f"Not saved: {fault['msg'].removeprefix('Value error, ')}."
            for fault in wrong.errors()
        }
    own_fields = {"name", "role", "price", "currency", *(field for field, _, _ in OWN_MORE)}
    return {(field if field in own_fields else "name"): words for field, words in faults.items()}


@require_GET
def table(request: HttpRequest) -> HttpResponse:
    """The catalogue as CSV."""
    answer = HttpResponse(written_table(catalogue().kinds.values()), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="catalogue.csv"'
    return answer


@posted("catalogue", of_setup="catalogue-of")
def opened(request: HttpRequest, setup_id: int | None = None) -> HttpResponse:
    """A catalogue from CSV: taken wholly or not at all."""
    upload = request.FILES.get("file")
    try:
        if upload is None:
            raise Refused([Fault("", "no file", "a table as CSV")])
        if (upload.size or 0) > MOST_BYTES:
            raise Refused([Fault("", f"a file of {(upload.size or 0) / 1e6:.1f} MB", f"{MOST_BYTES / 1e6:g} MB at most")])
        new, changed = flows.take(read_table(upload.read()))
    except Refused as refused:
        return _page(request, _setup(setup_id), 422, file_faults=refused.faults, file_name=(upload.name or "")[:80] if upload else "")
    return _back(setup_id, f"{new} new, {changed} changed")


def _today() -> date:
    return datetime.now().astimezone().date()


def _figure(text: str) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if math.isfinite(value) else None
