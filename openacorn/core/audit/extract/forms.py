"""Forms: which of them a visitor could write to the business by."""

import re
from collections.abc import Iterator

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.extract.nodes import snippet
from openacorn.core.audit.extract.vocabulary import says

FIELDS = "input, textarea, select"
NOT_ASKED = frozenset({"hidden", "submit", "button", "image", "reset"})
CAPTCHA = re.compile(r"recaptcha|captcha", re.I)
MAIL = re.compile(r"e-?mail|courriel|correo|почт|mail", re.I)
REACH = re.compile(
    r"phone|tel(?:e|\b|_)|mobile|name|vorname|nachname|nom\b|prenom|nombre|naam|imi[eę]|имя|фио|subject|betreff|sujet|asunto",
    re.I,
)
WRITES = re.compile(
    r"message|nachricht|comment|kommentar|mensaje|messaggio|bericht|mensagem|enquiry|inquiry|anfrage|question|wiadomo|сообщ|treść|tresc|body|text\b",
    re.I,
)
SEARCHES = re.compile(
    r"^(?:q|s|k|query|search\w*|suche?\w*|recherche|buscar?|keywords?|kw|wd|zoek\w*|szukaj|фраза|sword\w*|term)$|search",
    re.I,
)
FOR_CONTACT = re.compile(
    r"contact|kontakt|contatt|contat|enquir|inquir|anfrage|feedback|support|request|callback|r[uü]ckruf|obratn|svyaz|toiawase|inquiry|"
    r"messag|mailform|formmail|cform|write-?us",
    re.I,
)
"""What a form for messages is called in the page's source."""

FOR_OTHERS = re.compile(
    r"post(?:reply|ing)|new-?(?:reply|thread|rental|coupon)|cart|checkout|basket|translate|editor|survey|poll|vote|regist(?:er|r)|subscri|"
    r"sign-?up|order|ordine|bestell|apply|appli|job|career|download|newsletter|member|invite|friend|share|tell-?a|report|error|upload|add[-_]?\w|"
    r"suggest|login|profile|account|comment-?form|commentform|respond|review|guestbook|payment|donat|retweet|tweet",
    re.I,
)
"""What forms for something else are called there."""

LONG_FORM = 14
"""Fields: a form that asks for more takes an application or an order."""

MOST_FORMS = 60
MOST_FIELDS = 3000


def _owned(tree: LexborHTMLParser) -> Iterator[tuple[LexborNode, list[LexborNode]]]:
    """(form, its fields). Fields of a form that a table has broken up stand after it in the source, inside no form at all: they
    are the form's (HTML standard, form owner)."""
    forms = tree.css("form")[:MOST_FORMS]
    inside = {form.mem_id: form.css(FIELDS) for form in forms}
    owned = {field.mem_id for fields in inside.values() for field in fields}
    if any(not fields for fields in inside.values()):
        last: LexborNode | None = None
        for node in tree.css(f"form, {FIELDS}")[:MOST_FIELDS]:
            if node.tag == "form":
                last = node
            elif (
                last is not None
                and last.mem_id in inside
                and node.mem_id not in owned
                and not node.attributes.get("form")
            ):
                inside[last.mem_id].append(node)
    for form in forms:
        yield form, inside[form.mem_id]


def _named(field: LexborNode) -> str:
    attributes = field.attributes
    return " ".join(
        filter(None, (attributes.get(name) for name in ("name", "id", "type", "placeholder", "aria-label")))
    )


def contact_form(tree: LexborHTMLParser) -> tuple[str, str]:
    """Return (the form by which a visitor could write, one that may be such); "" where there is none.

    A form with room to write counts if it asks who writes, or says that it is for messages; without such room, one that asks for
    an address and who it is. A password makes it a log-in, one line a search or a sign-up to news.
    """
    perhaps = ""
    for form, fields in _owned(tree):
        asked = [field for field in fields if (field.attributes.get("type") or "").lower() not in NOT_ASKED]
        kind = _kind(form, asked)
        shown = snippet(form)
        if kind == "contact":
            return shown, ""
        if kind == "perhaps":
            perhaps = perhaps or shown
    return "", perhaps


def _kind(form: LexborNode, fields: list[LexborNode]) -> str:
    """What a form is for: "contact", "perhaps" (it may be that) or "other"."""
    called = " ".join(form.attributes.get(name) or "" for name in ("id", "name", "class", "action"))
    fields = [field for field in fields if not CAPTCHA.search(_named(field))]
    writes = [field for field in fields if field.tag == "textarea"]
    if any((field.attributes.get("type") or "").lower() == "password" for field in fields):
        return "perhaps" if writes else "other"
    fields = [field for field in fields if not SEARCHES.search(field.attributes.get("name") or "")]
    if form.attributes.get("role") == "search" or not fields:
        return "perhaps" if FOR_CONTACT.search(called) else "other"
    named = [_named(field) for field in fields]
    mail, reach = any(MAIL.search(name) for name in named), sum(bool(REACH.search(name)) for name in named)
    typed = [field for field in fields if (field.attributes.get("type") or "text").lower() in {"text", "email", "tel"}]
    doubtful = bool(FOR_OTHERS.search(called)) or len(fields) > LONG_FORM
    if not writes and not (mail and len(typed) >= 3):
        return "perhaps" if FOR_CONTACT.search(called) and not doubtful else "other"
    if doubtful:
        return "perhaps"
    text = " ".join(form.text(separator=" ").split())[:1500]
    if writes:
        for_messages = any(WRITES.search(_named(field)) for field in writes) or says("message", text)
        return "contact" if mail or (reach and for_messages) else "perhaps"
    return "contact" if reach >= 2 and not (says("newsletter", text) or says("login", text)) else "perhaps"
