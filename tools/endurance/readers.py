"""Hostile files at every reader: a clear refusal, or something that can be judged, drawn and heard."""

from __future__ import annotations

import random
from collections.abc import Callable

from tools.endurance import hostile
from tools.endurance.fuzz import Told, clocked
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.eyes.script import blocks, duration_s
from uphill_lamp.core.catalogue.table import read_table
from uphill_lamp.core.document import Refused, applied, read_setup
from uphill_lamp.core.field.light.ies import read_ies
from uphill_lamp.core.report import report
from uphill_lamp.core.tape import quantities
from uphill_lamp.drawings.plan import plan
from uphill_lamp.drawings.side import side
from uphill_lamp.listening.own import read_voice

JUDGED_SHARE = 0.4  # of the documents that are taken


class Readers:
    """Takes readers in turn, each with a good file that has been broken."""

    def __init__(self, chance: random.Random, tally: Told) -> None:
        self.chance, self.tally, self.seeds = chance, tally, hostile.seeds()
        self.all = [seed for kind in self.seeds.values() for seed in kind]
        self.readers: list[tuple[str, Callable[[], Callable[[], object]]]] = [
            ("setup", self._setup), ("odd setup", self._odd), ("odd setup", self._odd), ("patch", self._patch), ("catalogue",
            self._file("catalogue", read_table)),
            ("photometry", self._file("photometry", read_ies)), ("voice", self._file("voice", read_voice)),
            ("script", self._script), ("length", self._quantity),
        ]  # fmt: skip

    def once(self) -> None:
        """One case."""
        name, made = self.chance.choice(self.readers)
        number = sum(self.tally.cases.values())
        try:
            outcome, took = clocked(made())
        except Exception:  # noqa: BLE001 what a reader throws beside a refusal is what is looked for
            self.tally.fault(f"case {number}: reading a {name}")
            outcome, took = "crash", 0.0
        self.tally.note("readers", f"{name} {outcome}", took, f"case {number}: {name}")

    def _broken(self, kind: str) -> bytes:
        return hostile.broken(self.chance, self.chance.choice(self.seeds[kind]), self.all)

    def _file(self, kind: str, read: Callable[[bytes], object]) -> Callable[[], Callable[[], object]]:
        def made() -> Callable[[], object]:
            content = self._broken(kind)
            return lambda: _refused_or(read, content)

        return made

    def _setup(self) -> Callable[[], object]:
        content, judged = self._broken("setup"), self.chance.random() < JUDGED_SHARE
        return lambda: _judged(content, judged)

    def _odd(self) -> Callable[[], object]:
        content, judged = hostile.odd_document(self.chance, self.chance.choice(self.seeds["setup"])), self.chance.random() < JUDGED_SHARE
        return lambda: _judged(content, judged)

    def _patch(self) -> Callable[[], object]:
        good = read_setup(self.chance.choice(self.seeds["setup"]))
        spots = ["/" + "/".join(path) for path in _paths(good.model_dump(mode="json"))]
        operations = [
            {"op": self.chance.choice(("replace", "add", "remove")), "path": self.chance.choice(spots + list(hostile.TEXTS)),
            "value": self.chance.choice(hostile.JSON_VALUES)}
            for _ in range(self.chance.choice((1, 2, 5)))
        ]  # fmt: skip
        return lambda: _refused_or(lambda patch: applied(good, patch), operations)

    def _script(self) -> Callable[[], object]:
        text, markdown = self._broken("script").decode(errors="replace"), self.chance.random() < 0.5
        return lambda: _refused_or(lambda it: duration_s(blocks(it, markdown), 130), text)

    def _quantity(self) -> Callable[[], object]:
        quantity, units = self.chance.choice(("length", "angle", "percent", "number")), self.chance.choice(("cm", "inch"))
        text = (
            self.chance.choice(hostile.TEXTS)
            if self.chance.random() < 0.5
            else "".join(self.chance.choices("0123456789.,'\"½¼ cmftin-e+", k=self.chance.randrange(12)))
        )
        return lambda: _refused_or(lambda it: quantities.read(quantity, it, units), text)  # type: ignore[arg-type]


def _refused_or(read: Callable[..., object], content: object) -> str:
    try:
        read(content)
    except (Refused, quantities.Unreadable):
        return "refused"
    return "taken"


def _judged(content: bytes, judged: bool) -> str:
    """Reads a setup and, if it is taken, judges, reports and draws it: nothing that is taken may break what follows."""
    try:
        setup = read_setup(content)
    except Refused:
        return "refused"
    if judged:
        appraisal = appraise(setup)
        report(appraisal)
        for stage in ("frame", "light", "sound", "eyes"):
            plan(appraisal, stage, ""), side(appraisal, stage, "")
        return "judged"
    return "taken"


def _paths(value: object, path: tuple[str, ...] = ()) -> list[tuple[str, ...]]:
    """The path of every value, things in lists by their ids where they have some."""
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    paths = [path] if path else []
    for key, item in inner:
        name = item.get("id", key) if isinstance(item, dict) and isinstance(value, list) else key
        paths += _paths(item, (*path, str(name)))
    return paths
