"""The OpenAPI document made whole: errors in their one shape, who may ask what, names of operations that stay."""

from collections.abc import Callable, Mapping
from typing import Any

from fastapi import FastAPI
from fastapi.routing import APIRoute

from openacorn.api.examples import EXAMPLES
from openacorn.api.permissions import OPEN, SELF, PermissionRule
from openacorn.core.desk import filters
from openacorn.core.team.permission import MEANINGS, Permission

ERRORS = {
    401: "Nobody is signed in",
    403: "Your account, or your token, does not permit it",
    404: "There is nothing of that number or name",
    409: "What is there already stands against it",
    412: "Somebody changed it since you read it (If-Match)",
    422: "Something in the request cannot be used",
    429: "Too much is asked for at once",
}
"""Status → when. Every one has the same shape."""

FILTERED = (
    ("/api/businesses", "get"), ("/api/businesses/facets", "get"), ("/api/businesses/points", "get"),
    ("/api/businesses/export/{format_id}", "post"),
)  # fmt: skip
"""Operations on the businesses that pass a filter: its parts are parameters of each, as in the screens' address."""

FILTER_WORDS = {
    "q": "Words in a name, a town or a website",
    "pages": "Words that the business's pages hold",
    "state": f"Where a business is: {', '.join(filters.STATES)}",
    "ids": "Numbers of businesses, with commas between",
    "within": "Corners of an outline: lat,lon with ; between",
}

_TEXT = {"type": "string"}
PROBLEM = {
    "type": "object",
    "required": ["error"],
    "properties": {
        "error": {
            "type": "object",
            "required": ["what", "where", "remedy"],
            "properties": {"what": _TEXT, "where": _TEXT, "remedy": _TEXT},
            "example": {"what": "there is no business 7", "where": "address", "remedy": "go back to the list"},
        }
    },
}
UNUSED = ("HTTPValidationError", "ValidationError")
"""Schemas of errors in another shape, which this application does not answer."""

ABOUT = """
Everything the screens do. Sign in by a token: make one under *Your account*, and send it as `Authorization: Bearer acorn_…`.
Without accounts nothing needs to be sent.

Businesses are filtered as in the screens' address; `check.<id>=gap` besides what is listed, such as `check.https=gap`. A list
that is read page by page gives a `next`, which is the next page's `cursor`.

Every error is `{"error": {"what": …, "where": …, "remedy": …}}`. Lists that were cut say how many there are. Answers in JSON
carry an `ETag`; a `PUT` with `If-Match` changes nothing that somebody changed meanwhile (412). A `POST` with an `Idempotency-Key`
is done once, however often it is sent within a day. A token may ask 600 times a minute; `RateLimit-Remaining` says how often still.
"""


def operation_id(route: APIRoute) -> str:
    """`businesses-list-businesses`: stays as long as the room and the name do."""
    room = str(route.tags[0]).replace(" ", "-").replace("’", "").replace("'", "") if route.tags else "open"
    return f"{room}-{route.name.replace('_', '-')}"


def complete(app: FastAPI) -> Callable[[], dict[str, Any]]:
    """What makes the document of an application, with permissions beside each operation."""
    plain = app.openapi

    def document() -> dict[str, Any]:
        if app.openapi_schema is None:
            found = plain()
            asked: Mapping[tuple[str, str], PermissionRule] = app.state.permissions
            rules = {(method, path.replace(":path}", "}")): rule for (method, path), rule in asked.items()}
            parts = found["components"]
            parts["schemas"] = {name: schema for name, schema in parts["schemas"].items() if name not in UNUSED}
            parts["schemas"]["Problem"] = PROBLEM
            body = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
            parts["responses"] = {
                f"Problem{status}": {"description": when, "content": body} for status, when in ERRORS.items()
            }
            parts["securitySchemes"] = {
                "token": {"type": "http", "scheme": "bearer", "description": "A token of your account"},
                "session": {"type": "apiKey", "in": "cookie", "name": "__Host-acorn"},
            }
            for path, methods in found["paths"].items():
                for method, operation in methods.items():
                    if (path, method) in FILTERED:
                        operation["parameters"] = [*operation.get("parameters", ()), *_filter_parameters()]
                    if operation.get("operationId") in EXAMPLES:
                        _give_example(operation)
                    rule = rules.get((method.upper(), path.removeprefix("/api")))
                    if rule is not None:
                        _say_permission(operation, rule)
                        refs = {str(status): {"$ref": f"#/components/responses/Problem{status}"} for status in ERRORS}
                        operation["responses"] |= refs
            app.openapi_schema = found
        return app.openapi_schema

    return document


def _filter_parameters() -> list[dict[str, Any]]:
    def parameter(name: str, meaning: str) -> dict[str, Any]:
        return {
            "name": name,
            "in": "query",
            "required": False,
            "description": meaning,
            "schema": {**_TEXT, "default": ""},
        }

    many = "Values with {mark} between; ^ before one that must be, ! before one that must not"
    facets = [parameter(name, many.format(mark=filters.separator_of(name))) for name in filters.FACETS]
    ranges = [parameter(name, "least..most; either may be left out") for name in filters.RANGES]
    return [*(parameter(name, meaning) for name, meaning in FILTER_WORDS.items()), *facets, *ranges]


def _give_example(operation: dict[str, Any]) -> None:
    for content in operation["requestBody"]["content"].values():
        content["example"] = EXAMPLES[operation["operationId"]]


def _say_permission(operation: dict[str, Any], rule: PermissionRule) -> None:
    operation["x-permission"] = rule.needs
    operation["security"] = [] if rule.needs == OPEN else [{"token": []}, {"session": []}]
    if rule.needs not in {OPEN, SELF}:
        meaning = MEANINGS[Permission(rule.needs)]
        operation["description"] = (
            f"{operation.get('description', '')}\n\nPermission *{rule.needs}*: {meaning}.".strip()
        )
