"""From facts to a page: HTML for a browser and for paper. Everything gathered is put in as text."""

from collections.abc import Sequence
from functools import cache
from importlib import resources
from typing import Any

import phonenumbers
from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from openacorn.core.audit.address import host_of
from openacorn.core.languages.catalogue import ENGLISH, Translator
from openacorn.core.report.letterhead import Letterhead, readable, text_on
from openacorn.core.report.owners_page import OwnersFacts
from openacorn.core.report.page_sentences import PageSentences
from openacorn.core.report.proposal import PricedProposal, money


def dialled(number: str) -> str:
    """A number as it was written, for a link that calls it (RFC 3966: digits, a plus before them)."""
    digits = "".join(char for char in number if char.isdigit())
    return f"+{digits}" if number.strip().startswith("+") else digits


def _where(url: str) -> str:
    """An address as people write it."""
    return url.partition("://")[2].rstrip("/") if "://" in url else url


def national(e164: str) -> str:
    """A number as it is written in its own country."""
    try:
        return phonenumbers.format_number(phonenumbers.parse(e164, None), phonenumbers.PhoneNumberFormat.NATIONAL)
    except phonenumbers.NumberParseException:
        return e164


@cache
def _templates(language: str) -> Environment:
    found = Environment(
        loader=PackageLoader("openacorn.core.report"), autoescape=True, undefined=StrictUndefined, trim_blocks=True,
        extensions=["jinja2.ext.i18n"],
    )  # fmt: skip
    words = Translator(language)
    found.install_gettext_callables(words.gettext, words.ngettext, newstyle=True)  # type: ignore[attr-defined]
    found.globals["words"] = PageSentences(words)
    found.filters |= {
        "day": words.day,
        "phone": national,
        "dialled": dialled,
        "host": lambda url: host_of(url) or url,
        "where": _where,
    }
    return found


@cache
def _style(name: str) -> str:
    return resources.files("openacorn.core.report").joinpath(f"templates/{name}").read_text("utf-8")


def render_page(template: str, style: str, head: Letterhead, language: str = ENGLISH, **values: Any) -> str:
    """A page of ours from a template. style: its style sheet, which is put into it."""
    colours = {"on_brand": text_on(head.colour), "brand_text": readable(head.colour)}
    # the style sheet is ours: it is the one thing that is not text
    return (
        _templates(language)
        .get_template(template)
        .render(css=Markup(_style("fonts.css") + _style(style)), head=head, **colours, **values)
    )


def owners_page(
    facts: OwnersFacts,
    head: Letterhead,
    *,
    sections: Sequence[str],
    made_at: str,
    logo: str = "",
    look: str = "",
    token: str = "",
    opened: str = "",
    notice: str = "",
    printed: bool = False,
) -> str:
    """An owner's page as HTML. token: its address's, "" for a preview, where nothing can be sent; opened: a stamp that the form
    sends back; notice: what to tell who has just sent it; logo, look: where the logo and the
    phone's picture are, "" for none; printed: for paper, with no form."""
    return render_page(
        "owners_page.html", "owners_page.css", head, facts.language, facts=facts, sections=sections, made_at=made_at, logo=logo, 
        look=look, token=token, opened=opened, notice=notice, printed=printed, open=bool(token),
    )  # fmt: skip


def notice(head: Letterhead, title: str, text: str, button: str = "", language: str = ENGLISH) -> str:
    """A page with one thing to say, where there is no owner's page to show. button: posts to the page's own address.
    All are English, and shown in the language."""
    say = Translator(language).text
    words = {"title": say(title), "text": say(text), "button": say(button)}
    return render_page("notice.html", "owners_page.css", head, language, **words)


def proposal_page(
    proposal: PricedProposal, head: Letterhead, *, number: str, made_at: str, logo: str = "", token: str = "",
    accepted: tuple[str, str] | None = None, notice: str = "", invoice: bool = False,
) -> str:  # fmt: skip
    """A proposal as HTML, or the draft of its invoice. token: its address's, "" where it cannot be accepted; accepted: (who,
    when); notice: what to tell who has just accepted it."""
    sums = [(proposal.totals(monthly=monthly), monthly) for monthly in (False, True)]
    return render_page(
        "proposal.html", "owners_page.css", head, proposal.language, proposal=proposal, number=number, made_at=made_at, logo=logo,
        token=token, open=bool(token), notice=notice, invoice=invoice, sums=[pair for pair in sums if pair[0].net],
        accepted={"name": accepted[0], "at": accepted[1]} if accepted else None,
        money=lambda amount: money(amount, proposal),
    )  # fmt: skip
