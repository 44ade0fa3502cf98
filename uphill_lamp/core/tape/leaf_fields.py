"""Values straight off the document's parts: what no field made by hand shows is read and typed by its own name (``leaf_names``)."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, Literal, get_args, get_origin

from annotated_types import Ge, Gt, Le, Lt
from pydantic import BaseModel
from pydantic.fields import FieldInfo

from uphill_lamp.core.document.fields import Part, Thing
from uphill_lamp.core.document.finishes import FINISHES, FURNISHINGS, FinishValues
from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.people import Computer
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.document.surroundings import OwnFinish
from uphill_lamp.core.tape.field import Choices, Measured, Value
from uphill_lamp.core.tape.leaf_names import LEAVES, REASONS, WORDS
from uphill_lamp.core.tape.quantities import Quantity

OCTAVES = 7
FINE = {"focal_length_m", "sensor_width_m", "sensor_height_m", "pitch_m"}  # told in millimetres
SHARES = {"reflectance", "transmittance", "glass_transmittance", "white_share", "dim", "haze_share", "skin_reflectance", "flicker_depth"}
ON_EARTH = {"latitude_deg", "longitude_deg"}  # to four places: 10 m
# How a value is told by the end of its name: unit on the page, and by what the document's is multiplied.
UNITS: tuple[tuple[str, str, float], ...] = (
    ("duration_s", "min", 1 / 60), ("_min", "min", 1.0), ("_s", "ms", 1000.0), ("_px", "px", 1.0), ("_lx", "lx", 1.0), ("_lm", "lm", 1.0), ("_cd_m2", "cd/m²",
    1.0), ("_db_a", "dB(A)", 1.0),
    ("_dbv", "dBV", 1.0), ("_dbu", "dBu", 1.0), ("_db", "dB", 1.0), ("_k", "K", 1.0), ("_mbit_s", "Mbit/s", 1.0), ("_years", "years", 1.0),
    ("f_number", "", 1.0),
)  # fmt: skip
NESTED = {("room", "windows"), ("room", "doors"), ("room", "furnishings"), ("presenter", "clothing")}  # lists within parts
LISTS = {"screens", "cameras", "lights", "reflectors", "microphones", "noises", "backdrop", "kit"}
# Left out where the kind has none: they come and go with Change kind, or with the choice beside them.
OF_A_KIND = frozenset({
    "Screen.hinge_deg", "Screen.tilt_deg", "Camera.yaw_deg", "Camera.tilt_deg", "Camera.locked_exposure_lx", "Light.hue_deg", "Light.beam_deg", "Light.width_m",
    "Light.height_m", "Noise.octaves_db", "Kit.thickness_m", "BackdropThing.in_use", "Garment.worn_at",
})  # fmt: skip
OWN = "own values"
OWN_FINISH = {"reflectance": 0.5, "absorption": [0.05] * OCTAVES}
# What is written down where a part that may be left out is wanted, by the part and its field.
WANTED: dict[str, tuple[str, Any]] = {
    "Desk.height_range": ("Goes up and down", {"low_m": 0.62, "high_m": 1.27}),
    "Light.diffuser": ("Something in front of it", {"transmittance": 0.6, "width_m": 0.3, "height_m": 0.3}),
    "Presenter.paper_notes": ("Notes on paper", None),
    "Noise.position": ("Comes from one place", None),
}


@dataclass(frozen=True)
class Leaf:
    """One value of a document: its path, the part and field it is (``Light.flux_lm``), and the field's own account of it."""

    path: str
    name: str
    field: FieldInfo


def leaves(part: Part, root: str) -> Iterator[Leaf]:
    """Every value of a part and of the parts within it; things in lists are parts of their own."""
    for key, field in type(part).model_fields.items():
        value, path, name = getattr(part, key), f"{root}/{key}", f"{type(part).__name__}.{key}"
        if isinstance(value, BaseModel) and not isinstance(value, OwnFinish):
            if isinstance(value, Part):
                yield from leaves(value, path)
        elif isinstance(value, OwnFinish):
            yield Leaf(path, name, field)
            yield from leaves(value, path)
        elif value is None and (name in OF_A_KIND or (_holds_parts(field.annotation) and name not in WANTED)):
            continue  # what only another kind has, or a part that is left out
        elif not (isinstance(value, tuple) and (not value or isinstance(value[0], Thing | Part)) and name != "Computer.ports"):
            yield Leaf(path, name, field)


