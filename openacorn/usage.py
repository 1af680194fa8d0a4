"""The list of commands that `./acorn --help` prints, read from the source of the commands themselves.

Nothing is installed yet when somebody first asks for help, so `cli.py` is parsed, not imported.
"""

import ast
import textwrap
from dataclasses import dataclass, replace
from pathlib import Path

CLI = Path(__file__).parent / "cli.py"
GROUPS = {"user ": CLI.with_name("terminal_user.py"), "everything ": CLI.with_name("terminal_bulk.py")}
METAVARS = {"int": "N", "float": "N", "Path": "FILE", "str": "TEXT"}
WIDTH = 100


@dataclass(frozen=True, slots=True)
class Command:
    """One command: its name, its arguments and flags as they are typed, and what it does."""

    name: str
    synopsis: str
    doc: str


def _types(tree: ast.Module) -> dict[str, ast.expr]:
    """Names that stand for an annotated type at the top of the module (`Port = Annotated[int, …]`)."""
    return {
        node.targets[0].id: node.value
        for node in tree.body
        if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name)
    }


def _parameter(name: str, annotation: ast.expr, default: ast.expr | None) -> str:
    """One argument or flag as it is typed; the annotation is `Annotated[kind, typer.Argument(…) or typer.Option(…)]`."""
    assert isinstance(annotation, ast.Subscript)
    assert isinstance(annotation.slice, ast.Tuple)
    kind, call = annotation.slice.elts
    assert isinstance(call, ast.Call)
    assert isinstance(call.func, ast.Attribute)
    given = {word.arg: word.value.value for word in call.keywords if isinstance(word.value, ast.Constant)}
    plain = ast.unparse(kind).removesuffix(" | None")
    metavar = str(given.get("metavar") or METAVARS.get(plain, name.upper()))
    if call.func.attr == "Argument":
        text = metavar if given.get("metavar") or not plain.startswith("list") else f"{name.upper()}…"
        return text if default is None else f"[{text}]"
    flags = [word.value for word in call.args if isinstance(word, ast.Constant)]
    flag = str(flags[0]) if flags else "--" + name.replace("_", "-")
    return f"[{flag}]" if plain == "bool" else f"[{flag} {metavar}]"


def _command(function: ast.FunctionDef, types: dict[str, ast.expr]) -> Command:
    words = function.args.args
    defaults = [None] * (len(words) - len(function.args.defaults)) + list(function.args.defaults)
    parts = []
    for word, default in zip(words, defaults, strict=True):
        annotation = word.annotation
        if isinstance(annotation, ast.Name):
            annotation = types[annotation.id]
        assert annotation is not None
        parts.append(_parameter(word.arg, annotation, default))
    return Command(_name(function), " ".join(parts), (ast.get_docstring(function) or "").split("\n\n")[0])


def _name(function: ast.FunctionDef) -> str:
    """The name a command is registered by: `@app.command("name")`, else the function's own; "" if it is no command."""
    for decorator in function.decorator_list:
        if isinstance(decorator, ast.Call) and ast.unparse(decorator.func) == "app.command":
            named = [word.value for word in decorator.args if isinstance(word, ast.Constant)]
            return str(named[0]) if named else function.name
    return ""


def _commands_in(path: Path, group: str = "") -> list[Command]:
    tree = ast.parse(path.read_text(encoding="utf-8"))
    found = [_command(node, _types(tree)) for node in tree.body if isinstance(node, ast.FunctionDef) and _name(node)]
    return [replace(command, name=group + command.name) for command in found]


def commands() -> list[Command]:
    """Every function that is registered as a command, in the order they stand there; those of groups last."""
    return _commands_in(CLI) + [one for name, file in GROUPS.items() for one in _commands_in(file, name)]


def usage() -> str:
    """The whole help text."""
    lines = ["usage: ./acorn COMMAND", ""]
    for command in commands():
        head = f"  {command.name} {command.synopsis}".rstrip()
        lines += textwrap.wrap(head, WIDTH, subsequent_indent=" " * (len(command.name) + 3), break_long_words=False)
        lines += [" " * 6 + " ".join(command.doc.split())]
    return "\n".join([*lines, "", "./acorn COMMAND --help explains the flags of one command."]) + "\n"
