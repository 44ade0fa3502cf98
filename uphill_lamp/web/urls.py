"""All addresses of the app."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.urls import path

from uphill_lamp.web import heavy

LIGHT = {
    f"uphill_lamp.web.{module}" for module in ("bench.drawn", "bench.towns", "setups.listing", "help.views")
}  # what they ask for they load themselves


class Late:
    """A module's views, imported when the first of them is asked for: the first page needs none of the computation."""

    def __init__(self, module: str) -> None:
        self.module = f"uphill_lamp.web.{module}"

    def __getattr__(self, name: str) -> Callable[..., HttpResponse]:
        def view(request: HttpRequest, **named: Any) -> HttpResponse:
            if self.module not in LIGHT:
                heavy.load()
            answer: HttpResponse = getattr(import_module(self.module), name)(request, **named)
            return answer

        return view


past = Late("past.views")
pictures = Late("bench.pictures")
bench = Late("bench.views")
things = Late("bench.things")
towns = Late("bench.towns")
catalogue = Late("catalogue.views")
check = Late("check.views")
others = Late("check.others")
underway = Late("check.underway")
day = Late("day.views")
files = Late("files.views")
going = Late("go.views")
log = Late("go.log")
cards = Late("go.cards")
by_phone = Late("go.by_phone")
hands = Late("hands.views")
help_views = Late("help.views")
lamp = Late("lamp.views")
hearing = Late("microphones.hearing")
microphones = Late("microphones.views")
places = Late("places.views")
prompter = Late("prompter.views")
quickstart = Late("quickstart.views")
setups = Late("setups.views")
steps = Late("steps.views")
wiring = Late("wiring.views")
drawn = Late("bench.drawn")
listing = Late("setups.listing")

