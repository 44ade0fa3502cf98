"""What the page of steps shows."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from uphill_lamp.core.appraisal.appraise import Appraisal
from uphill_lamp.core.areas.registry import area_of
from uphill_lamp.core.areas.sound.comparison import candidates
from uphill_lamp.core.document.people import Preferences
from uphill_lamp.core.scene.wording import sum_of
from uphill_lamp.core.steps.closing import LEAST_GAIN
from uphill_lamp.core.steps.hands import again_min, minutes_in_all
from uphill_lamp.core.steps.ladder import Ladder
from uphill_lamp.core.steps.rungs import plan_name
from uphill_lamp.drawings.alt import alt_text
from uphill_lamp.drawings.hill import bought_bar, hill
from uphill_lamp.listening.render import VOICES
from uphill_lamp.web.microphones.hearing import key_of
from uphill_lamp.web.setups.models import Setup
from uphill_lamp.web.steps.work import Job, reached

LEAST_LOOK = 100.0
MOST_LOOK = 5000.0


def limit_of(budget: float) -> float:
    """How much money to look at: half as much again as the budget, in hundreds."""
    return float(min(max(LEAST_LOOK, 100 * -(-1.5 * budget // 100)), MOST_LOOK))


def ladder_context(setup: Setup, digest: str, appraisal: Appraisal, job: Job) -> dict[str, Any]:
    """The hill, the rungs and what each leads to."""
    ladder, budget = job.ladder, appraisal.setup.preferences.budget
    base = {
        "setup": setup,
        "revision": setup.head,
        "job": job,
        "appraisal": appraisal,
        "digest": digest,
        "ladder": ladder,
        "budget": budget,
        "wished": wished(appraisal.setup.preferences, ladder),
    }
    if ladder is None:
        return base
    most = max(ladder.limit, 1.0)
    paid = max((rung.paid for rung in ladder.rungs), default=0.0)
    rungs, judged = [], appraisal.setup
    for number, rung in enumerate(ladder.rungs):
        there, after = reached(appraisal, ladder, number)
        rungs.append({
            "number": number + 1, "rung": rung, "digest": there, "alt": alt_text(after), "bar": bought_bar(rung, paid), "is_stop": number == ladder.stop,
            "within": rung.cost <= budget + 1e-9, "minutes": minutes_in_all(rung.chosen, judged), "again": round(again_min(rung.chosen, judged)),
        })  # fmt: skip
    reach = reach_of_money(ladder)
    return base | {
        "hill": hill(ladder, budget, most), "rungs": rungs, "most": most, "reach": reach,
        "within": next((sums["said"] for sums in reversed(reach) if sums["cost"] <= budget + 1e-9), reach[0]["said"]),
        "heard": heard(appraisal, digest, ladder, range(len(ladder.rungs))), "now_alt": alt_text(appraisal),
    }  # fmt: skip


def wished(wishes: Preferences, ladder: Ladder | None) -> dict[str, list[tuple[str, str]]]:
    """What is always included and what is left out, by the step's id and its words; words are wanting for a step that is not offered now."""
    words = {} if ladder is None else {out.action.id: out.action.title for out in ladder.left_out}
    words |= {} if ladder is None else {name: action.title for name, action in ladder.actions.items()}
    return {"must": [(name, words.get(name, "")) for name in wishes.must], "never": [(name, words.get(name, "")) for name in wishes.never]}


def weights_of(appraisal: Appraisal, typed: Mapping[str, str]) -> list[dict[str, Any]]:
    """Areas that are scored, by name, words and weight, with what was typed for each and not taken."""
    return [
        {
            "name": area.area,
            "label": record.name.label,
            "value": area.weight,
            "typed": typed.get(area.area, ""),
        }
        for area in appraisal.areas
        if (record := area_of(area.area)) is not None  # what else counts has a fixed weight
    ]


def reach_of_money(ladder: Ladder) -> list[dict[str, Any]]:
    """What to say of each sum from which on more can be reached, cheapest first: the plan for it, and, where other purchases gain what is
    worth doing beside that, what they are."""
    reach = []
    for cost in sorted({rung.cost for rung in ladder.rungs} | {point.cost for point in ladder.front}):
        plan, best = ladder.plan_within(cost), ladder.within(cost)
        name, steps = plan_name(plan.cost, ladder.currency), len(plan.chosen)
        words = f"the {name[0].lower()}{name[1:]} reaches {plan.score:.0f} points in {steps} step{'s' if steps != 1 else ''}."
        buys, others = ([action.title for action in chosen if action.amount] for chosen in (plan.chosen, ladder.chosen(best)))
        price = sum_of(best.cost, ladder.currency)
        more = best.score >= plan.score + LEAST_GAIN and f"{best.score:.0f}" != f"{plan.score:.0f}"
        if more and set(others) != set(buys):
            words += f" If you skip the cheaper plans, {price} spent at once reaches {best.score:.0f}. To buy: {'; '.join(others)}."
        reach.append({"cost": cost, "said": words})
    return reach


def heard(appraisal: Appraisal, digest: str, ladder: Ladder, numbers: Iterable[int]) -> list[dict[str, object]]:
    """The voice as it is now and from each of some rungs on that changes it, for Hear it."""
    rows: list[dict[str, object]] = []
    last = ""
    for number in (-1, *numbers):
        there, after = (digest, appraisal) if number < 0 else reached(appraisal, ladder, number)
        candidate = next((candidate for candidate in candidates(after.setup) if candidate.in_use and candidate.heard is not None), None)
        if candidate is None or candidate.heard is None or (key := key_of(after.setup, candidate)) == last:
            continue
        last = key
        name = "Now" if number < 0 else f"{plan_name(ladder.rungs[number].cost, ladder.currency)}: {candidate.name}"
        rows.append(
            {
                "name": name,
                "address": f"{there}/{key}",
                "sti": candidate.heard.sti,
                "snr": candidate.heard.snr_db,
                "drr": candidate.heard.direct_to_reverberant_db,
            }
        )
    return rows


def voice_of(appraisal: Appraisal) -> dict[str, Any]:
    """The voices that ship, and which is nearest to the presenter's."""
    return {"voices": VOICES, "voice": "high" if appraisal.setup.presenter.voice == "female" else "low"}
