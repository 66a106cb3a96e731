"""Public numeric functions of the core say their units, in their own words or once in those of their module."""

import ast
import re
from pathlib import Path

import pytest

CORE = Path(__file__).parents[1] / "src/ribpatch/core"
NUMERIC = re.compile(r"\b(float|Floats|Point|Ring)\b")
UNIT = re.compile(
    r"\b(m|mm|m2|m3|kg|N|Pa|MPa|s|h|Hz|K|J|W|dB|SI|[Mm]etres|seconds|minutes|hours|days|degrees|radians|bits|pixels|"
    r"points|shares?|ratios?|chances?|odds|deviations|dimensionless|numbers?|count|0 to 1)\b|°C|%"
)


def silent(path):
    tree = ast.parse(path.read_text())
    if UNIT.search(ast.get_docstring(tree) or ""):
        return
    # A function in a function, and a method of a private class, are no one else's.
    homes = [tree, *(c for c in tree.body if isinstance(c, ast.ClassDef) and not c.name.startswith("_"))]
    for home in homes:
        for node in home.body:
            if not isinstance(node, ast.FunctionDef) or node.name.startswith("_"):
                continue
            arguments = (a.annotation for a in (*node.args.args, *node.args.kwonlyargs) if a.annotation is not None)
            if any(NUMERIC.search(ast.unparse(a)) for a in arguments) and not UNIT.search(
                ast.get_docstring(node) or ""
            ):
                yield node.name


@pytest.mark.parametrize("folder", sorted({p.parent for p in CORE.rglob("*.py")}), ids=lambda p: p.name)
def test_every_public_numeric_function_says_its_units(folder):
    told = {path.name: names for path in sorted(folder.glob("*.py")) if (names := list(silent(path)))}
    assert not told