def reason(name: str) -> str:
    """Why a value has no field, where it has none."""
    return REASONS.get(name) or ("" if name in LEAVES or name in WANTED else REASONS.get("*." + name.partition(".")[2], ""))


def at(setup: Setup, path: str) -> Any:
    """What stands at a path of a document; None beyond a part that is left out."""
    value: Any = setup
    for step in path.split("/")[1:]:
        if isinstance(value, tuple):
            value = next((item for item in value if item.id == step), None)
        else:
            value = getattr(value, step, None)
        if value is None:
            return None
    return value


def leaf_fields(setup: Setup, part: Part, root: str, shown: frozenset[str]) -> tuple[Measured, ...]:
    """Fields of a part for every value that stands in ``leaf_names`` and that none of the paths ``shown`` is about already."""
    listed: list[Measured] = []
    for leaf in leaves(part, root):
        if leaf.path not in shown and not reason(leaf.name):
            listed += _fields(setup, leaf)
    return tuple(listed)


def _holds_parts(annotation: Any) -> bool:
    return any(isinstance(kind, type) and issubclass(kind, BaseModel) for kind in _kinds(annotation))


def _fields(setup: Setup, leaf: Leaf) -> Iterator[Measured]:
    key = leaf.path.rsplit("/", 1)[1]
    if leaf.name in WANTED:
        yield _wanted(setup, leaf)
    elif leaf.name == "Computer.ports":
        yield from (_ports(port) for port in get_args(get_args(Computer.model_fields["ports"].annotation)[0]))
    elif key == "name":
        yield Measured(_key(leaf), "Name", "text", lambda s: str(at(s, leaf.path)), _put_text(leaf.path), paths=(leaf.path,), fold="Name")
    else:
        yield _field(setup, leaf, *LEAVES[leaf.name])


def _key(leaf: Leaf) -> str:
    """A field's key: its path within the thing or part it belongs to, with stops."""
    steps = leaf.path.split("/")[1:]
    deep = 3 if tuple(steps[:2]) in NESTED else 2 if steps[0] in LISTS else 1
    return ".".join(steps[deep:]) or steps[-1]


def _put_text(path: str) -> Callable[[Setup, Value], Patch]:
    return lambda setup, value: (replace(path, str(value).strip()),)


def _field(setup: Setup, leaf: Leaf, label: str, fold: str, about: str) -> Measured:
    kinds, key = _kinds(leaf.field.annotation), leaf.path.rsplit("/", 1)[1]
    if leaf.name.startswith("Point."):
        label = f"{_point_words(leaf.path)} {label}"
    elif leaf.name.startswith("OwnFinish."):
        label = f"{LEAVES['Surfaces.' + leaf.path.split('/')[-2]][0]}: {label}"
    if leaf.name.startswith("Surfaces."):
        return Measured(_key(leaf), label, "choice", lambda s: _finish(at(s, leaf.path)), _put_finish(leaf.path), paths=(leaf.path,),
                        choices=(*((name, f"{values.label} ({_does(values)})") for name, values in FINISHES.items()), (OWN,
                        "values of its own")), about=about, fold=fold)  # fmt: skip
    if choices := _choices(setup, leaf):
        return Measured(_key(leaf), label, "choice", lambda s: _choice_text(at(s, leaf.path)), _put_choice(leaf, kinds), paths=(leaf.path,),
                        choices=choices, about=about, fold=fold)  # fmt: skip
    if bool in kinds:
        return Measured(
            _key(leaf), label, "switch", lambda s: bool(at(s, leaf.path)), _put_switch(leaf), paths=(leaf.path,), about=about, fold=fold
        )
    if key in ("absorption", "octaves_db", "measured_t60_s"):
        return Measured(
            _key(leaf),
            label,
            "octaves",
            lambda s: octaves_text(at(s, leaf.path)),
            _put_octaves(leaf),
            paths=(leaf.path,),
            about=about,
            fold=fold,
        )
    if str in kinds:
        quantity: Literal["colour", "text"] = "colour" if key in ("colour", "hair_colour", "chair_colour") else "text"
        return Measured(
            _key(leaf), label, quantity, lambda s: str(at(s, leaf.path) or ""), _put_plain(leaf), paths=(leaf.path,), about=about, fold=fold
        )
    return _figure(leaf, label, fold, about, int in kinds)


