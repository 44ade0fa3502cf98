"""Every kind of thing that can be put into a setup, with typical values for what nobody has told yet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from uphill_lamp.core.document import typical
from uphill_lamp.core.document.finishes import FURNISHINGS
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.vectors import wrapped_deg

Json = dict[str, Any]
Where = Literal["desk", "floor", "ceiling", "screen", "behind", "wall", "worn", "none"]
DOWN_DEG = -70.0  # a desk lamp lights the desk
WORN_COLOUR = "#3c5a73"


@dataclass(frozen=True)
class Kind:
    """A kind of thing.

    Args:
        key: its handle, such as ``lights.desk_lamp``.
        part: the list it stands in: a handle's first word.
        label: what it is called on the page, and the name of the first of them.
        where: where it comes to stand if nobody says.
        make: its values, of an id, a name, a place and the setup; ``id`` and ``name`` are put in afterwards.
        entries: kinds of the catalogue that are one of these, the nearest first.
        comes_with: other kinds that are one with it: a phone is a screen, a camera and a microphone.
    """

    key: str
    part: str
    label: str
    where: Where
    make: Callable[[Setup, Json], Json]
    entries: tuple[str, ...] = ()
    comes_with: tuple[str, ...] = ()

    @property
    def slug(self) -> str:
        """What ids of its things begin with."""
        return self.key.partition(".")[2].replace("_", "-")


def _lamp(entry: str) -> Callable[[Setup, Json], Json]:
    """A lamp aimed as such a lamp is: a desk lamp down at the desk, a coloured one at the wall behind, the others at the face."""

    def make(setup: Setup, place: Json) -> Json:
        yaw_deg, tilt_deg = typical.towards(place, setup.presenter.x_m, setup.presenter.y_m, setup.presenter.eye_height_m)
        if entry == "desk_lamp":
            tilt_deg = DOWN_DEG
        elif entry == "accent":
            yaw_deg, tilt_deg = wrapped_deg(setup.presenter.facing_yaw_deg + 180), 0.0
        aim = {} if typical.shines_all_round(entry) else {"aim_yaw_deg": yaw_deg, "aim_tilt_deg": tilt_deg}
        return typical.light(entry, "x", "X", place, **aim)

    return make


def _noise(entry: str, placed: bool) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: typical.noise(entry, **({"position": place} if placed else {}))


def _behind(kind: str) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: typical.backdrop(kind, "x", place)


def _furnishing(kind: str) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: {"kind": kind, "count": 1}


def _garment(kind: str, colour: str, reflectance: float, **more: Any) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: {"kind": kind, "colour": colour, "reflectance": reflectance, **more}


def _worn(kind: str) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: typical.microphone(kind, "x", "X", in_use=False)


def _standing(kind: str, stand: str) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: typical.microphone(
        kind, "x", "X", in_use=False, at="room", position=place, stand=stand, **_aim(setup, place)
    )


def _aim(setup: Setup, place: Json) -> Json:
    yaw_deg, tilt_deg = typical.towards(place, setup.presenter.x_m, setup.presenter.y_m, setup.presenter.eye_height_m - 0.07)
    return {"aim_yaw_deg": yaw_deg, "aim_tilt_deg": tilt_deg}


def _screen(make: Callable[[Json, float], Json]) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: make(place, typical.towards(place, setup.presenter.x_m, setup.presenter.y_m, place["z_m"])[0])


def _camera(kind: str, mount: str) -> Callable[[Setup, Json], Json]:
    def make(setup: Setup, place: Json) -> Json:
        yaw_deg, tilt_deg = typical.towards(place, setup.presenter.x_m, setup.presenter.y_m, setup.presenter.eye_height_m)
        return typical.camera(kind, mount, use="spare", position=place, yaw_deg=yaw_deg, tilt_deg=tilt_deg)

    return make


def _window(width_m: float, height_m: float, sill_m: float, covering: str) -> Callable[[Setup, Json], Json]:
    return lambda setup, place: typical.window(
        "x", "X", "wall_x0", 1.0, width_m=width_m, height_m=height_m, sill_m=sill_m, covering=typical.covering(covering)
    )


def _door(setup: Setup, place: Json) -> Json:
    return {"wall": "wall_x0", "centre_m": 1.0, "width_m": 0.8, "height_m": min(2.0, setup.room.height_m)}


def _sheet(setup: Setup, place: Json) -> Json:
    yaw_deg, _ = typical.towards(place, setup.presenter.x_m, setup.presenter.y_m, place["z_m"])
    return {"position": place, "yaw_deg": yaw_deg, "width_m": 0.6, "height_m": 0.9}


KINDS: tuple[Kind, ...] = (
    Kind("lights.desk_lamp", "lights", "Desk lamp", "desk", _lamp("desk_lamp")),
    Kind("lights.daylight_desk_lamp", "lights", "Daylight desk lamp", "desk", _lamp("daylight_desk_lamp"), ("desk_lamp_daylight", "clip_lamp")),
    Kind("lights.floor_lamp", "lights", "Floor lamp", "floor", _lamp("floor_lamp"), ("floor_lamp_shaded",)),
    Kind("lights.ceiling_lamp", "lights", "Ceiling lamp", "ceiling", _lamp("ceiling_lamp")),
    Kind("lights.small_panel", "lights", "LED panel", "desk", _lamp("small_panel"), ("small_panel", "panel_with_box", "two_panel_kit")),
    Kind("lights.ring", "lights", "Ring light", "desk", _lamp("ring"), ("ring_light",)),
    Kind("lights.strip", "lights", "LED strip", "desk", _lamp("strip")),
    Kind("lights.phone_torch", "lights", "Phone's torch", "desk", _lamp("phone_torch")),
    Kind("lights.accent", "lights", "Coloured lamp", "floor", _lamp("accent"), ("colour_lamp",)),
    Kind("windows.window", "windows", "Window", "wall", _window(1.2, 1.2, 0.9, "none")),
    Kind("windows.wide_window", "windows", "Wide window", "wall", _window(2.2, 1.4, 0.8, "none")),
    Kind("windows.glass_door", "windows", "Glass door", "wall", _window(0.9, 2.0, 0.02, "none")),
    Kind("windows.curtained", "windows", "Window with a sheer", "wall", _window(1.2, 1.2, 0.9, "sheer"), ("sheer_curtain",)),
    Kind("doors.door", "doors", "Door", "wall", _door),
    Kind("cameras.webcam", "cameras", "Webcam", "screen", _camera("webcam", "tripod"), ("webcam_wide", "webcam_tight"), ("microphones.webcam",)),
    Kind("cameras.phone_rear", "cameras", "Phone's rear camera", "desk", _camera("phone_rear", "holder"), ("old_phone",)),
    Kind("cameras.capture", "cameras", "Camera with a lens of its own", "desk", _camera("capture", "tripod"), ("camera_clean",
    "camera_usb_mode", "camera_menus")),
    Kind("screens.laptop", "screens", "Laptop", "desk", _screen(typical.laptop), (), ("cameras.lid", "microphones.laptop")),
    Kind("screens.monitor", "screens", "Monitor", "desk", _screen(typical.monitor), ("second_screen",)),
    Kind("screens.tablet", "screens", "Tablet", "desk", _screen(typical.tablet), (), ("cameras.phone_front",)),
    Kind("screens.phone", "screens", "Phone", "desk", _screen(lambda place, yaw: typical.phone_screen(place, yaw, 0.0)), (),
    ("cameras.phone_front", "microphones.phone")),
    Kind("screens.prompter_glass", "screens", "Prompter glass", "desk", _screen(typical.prompter), ("prompter_glass",)),
    Kind("screens.projection", "screens", "Screen behind me", "behind", _screen(typical.projection)),
    Kind("microphones.headset", "microphones", "Headset", "worn", _worn("headset"), ("usb_headset", "wired_headset")),
    Kind("microphones.earbuds", "microphones", "Earbuds with a cord", "worn", _worn("earbud_cord"), ("earbuds_cord",)),
    Kind("microphones.lapel", "microphones", "Lapel microphone", "worn", _worn("lapel"), ("lapel_microphone",)),
    Kind("microphones.usb_desk", "microphones", "USB microphone", "desk", _standing("usb_desk", "desk_stand"), ("usb_cardioid", "usb_multi_pattern")),
    Kind("microphones.usb_arm", "microphones", "USB microphone on an arm", "desk", _standing("usb_desk", "boom_arm")),
    Kind("microphones.xlr_dynamic", "microphones", "Dynamic microphone", "desk", _standing("xlr_dynamic", "boom_arm"), ("xlr_dynamic",)),
    Kind("microphones.xlr_condenser", "microphones", "Condenser microphone", "desk", _standing("xlr_condenser", "boom_arm"), ("xlr_condenser",)),
    Kind("microphones.shotgun", "microphones", "Narrow microphone", "desk", _standing("shotgun", "boom_arm"), ("narrow_microphone",)),
    Kind("noises.street", "noises", "Street", "none", _noise("street", placed=False)),
    Kind("noises.fan", "noises", "Fan", "floor", _noise("fan", placed=True)),
    Kind("noises.fridge", "noises", "Fridge", "floor", _noise("fridge", placed=True)),
    Kind("noises.computer", "noises", "Computer's fan", "desk", _noise("computer", placed=True)),
    Kind("noises.clocks", "noises", "Ticking clock", "behind", _noise("clocks", placed=True)),
    Kind("noises.people", "noises", "People next door", "none", _noise("people", placed=False)),
    Kind("noises.hum", "noises", "Hum", "none", _noise("hum", placed=False)),
    Kind("noises.own", "noises", "Another noise", "floor", _noise("own", placed=True)),
    *(Kind(f"furnishings.{kind}", "furnishings", values.label.capitalize(), "none", _furnishing(kind),
           {"rug": ("rug",), "heavy_curtain": ("heavy_curtain",)}.get(kind, ())) for kind, values in FURNISHINGS.items() if kind != "person"),
    Kind("furnishings.person", "furnishings", "Another person", "none", _furnishing("person")),
    *(Kind(f"backdrop.{kind}", "backdrop", label, "behind", _behind(kind)) for kind, label in (
        ("shelf", "Shelf"), ("bookcase", "Bookcase"), ("plant", "Plant"), ("picture", "Picture"), ("clock", "Wall clock"), ("mirror", "Mirror"),
        ("board", "Whiteboard"), ("papers", "Papers"), ("bed", "Bed"), ("clothes_rail", "Clothes rail"), ("clutter", "Clutter"),
        ("screen", "Lit screen"), ("folding_screen", "Folding screen"), ("curtain", "Curtain behind"), ("sheet", "Hung sheet"),
        ("cloth", "Coloured cloth"), ("green_screen", "Green screen"), ("plain_wall", "Plain board"), ("door", "Door leaf"))),
    Kind("clothing.top", "clothing", "Top", "worn", _garment("top", WORN_COLOUR, 0.2)),
    Kind("clothing.jacket", "clothing", "Jacket", "worn", _garment("jacket", "#2f353b", 0.06)),
    Kind("clothing.scarf", "clothing", "Scarf", "worn", _garment("scarf", "#8a3f3a", 0.15)),
    Kind("clothing.jewellery", "clothing", "Jewellery", "worn", _garment("jewellery", "#c9b26a", 0.6, worn_at="neck")),
    Kind("clothing.hat", "clothing", "Hat", "worn", _garment("hat", "#6b5a44", 0.15)),
    Kind("reflectors.sheet", "reflectors", "White sheet", "desk", _sheet, ("white_sheet", "bounce_card")),
)  # fmt: skip

# What comes with another kind and is never put by itself.
BESIDE: dict[str, Kind] = {
    "cameras.lid": Kind("cameras.lid", "cameras", "Laptop's camera", "screen", lambda setup, place: typical.lid_camera() | {"use": "spare"}),
    "cameras.phone_front": Kind("cameras.phone_front", "cameras", "Phone's camera", "desk", _camera("phone_front", "holder")),
    "microphones.laptop": Kind("microphones.laptop", "microphones", "Laptop's microphone", "screen",
                               lambda setup, place: typical.microphone("built_in", "x", "X", in_use=False, at="screen", on_screen="laptop")),
    "microphones.webcam": Kind("microphones.webcam", "microphones", "Webcam's microphone", "desk", _standing("webcam", "device")),
    "microphones.phone": Kind("microphones.phone", "microphones", "Phone's microphone", "desk", _standing("phone", "device")),
}  # fmt: skip

PART_WORDS: tuple[tuple[str, str], ...] = (
    ("lights", "Lamps"), ("windows", "Windows"), ("doors", "Doors"), ("screens", "Screens, laptops and phones"), ("cameras", "Cameras"),
    ("microphones", "Microphones"),
    ("noises", "Noises"), ("furnishings", "Furniture and soft things"), ("backdrop", "Behind me"), ("clothing", "Worn by me"), ("reflectors", "White sheets"),
)  # fmt: skip


def kind_of(key: str) -> Kind | None:
    """The kind of a key, if there is one."""
    return next((kind for kind in KINDS if kind.key == key), None)


def kinds_of(part: str) -> tuple[Kind, ...]:
    """The kinds of a list."""
    return tuple(kind for kind in KINDS if kind.part == part)
