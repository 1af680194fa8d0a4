"""Every number that decides, on one page: `python -m tests.core.figures` writes docs/figures.md again.

What a service costs, what a check weighs, and each named number of the core with the sentence that stands beside it in the
code. A test holds the page to the code, so that no number changes without anybody reading it.
"""

import ast
import importlib
import pkgutil
from collections.abc import Iterator, Mapping, Set
from dataclasses import fields, is_dataclass
from pathlib import Path
from types import ModuleType

from openacorn import core
from openacorn.core.audit.check import all_checks
from openacorn.core.score.service import Rule, all_services

PAGE = Path(__file__).resolve().parents[2] / "docs" / "figures.md"
LONGEST = 900
HEAD = """# Every number that decides

Written by `python -m tests.core.figures`; a test holds it to the code. Most of these are our own choice. The sentence
beside each says where it comes from; money is in the agency's currency.
"""


def _value(value: object) -> str:
    """A number, or what holds numbers, as it is written; "" for anything without one."""
    if is_dataclass(value) and not isinstance(value, type):
        value = {field.name: getattr(value, field.name) for field in fields(value)}
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return ""
    if isinstance(value, int | float):
        return f"{value:,}" if isinstance(value, int) else f"{value:g}"
    if isinstance(value, Mapping):
        parts = [f"{key} {shown}" for key, item in value.items() if (shown := _value(item))]
        return "; ".join(parts)
    if isinstance(value, tuple | list):
        texts = [_value(item) for item in value]
        written = ", ".join(text or str(item) for text, item in zip(texts, value, strict=True))
        return f"({written})" if any(texts) else ""
    if isinstance(value, Set) and value and all(isinstance(item, int | float) for item in value):
        return ", ".join(_value(item) for item in sorted(value))
    return ""


def _named(module: ModuleType) -> Iterator[tuple[str, str, str]]:
    """(names, values, what is said of them) of each assignment in capitals."""
    body = ast.parse(Path(str(module.__file__)).read_text(encoding="utf-8")).body
    for at, statement in enumerate(body):
        targets = (
            statement.targets
            if isinstance(statement, ast.Assign)
            else [statement.target]
            if isinstance(statement, ast.AnnAssign)
            else []
        )
        names = [
            name.id
            for target in targets
            for name in ast.walk(target)
            if isinstance(name, ast.Name) and name.id.isupper()
        ]
        shown = [text for name in names if (text := _value(getattr(module, name)))]
        if shown and len(" ".join(shown)) <= LONGEST:
            after = body[at + 1] if at + 1 < len(body) else None
            said = after.value.value if isinstance(after, ast.Expr) and isinstance(after.value, ast.Constant) else ""
            yield ", ".join(names), " · ".join(shown), " ".join(str(said).split())


def _modules() -> Iterator[tuple[str, ModuleType]]:
    for found in pkgutil.walk_packages(core.__path__, "openacorn.core."):
        yield found.name.removeprefix("openacorn.core."), importlib.import_module(found.name)


def _rule(rule: Rule) -> str:
    severities = ", ".join(f"{outcome} {value:g}" for outcome, value in rule.severity.items())
    return (
        f"{rule.check} {rule.weight:g}{' decisive' if rule.decisive else ''}{f' ({severities})' if severities else ''}"
    )


def figures() -> str:
    """The page."""
    lines = [
        HEAD,
        "## Services",
        "",
        "| Service | Fee | Monthly | Months | Delivery | Left of a sale | Checks and their weights |",
        "| --- | --- | --- | --- | --- | --- | --- |",
    ]
    for item in all_services():
        rules = "; ".join(_rule(rule) for rule in item.rules)
        gates = "".join(f"; only if {gate.check} is {' or '.join(sorted(gate.passes))}" for gate in item.gates)
        lines.append(
            f"| {item.title} | {item.fee:g} | {item.monthly:g} | {item.months:g} | {item.delivery:g} | {item.margin:g} | {rules}{gates} |"
        )
    lines += [
        "",
        "## Checks",
        "",
        "Place: within the group, the lowest first. Weight: in the mark that an owner's page gives the group.",
        "",
        "| Check | Group | Place | Weight |",
        "| --- | --- | --- | --- |",
    ]
    lines += [f"| {check.title} | {check.group} | {check.rank} | {check.weight:g} |" for check in all_checks()]
    for name, module in sorted(_modules(), key=lambda item: item[0]):
        if rows := list(_named(module)):
            lines += ["", f"## {name}", "", "| Name | Value | Why |", "| --- | --- | --- |"]
            lines += [" | ".join(("", *(cell.replace("|", "\\|") for cell in row), "")).strip() for row in rows]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    PAGE.write_text(figures(), encoding="utf-8")
