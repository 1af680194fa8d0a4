"""Cross-tables, words on pages, gaps beside peers, and what results teach of the chance of winning."""

import urllib.error
import urllib.parse
import urllib.request
from typing import Any

import pytest

from tests.application import Application
from tests.asking import failing, table, total
from tests.desk.audited import app, folder

__all__ = ["app", "folder"]

pytestmark = pytest.mark.world


@pytest.mark.parametrize(
    ("rows", "columns", "measure"),
    [("trade", "town", "count"), ("town", "check.viewport", "share"), ("offer", "trade", "mean score"), ("score band", "has", "sum of value")],
)  # fmt: skip
def test_a_cross_table_is_that_of_pandas_and_each_cell_opens_its_rows(
    app: Application, rows: str, columns: str, measure: str
) -> None:
    import pandas as pd

    found = app.get(
        f"/api/insight/table?rows={rows.replace(' ', '%20')}&columns={columns}&measure={measure.replace(' ', '%20')}"
    )
    page = app.get("/api/businesses?limit=500&columns=id,trade,town,offer,score,value,has,strip")
    frame = pd.DataFrame(page["rows"], columns=page["columns"]).replace({"town": {"": "?"}, "offer": {"": "?"}})
    checks = [check["id"] for check in app.get("/api/checks")]
    frame["check.viewport"] = (
        frame["strip"]
        .str[checks.index("viewport")]
        .map({"g": "gap", "p": "partial", "o": "ok", "n": "not applicable", "u": "unknown"})
    )
    frame["score band"] = pd.cut(
        frame["score"], [-1, 19, 39, 59, 79, 100], labels=["0 to 19", "20 to 39", "40 to 59", "60 to 79", "80 to 100"]
    )
    frame["has"] = frame["has"].str.split(", ")
    long = frame.explode("has")
    long = long if columns == "has" else frame
    if measure in ("count", "share"):
        expected = pd.crosstab(long[rows], long[columns], normalize="index" if measure == "share" else False)
        if measure == "share":  # of everybody in the row, also those never asked
            expected = pd.crosstab(long[rows], long[columns]).div(frame[rows].value_counts(), axis=0)
    else:
        how = "mean" if measure == "mean score" else "sum"
        expected = long.pivot_table(index=rows, columns=columns, values=measure.split()[-1], aggfunc=how, observed=True)
    for row, cells, behind in zip(found["rows"], found["cells"], found["counts"], strict=True):
        for column, cell, count in zip(found["columns"], cells, behind, strict=True):
            if count and cell is not None:  # pandas leaves out whoever has no number
                assert cell == pytest.approx(float(expected.loc[row["value"], column["value"]]), rel=1e-9)
    if measure == "count":  # nobody is left out unsaid, also not those without a known town
        assert sum(map(sum, found["counts"])) == found["total"] == len(frame)
    assert found["rows_outside"] == (int(frame["score"].isna().sum()) if rows == "score band" else 0)
    at = max(range(len(found["counts"][0])), key=lambda number: found["counts"][0][number])
    query = "&".join(f"{key}={value.replace(' ', '%20')}" for key, value in found["filters"][0][at].items())
    assert total(app, query) == found["counts"][0][at]
    assert failing(app, "GET", "/api/insight/table?rows=shoe", None)[0] == 422
    assert failing(app, "GET", "/api/insight/table?measure=luck", None)[0] == 422


def test_pages_are_searched_for_words_and_peers_lack_what_is_told(app: Application) -> None:
    business = next(row for row in table(app, "check.people_named=ok") if row["id"])
    whole = app.get(f"/api/businesses/{business['id']}")
    title = next(item for item in whole["findings"] if item["check"] == "title")["evidence"][0]["snippet"]
    word = urllib.parse.quote(title.removeprefix("<title>").split()[0].strip("“”\"',"))
    assert total(app, f"pages={word}&ids={business['id']}") == 1
    assert total(app, "pages=xyzzyplugh") == 0
    assert total(app, "pages=%22%22") == 0
    result = [app.get(f"/api/businesses/{row['id']}") for row in table(app)[:12]]
    assert any(item["peers"] and item["peers"]["lacks"] for item in result)
    for item in result:
        gaps = {finding["check"] for finding in item["findings"] if finding["outcome"] == "gap"}
        for lack in (item["peers"] or {"lacks": []})["lacks"]:
            assert lack["check"] in gaps
            assert lack["have"] >= 0.4 * lack["of"]
    assert len(app.get(f"/api/businesses/compare?ids={','.join(str(row['id']) for row in table(app)[:3])}")) == 3
    assert failing(app, "GET", "/api/businesses/compare?ids=1", None)[0] == 422


