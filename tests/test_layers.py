"""The arrows between layers: core ← sources, store, net ← jobs ← api, cli."""

import ast
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[1] / "openacorn"
LAYERS: dict[str, set[str]] = {
    "core": {"core"},
    "sources": {"core", "sources"},
    "store": {"core", "store"},
    "net": {"core", "sources", "net", "settings"},
    "jobs": {"core", "sources", "store", "net", "jobs", "settings"},
    "api": {"core", "sources", "store", "net", "jobs", "api", "settings"},
    "sim": {"sim", "settings"},
}
"""Layer → parts of the product it may import. The simulated world shares no code with what reads it."""

IMPURE = {
    "sqlite3",
    "asyncio",
    "aiohttp",
    "fastapi",
    "time",
    "random",
    "os",
    "socket",
    "subprocess",
    "pathlib",
    "threading",
}
FILES = sorted(path for layer in LAYERS for path in (ROOT / layer).rglob("*.py"))


def imports(path: Path) -> set[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


@pytest.mark.parametrize("path", FILES, ids=lambda path: str(path.relative_to(ROOT)))
def test_a_file_imports_only_what_its_layer_may(path: Path) -> None:
    layer = path.relative_to(ROOT).parts[0]
    own = {name.split(".")[1] for name in imports(path) if name.startswith("openacorn.")}
    assert own <= LAYERS[layer], f"{layer} must not import {own - LAYERS[layer]}"
    if layer == "core":
        outside = {name.split(".")[0] for name in imports(path)}
        assert not outside & IMPURE, f"the core must stay pure: {outside & IMPURE}"


def test_sql_stands_in_the_store_alone() -> None:
    others = [
        path for path in ROOT.rglob("*.py") if path.relative_to(ROOT).parts[0] != "store" and "bench" not in path.parts
    ]
    holding = [
        str(path)
        for path in others
        if any(
            word in path.read_text()
            for word in ("SELECT ", "INSERT INTO", "conn.execute", "connection.execute", ".executemany(")
        )
    ]
    assert holding == []


def test_nothing_in_the_product_reads_the_truth() -> None:
    readers = [path.relative_to(ROOT).parts[0] for path in ROOT.rglob("*.py") if "truth.json" in path.read_text()]
    assert set(readers) <= {"sim", "bench"}


def test_files_and_functions_stay_short() -> None:
    long_files, long_functions = [], []
    for path in ROOT.rglob("*.py"):
        text = path.read_text()
        if len(text.splitlines()) > 330:
            long_files.append(path.name)
        functions = [n for n in ast.walk(ast.parse(text)) if isinstance(n, ast.FunctionDef | ast.AsyncFunctionDef)]
        long_functions += [f"{path.name}:{n.name}" for n in functions if (n.end_lineno or 0) - n.lineno > 62]
    assert (long_files, long_functions) == ([], [])
