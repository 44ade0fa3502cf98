"""Every kind of the catalogue changes something for somebody: owned, it changes a step that is offered, a way things are joined, or what stands
ready before a call."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from typing import Any
from unittest import TestCase

from tests.core.test_wiring import with_camera, with_microphone
from tests.desks import DESKS, desk
from tests.promise import SEED, promised, times
from tests.setups import demo, put
from uphill_lamp.core.appraisal.appraise import Appraisal, appraise
from uphill_lamp.core.catalogue.kind import NOTHING_YET
from uphill_lamp.core.catalogue.meant import using
from uphill_lamp.core.catalogue.prices import Catalogue, catalogue
from uphill_lamp.core.catalogue.table import shipped
from uphill_lamp.core.document import Setup, typical
from uphill_lamp.core.scene.scene import scene_of
from uphill_lamp.core.session.run_sheet import run_sheet
from uphill_lamp.core.steps.candidates import moves_of
from uphill_lamp.core.wiring.plan import planned

MADE_UP = ("wall", "paper", "full", "soft", "bare", "coloured", "bulb")
ASKING = (
    "clock-bench", "08 standing", "13 room that works", "standing-webinar", "03 office", "12 lamps", "10 dynamic", *MADE_UP,
)  # fmt: skip
PORTS = (
    ["usb_a"], ["usb_c"], ["usb_a", "usb_a", "usb_c", "trs", "hdmi"], ["trrs"], ["trs", "trs"], ["phone_port"], ["usb_a", "trs"], ["usb_c", "hdmi"],
)  # fmt: skip
# Cameras of somebody's own with other ends than those of the catalogue.
OWN = {
    f"own_{number}": shipped()["webcam_tight"].model_copy(
        update={"entry": f"own_{number}", "ports": (end,), "needs": (), "own": True, "attributes": {"kind": "capture", "signal": signal, "usb_ma": "900"}}
    )
    for number, (end, signal) in enumerate(
        (("hdmi.socket", "hdmi_video"), ("hdmi_mini.socket", "hdmi_video"), ("usb_micro.socket", "usb_video"), ("usb_c.plug", "usb_video"),
         ("phone_port.socket", "usb_video"))
    )
}  # fmt: skip


def made_up(name: str) -> Setup:
    """What no desk has: a camera on an arm before a wall, notes on paper, a desk full of gear, an empty drawer, coloured sides, a floor lamp that is a
    bare bulb, a room with every soft thing but a curtain."""
    standing = demo("standing-webinar")
    if name == "wall":
        pose = scene_of(standing).lens  # on an arm, which each keystroke shakes
        place = dict(zip(("x_m", "y_m", "z_m"), map(float, pose.place), strict=True))
        arm = {
            "mount": "arm",
            "on_screen": None,
            "lens_offset_m": 0.0,
            "position": place,
            "yaw_deg": pose.yaw_deg,
            "tilt_deg": pose.tilt_deg,
        }
        standing = put(standing, cameras=[standing.main_camera.model_dump(mode="json") | arm])
        return put(standing, desk__height_m=1.1, room__depth_m=round(standing.desk.y_m + standing.desk.depth_m / 2 + 0.2, 2))
    if name == "paper":
        return put(standing, presenter__paper_notes={"x_m": standing.presenter.x_m, "y_m": standing.presenter.y_m + 0.5, "z_m": 1.1})
    if name == "bare":
        return put(demo(), kit=[])
    if name == "coloured":
        return put(standing, preferences__look="coloured")
    if name == "bulb":
        return put(demo(), lights=[typical.light("floor_lamp", "bulb", "Floor lamp", typical.point(1.0, 1.2, 1.5), heat="cool")])
    if name == "full":
        return put(desk("12 lamps"), desk__width_m=0.6, desk__depth_m=0.45)
    soft = [
        {"id": f"soft-{n}", "name": f"Soft {n}", "kind": kind, "count": 2}
        for n, kind in enumerate(("duvet", "wardrobe_clothes", "rug", "bookcase"))
    ]
    return put(desk("11 street"), room__furnishings=soft)


@cache
def asking(name: str) -> tuple[Appraisal, frozenset[Any]]:
    setup = desk(name) if name in DESKS else made_up(name) if name in MADE_UP else demo(name)
    appraisal = appraise(put(setup, preferences__budget=1000.0))
    return appraisal, told(appraisal)


def told(appraisal: Appraisal) -> frozenset[Any]:
    return frozenset((move.id, move.title, move.cost, move.detail) for move, _ in moves_of(appraisal))


def owning(setup: Setup, entry: str) -> Setup:
    thick = {"thickness_m": 0.05} if entry == "book" else {}
    return put(
        setup, kit=[*(item.model_dump(mode="json") for item in setup.kit), {"id": "my-own", "name": "My own", "entry": entry} | thick]
    )


@cache
def joined() -> tuple[Setup, ...]:
    """Each microphone and camera on computers with these ports or those."""
    rich = put(demo(), preferences__budget=2000.0, kit=[])
    microphones = [with_microphone(kind, rich) for kind in ("usb_desk", "headset", "earbud_cord", "lapel", "xlr_condenser", "xlr_dynamic")]
    cameras = [with_camera(entry, rich) for entry in ("webcam_tight", "camera_clean", "camera_usb_mode")]
    cameras += [put(cameras[1], cameras=[cameras[1].main_camera.model_dump(mode="json") | {"entry": entry}]) for entry in OWN]
    single = [put(setup, computer__ports=ports) for setup in (*microphones, *cameras) for ports in PORTS]
    crowded = put(
        with_microphone("usb_desk", cameras[0]), computer__ports=["usb_a"], computer__separate_keyboard=True, computer__age_years=14.0
    )
    screens = [put(demo("standing-webinar"), kit=[], computer__ports=ports) for ports in PORTS]
    phone = put(demo("interview-by-phone"), computer__ports=["phone_port"], computer__listening="headphones", kit=[])
    thirsty = put(
        with_microphone("xlr_condenser", cameras[0]), computer__ports=["usb_a"], computer__separate_keyboard=True, computer__age_years=14.0
    )
    return (
        *single,
        *screens,
        crowded,
        thirsty,
        put(crowded, computer__ports=["usb_c"]),
        phone,
        demo("room-that-works"),
        demo("standing-webinar"),
    )


@cache
def way(index: int) -> Any:
    return shape(joined()[index])


def shape(setup: Setup) -> Any:
    plan = planned(setup)
    chains = [[(cable.kind.entry, cable.owned) for cable in chain.cables] for chain in plan.chains]
    return chains, plan.cost, plan.hub, [fault.title for fault in plan.faults]


def ready(setup: Setup) -> list[str]:
    """What stands on the run sheet; what is lit or heard is the same for all."""
    appraisal, _ = asking("clock-bench")
    return [line.words for line in run_sheet(replace(appraisal, setup=setup))]


def changed(entry: str) -> Iterator[str]:
    """Where owning a kind changes something."""
    for name in ASKING:
        appraisal, before = asking(name)
        if told(appraise(owning(appraisal.setup, entry), known=appraisal)) != before:
            yield name
    for name in ("interview-by-phone", "room-that-works"):
        if ready(owning(demo(name), entry)) != ready(demo(name)):
            yield f"run sheet of {name}"
    with using(Catalogue(shipped() | OWN)):
        for index, setup in enumerate(joined()):
            if shape(owning(setup, entry)) != way(index):
                yield f"joined {index}"


class EveryKind(TestCase):
    @promised(80)
    def test_each_changes_something_or_is_marked_for_later(self) -> None:
        kinds = sorted(catalogue().kinds)
        step = max(len(kinds) // times(80), 1)
        silent = {entry for entry in kinds[SEED % step :: step] if next(changed(entry), None) is None}
        self.assertEqual(silent, {entry for entry in kinds[SEED % step :: step] if entry in NOTHING_YET})
        self.assertLessEqual(len(NOTHING_YET), 6)
