"""From a draft to files: pages, style, structured data, map of the site. No script, nothing from elsewhere."""

import html
import io
import json
import re
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from functools import cache
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup
from PIL import Image, ImageDraw

from openacorn.core.audit.address import host_of
from openacorn.core.languages.catalogue import LANGUAGES, Translator
from openacorn.core.report.render import dialled, national
from openacorn.core.starter.colours import Colours, colour_set
from openacorn.core.starter.draft import PAGES, PageId, Section, SiteDraft, SiteFacts
from openacorn.core.starter.marks import mark_of
from openacorn.core.starter.themes import family_of, stylesheet, theme_of

RIGHT_TO_LEFT = frozenset({"ar", "fa", "he", "ur", "ps", "sd", "ug", "yi"})
SCHEMA = {
    "food": "FoodEstablishment", "practice": "MedicalBusiness", "lodging": "LodgingBusiness", "road": "HomeAndConstructionBusiness",
    "desk": "ProfessionalService", "shop": "Store",
}  # fmt: skip
"""Family of trades → its type at schema.org; LocalBusiness for the others."""

SHORTEST_PART, LEAST_DESCRIPTION, LONGEST_DESCRIPTION = 25, 70, 155
"""Characters of a sentence that says something; of what results of a search show, at least and at most (common practice)."""

CARD_PX = (1200, 630)
"""Size of the picture that messengers and social networks show of a link (common practice)."""

ALSO_AT_HOME = ("services", "about", "hours")
"""Sections of other pages that the home page shows too, so that one page says all that most visitors come for."""

_HOURS = re.compile(r"^(?:Mo|Tu|We|Th|F[r]|Sa|Su)\b.*\d{1,2}:\d{2}")


@dataclass(frozen=True, slots=True)
class SitePicture:
    """A picture in several widths, as files pictures/NAME-WIDTH.webp and .avif. height: of the first width."""

    name: str
    widths: tuple[int, ...]
    height: int
    alt: str


@dataclass(frozen=True, slots=True)
class RenderOptions:
    """base: the address that the site will have, with a slash at its end, "" if that is not known; asks: show what is still to be
    asked; hue: of a picture, None for the theme's own."""

    year: int
    base: str = ""
    asks: bool = True
    hue: float | None = None
    pictures: Sequence[SitePicture] = ()


