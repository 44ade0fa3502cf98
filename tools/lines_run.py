"""``python -m tools.lines_run FILE``: whether the tests ran enough of the package's lines, from what slipcover wrote down of them."""

from __future__ import annotations

import json
import sys
from pathlib import Path

FLOOR_PERCENT = 95.0


def main(path: str) -> int:
    """0 if they did, else 1; says how many, and where the most are missing."""
    written = json.loads(Path(path).read_text())
    share = written["summary"]["percent_covered"]
    print(f"{share:.1f} % of the package's lines run (floor {FLOOR_PERCENT:g} %)", file=sys.stderr)
    if share >= FLOOR_PERCENT:
        return 0
    for name, file in sorted(written["files"].items(), key=lambda item: -len(item[1]["missing_lines"]))[:10]:
        print(f"   {name}: {len(file['missing_lines'])} lines never run", file=sys.stderr)
    return 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