def _figure(leaf: Leaf, label: str, fold: str, about: str, whole: bool) -> Measured:
    key = leaf.path.rsplit("/", 1)[1]
    low, high = limits(leaf.field)
    quantity, unit, scale = _told(key)

    may_be_left_out = type(None) in _kinds(leaf.field.annotation)

    def get(s: Setup) -> float | str:
        value = at(s, leaf.path)
        return "" if value is None else float(value) * scale

    def put(s: Setup, value: Value) -> Patch:
        figure = float(value) / scale
        return (*_beside(s, leaf), replace(leaf.path, round(figure) if whole else round(figure, 9)))

    return Measured(
        _key(leaf),
        label,
        quantity,
        get,
        put,
        low * scale,
        high * scale,
        (leaf.path,),
        plain_unit=unit,
        about=about,
        optional=may_be_left_out,
        fold=fold,
    )


def _told(key: str) -> tuple[Quantity, str, float]:
    """Quantity, unit and factor of a figure by its field's name."""
    if key in FINE:
        return "number", "mm", 1000.0
    if key in SHARES:
        return "percent", "", 1.0
    if key in ON_EARTH:
        return "fine", "°", 1.0
    if key in ("duv", "output_aspect", "native_aspect"):
        return "fine", "", 1.0
    if key in ("budget", "money_per_point"):
        return "money", "", 1.0
    if key.endswith("_m"):
        return "length", "", 1.0
    if key.endswith("_deg"):
        return "angle", "", 1.0
    return "number", *next(((unit, scale) for end, unit, scale in UNITS if key.endswith(end)), ("", 1.0))


def _beside(setup: Setup, leaf: Leaf) -> Patch:
    """What has to go for a value to come: a lens is told by its angle or by its focal length."""
    other = {"diagonal_fov_deg": "focal_length_m", "focal_length_m": "diagonal_fov_deg"}.get(leaf.path.rsplit("/", 1)[1])
    return (replace(f"{leaf.path.rsplit('/', 1)[0]}/{other}", None),) if other else ()


def limits(field: FieldInfo) -> tuple[float, float]:
    """The least and the most a figure may be; what must be below an end stays a little below it."""
    low, high = -1e9, 1e9
    for mark in field.metadata:
        if isinstance(mark, Ge):
            low = float(mark.ge)  # type: ignore[arg-type]
        elif isinstance(mark, Gt):
            low = float(mark.gt) + 1e-6  # type: ignore[arg-type]
        elif isinstance(mark, Le):
            high = float(mark.le)  # type: ignore[arg-type]
        elif isinstance(mark, Lt):
            high = float(mark.lt) - 1e-6  # type: ignore[arg-type]
    if (low, high) == (-1e9, 1e9):
        inner = [info for kind in get_args(field.annotation) for info in get_args(kind) if isinstance(info, FieldInfo)]
        return limits(inner[0]) if inner else (low, high)
    return low, high


def _kinds(annotation: Any) -> frozenset[Any]:
    """The plain types that values of an annotation may be, Literals by their values' types."""
    if get_origin(annotation) is Literal:
        return frozenset(type(value) for value in get_args(annotation))
    inner = [arg for arg in get_args(annotation) if not isinstance(arg, FieldInfo)]
    if not inner:
        return frozenset([annotation])
    return frozenset(kind for arg in inner for kind in (_kinds(arg) if get_args(arg) or isinstance(arg, type) else ()))


def _literals(annotation: Any) -> tuple[Any, ...]:
    if get_origin(annotation) is Literal:
        return get_args(annotation)
    return next((literals for arg in get_args(annotation) if (literals := _literals(arg))), ())


def _choices(setup: Setup, leaf: Leaf) -> Choices:
    if leaf.name == "Furnishing.kind":
        return tuple((name, values.label) for name, values in FURNISHINGS.items())
    if leaf.name == "Computer.loudspeakers_on":
        return (("", "nowhere"), *((screen.id, screen.name) for screen in setup.screens))
    given = _literals(leaf.field.annotation)
    return tuple(
        (str(value), WORDS.get(str(value), str(value).replace("_", " ")) + (" Hz" if leaf.name == "Place.mains_hz" else ""))
        for value in given
    )


def _choice_text(value: object) -> str:
    return "" if value is None else str(value)


def _put_choice(leaf: Leaf, kinds: frozenset[Any]) -> Callable[[Setup, Value], Patch]:
    def put(setup: Setup, value: Value) -> Patch:
        chosen: object = int(str(value)) if int in kinds and str not in kinds else (str(value) or None)
        return (*_with_choice(setup, leaf, str(value)), replace(leaf.path, chosen))

    return put


