"""Fields of whatever is in hand: what is shown, where it comes from, and what typing into it changes."""

from __future__ import annotations

from dataclasses import dataclass, field

from uphill_lamp.core.document.faults import Fault, Refused
from uphill_lamp.core.document.fields import Origin
from uphill_lamp.core.document.patch import Patch, applied, replace, value_at
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.scene.handling import BELONGS, GROUPS, path_of, thing_at
from uphill_lamp.core.tape import setup_presenter_desk_fields as whole
from uphill_lamp.core.tape import thing_fields as things
from uphill_lamp.core.tape.field import Choices, Measured
from uphill_lamp.core.tape.leaf_fields import leaf_fields
from uphill_lamp.core.tape.leaf_names import LATER, WORDS
from uphill_lamp.core.tape.place_phrases import where
from uphill_lamp.core.tape.quantities import Quantity, Unreadable, read, unit_of, written

# How far a figure may come out from what was typed: places are kept to the millimetre.
SLACK: dict[str, float] = {"length": 0.002, "angle": 0.6}
WIDE_WORDS = 11


@dataclass(frozen=True)
class Entry:
    """A field as it is shown. ``fault`` says what is wrong with ``text`` as typed."""

    key: str
    label: str
    quantity: Quantity
    text: str
    unit: str
    origin: Origin
    choices: Choices = ()
    about: str = ""
    fold: str = ""
    fault: str = field(default="")

    @property
    def is_wide(self) -> bool:
        """Whether its words want more room than a figure."""
        return self.is_finish or self.quantity in ("moment", "octaves") or any(len(words) > WIDE_WORDS for _, words in self.choices)

    @property
    def is_finish(self) -> bool:
        """Whether it is chosen by pictures of what walls and floors are finished with."""
        return self.quantity == "choice" and self.key.startswith("surfaces.")

    @property
    def is_later(self) -> bool:
        """Whether nothing reads it yet."""
        return self.about == LATER


def measured_of(setup: Setup, thing: str) -> tuple[Measured, ...]:
    """All fields of a thing, or of the whole setup for an empty handle.

    Raises:
        Refused: if there is no such thing.
    """
    if thing in whole.MAKERS:
        made = whole.MAKERS[thing](setup)
        parts = whole.PARTS[thing](setup)
    else:
        item = thing_at(setup, thing)
        maker = things.MAKERS.get(thing.split("/")[0])
        made, parts = maker(setup, item) if maker else (), ((item, path_of(setup, thing)),)
    shown = frozenset(path for field in made for path in field.paths)
    return (*made, *(field for part, root in parts for field in leaf_fields(setup, part, root, shown)))


def fields_of(setup: Setup, thing: str) -> tuple[Entry, ...]:
    """The fields of a thing as they stand."""
    units = setup.preferences.units
    return tuple(
        Entry(
            field.key, field.label, field.quantity, _text(field, setup), unit_of(field.quantity, units, field.plain_unit), setup.origin_of(*field.paths),
            field.choices, field.about, field.fold,
        )
        for field in measured_of(setup, thing)
    )  # fmt: skip


def _text(field: Measured, setup: Setup) -> str:
    value = field.get(setup)
    if isinstance(value, bool):
        return "on" if value else ""
    return value if isinstance(value, str) else written(field.quantity, float(value), setup.preferences.units)


def entered(setup: Setup, thing: str, key: str, text: str) -> Patch:
    """The patch for text typed into a field.

    Raises:
        Refused: with the path ``thing#key``, what was typed and what was expected.
    """
    field = next((field for field in measured_of(setup, thing) if field.key == key), None)
    where = f"/{thing}#{key}"
    if field is None:
        raise Refused([Fault(where, "no such field", "a field of what is selected")])
    return _put(setup, field, where, text) or _confirmed(setup, field)


def _confirmed(setup: Setup, field: Measured) -> Patch:
    """What is typed as it stands is no change, yet no longer an assumption."""
    return tuple(replace(path, value_at(setup, path)) for path in field.paths)


def _put(setup: Setup, field: Measured, where: str, text: str) -> Patch:
    if field.quantity == "switch":
        return field.put(setup, text == "on")
    if field.quantity == "choice":
        if text not in dict(field.choices):
            raise Refused([Fault(where, repr(text[:40]), "one of " + ", ".join(words for _, words in field.choices))])
        return field.put(setup, text)
    if field.quantity in ("text", "moment", "colour", "octaves"):
        try:
            return field.put(setup, text)
        except Refused:
            raise
        except ValueError:
            raise Refused([Fault(where, repr(text[:40]), "seven numbers, for 125 Hz to 8 kHz")]) from None
    if field.optional and not text.strip():
        return tuple(replace(path, None) for path in field.paths)
    units = setup.preferences.units
    try:
        value = round(read(field.quantity, text, units), 9)  # 140 cm are 1.4 m, and no hair more
    except Unreadable as unreadable:
        raise Refused([Fault(where, repr(text[:40]), str(unreadable).removeprefix("expected "))]) from None
    if not field.low <= value <= field.high:
        low, high = (
            f"{written(field.quantity, end, units)} {unit_of(field.quantity, units, field.plain_unit)}".strip()
            for end in (field.low, field.high)
        )
        raise Refused([Fault(where, repr(text[:40]), f"a value from {low} to {high}")])
    patch = field.put(setup, value)
    _check_reached(setup, field, patch, value, where, text)
    return patch


def _check_reached(setup: Setup, field: Measured, patch: Patch, wished: float, where: str, text: str) -> None:
    """A hand that drags is stopped by walls; a figure typed in must come true or be refused.

    Raises:
        Refused: if the thing cannot stand so, naming the nearest it could.
    """
    reached = float(field.get(applied(setup, patch)))
    if abs(reached - wished) > SLACK.get(field.quantity, 0.01):
        units = setup.preferences.units
        nearest = f"{written(field.quantity, reached, units)} {unit_of(field.quantity, units, field.plain_unit)}".strip()
        raise Refused([Fault(where, repr(text[:40]), f"what this room allows; the nearest is {nearest}")])


def said_value(setup: Setup, thing: str, key: str, text: str) -> str:
    """What was understood of what was typed or chosen, in the words of its field and with its unit."""
    field = next((field for field in measured_of(setup, thing) if field.key == key), None)
    if field is None:
        return text
    if field.quantity == "switch":
        return f"{field.label}, {'on' if text == 'on' else 'off'}"
    if field.quantity in ("choice", "text", "moment", "colour", "octaves"):
        return f"{field.label}, {dict(field.choices).get(text, text)[:40]}"
    units = setup.preferences.units
    try:
        understood = written(field.quantity, read(field.quantity, text, units), units)
    except Unreadable:
        return f"{field.label}, {text[:40]}"
    return f"{field.label}, {understood} {unit_of(field.quantity, units, field.plain_unit)}".rstrip()


def name_of(setup: Setup, thing: str) -> str:
    """What a thing is called."""
    part, _, name = thing.partition("/")
    if part in BELONGS:
        head = f"Upper edge of {thing_at(setup, f'windows/{name}').name}" if part == "heads" else ""
        return {"walls": WORDS.get(name, "wall").capitalize(), "edges": f"The desk's {name} edge", "compass": "The compass", "heads": head}[
            part
        ]
    return GROUPS.get(thing) or thing_at(setup, thing).name


def words_of(setup: Setup, thing: str) -> str:
    """Where a thing is, said the way a person would."""
    return where(setup, thing)