def test_what_came_of_contacts_teaches_the_chance_of_winning_and_the_user_chooses_it(app: Application) -> None:
    def result() -> tuple[dict[str, Any], dict[str, dict[str, Any]]]:
        odds = app.get("/api/win-model")
        return odds, {item["service"]: item for item in odds["services"]}

    def value(business: int) -> float:
        whole = app.get(f"/api/businesses/{business}")
        return float(next(o["value"] for o in whole["opportunities"] if o["service"] == service))

    assert (result()[0]["goes_by"], {round(item["learnt"], 3) for item in result()[1].values()}) == ("prior", {0.02})
    whole = [app.get(f"/api/businesses/{row['id']}") for row in table(app, "limit=40")]
    service = next(business["offer"] for business in whole if business["offer"])
    buyers = [b for b in whole if any(o["service"] == service and o["score"] is not None for o in b["opportunities"])][
        :4
    ]
    before = value(buyers[0]["id"])
    actions_done: list[int] = []
    for business in buyers:
        asked = {"result": "won", "service": service, "amount": 900}
        actions_done.append(app.post(f"/api/businesses/{business['id']}/contacts", asked)["id"])
        kept = app.get(f"/api/businesses/{business['id']}")["outcomes"]
        assert [(item["service"], item["stage"], item["amount"]) for item in kept] == [(service, "won", 900)]
    odds, by_service = result()
    assert by_service[service]["learnt"] > 0.02 == pytest.approx(by_service[service]["prior"])
    assert (by_service[service]["trials"], by_service[service]["won"], odds["trials"]) == (len(buyers),) * 3
    # ten of the rarer kind for each number fitted (a service, the slope, a channel), and nobody has been lost
    assert odds["needed"] == 30
    assert [(item["channel"], item["trials"], item["won"]) for item in odds["channels"]] == [("call", 4, 4)]
    assert value(buyers[0]["id"]) == pytest.approx(before)  # until the user says so
    assert app.put("/api/win-model", {"goes_by": "learnt"})["goes_by"] == "learnt"
    assert value(buyers[0]["id"]) > before
    curve = app.get(f"/api/win-model?service={service}")["curve"]
    assert all(point["learnt"] > point["prior"] for point in curve)
    held_back = next(o["service"] for o in buyers[0]["opportunities"] if o["score"] is None)
    asked = {"result": "won", "service": held_back}
    actions_done.append(app.post(f"/api/businesses/{buyers[0]['id']}/contacts", asked)["id"])
    kept = app.get(f"/api/businesses/{buyers[0]['id']}")["outcomes"]
    assert (
        next(item["score"] for item in kept if item["service"] == held_back) is None
    )  # kept, though nothing can be learnt
    assert result()[0]["trials"] == len(buyers)
    assert failing(app, "POST", "/api/businesses/999999/contacts", asked)[0] == 404
    app.post(f"/api/businesses/{buyers[0]['id']}/contacts", {"result": "talking", "service": service})
    assert result()[0]["trials"] == len(buyers)  # a client who is called again stays one
    assert app.put("/api/win-model", {"goes_by": "prior"})["goes_by"] == "prior"
    assert total(app, "state=relationship") == len(buyers)
    app.post(f"/api/actions/{app.get('/api/actions')[0]['id']}/undo")
    for number in reversed(actions_done):
        app.post(f"/api/actions/{number}/undo")
    assert (total(app, "state=relationship"), app.get(f"/api/businesses/{buyers[0]['id']}")["outcomes"]) == (0, [])
    mailed = [
        app.post(f"/api/businesses/{b['id']}/contacts", {"result": "mailed", "service": service})["id"] for b in buyers
    ]
    assert {round(item["learnt"], 3) for item in result()[1].values()} == {
        0.02
    }  # contacted today: nothing can be learnt yet
    for number in mailed:
        app.post(f"/api/actions/{number}/undo")
