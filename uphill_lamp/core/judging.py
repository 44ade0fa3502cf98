"""What a figure is worth: bands, utilities, findings with moves, area and whole scores (docs/method/score.md)."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from types import MappingProxyType
from typing import Any, Literal

import numpy as np

from uphill_lamp.core.arrays import FloatArray
from uphill_lamp.core.document.fields import Origin
from uphill_lamp.core.document.patch import Patch
from uphill_lamp.core.document.setup import Setup

Severity = Literal["grave", "clear", "slight"]
CostKind = Literal["free", "owned", "buy"]
Retold = Callable[[Setup, Setup], tuple[str, ...]]  # a step's detail, in sentences, of the room before it and after

AT_OUTER_LIMIT = 0.15
WANTING = 0.85  # below this utility a measure becomes a finding: it is visibly off, not a rounding
QUALITY_WANTING = 0.6  # one of quality: what is not as good as it might be is no fault yet
FAULTS_POINTS, QUALITY_POINTS = 80.0, 20.0  # of an area: without a fault, and with everything as in a studio
UNKNOWN_QUALITY = 0.5  # of an area none of whose figures tells its quality
# What a figure tells: a fault; quality; both, in an area that has no better than faultless; or a factor on the whole area.
Counts = Literal["fault", "quality", "both", "factor"]
WORDS = ((97.0, "studio"), (88.0, "good"), (78.0, "no gross fault left"), (55.0, "faults that show"), (0.0, "much to mend"))


@dataclass(frozen=True, slots=True)
class Band:
    """Ideal and outer limits; an open end is None. ``log2`` judges by ratios instead of differences."""

    ideal_low: float | None
    ideal_high: float | None
    outer_low: float | None
    outer_high: float | None
    log2: bool = False

    def utility(self, value: float) -> float:
        """How good a value is, 0-1: 1 in the ideal band, 0.15 at the outer limit, fading for ever beyond it."""
        if self.ideal_low is not None and self.outer_low is not None and value < self.ideal_low:
            return self._fade(value, self.ideal_low, self.outer_low)
        if self.ideal_high is not None and self.outer_high is not None and value > self.ideal_high:
            return self._fade(value, self.ideal_high, self.outer_high)
        return 1.0

    def utilities(self, values: FloatArray) -> FloatArray:
        """As ``utility``, for many values at once, shape (...) -> (...)."""
        utilities = np.ones(values.shape)
        for ideal, outer, beyond in ((self.ideal_low, self.outer_low, np.less), (self.ideal_high, self.outer_high, np.greater)):
            if ideal is None or outer is None:
                continue
            past = beyond(values, ideal)
            judged: tuple[Any, Any, Any] = values[past], ideal, outer
            value, edge, limit = (np.log2(np.maximum(figure, 1e-6)) for figure in judged) if self.log2 else judged
            way = np.abs(value - edge) / np.abs(limit - edge)
            utilities[past] = np.where(way <= 1, 1 - (1 - AT_OUTER_LIMIT) * way, AT_OUTER_LIMIT / np.maximum(way, 1))
        return utilities

    def _fade(self, value: float, ideal: float, outer: float) -> float:
        if self.log2:
            value, ideal, outer = (math.log2(max(figure, 1e-6)) for figure in (value, ideal, outer))
        way = abs(value - ideal) / abs(outer - ideal)
        return 1 - (1 - AT_OUTER_LIMIT) * way if way <= 1 else AT_OUTER_LIMIT / way

    def holds(self, value: float) -> bool:
        """Whether a value lies in the ideal band."""
        return self.utility(value) == 1.0


@dataclass(frozen=True, slots=True)
class Ramp(Band):
    """A band whose worth is a factor: 1 in its ideal limits, ``least`` from its outer limits on."""

    least: float = 0.5

    def utility(self, value: float) -> float:
        """The factor, ``least`` to 1."""
        way = self._way(value)
        return 1.0 - (1.0 - self.least) * min(max(way, 0.0), 1.0)

    def _way(self, value: float) -> float:
        ends = (self.ideal_low, self.outer_low) if self.ideal_low is not None else (self.ideal_high, self.outer_high)
        ideal, outer = (float(end) for end in ends if end is not None)
        if self.log2:
            value, ideal, outer = (math.log2(max(figure, 1e-6)) for figure in (value, ideal, outer))
        return (value - ideal) / (outer - ideal)


@dataclass(frozen=True, slots=True)
class Measure:
    """A figure with unit, band and origin. ``value`` None: it cannot be told, and ``why_none`` says why; ``weight`` 0: it is shown and not
    scored; ``counts`` what it tells."""

    id: str
    label: str
    value: float | None
    unit: str
    band: Band | None
    origin: Origin
    about: str = ""
    why_none: str = ""
    weight: float = 0.0
    counts: Counts = "fault"

    def counted(self, weight: float, counts: Counts) -> Measure:
        """The same with a weight, and what it tells; written out, for it is done forty times for every score."""
        return Measure(
            self.id, self.label, self.value, self.unit, self.band, self.origin, self.about, self.why_none, weight, counts
        )  # fmt: skip

    @property
    def wanting(self) -> bool:
        """Whether it is so far off that it becomes a finding."""
        return self.utility is not None and self.utility < (QUALITY_WANTING if self.counts == "quality" else WANTING)

    @property
    def area(self) -> str:
        """Key of the area it belongs to."""
        return self.id.split(".")[0]

    @property
    def utility(self) -> float | None:
        """0-1; None if the measure is shown only. A scored figure that cannot be told is worth nothing."""
        if self.band is None:
            return None
        return 0.0 if self.value is None else self.band.utility(self.value)


@dataclass(frozen=True, slots=True)
class Cost:
    """What a move asks for; ``amount`` in units of ``currency``, 0 unless it is bought; ``entries`` of the catalogue that are bought."""

    kind: CostKind
    amount: float = 0.0
    currency: str = ""
    entries: tuple[str, ...] = ()


FREE = Cost("free")
OWNED = Cost("owned")


@dataclass(frozen=True, slots=True)
class Move:
    """A change of the setup that mends something.

    ``gain`` in points of the whole score, None until computed; ``extends`` the id of a simpler move that this one is
    offered beside only if it gains visibly more; ``promises`` the figures, by measure, that its words say it will give; ``parts`` the
    moves that a joint one is made of, in the order they are done. ``aim`` is what of its title says where a lamp is aimed, ``basis`` what of
    its detail holds wherever a later step puts it; ``retold`` gives the detail anew where other steps come before it.
    """

    id: str
    title: str
    patch: Patch
    cost: Cost = FREE
    cautions: tuple[str, ...] = ()
    gain: float | None = None
    detail: str = ""
    extends: str = ""
    promises: tuple[tuple[str, float], ...] = ()
    parts: tuple[Move, ...] = ()
    aim: str = ""
    basis: str = ""
    retold: Retold | None = field(default=None, compare=False, repr=False)


@dataclass(frozen=True, slots=True)
class Answer:
    """An answer to a question, and what it says of the setup."""

    key: str
    words: str
    patch: Patch


@dataclass(frozen=True, slots=True)
class Question:
    """What has to be asked where a finding rests on a guess that nobody made."""

    key: str
    words: str
    answers: tuple[Answer, ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """What is wrong and why it matters, with the moves that mend it.

    Without ``measures`` it is a matter that no score holds, such as a keyboard too high: its severity is given, and all its
    moves are offered, whatever they gain or lose. ``instead`` is for one that no move mends: why, and what to do all the same.
    ``measured_on`` is the last day of measuring, for one that rests on measured values alone.
    ``asks`` is for one that rests on a guess nobody made: it does not lead before the question is answered.
    ``foremost`` is for one that stands before all others, whatever they hold down.
    """

    id: str
    area: str
    title: str
    why: str
    measures: tuple[str, ...]
    moves: tuple[Move, ...] = ()
    severity: Severity = "clear"
    loss: float = 0.0
    assumed: bool = False
    measured_on: date | None = None
    instead: str = ""
    asks: Question | None = None
    foremost: bool = False


@dataclass(frozen=True, slots=True)
class AreaScore:
    """An area's score, 0-100, with the measures it rests on."""

    area: str
    score: float
    weight: float
    measures: tuple[Measure, ...] = field(default=())


