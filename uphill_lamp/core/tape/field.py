"""One field of a thing: how its value is read off the setup and put into it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from uphill_lamp.core.document.patch import Patch, replace
from uphill_lamp.core.document.setup import Setup
from uphill_lamp.core.tape.quantities import Quantity

Choices = tuple[tuple[str, str], ...]
Value = float | str | bool


@dataclass(frozen=True)
class Measured:
    """How one value of a thing is read off the setup and put into it.

    ``get`` gives metres, degrees, a share, a number, a key or a truth; ``put`` the patch for a wished value.
    """

    key: str
    label: str
    quantity: Quantity
    get: Callable[[Setup], float | str | bool]
    put: Callable[[Setup, float | str | bool], Patch]
    low: float = 0.0
    high: float = 0.0
    paths: tuple[str, ...] = ()
    choices: Choices = ()
    plain_unit: str = ""
    about: str = ""
    optional: bool = False  # whether nothing may stand there
    fold: str = ""  # the subject it is folded under; without one it stands among the first


def value_field(
    key: str, label: str, quantity: Any, path: str, get: Callable[[Setup], Value], low: float = 0, high: float = 0, **more: Any
) -> Measured:
    """A field that is one value of the document as it is."""
    return Measured(key, label, quantity, get, lambda setup, value: (replace(path, value),), low, high, (path,), **more)


def choice_field(key: str, label: str, path: str, get: Callable[[Setup], Value], choices: Choices, **more: Any) -> Measured:
    """A field that is one of a few values of the document."""
    return Measured(key, label, "choice", get, lambda setup, value: (replace(path, value),), paths=(path,), choices=choices, **more)
