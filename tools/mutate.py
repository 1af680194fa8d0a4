"""Do the tests bite? Change one operator or number at a time in the core and run the area's own tests on it.

`python tools/mutate.py [--sample 200] [--seed 1] [--area score]`: a fixed, seeded sample over the areas, two changes at a time, each in a
copy of the tree. A change that no test notices is printed with its place: it wants a test, or is one that changes nothing.
"""

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import SimpleQueue

ROOT = Path(__file__).resolve().parents[1]
FIGURES = "tests/core/test_figures.py"
LEDGER = "tests/wild/test_wild.py::test_a_change_of_what_is_said_is_written_down"
AREAS: dict[str, tuple[list[str], list[str]]] = {
    "score": (["openacorn/core/score"], [FIGURES, "tests/core/score"]),
    "match": (["openacorn/core/match"], [FIGURES, "tests/core/match", "tests/match"]),
    "checks": (["openacorn/core/audit/checks"], [FIGURES, "tests/core/audit", LEDGER]),
    "extract": (["openacorn/core/audit/extract"], [FIGURES, "tests/core/audit", LEDGER]),
}
"""Area → (what is changed, the tests that are its own), the quickest first."""

AT_ONCE = 2
SECONDS = 300
SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Add: ast.Sub, ast.Sub: ast.Add,
    ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip


class Change(ast.NodeTransformer):
    """Makes the change number `wanted` of a module (none for -1) and counts how many there could be."""

    def __init__(self, wanted: int = -1) -> None:
        self.wanted, self.count, self.line, self.text = wanted, 0, 0, ""

    def _here(self, node: ast.AST, text: str) -> bool:
        mine = self.count == self.wanted
        self.count += 1
        if mine:
            self.line, self.text = getattr(node, "lineno", 0), text
        return mine

    def _swapped(self, node: ast.AST, operator: ast.AST) -> ast.AST:
        other = SWAPS.get(type(operator))
        name = type(operator).__name__
        return other() if other and self._here(node, f"{name} → {other.__name__}") else operator

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        node.ops = [self._swapped(node, operator) for operator in node.ops]  # type: ignore[misc]
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        node.op = self._swapped(node, node.op)  # type: ignore[assignment]
        return node

    def visit_BoolOp(self, node: ast.BoolOp) -> ast.AST:
        self.generic_visit(node)
        node.op = self._swapped(node, node.op)  # type: ignore[assignment]
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        if isinstance(node.value, bool):
            return ast.Constant(not node.value) if self._here(node, f"{node.value} → {not node.value}") else node
        if isinstance(node.value, int | float) and self._here(node, f"{node.value} → {node.value + 1}"):
            return ast.Constant(node.value + 1)
        return node

    def visit_ClassDef(self, node: ast.ClassDef) -> ast.AST:
        node.body = [self.visit(item) for item in node.body]  # not its decorators: frozen and slots compute nothing
        return node

    def visit_AnnAssign(self, node: ast.AnnAssign) -> ast.AST:
        if node.value is not None:  # what stands in an annotation is not computed
            node.value = self.visit(node.value)
        return node


def candidates(area: str) -> list[tuple[Path, int]]:
    """Every change that could be made in an area."""
    found = []
    for folder in AREAS[area][0]:
        for path in sorted((ROOT / folder).rglob("*.py")):
            change = Change()
            change.visit(ast.parse(path.read_text(encoding="utf-8")))
            found += [(path.relative_to(ROOT), number) for number in range(change.count)]
    return found


def copy_of_tree(folder: Path) -> Path:
    """What the tests of the core need, in a folder of its own."""
    for name in ("openacorn", "tests", "bench", "docs"):
        shutil.copytree(
            ROOT / name, folder / name, symlinks=True, ignore=shutil.ignore_patterns("references", "__pycache__")
        )
    shutil.copy(ROOT / "pyproject.toml", folder)
    for name in ("tests/references", "web"):
        (folder / name).symlink_to(ROOT / name)
    return folder


def caught(tree: Path, area: str, path: Path, number: int) -> tuple[bool, str]:
    """(did a test fail or not end, the change in words)."""
    text = (ROOT / path).read_text(encoding="utf-8")
    change = Change(number)
    changed = change.visit(ast.parse(text))
    (tree / path).write_text(ast.unparse(ast.fix_missing_locations(changed)), encoding="utf-8")
    command = [
        sys.executable,
        "-m",
        "pytest",
        "-x",
        "-q",
        "-p",
        "no:cacheprovider",
        "-m",
        "not world and not browser",
        *AREAS[area][1],
    ]
    try:
        done = subprocess.run(
            command, cwd=tree, env={**os.environ, "PYTHONPATH": str(tree), "PYTHONDONTWRITEBYTECODE": "1"},
            capture_output=True, timeout=SECONDS,
        )  # fmt: skip
        noticed = done.returncode != 0
    except subprocess.TimeoutExpired:
        noticed = True
    finally:
        (tree / path).write_text(text, encoding="utf-8")
    return noticed, f"{path}:{change.line}: {change.text}"


def main() -> None:
    """Try the sample; print survivors as they come and a line an area at the end."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--sample", type=int, default=200)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--area", choices=AREAS)
    options = asked.parse_args()
    every = [(area, *item) for area in ([options.area] if options.area else AREAS) for item in candidates(area)]
    sample = random.Random(options.seed).sample(every, min(options.sample, len(every)))
    tally: Counter[tuple[str, bool]] = Counter()
    with tempfile.TemporaryDirectory() as place, ThreadPoolExecutor(AT_ONCE) as threads:
        trees: SimpleQueue[Path] = SimpleQueue()
        for number in range(AT_ONCE):
            trees.put(copy_of_tree(Path(place) / str(number)))

        def one(item: tuple[str, Path, int]) -> None:
            tree = trees.get()
            try:
                noticed, words = caught(tree, *item)
            finally:
                trees.put(tree)
            tally[item[0], noticed] += 1
            if not noticed:
                print(f"survived {words}", flush=True)

        list(threads.map(one, sample))
    for area in sorted({area for area, _ in tally}):
        print(f"{area}: {tally[area, True]} caught, {tally[area, False]} survived")


if __name__ == "__main__":
    main()
