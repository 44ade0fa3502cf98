"""The command line behind ./uphill."""

from __future__ import annotations

import argparse
import json
import signal
import sys
from pathlib import Path

from uphill_lamp import at_start

MOST_BUDGET = 100_000.0


def main(arguments: list[str] | None = None) -> int:
    """Runs one command; returns the exit status."""
    at_start.prepare()
    arguments = sys.argv[1:] if arguments is None else arguments
    if arguments[:1] == ["manage"]:
        from uphill_lamp.web import running

        return running.manage(arguments[1:])
    parser = argparse.ArgumentParser(prog="uphill", description="Uphill Lamp")
    commands = parser.add_subparsers(dest="command", required=True)
    demo = commands.add_parser("demo", help="start the app with its demo setups")
    demo.add_argument("--port", type=int, default=8765)
    demo.add_argument("--no-browser", action="store_true")
    demo.add_argument(
        "--private", action="store_true", help="let only those in who have the printed address: for a machine that others use too"
    )
    look = commands.add_parser("appraise", help="appraise a setup file")
    look.add_argument("file", type=Path)
    look.add_argument("--json", action="store_true", help="print the whole appraisal as JSON")
    look.add_argument("--apply", metavar="MOVE-ID", help="apply an offered move")
    look.add_argument("--output", type=Path, metavar="F", help="write the mended setup here")
    steps = commands.add_parser("steps", help="the plans for a setup file: what to do for nothing, and what for money")
    steps.add_argument("file", type=Path)
    steps.add_argument("--budget", type=float, metavar="N", help="most money to look at (the setup's own budget unless said)")
    steps.add_argument("--json", action="store_true", help="print the plans as JSON")
    steps.add_argument("--apply", type=int, metavar="N", help="do the plan of this number; 1 is the one for nothing")
    steps.add_argument("--output", type=Path, metavar="F", help="write the mended setup here")
    camera = commands.add_parser("camera", help="what a setup's camera would send: a still, a short clip, or both")
    camera.add_argument("file", type=Path)
    camera.add_argument("--still", type=Path, metavar="PNG", help="write one picture here")
    camera.add_argument("--clip", type=Path, metavar="MJPEG", help="write a clip of JPEG pictures one after another here")
    camera.add_argument("--seconds", type=float, default=2.0, help="how long the clip is (0.1 to 30)")
    measure = commands.add_parser("measure", help="what there is to measure in a picture or a sound")
    measure.add_argument("file", type=Path)
    measure.add_argument("--json", action="store_true", help="print the figures as JSON")
    measure.add_argument(
        "--paper", type=float, nargs=2, metavar=("X", "Y"), help="where white paper is in a picture, in px from the top left"
    )
    options = parser.parse_args(arguments)
    if options.command == "measure":
        return _measure(options)
    if options.command == "camera":
        if options.still is None and options.clip is None:
            parser.error("--still PNG, --clip MJPEG or both")
        if not 0.1 <= options.seconds <= 30:
            parser.error(f"--seconds: found {options.seconds:g}; expected 0.1 to 30")
        return _camera(options)
    if options.command == "appraise":
        if (options.apply is None) != (options.output is None):
            parser.error("--apply MOVE-ID and --output F go together")
        return _appraise(options)
    if options.command == "steps":
        if (options.apply is None) != (options.output is None):
            parser.error("--apply N and --output F go together")
        if options.budget is not None and not 0 <= options.budget <= MOST_BUDGET:
            parser.error(f"--budget: found {options.budget:g}; expected 0 to {MOST_BUDGET:g}")
        return _steps(options)
    from uphill_lamp.web import running

    return running.demo(options.port, browser=not options.no_browser, private=options.private)


def _appraise(options: argparse.Namespace) -> int:
    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.core.document import Refused, applied, read_setup, written
    from uphill_lamp.core.report import report

    try:
        appraisal = appraise(read_setup(_bytes(options.file)))
        if options.apply is not None:
            move = appraisal.move(options.apply)
            if move is None:
                offered = sorted({m.id for finding in appraisal.findings_with_gains for m in finding.moves})
                print(
                    f"--apply: found {options.apply!r}; expected one of {', '.join(offered) or 'none: nothing is offered'}", file=sys.stderr
                )
                return 2
            options.output.write_text(written(applied(appraisal.setup, move.patch)), encoding="utf-8")
    except (Refused, OSError) as wrong:
        return _told(wrong)
    if options.json:
        print(json.dumps(report(appraisal), ensure_ascii=False, indent=1))
    else:
        _print_plainly(report(appraisal))
    return 0


