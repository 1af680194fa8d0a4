"""An owner in another language: the page, its PDF, the message, its footer and the way out, by the same catalogue."""

import io
import json
import re
import urllib.request
from typing import Any

import pypdfium2
import pytest

from tests.application import Application
from tests.asking import failing, ids_of, make_list
from tests.conftest import Coast
from tests.outreach.test_sequences import ANY_TIME, STEPS, app, begun, mailbox, outbox, until

pytestmark = pytest.mark.world

__all__ = ["app"]
ENGLISH = re.compile(r"\b(the|your|website has|we saw|what we|of 100|near you|could be better|what is fine)\b", re.I)
"""Words of the page's English; names and addresses of the coast hold none of them."""


def made_page(app: Application, business: int) -> dict[str, Any]:
    app.wait_for_run(app.post("/api/owner-pages", {"ids": [business], "again": True})["run_id"])
    page: dict[str, Any] = app.get(f"/api/businesses/{business}/owner-page")
    return page


def words_of(html: str) -> str:
    body = re.sub(
        r"<style.*?</style>|<p class=\"seen\">.*?</p>|<footer>.*?</footer>|<[^>]+>", " ", html, flags=re.DOTALL
    )
    return " ".join(body.split())


def test_a_page_its_pdf_and_the_sheet_are_in_the_language_set_by_hand(app: Application) -> None:
    business = ids_of(app)[0]
    assert app.get(f"/api/businesses/{business}/language") | {"because": ""} == {
        "language": "en", "name": "English", "by_hand": "", "because": "",
    }  # fmt: skip
    english = app.get(f"/api/businesses/{business}/call-sheet")
    assert app.put(f"/api/businesses/{business}/language", {"language": "de"})["because"] == "by hand"
    assert failing(app, "PUT", f"/api/businesses/{business}/language", {"language": "tlh"})[0] == 422
    page = made_page(app, business)
    assert page["language"] == "de"
    assert page["untranslated"] == []
    html = app.text(f"/api/owner-pages/{page['id']}/preview")
    assert '<html lang="de">' in html
    assert "Was man sieht, wenn man" in html
    assert ENGLISH.findall(words_of(html)) == []
    pdf = pypdfium2.PdfDocument(io.BytesIO(app.content(f"/api/owner-pages/{page['id']}/pdf")))
    assert "Was man sieht" in " ".join(pdf[0].get_textpage().get_text_bounded().split())
    sheet = app.get(f"/api/businesses/{business}/call-sheet")
    assert (sheet["language"], english["language"]) == ("German", "English")
    assert [claim["check"] for claim in sheet["claims"]] == [claim["check"] for claim in english["claims"]]
    assert all(one["text"] != two["text"] for one, two in zip(sheet["claims"], english["claims"], strict=True))
    app.put(f"/api/businesses/{business}/language", {"language": ""})
    assert app.get(f"/api/businesses/{business}/language")["language"] == "en"


def test_a_list_is_written_to_in_its_language_down_to_the_way_out(app: Application, coast: Coast) -> None:
    mailbox(app, "ada", gap_s=1, jitter_s=0, daily_limit=200)
    number = make_list(app, "Outre-mer", ids_of(app))
    app.post(f"/api/shortlists/{number}", {"language": "fr"}, method="PATCH")
    assert next(item for item in app.get("/api/shortlists") if item["id"] == number)["language"] == "fr"
    begun(app, 300, STEPS[:1], **ANY_TIME)
    until(lambda: len(outbox(coast)) > 0)
    message = outbox(coast)[0]
    body = message.get_body(("plain",))
    assert body is not None
    text = body.get_content()
    assert text.startswith("Bonjour")
    assert "Pour ne plus rien recevoir de nous, ouvrez https://pages.wrenfold.example/o/stop/" in text
    assert ENGLISH.findall(text) == []
    (link,) = re.findall(r"<https://pages.wrenfold.example(.+?)>", str(message["List-Unsubscribe"]))
    with urllib.request.urlopen(app.owners_url + link, timeout=30) as answer:
        shown = answer.read().decode()
    assert '<html lang="fr">' in shown
    assert "Ne m’écrivez plus" in shown


def test_a_preview_says_what_is_there_in_english_only(app: Application) -> None:
    business = ids_of(app)[0]
    app.put(f"/api/businesses/{business}/language", {"language": "it"})
    own = {"kind": "email", "name": "Own", "subject": "Of mine", "text": "A sentence of mine.", "business_id": business}
    found = app.post("/api/message-template-preview", own)
    assert found["language"] == "en"
    assert "the owner reads Italian, and this text is there in English only" in json.dumps(found["remarks"])
    barred = app.post("/api/message-template-preview", {**own, "language": "de"})
    assert barred["left_out"] == "it is in German, and the owner reads Italian"
    own_words = app.post("/api/message-template-preview", {**own, "language": "it", "text": "{{ greeting }} ecco."})
    assert own_words["text"].startswith("Buongiorno")
    assert own_words["remarks"] == []