urlpatterns = [
    path("", listing.all_setups, name="setups"),
    path("demo/reset/", setups.reset_demo, name="reset-demo"),
    path("setups/new/", quickstart.ask, name="quickstart"),
    path("setups/<int:setup_id>/copy/", setups.copy, name="copy"),
    path("setups/<int:setup_id>/rename/", setups.rename, name="rename"),
    path("setups/<int:setup_id>/delete/", setups.delete, name="delete"),
    path("setups/<int:setup_id>/bring-back/", setups.bring_back, name="bring-back"),
    path("setups/<int:setup_id>/export/", files.export, name="export"),
    path("setups/<int:setup_id>/lights/<slug:light_id>/light.ies", files.photometry, name="photometry"),
    path("setups/<int:setup_id>/undo/", bench.undo, name="undo"),
    path("setups/<int:setup_id>/redo/", bench.redo, name="redo"),
    path("setups/<int:setup_id>/past/", past.past, name="past"),
    path("setups/<int:setup_id>/past/<int:revision_id>/", past.beside, name="past-beside"),
    path("setups/<int:setup_id>/past/<int:revision_id>/back/", past.brought_back, name="past-back"),
    path("setups/<int:setup_id>/place/", places.place, name="place"),
    path("setups/<int:setup_id>/place/add/", places.add, name="add-spot"),
    path("setups/<int:setup_id>/place/posture/", places.posture, name="other-posture"),
    path("setups/<int:setup_id>/place/choose/", places.choose, name="choose-spot"),
    path("setups/<int:setup_id>/prompter/", prompter.prompter, name="prompter"),
    path("setups/<int:setup_id>/prompter/read/", prompter.read, name="prompter-read"),
    path("setups/<int:setup_id>/day/", day.day, name="day"),
    path("setups/<int:setup_id>/day/<str:digest>/<int:year>-<slug:sky>.png", day.year_sheet, name="year-sheet"),
    path("setups/<int:setup_id>/hands/", hands.hands_on, name="hands"),
    path("setups/<int:setup_id>/microphones/", microphones.microphones, name="microphones"),
    path("setups/<int:setup_id>/compare/<int:other_id>/", places.compare, name="compare"),
    path("setups/<int:setup_id>/steps/", steps.steps, name="steps"),
    path("setups/<int:setup_id>/steps/progress/", steps.progress, name="steps-progress"),
    path("setups/<int:setup_id>/steps/stop/", steps.stop, name="steps-stop"),
    path("setups/<int:setup_id>/steps/wish/", steps.wish, name="steps-wish"),
    path("setups/<int:setup_id>/steps/do/", steps.do, name="steps-do"),
    path("setups/<int:setup_id>/steps/ladder.csv", steps.as_table, name="ladder-csv"),
    path("setups/<int:setup_id>/steps/ladder.svg", steps.as_drawing, name="ladder-svg"),
    path("setups/<int:setup_id>/steps/<str:number>/shopping/", steps.shopping, name="shopping"),
    path("setups/<int:setup_id>/steps/<str:number>/try/<slug:stage>/", steps.trying, name="trying"),
    path("setups/<int:setup_id>/check/", check.check, name="check"),
    path("setups/<int:setup_id>/check/measure/", check.measure, name="check-measure"),
    path("setups/<int:setup_id>/check/<int:take_id>/accept/", check.accept, name="check-accept"),
    path("setups/<int:setup_id>/check/<int:take_id>/marks/", check.marks, name="check-marks"),
    path("setups/<int:setup_id>/check/<int:take_id>/mark/", check.mark, name="check-mark"),
    path("setups/<int:setup_id>/check/<int:take_id>/picture.jpg", check.preview, name="check-picture"),
    path("setups/<int:setup_id>/go/", going.go, name="go"),
    path("setups/<int:setup_id>/go/keep/", going.keep, name="go-keep"),
    path("setups/<int:setup_id>/go/log/", log.add, name="log-add"),
    path("setups/<int:setup_id>/go/log/<int:use_id>/delete/", log.delete, name="log-delete"),
    path("setups/<int:setup_id>/go/log/open/", log.from_table, name="log-open"),
    path("setups/<int:setup_id>/go/log.csv", log.as_table, name="log-csv"),
    path("setups/<int:setup_id>/go/log/refuse/", log.refuse, name="log-refuse"),
    path("setups/<int:setup_id>/go/phone/open/", by_phone.open_here, name="phone-open"),
    path("setups/<int:setup_id>/go/phone/close/", by_phone.close_here, name="phone-close"),
    path("setups/<int:setup_id>/go/phone/ticks/", by_phone.ticks, name="phone-ticks"),
    path("setups/<int:setup_id>/go/phone/tick/", by_phone.tick, name="phone-tick"),
    path("setups/<int:setup_id>/go/call.ics", cards.calendar, name="go-calendar"),
    *(
        path(f"setups/<int:setup_id>/go/{name}.pdf", cards.card, {"name": name}, name=f"go-{name}")
        for name in ("run-sheet", "marks", "settings", "guest", "packing")
    ),
    *(path(f"setups/<int:setup_id>/go/{name}.txt", cards.as_text, {"name": name}, name=f"{name}-text") for name in ("guest", "packing")),
    path("setups/<int:setup_id>/wiring/", wiring.wiring, name="wiring"),
    path("setups/<int:setup_id>/wiring/keep/", wiring.kept, name="wiring-keep"),
    path("setups/<int:setup_id>/wiring/labels.pdf", wiring.labels, name="labels"),
    path("setups/<int:setup_id>/wiring/wiring.svg", wiring.as_drawing, name="wiring-svg"),
    path("setups/<int:setup_id>/plan.pdf", wiring.whole_plan, name="plan-pdf"),
    path("setups/<int:setup_id>/catalogue/", catalogue.shown, name="catalogue-of"),
    path("setups/<int:setup_id>/catalogue/owned/", catalogue.owned, name="owned"),
    *(
        path(f"{before}catalogue/{last}/", view, name=f"catalogue-{last}{mark}")
        for before, mark in (("", ""), ("setups/<int:setup_id>/", "-of"))
        for last, view in (
            ("price", catalogue.priced),
            ("away", catalogue.gone),
            ("rate", catalogue.rated),
            ("add", catalogue.added),
            ("open", catalogue.opened),
        )
    ),
    path("towns/", towns.towns, name="towns"),
    path("catalogue/", catalogue.shown, name="catalogue"),
    path("catalogue.csv", catalogue.table, name="catalogue-csv"),
    path("setups/<int:setup_id>/", bench.start, name="bench-start"),
    path("setups/<int:setup_id>/<slug:stage>/", bench.bench, name="bench"),
    path("setups/<int:setup_id>/<slug:stage>/fragment/", bench.fragment, name="fragment"),
    path("setups/<int:setup_id>/<slug:stage>/findings/", bench.findings, name="findings"),
    path("setups/<int:setup_id>/<slug:stage>/things/", things.things, name="things"),
    path("setups/<int:setup_id>/<slug:stage>/change/", bench.change, name="change"),
    path("setups/<int:setup_id>/<slug:stage>/preview/", bench.preview, name="preview"),
    path("picture/<str:digest>/<int:width>.jpg", drawn.picture, name="picture"),
    path("picture/<str:digest>/levels.jpg", pictures.levels, name="levels"),
    path("picture/<str:digest>/picture.png", pictures.png, name="picture-png"),
    path("picture/<str:digest>/after/<str:move>.jpg", pictures.after, name="picture-after"),
    path("hear/<str:digest>/<str:key>/<str:voice>.wav", hearing.hear, name="hear"),
    path("hear/own/", hearing.own_voice, name="own-voice"),
    path("lamp/", lamp.lamp, name="lamp"),
    path("files/", files.files, name="files"),
    path("measure/", others.others, name="measure-others"),
    path("measure/underway/<str:name>/", underway.progress, name="underway"),
    path("help/", help_views.help_page, name="help"),
    path("schema/setup.json", files.setup_schema, name="setup-schema"),
    path("schema/measures.json", files.measures_schema, name="measures-schema"),
    path("schema/steps.json", files.steps_schema, name="steps-schema"),
    path("schema/catalogue.json", files.catalogue_schema, name="catalogue-schema"),
    path("schema/appraisal.json", files.appraisal_schema, name="appraisal-schema"),
]
handler400 = "uphill_lamp.web.setups.listing.not_understood"
handler404 = "uphill_lamp.web.setups.listing.not_here"
handler500 = "uphill_lamp.web.setups.listing.went_wrong"
