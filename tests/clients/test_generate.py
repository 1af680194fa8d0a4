"""What the client is generated from: each shape that an OpenAPI document (JSON Schema 2020-12) may have, as Python writes it."""

import ast
import importlib.util
import json
from types import ModuleType
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.application import ROOT


def loaded() -> ModuleType:
    spec = importlib.util.spec_from_file_location("generate", ROOT / "clients" / "python" / "generate.py")
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


GENERATE = loaded()


@pytest.mark.parametrize(
    ("schema", "annotation"),
    [
        ({"type": "string"}, "str"),
        ({"type": "integer"}, "int"),
        ({"anyOf": [{"type": "number"}, {"type": "null"}]}, "float | None"),
        ({"type": ["string", "null"]}, "str | None"),
        ({"type": "array", "items": {"type": "boolean"}}, "list[bool]"),
        ({"type": "array"}, "list[Any]"),
        ({"type": "object", "additionalProperties": {"type": "integer"}}, "dict[str, int]"),
        ({"type": "object"}, "dict[str, Any]"),
        ({"enum": ["a", "b"]}, "Literal['a', 'b']"),
        ({"const": 1}, "Literal[1]"),
        ({"$ref": "#/components/schemas/Grid-Page"}, '"Grid_Page"'),
        ({"anyOf": [{"$ref": "#/x/A"}, {"type": "null"}]}, '"A | None"'),
        ({"anyOf": [{}, {"type": "null"}]}, "Any"),
        ({}, "Any"),
    ],
)
def test_each_shape_has_its_annotation(schema: dict[str, Any], annotation: str) -> None:
    assert GENERATE.type_of(schema) == annotation


@given(st.text(max_size=20))
def test_every_name_can_be_written(text: str) -> None:
    name = GENERATE.named(text)
    ast.parse(f"def {name}(): pass")


def test_every_operation_but_streams_is_a_method_with_its_sentence() -> None:
    document = json.loads((ROOT / "web" / "openapi.json").read_text(encoding="utf-8"))
    tree = ast.parse(GENERATE.generated(document))
    methods = [
        node
        for part in tree.body
        if isinstance(part, ast.ClassDef)
        for node in part.body
        if isinstance(node, ast.FunctionDef)
    ]
    operations = [path for path, verbs in document["paths"].items() for _ in verbs if not path.endswith("/events")]
    made = [node for node in methods if node.name != "__init__"]
    assert len(made) == len(operations) > 280
    assert [node.name for node in made if not ast.get_docstring(node)] == []
    names = [
        (part.name, node.name)
        for part in tree.body
        if isinstance(part, ast.ClassDef)
        for node in part.body
        if isinstance(node, ast.FunctionDef)
    ]
    assert len(names) == len(set(names)), "no method hides another"