def _steps(options: argparse.Namespace) -> int:
    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.core.document import Refused, applied, read_setup, written
    from uphill_lamp.core.steps.ladder import climbed
    from uphill_lamp.core.steps.plans import plans

    try:
        setup = read_setup(_bytes(options.file))
        ladder = climbed(appraise(setup), setup.preferences.budget if options.budget is None else options.budget)
        if options.apply is not None:
            if not 1 <= options.apply <= len(ladder.rungs):
                print(f"--apply: found {options.apply}; expected 1 to {len(ladder.rungs)}", file=sys.stderr)
                return 2
            patch = [operation for action in ladder.rungs[options.apply - 1].chosen for operation in action.patch]
            options.output.write_text(written(applied(setup, patch)), encoding="utf-8")
    except (Refused, OSError) as wrong:
        return _told(wrong)
    made = plans(ladder, setup)
    if options.json:
        print(json.dumps(made, ensure_ascii=False, indent=1))
    else:
        _print_plans(made, ladder.score, ladder.currency)
    return 0


def _print_plans(made: dict, score: float, currency: str) -> None:  # type: ignore[type-arg]
    from uphill_lamp.core.judging import score_word
    from uphill_lamp.core.scene.wording import sum_of

    print(f"Whole score now {score:.0f} of 100: {score_word(score)}")
    for number, plan in enumerate(made["plans"], start=1):
        price = sum_of(plan["cost"], currency) if plan["cost"] else "nothing"
        print(f"\n{number}. For {price}: {plan['score']:.0f} of 100, some {plan['minutes']} minutes")
        for step in plan["steps"]:
            print(f"  {step['title']}" + (f"  [{sum_of(step['cost'], currency)}]" if step["cost"] else ""))
            for caution in step["cautions"]:
                print(f"     take care: {caution}")


def _camera(options: argparse.Namespace) -> int:
    from uphill_lamp.core.appraisal.appraise import appraise
    from uphill_lamp.core.document import Refused, read_setup
    from uphill_lamp.drawings import camera

    try:
        appraisal = appraise(read_setup(_bytes(options.file)))
        if options.still is not None:
            options.still.write_bytes(camera.still(appraisal).png())
        if options.clip is not None:
            with options.clip.open("wb") as clip:
                for picture in camera.clip(appraisal, options.seconds):
                    clip.write(picture.jpeg())
    except (Refused, OSError) as wrong:
        return _told(wrong)
    return 0


def _measure(options: argparse.Namespace) -> int:
    from uphill_lamp.core.document import Refused
    from uphill_lamp.looking.measured import measured

    try:
        measures = measured(options.file, known={"paper": options.paper} if options.paper else None)
    except (Refused, OSError) as wrong:
        return _told(wrong)
    if options.json:
        print(json.dumps(measures, ensure_ascii=False, indent=1))
        return 0
    for figure in measures["figures"]:
        print(f"{figure['id']:26} " + (figure["refused"] or _plain(figure)))
    for note in measures["notes"]:
        print(f"take note: {note}")
    return 0


def _plain(figure: dict) -> str:  # type: ignore[type-arg]
    value = figure["value"]
    if isinstance(value, list):
        return ", ".join(" ".join(f"{part:g}" for part in item.values() if part is not None) if isinstance(item, dict) else f"{item:g}"
                         for item in value) or "none"  # fmt: skip
    within = f"  ± {figure['tolerance']:.3g}" if figure["tolerance"] else ""
    return f"{value:.4g} {figure['unit']}{within}"


def _told(wrong: Exception) -> int:
    """Tells what is wrong with a file; the exit status."""
    if isinstance(wrong, OSError):
        print(f"{wrong.filename}: {wrong.strerror}", file=sys.stderr)
    for fault in getattr(wrong, "faults", ()):
        print(fault, file=sys.stderr)
    return 2


def _bytes(path: Path) -> bytes:
    from uphill_lamp.core.document.reading import MOST_BYTES

    with path.open("rb") as file:
        return file.read(MOST_BYTES + 1)


def _print_plainly(measures: dict) -> None:  # type: ignore[type-arg]
    from uphill_lamp.core.judging import score_word
    from uphill_lamp.core.scene.wording import money

    print(f"Whole score {measures['score']:.0f} of 100: {score_word(measures['score'])}")
    for name, area in measures["areas"].items():
        print(f"  {name:6} {area['score']:3.0f}")
    for finding in measures["findings"]:
        print(f"\n{finding['title']} ({finding['severity']})\n  {finding['why']}")
        for move in finding["moves"]:
            cost = move["cost"]
            price = f"buy, {money(cost['amount'], cost['currency'])}" if cost["kind"] == "buy" else cost["kind"]
            print(f"  + {move['gain']:4.1f}  {move['title']}  [{move['id']}; {price}]")
            for caution in move["cautions"]:
                print(f"         take care: {caution}")


if __name__ == "__main__":
    if sys.argv[1:2] in (["appraise"], ["steps"]) and hasattr(signal, "SIGPIPE"):
        signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # whoever reads our output may stop early, as head does
    sys.exit(main())