def weighed(
    measures: Iterable[Measure], weights: Mapping[str, tuple[float, str]], counts: Mapping[str, Counts] = MappingProxyType({})
) -> tuple[Measure, ...]:
    """Measures with their weights, by id; one without a band has none.

    Args:
        weights: weight and its reason, by id.
        counts: what those tell that tell no fault, by id.
    """
    return tuple(
        measure.counted(weights[measure.id][0], counts.get(measure.id, "fault")) if measure.band and measure.id in weights else measure
        for measure in measures
    )


def harmonic(weighted: Iterable[tuple[float, Any]]) -> Any:
    """The rule all judging goes by: weighted harmonic mean of 0.1 + 0.9 u, 0.1-1, for numbers or arrays of one shape.

    What is bad weighs more than what is good: nobody sees past a black face because the colours are right.

    Args:
        weighed: weights and utilities u (0-1); weights not all 0.
    """
    total, reciprocals = 0.0, 0.0
    for weight, utility in weighted:
        total += weight
        reciprocals = reciprocals + weight / (0.1 + 0.9 * utility)
    return total / reciprocals


def area_score(measures: Sequence[Measure], changed: Mapping[str, float] | None = None) -> float | None:
    """Score of an area, 0-100: 80 for what is without fault, 20 for quality, times its factors; None without scored measures of a fault.

    Faults count by their harmonic mean, scaled back; quality by its plain mean, since one fine thing makes up for another.

    Args:
        measures: those of one area.
        changed: utilities (0-1) to use instead of a measure's own, by id.
    """
    faults: list[tuple[float, float]] = []
    quality: list[tuple[float, float]] = []
    factor, as_faults = 1.0, False
    for measure in measures:
        utility = changed[measure.id] if changed and measure.id in changed else measure.utility
        if not measure.weight or utility is None:
            continue
        if measure.counts == "factor":
            factor *= utility
        elif measure.counts == "quality":
            quality.append((measure.weight, utility))
        else:
            faults.append((measure.weight, utility))
            as_faults = as_faults or measure.counts == "both"
    if not faults:
        return None
    faultless = float(harmonic(faults) - 0.1) / 0.9
    fine = faultless if as_faults else UNKNOWN_QUALITY
    if quality:
        fine = sum(weight * utility for weight, utility in quality) / sum(weight for weight, _ in quality)
    return (FAULTS_POINTS * faultless + QUALITY_POINTS * fine) * factor


def score_word(score: float) -> str:
    """What a score of 0-100 means, in a word or two."""
    return next(word for least, word in WORDS if score >= least)


def whole_score(areas: Iterable[AreaScore]) -> float:
    """Score of the setup, 0-100: weighted arithmetic mean of its areas; all weights 0 count alike."""
    areas = list(areas)
    total = sum(area.weight for area in areas)
    if total <= 0:
        return sum(area.score for area in areas) / len(areas) if areas else 0.0
    return sum(area.weight * area.score for area in areas) / total


def loss_points(areas: Sequence[AreaScore], ids: Iterable[str]) -> float:
    """Points of the whole score that measures hold down: the score were they perfect, less the score as it is."""
    perfect = dict.fromkeys(ids, 1.0)
    concerned = {measure_id.split(".")[0] for measure_id in perfect}
    mended = [replace(area, score=area_score(area.measures, perfect) or 0.0) if area.area in concerned else area for area in areas]
    return whole_score(mended) - whole_score(areas)


def severity_of(utility: float) -> Severity:
    """How bad a utility is, in a word."""
    return "grave" if utility < 0.3 else "clear" if utility < 0.65 else "slight"
