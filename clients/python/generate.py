"""Makes `operations.py` out of the API's OpenAPI document when the client is built: one typed method an operation.

Run by the build (a hatchling hook), or by hand: `python generate.py`.
"""

import json
import keyword
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

HERE = Path(__file__).resolve().parent
DOCUMENT = HERE.parents[1] / "web" / "openapi.json"
TARGET = HERE / "src" / "open_acorn_client" / "operations.py"
PLAIN = {"string": "str", "integer": "int", "number": "float", "boolean": "bool", "null": "None"}
HEAD = '''"""Every operation of the API, typed. Generated from the OpenAPI document; not to be changed by hand."""

from typing import Any, Literal, NotRequired, TypedDict, cast

from open_acorn_client.transport import Transport

'''

Schema = dict[str, Any]


def named(text: str) -> str:
    """A name as Python can have it."""
    name = re.sub(r"[^A-Za-z0-9]+", "_", text).strip("_")
    return f"{name}_" if keyword.iskeyword(name) or not name else f"n{name}" if name[0].isdigit() else name


def type_of(schema: Schema) -> str:
    """The annotation of a schema."""
    if "$ref" in schema:
        return f'"{named(schema["$ref"].rpartition("/")[2])}"'
    if "enum" in schema or "const" in schema:
        return f"Literal[{', '.join(repr(value) for value in schema.get('enum', [schema.get('const')]))}]"
    for several in ("anyOf", "oneOf"):
        if several in schema:
            parts = list(dict.fromkeys(type_of(part) for part in schema[several]))
            return "Any" if "Any" in parts else union(parts)
    kind = schema.get("type")
    if isinstance(kind, list):
        return union([PLAIN.get(one, "Any") for one in kind])
    if kind == "array":
        return f"list[{type_of(schema.get('items', {}))}]"
    if kind == "object":
        more = schema.get("additionalProperties")
        return f"dict[str, {type_of(more) if isinstance(more, dict) else 'Any'}]"
    return PLAIN.get(str(kind), "Any")


def union(parts: list[str]) -> str:
    """One of several; names of models are quoted, so the whole is where one is among them."""
    if any('"' in part for part in parts):
        return '"' + " | ".join(part.replace('"', "") for part in parts) + '"'
    return " | ".join(parts)


def sentence(text: str, indent: str) -> str:
    """A docstring of the first paragraph."""
    first = " ".join(text.split("\n\n")[0].split()).replace("\\", "\\\\").replace('"""', "'''")
    return f'{indent}"""{first}{" " if first.endswith(chr(34)) else ""}"""\n' if first else ""


def models(schemas: dict[str, Schema]) -> Iterator[str]:
    """A TypedDict for each object; a plain name for everything else."""
    for name, schema in schemas.items():
        if schema.get("type") != "object" or "properties" not in schema:
            yield f"{named(name)} = {type_of(schema)}\n\n"
            continue
        required = set(schema.get("required", ()))
        rows = []
        for part, of in schema["properties"].items():
            kind = type_of(of).strip('"')
            rows.append(
                f"    {part!r}: {kind!r}," if part in required else f"    {part!r}: {f'NotRequired[{kind}]'!r},"
            )
        yield f"{named(name)} = TypedDict({named(name)!r}, {{\n" + "\n".join(rows) + "\n})\n\n"


def signature(operation: Schema) -> tuple[list[str], list[Schema], list[Schema], str]:
    """(parameters as Python has them, those in the path, those in the query, the body's kind: "", "json" or "bytes")."""
    in_path = [one for one in operation.get("parameters", ()) if one["in"] == "path"]
    in_query = [one for one in operation.get("parameters", ()) if one["in"] == "query"]
    words = [f"{named(one['name'])}: {type_of(one['schema'])}" for one in in_path]
    content = operation.get("requestBody", {}).get("content", {})
    body = "json" if "application/json" in content else "bytes" if content else ""
    if body == "json":
        words.append(f"body: {type_of(content['application/json']['schema'])}")
    if body == "bytes":
        words.append("body: bytes")
    words.append("*")
    words += [f"{named(one['name'])}: {type_of(one['schema'])} | None = None".replace('"', "") for one in in_query]
    words.append("params: dict[str, Any] | None = None")
    return words, in_path, in_query, body


def answer_of(operation: Schema) -> str:
    """The annotation of what a success gives: "None" for nothing, "bytes" for a file."""
    for status, answer in operation["responses"].items():
        if status.startswith("2"):
            content = answer.get("content", {})
            if "application/json" in content:
                return type_of(content["application/json"].get("schema", {}))
            return "bytes" if content or status == "200" else "None"
    return "bytes"


def method(name: str, verb: str, path: str, operation: Schema) -> str:
    """The method of one operation."""
    words, in_path, in_query, body = signature(operation)
    kind = answer_of(operation)
    filled = path
    for one in in_path:
        filled = filled.replace("{" + one["name"] + "}", "{self._t.quoted(" + named(one["name"]) + ")}")
    query = ", ".join(f"{one['name']!r}: {named(one['name'])}" for one in in_query)
    sent = {"json": ", body=body", "bytes": ", content=body"}.get(body, "")
    asked = "get_bytes" if kind == "bytes" else "ask"
    call = f"self._t.{asked}({verb.upper()!r}, f{filled!r}, {{**(params or {{}}), {query}}}{sent})"
    head = (
        f"    def {name}(self, {', '.join(words)}) -> {kind}:\n{sentence(operation.get('description', ''), '        ')}"
    )
    if kind == "None":
        return f"{head}        {call}\n\n"
    return f"{head}        return {call if kind == 'bytes' else f'cast({kind}, {call})'}\n\n"


def generated(document: Schema) -> str:
    """The module's text."""
    rooms: dict[str, list[str]] = {}
    for path, verbs in document["paths"].items():
        for verb, operation in verbs.items():
            if path.endswith("/events"):
                continue  # a stream without end
            room = named(str((operation.get("tags") or ["open"])[0]).replace("’", "").replace("'", "").lower())
            name = named(operation["operationId"].removeprefix(room.replace("_", "-") + "-").replace("-", "_"))
            rooms.setdefault(room, []).append(method(name, verb, path, operation))
    parts = [HEAD, *models(document["components"]["schemas"])]
    for room, methods in rooms.items():
        title = "".join(word.capitalize() for word in room.split("_"))
        parts += [
            f"class {title}Operations:\n",
            "    def __init__(self, transport: Transport) -> None:\n        self._t = transport\n\n",
            *methods,
            "\n",
        ]
    rows = [
        f"        self.{room} = {''.join(word.capitalize() for word in room.split('_'))}Operations(transport)\n"
        for room in rooms
    ]
    parts += [
        "class Operations:\n",
        '    """Everything, by room."""\n\n',
        "    def __init__(self, transport: Transport) -> None:\n",
        *rows,
    ]
    return "".join(parts)


def write() -> None:
    """Write the module anew, if the document is there: in a source archive it was written before."""
    if DOCUMENT.exists():
        TARGET.write_text(generated(json.loads(DOCUMENT.read_text(encoding="utf-8"))), encoding="utf-8")


try:
    from hatchling.builders.hooks.plugin.interface import BuildHookInterface

    class GenerateHook(BuildHookInterface[Any]):
        """Called by the build."""

        def initialize(self, version: str, build_data: dict[str, Any]) -> None:  # noqa: ARG002
            """Make what is built."""
            write()
except ImportError:  # run by hand
    pass

if __name__ == "__main__":
    write()
