"""``./uphill layers``: which package stands on which, drawn as text; lower ones know nothing of those above."""

from __future__ import annotations

import ast
import sys
from collections import defaultdict
from pathlib import Path

import networkx

ROOT = Path(__file__).resolve().parents[1] / "uphill_lamp"


def imports() -> dict[str, set[str]]:
    """Modules of the app and those of them that each imports, at its top, inside a function or for types alone."""
    modules = {_name(path): path for path in ROOT.rglob("*.py")}
    imported: dict[str, set[str]] = {name: set() for name in modules}
    for name, path in modules.items():
        for node in ast.walk(ast.parse(path.read_text())):
            wanted = [alias.name for alias in node.names] if isinstance(node, ast.Import) else []
            if isinstance(node, ast.ImportFrom) and node.module:
                wanted = [f"{node.module}.{alias.name}" for alias in node.names]
            for target in wanted:
                module = target if target in modules else target.rpartition(".")[0]
                if module in modules and module != name:
                    imported[name].add(module)
    return imported


def _name(path: Path) -> str:
    parts = path.relative_to(ROOT.parent).with_suffix("").parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


def _package(module: str) -> str:
    parts = module.split(".")[1:]
    return ".".join(parts[:2]) if parts[:1] in (["core"], ["drawings"], ["web"]) else ".".join(parts[:1])


def main() -> int:
    """The command: packages from the top down, each with what it stands on."""
    stands: dict[str, set[str]] = defaultdict(set)
    for module, wanted in imports().items():
        stands[_package(module)] |= {_package(target) for target in wanted} - {_package(module)}
    whole = networkx.condensation(networkx.DiGraph(stands))
    level: dict[int, int] = {}
    for node in reversed(list(networkx.topological_sort(whole))):
        level[node] = 1 + max((level[below] for below in whole.successors(node)), default=-1)
    for node in sorted(whole, key=lambda node_id: (-level[node_id], sorted(whole.nodes[node_id]["members"]))):
        members = sorted(whole.nodes[node]["members"])
        below = sorted({other for member in members for other in stands[member]} - set(members))
        print(f"{level[node]:2}  {' + '.join(members) or 'uphill_lamp'}")
        if below:
            print(f"      on {', '.join(below)}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
