"""Any input that the API's own description allows, and any that it does not, is answered; nothing answers with a server error."""

import json
import re
from collections.abc import Iterator
from typing import TYPE_CHECKING

import pytest
import requests
from hypothesis import HealthCheck, settings

from openacorn.api.examples import EXAMPLES
from openacorn.core.team.permission import permissions_of
from tests.application import ROOT, Application, application
from tests.conftest import Coast
from tests.team.person import Person, first_owner, invited

if TYPE_CHECKING:
    from schemathesis import Case
    from schemathesis.schemas import APIOperation, BaseSchema

pytestmark = pytest.mark.world
DESCRIPTION = json.loads((ROOT / "web" / "openapi.json").read_text(encoding="utf-8"))
"""As committed; tests/api/test_api.py says that it is that of the code."""

OPERATIONS = [(method, path) for path, methods in DESCRIPTION["paths"].items() for method in methods]
WATCHED = [
    (method, path)
    for method, path in OPERATIONS
    if path.startswith("/api/") and not re.search("/events$|/sweeps$|/runs$|/resume$|/first-owner$", path)
]
"""Left out: streams, what would start a hundred real runs, and what would shut the door (tests/team tries that)."""


@pytest.fixture(scope="module")
def schema() -> "BaseSchema":
    """The document as schemathesis reads it."""
    import schemathesis

    return schemathesis.openapi.from_dict(DESCRIPTION)


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    with application(tmp_path_factory.mktemp("fuzz"), coast.settings, coast.read("places.json")) as running:
        yield running


def test_every_example_is_one_that_the_application_takes(app: Application) -> None:
    """Sent as it stands, to an application that nobody has asked anything yet; numbers of what there is not are answered by 404, what stands against it by 409, a mistake by 422, but for "nobody is there"."""
    sent = 0
    for path, methods in DESCRIPTION["paths"].items():
        for method, operation in methods.items():
            if operation["operationId"] in EXAMPLES:
                (content,) = operation["requestBody"]["content"].values()
                address = app.url + path.replace("{field}", "phone").replace("{service_id}", "speed")
                answer = requests.request(method, re.sub(r"{[^}]*}", "1", address), json=content["example"], timeout=60)
                empty = answer.status_code == 422 and answer.json()["error"]["what"].startswith("nobody is")
                assert empty or answer.status_code in {200, 201, 202, 204, 404, 409}, (
                    operation["operationId"],
                    answer.text,
                )
                sent += answer.ok
    assert sent > len(EXAMPLES) // 2


@pytest.mark.filterwarnings("ignore::DeprecationWarning")
@pytest.mark.parametrize(("method", "path"), WATCHED)
def test_nothing_answers_with_a_server_error(app: Application, schema: "BaseSchema", method: str, path: str) -> None:
    from hypothesis import given
    from schemathesis.checks import not_a_server_error

    operation: APIOperation = schema[path][method]

    @settings(max_examples=30, deadline=None, database=None, derandomize=True, suppress_health_check=list(HealthCheck))
    @given(case=operation.as_strategy())
    def check(case: "Case") -> None:
        case.call_and_validate(base_url=app.url, checks=[not_a_server_error])

    check()


ROLES = ("viewer", "caller", "manager")
SIGNED_IN = [
    (method, path)
    for method, path in WATCHED
    if not re.match(r"/api/(session|credentials|me|team|new-password|forgotten-password|feeds|demo)(/|$)", path)
]
"""Left out besides: what ends the sessions that ask (hours that pass, too), or switches the people off who ask."""


@pytest.fixture(scope="module")
def people(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[dict[str, Person]]:
    with application(tmp_path_factory.mktemp("roles"), coast.settings, coast.read("places.json")) as running:
        owner = first_owner(running)
        yield {role: invited(owner, f"{role}@wrenfold.example", f"A {role}", role) for role in ROLES}


@pytest.mark.filterwarnings("ignore::DeprecationWarning")
@pytest.mark.parametrize(("method", "path"), SIGNED_IN)
def test_a_role_is_let_in_by_its_permission_whatever_is_sent(
    people: dict[str, Person], schema: "BaseSchema", method: str, path: str
) -> None:
    """403 for whoever lacks the permission that the document names, whatever the body; for the others anything but that."""
    from hypothesis import given

    operation: APIOperation = schema[path][method]
    needed = operation.definition.raw["x-permission"]

    @settings(max_examples=3, deadline=None, database=None, derandomize=True, suppress_health_check=list(HealthCheck))
    @given(case=operation.as_strategy())
    def check(case: "Case") -> None:
        for role, person in people.items():
            held = permissions_of(role, None)
            shown = {"Cookie": f"__Host-acorn={person.cookie}", "X-CSRF-Token": person.csrf}
            case.cookies = {}
            case.headers.pop("authorization", None)
            answer = case.call(base_url=person.app.url, headers=shown)
            if answer.status_code == 405 or b"Not Found" in answer.content[:300]:
                continue  # what was put into the address made it another's, or nobody's
            permitted = needed in {"open", "self", *held}
            assert (answer.status_code == 403) != permitted, (role, needed, answer.status_code, answer.content[:300])
            assert answer.status_code < 500, (role, answer.content[:300])

    check()