def _with_choice(setup: Setup, leaf: Leaf, value: str) -> Patch:
    """What must come or go with a choice: a locked exposure has a level, a sound of its own has octaves."""
    root = leaf.path.rsplit("/", 1)[0]
    if leaf.name == "Camera.metering":
        return (replace(f"{root}/locked_exposure_lx", at(setup, f"{root}/locked_exposure_lx") or 300.0 if value == "locked" else None),)
    if leaf.name == "Noise.curve":
        return (replace(f"{root}/octaves_db", [0.0] * OCTAVES if value == "own" else None),)
    return ()


def _put_switch(leaf: Leaf) -> Callable[[Setup, Value], Patch]:
    def put(setup: Setup, value: Value) -> Patch:
        beside: Patch = ()
        if leaf.name == "Light.accent":
            beside = (replace(leaf.path.rsplit("/", 1)[0] + "/hue_deg", 30.0 if value else None),)
        return (*beside, replace(leaf.path, bool(value)))

    return put


def _put_plain(leaf: Leaf) -> Callable[[Setup, Value], Patch]:
    may_be_left_out = type(None) in _kinds(leaf.field.annotation)
    return lambda setup, value: (replace(leaf.path, str(value).strip() or (None if may_be_left_out else "")),)


def octaves_text(values: tuple[float, ...] | None) -> str:
    """Seven values as they stand in a field."""
    return "  ".join(f"{value:g}" for value in values or ())


def _put_octaves(leaf: Leaf) -> Callable[[Setup, Value], Patch]:
    may_be_left_out = type(None) in _kinds(leaf.field.annotation) or leaf.name == "Room.measured_t60_s"

    def put(setup: Setup, value: Value) -> Patch:
        typed = str(value).replace(",", ".").replace(";", " ").split()
        if not typed and may_be_left_out:
            return (replace(leaf.path, None),)
        return (replace(leaf.path, [float(figure) for figure in typed]),)

    return put


def _does(finish: FinishValues) -> str:
    """What a finish does to light and to sound, in a word each."""
    light = "bright" if finish.reflectance >= 0.55 else "dark" if finish.reflectance <= 0.25 else "middling"
    middle = finish.absorption[3]
    return f"{light}, {'soft' if middle >= 0.3 else 'hard' if middle <= 0.1 else 'half soft'}"


def _finish(value: object) -> str:
    return value if isinstance(value, str) else OWN


def _put_finish(path: str) -> Callable[[Setup, Value], Patch]:
    return lambda setup, value: (replace(path, OWN_FINISH if value == OWN else str(value)),)


def _wanted(setup: Setup, leaf: Leaf) -> Measured:
    """A switch for a part that may be left out."""
    label, typical = WANTED[leaf.name]

    def put(s: Setup, value: Value) -> Patch:
        return (replace(leaf.path, (typical or _near(s)) if value else None),)

    if leaf.name == "Desk.height_range":

        def put(s: Setup, value: Value) -> Patch:
            span = {"low_m": min(0.62, s.desk.height_m), "high_m": max(1.27, s.desk.height_m)}
            return (replace(leaf.path, span if value else None),)

    fold = {"Light.diffuser": "In front of it", "Presenter.paper_notes": "Notes on paper", "Desk.height_range": "Size"}.get(leaf.name, "")
    return Measured(
        f"has-{leaf.path.rsplit('/', 1)[1]}", label, "switch", lambda s: at(s, leaf.path) is not None, put, paths=(leaf.path,), fold=fold
    )


def _near(setup: Setup) -> dict[str, float]:
    """A place on the desk, beside its middle."""
    desk = setup.desk
    return {"x_m": desk.x_m, "y_m": desk.y_m, "z_m": round(desk.height_m, 3)}


def _ports(port: str) -> Measured:
    def put(setup: Setup, value: Value) -> Patch:
        others = [other_port for other_port in setup.computer.ports if other_port != port]
        return (replace("/computer/ports", [*others, *[port] * round(float(value))]),)

    return Measured(
        f"ports.{port}",
        WORDS.get(port, port),
        "number",
        lambda s: float(s.computer.ports.count(port)),
        put,
        0,
        8,
        ("/computer/ports",),
        fold="Ports",
    )


def _point_words(path: str) -> str:
    return "Notes lie" if "paper_notes" in path else "Middle" if path.split("/")[1] in ("screens", "reflectors", "backdrop") else "It is"
