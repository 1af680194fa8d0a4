"""The command for assistant programs, spoken to by the protocol's own client over standard input, beside a running application."""

import asyncio
import json
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

import pytest

from tests.application import ROOT, Application, application
from tests.conftest import Coast, Swept, circle

if TYPE_CHECKING:
    from mcp import Client

pytestmark = pytest.mark.world
PLAN = {"trades": ["florists"], "areas": [circle(-37.02, 160.02, 5000.0)], "sources": ["listing_service"]}
READING = {
    "search_businesses", "list_filters", "get_business", "explain_score", "list_shortlists", "get_shortlist", "audit_website",
}  # fmt: skip


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("assistant")
    swept(PLAN, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


def client(url: str, *more: str) -> "Client":
    from mcp import Client, StdioServerParameters

    command = StdioServerParameters(
        command=sys.executable, args=["-m", "openacorn.cli", "mcp", "--url", url, *more], cwd=str(ROOT)
    )
    return Client(command)


async def told(speaking: "Client", tool: str, **arguments: Any) -> Any:
    answer = await speaking.call_tool(tool, arguments)
    assert not answer.is_error, answer.content
    found = answer.structured_content
    return found["result"] if found and set(found) == {"result"} else found


def test_an_assistant_reads_what_a_user_sees(app: Application) -> None:
    async def ask() -> None:
        async with client(app.url) as speaking:
            tools = (await speaking.list_tools()).tools
            assert {tool.name for tool in tools} == READING
            assert all(tool.description and tool.annotations and tool.annotations.read_only_hint for tool in tools)
            found = await told(speaking, "search_businesses", limit=3, filters={"check.analytics": "gap"})
            page = app.get("/api/businesses?limit=3&check.analytics=gap&columns=id")
            assert found["total"] == page["total"] > found["shown"] == 3, "a list that was cut says so"
            assert [business["id"] for business in found["businesses"]] == [row[0] for row in page["rows"]]
            number = found["businesses"][0]["id"]
            business = await told(speaking, "get_business", business_id=number)
            assert "analytics" in {finding["check"] for finding in business["findings"]}
            assert {finding["outcome"] for finding in business["findings"]} <= {"gap", "partial"}
            assert sum(business["outcomes"].values()) == len(app.get(f"/api/businesses/{number}")["findings"])
            scores = await told(speaking, "explain_score", business_id=number)
            scored = [item for item in scores if item["score"] is not None]
            assert scored
            assert all(item["score"] + sum(term["points"] for term in item["terms"]) == 100 for item in scored)
            assert "florists" in (await told(speaking, "list_filters"))["values"]["trade"]

    asyncio.run(ask())


def test_what_is_wrong_is_said_with_what_to_do(app: Application) -> None:
    async def ask() -> None:
        async with client(app.url) as speaking:
            for tool, arguments, why in (
                ("get_business", {"business_id": 999_999}, "no business 999999"),
                ("search_businesses", {"filters": {"check.nothing": "gap"}}, "no check"),
                ("search_businesses", {"limit": 5000}, "100"),
                ("audit_website", {"address": "http://127.0.0.1:9/"}, ""),
            ):
                answer = await speaking.call_tool(tool, arguments)
                assert why in json.dumps([item.model_dump() for item in answer.content])
                assert answer.is_error == bool(why)
        async with client("http://127.0.0.1:9") as speaking:
            answer = await speaking.call_tool("list_shortlists", {})
            assert "start it by ./acorn serve" in str(answer.content)

    asyncio.run(ask())


def test_writing_is_asked_for(app: Application) -> None:
    async def ask() -> None:
        (number,) = (row[0] for row in app.get("/api/businesses?limit=1&columns=id")["rows"])
        monday = app.post("/api/shortlists", {"name": "Monday"})["id"]
        async with client(app.url) as speaking:
            answer = await speaking.call_tool("add_note", {"business_id": number, "text": "x"})
            assert answer.is_error, "not offered unless asked for"
        async with client(app.url, "--write") as speaking:
            assert {tool.name for tool in (await speaking.list_tools()).tools} == READING | {
                "add_to_shortlist",
                "add_note",
            }
            await told(speaking, "add_to_shortlist", shortlist_id=monday, business_ids=[number])
            assert (await told(speaking, "get_shortlist", shortlist_id=monday))["counts"]["picked"] == 1
            await told(speaking, "add_note", business_id=number, text="Ask for Petra")
        assert app.get(f"/api/businesses/{number}/activities")[0]["text"] == "Ask for Petra"

    asyncio.run(ask())
