"""How the house is built: who may import whom (contracts in pyproject.toml), where SQL stands, how long files may grow."""

import ast
import graphlib
import re
from collections import Counter
from pathlib import Path

import grimp
import pytest
from importlinter.application.use_cases import SUCCESS, lint_imports
from importlinter.configuration import configure

ROOT = Path(__file__).resolve().parents[1] / "openacorn"


def test_the_contracts_of_imports_are_kept(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(ROOT.parent)
    configure()
    kept = lint_imports(config_filename="pyproject.toml", cache_dir=None)
    assert kept == SUCCESS, capsys.readouterr().out


def test_no_module_imports_itself_by_way_of_others() -> None:
    graph = grimp.build_graph("openacorn", cache_dir=None)
    arrows = {module: graph.find_modules_directly_imported_by(module) for module in graph.modules}
    graphlib.TopologicalSorter(arrows).prepare()  # raises CycleError, which names the circle


def test_no_two_public_classes_have_one_name() -> None:
    names = Counter(
        node.name
        for path in ROOT.rglob("*.py")
        if "sim" not in path.parts
        for node in ast.parse(path.read_text()).body
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_")
    )
    assert [name for name, count in names.items() if count > 1] == []


def test_sql_stands_in_the_stores_alone() -> None:
    others = [path for path in ROOT.rglob("*.py") if not {"store", "db"} & set(path.relative_to(ROOT).parts)]
    words = ("SELECT ", "INSERT INTO", "conn.execute", "connection.execute", ".executemany(")
    assert [str(path) for path in others if any(word in path.read_text() for word in words)] == []


def test_nothing_in_the_product_reads_the_truth() -> None:
    readers = [path.relative_to(ROOT).parts[0] for path in ROOT.rglob("*.py") if "truth.json" in path.read_text()]
    assert set(readers) <= {"sim"}


def test_files_and_functions_stay_short() -> None:
    long_files, long_functions = [], []
    for path in ROOT.rglob("*.py"):
        text = path.read_text()
        if len(text.splitlines()) > 330:
            long_files.append(path.name)
        functions = [n for n in ast.walk(ast.parse(text)) if isinstance(n, ast.FunctionDef | ast.AsyncFunctionDef)]
        long_functions += [f"{path.name}:{n.name}" for n in functions if (n.end_lineno or 0) - n.lineno > 62]
    assert (long_files, long_functions) == ([], [])


def test_files_that_the_documents_name_are_there() -> None:
    """A path in backticks with a slash and an ending, from the root, from the package, or from the tests."""
    root = ROOT.parent
    lost = [
        f"{document.name}: {path}"
        for document in (*root.glob("*.md"), *(root / "docs").glob("*.md"))
        for path in re.findall(r"`([\w./-]+/[\w.-]+\.(?:py|tsx?|md|css|sql))`", document.read_text(encoding="utf-8"))
        if not any((base / path).exists() for base in (root, ROOT, root / "tests", root / "web" / "src"))
    ]
    assert lost == []
