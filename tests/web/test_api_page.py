"""The page of the API: found by words, opened, and its requests run as they stand there, by curl, Python and Node.js."""

import json
import os
import re
import shutil
import subprocess
import sys

import pytest

from tests.application import Application
from tests.team.person import Person, first_owner
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]


def run(language: str, text: str, token: str) -> str:
    """What a snippet prints."""
    if language == "curl":
        command = ["bash", "-c", text]
    elif language == "Python":
        command = [sys.executable, "-c", text]
    else:
        command = ["node", "--input-type=module", "-e", text]
    done = subprocess.run(command, env=os.environ | {"ACORN_TOKEN": token}, capture_output=True, text=True, timeout=60)
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_requests_run_as_they_are_shown(screen: Screen, app: Application) -> None:
    ada = first_owner(app)
    asked = {"name": "Docs", "scopes": ["see", "people", "work"], "until": "2099-01-01"}
    token = ada.do("POST", "/api/credentials/tokens", asked)["secret"]
    screen.open("/")
    screen.driver.add_cookie({"name": "__Host-acorn", "value": ada.cookie, "path": "/", "secure": True})
    screen.open("/settings/api")
    find = screen.one("input[aria-label='Find an operation']")
    find.send_keys("make a shortlist.")
    screen.until(
        lambda: screen.one("summary").text.startswith("POST") and len(screen.all("details")) == 1, "one operation"
    )
    screen.one("summary").click()
    assert screen.faults() == []
    for language in ("curl", "Python", "JavaScript"):
        if language == "curl" and shutil.which("curl") is None:
            continue
        screen.by_text(language, "button").click()
        shown = re.sub(r'text(?=\\*")', f"Made by {language}", screen.one("[data-testid=snippet]").text)
        assert "id" in json.loads(run(language, shown, token)), shown
    assert {f"Made by {name}" for name in ("Python", "JavaScript")} <= {
        one["name"] for one in ada.get("/api/shortlists")
    }
    find.clear()
    find.send_keys("counts beside the table.")
    screen.until(lambda: "/api/businesses/facets" in screen.one("summary").text, "a question")
    screen.one("summary").click()
    screen.by_text("curl", "button").click()
    assert json.loads(run("curl", screen.one("[data-testid=snippet]").text, token))["counts"]


def test_the_document_says_what_is_asked_and_what_may_go_wrong(app: Application) -> None:
    owner = Person(app).signed(Person(app).sign_in("ada@wrenfold.example"))
    document = owner.get("/api/openapi.json")
    operations = [one for methods in document["paths"].values() for one in methods.values()]
    assert len({one["operationId"] for one in operations}) == len(operations) > 250
    for one in operations:
        assert one["description"].strip().endswith("."), one["operationId"]
        assert one["x-permission"]
        assert {"401", "403", "404", "422"} <= set(one["responses"])
    assert "HTTPValidationError" not in json.dumps(document), "errors have one shape"