@cache
def _templates() -> Environment:
    found = Environment(
        loader=PackageLoader("openacorn.core.starter"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    found.filters |= {"dialled": dialled, "phone": national, "host": lambda url: host_of(url) or url}
    return found


def _schema(facts: SiteFacts, base: str) -> Markup:
    """The business as schema.org has it, safe within a script element."""
    address = {
        "streetAddress": facts.street,
        "addressLocality": facts.town,
        "postalCode": facts.postcode,
        "addressCountry": facts.country,
    }
    data: dict[str, Any] = {
        "@context": "https://schema.org", "@type": SCHEMA.get(family_of(f"{facts.trade_id} {facts.trade}"), "LocalBusiness"),
        "name": facts.name, "telephone": facts.phone, "email": facts.email, "url": base,
        "address": {"@type": "PostalAddress", **{name: text for name, text in address.items() if text}},
        "openingHours": [line for line in facts.hours if _HOURS.match(line)], "sameAs": list(facts.socials),
        "image": f"{base}card.png" if base else "",
    }  # fmt: skip
    if facts.lat is not None and facts.lon is not None:
        data["geo"] = {"@type": "GeoCoordinates", "latitude": facts.lat, "longitude": facts.lon}
    kept = {name: value for name, value in data.items() if value}
    return Markup(json.dumps(kept, ensure_ascii=False).replace("</", "<\\/"))


def _description(draft: SiteDraft, page: PageId) -> str:
    """The first words of a page that are the business's own, with its name, place and number behind them where they are few."""
    said = [
        paragraph.text
        for section in draft.of_page(page)
        for paragraph in section.paragraphs
        if paragraph.origin in {"website", "agency"} and len(paragraph.text) >= SHORTEST_PART
    ]
    facts = draft.facts
    place = ", ".join(
        filter(None, (facts.name, facts.trade, facts.street, facts.town, national(facts.phone), facts.email))
    )
    text = said[0] if said else ""
    for more in (*said[1:], place):
        if len(text) >= LEAST_DESCRIPTION:
            break
        text = f"{text} {more}".strip()
    if len(text) <= LONGEST_DESCRIPTION:
        return text
    return text[: LONGEST_DESCRIPTION - 1].rsplit(" ", 1)[0] + "…"


def _title(facts: SiteFacts, heading: str, page: PageId) -> str:
    if page != "home":
        return f"{heading} – {facts.name}"
    return " – ".join(filter(None, (facts.name, ", ".join(filter(None, (facts.trade.capitalize(), facts.town))))))


def _on_home(draft: SiteDraft) -> list[Section]:
    """Those with something to say: what is to be asked is asked once."""
    return [
        section for section in draft.sections
        if section.id in ALSO_AT_HOME and section.shown and any(item.origin != "ask" for item in section.paragraphs)
    ]  # fmt: skip


def _page(draft: SiteDraft, page: PageId, colours: Colours, options: RenderOptions, words: Translator) -> str:
    facts = draft.facts
    sections = [
        section for section in draft.of_page(page)
        if options.asks or any(paragraph.origin != "ask" for paragraph in section.paragraphs)
    ]  # fmt: skip
    if page == "home":
        sections[1:1] = _on_home(draft)
    heading, form_to = words.text(PAGES[page]), draft.form_to or facts.email
    place = f"https://www.openstreetmap.org/?mlat={facts.lat}&mlon={facts.lon}#map=17/{facts.lat}/{facts.lon}"
    template = _templates()
    shared = {"asks": options.asks, "_": words.text}
    parts: Any = template.get_template("parts.html").make_module(shared)
    return template.get_template("page.html").render(
        shared, said=parts.said, picture=parts.picture, page=page, facts=facts, colours=colours, theme=theme_of(draft.theme),
        sections=sections, heading=heading, base=options.base, year=options.year, pictures=options.pictures,
        lang=facts.language or "en", rtl=facts.language.partition("-")[0] in RIGHT_TO_LEFT,
        nav=[(id_, words.text(label)) for id_, label in PAGES.items() if id_ != "privacy"],
        title=_title(facts, heading, page), description=_description(draft, page), schema=_schema(facts, options.base),
        mark=Markup(mark_of(theme_of(draft.theme).mark)),
        map_link=place if facts.lat is not None else "",
        form_to=f"mailto:{form_to}" if "@" in form_to and not form_to.startswith("https:") else form_to,
    )  # fmt: skip


def _favicon(facts: SiteFacts, colours: Colours) -> str:
    letter = html.escape(facts.name[:1].upper())
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32"><rect width="32" height="32" rx="7" fill="{colours.accent}"/>'
        f'<text x="16" y="23" font-family="sans-serif" font-size="20" font-weight="700" text-anchor="middle" '
        f'fill="{colours.on_accent}">{letter}</text></svg>'
    )


def _card(facts: SiteFacts, colours: Colours) -> bytes:
    """The picture of a link: the name on the site's colour."""
    card = Image.new("RGB", CARD_PX, colours.band)
    pen = ImageDraw.Draw(card)
    pen.rectangle((0, CARD_PX[1] - 24, *CARD_PX), fill=colours.accent)
    pen.text((80, 220), facts.name[:34], fill=colours.on_band, font_size=84)
    pen.text(
        (80, 350),
        ", ".join(filter(None, (facts.trade.capitalize(), facts.town)))[:50],
        fill=colours.on_band,
        font_size=48,
    )
    out = io.BytesIO()
    card.save(out, "PNG", optimize=True)
    return out.getvalue()


def _variables(colours: Colours) -> str:
    return ":root{" + "".join(f"--{name.replace('_', '-')}:{value};" for name, value in asdict(colours).items()) + "}\n"


def render_site(draft: SiteDraft, options: RenderOptions) -> dict[str, bytes]:
    """Path → file of the whole site, without its pictures."""
    theme, facts = theme_of(draft.theme), draft.facts
    colours = colour_set(draft.colours, theme.hue if options.hue is None else options.hue)
    spoken = facts.language.partition("-")[0]
    words = Translator(spoken if spoken in LANGUAGES else "en")
    files = {
        ("index.html" if page == "home" else f"{page}.html"): _page(draft, page, colours, options, words).encode()
        for page in PAGES
    }
    files["style.css"] = (_variables(colours) + stylesheet(theme.id)).encode()
    files["favicon.svg"] = _favicon(facts, colours).encode()
    files["card.png"] = _card(facts, colours)
    where = f"Sitemap: {options.base}sitemap.xml\n" if options.base else ""
    files["robots.txt"] = f"User-agent: *\nAllow: /\n{where}".encode()
    if options.base:
        pages = (options.base if page == "home" else f"{options.base}{page}.html" for page in PAGES)
        urls = "".join(f"<url><loc>{html.escape(url)}</loc></url>" for url in pages)
        files["sitemap.xml"] = (
            f'<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">{urls}</urlset>\n'
        ).encode()
    return files
