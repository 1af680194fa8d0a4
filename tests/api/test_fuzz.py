"""Any input that the API's own description allows, and any that it does not, is answered; nothing answers with a server error."""

from collections.abc import Iterator

import pytest
import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.core.result import Ok

from openacorn.api.contract import description
from tests.application import Application, application
from tests.conftest import Coast

pytestmark = pytest.mark.world
SCHEMA = schemathesis.openapi.from_dict(description())
WATCHED = SCHEMA.exclude(path_regex=r"/events$|/sweeps$|/runs$|/resume$|/first-owner$").include(path_regex="^/api/")
"""Left out: streams, what would start a hundred real runs, and what would shut the door (tests/team tries that)."""


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    with application(tmp_path_factory.mktemp("fuzz"), coast.settings, coast.read("places.json")) as running:
        yield running


@pytest.mark.filterwarnings("ignore::DeprecationWarning")
@pytest.mark.parametrize(
    "operation",
    [item.ok() for item in WATCHED.get_all_operations() if isinstance(item, Ok)],
    ids=lambda item: item.label,
)
def test_nothing_answers_with_a_server_error(app: Application, operation: schemathesis.schemas.APIOperation) -> None:
    from hypothesis import given

    @settings(max_examples=40, deadline=None, database=None, derandomize=True, suppress_health_check=list(HealthCheck))
    @given(case=operation.as_strategy())
    def check(case: schemathesis.Case) -> None:
        case.call_and_validate(base_url=app.url, checks=[not_a_server_error])

    check()
