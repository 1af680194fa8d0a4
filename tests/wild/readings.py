"""Other readers' answers to what our checks ask: lxml's tree, the phone library's own matcher, a list of hosts, labels by hand.

A reading says True (it is there), False (it is not) or None (this reader cannot tell). None of it shares code or tables with ours.
"""

import json
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache, cached_property
from urllib.parse import urljoin, urlsplit

import phonenumbers
from lxml import etree, html

from openacorn.core.audit.extract.decode import decode_html
from tests.wild.pages import PACKAGES, WildPage

MAIL = re.compile(r"[\w.+-]{2,60}@[\w-]+(?:\.[\w-]+)+")
NO_MAIL = re.compile(
    r"@\d?x|\.(?:png|jpe?g|gif|svg|css|js)$|example|(?:^|[.@])(?:domain|email|website|yourdomain|mail)\.com$|sentry",
    re.I,
)
LONG_DIGITS = re.compile(r"\d(?:[\s().\-/+]{0,3}\d){6,}")
NETWORK = re.compile(
    r"(?:^|\.)(?:facebook|twitter|x|instagram|linkedin|youtube|pinterest|tiktok|vk|ok|xing|threads|bsky)\.\w+$"
)
PROFILE = re.compile(
    r"^https?://(?:www\.)?(?:facebook\.com/(?!sharer|share|dialog|plugins|login|pages/?$|groups|events|profile\.php|home|policies|about|help|l\.php|tr)"
    r"|twitter\.com/(?!share|intent|home|search|hashtag|login|signup|tos|privacy|about|i/)|instagram\.com/(?!p/|explore)"
    r"|linkedin\.com/company/|youtube\.com/(?:user|channel)/)[\w.-]{3,}/?$"
)
PRIVACY, CART = (
    re.compile(r"privacy policy|datenschutz|confidentialit|privacidad", re.I),
    re.compile(r"add to (?:cart|basket|bag)|view cart|warenkorb|do koszyka", re.I),
)
ANY_PRIVACY = re.compile(
    r"priv|datens|daten|confid|gdpr|rodo|policy|polic|politi|polít|legal|terms|cookie|personal|personuppg|persond|данн|конфид|adatv|gizli|隐|隱|個人|プライ|개인|الخصوص|soukrom|osobn",
    re.I,
)
ANY_SHOP = re.compile(
    r"cart|basket|bag|shop|store|checkout|order|buy|kauf|kasse|koszyk|sklep|panier|boutique|achet|command|tienda|compra|carr|loja|negozio|acquist|winkel|bestel|kosik|košík|kos[aá]r|k[uø]p|kjøp|handl|kundvagn|kurv|osta|sepet|купит|корзин|заказ|магазин|商|購|购|カート|ショップ|쇼핑|장바|متجر|سلة",
    re.I,
)
ANY_BOOKING = re.compile(
    r"book|reserv|appoint|schedul|termin|buch|rendez|rdv|cita|agend|turno|prenot|appunt|afspraak|boek|marca|consult|wizyt|rezerw|rezerv|objedn|boka|bestil|varaus|varaa|foglal|időpont|randevu|запис|брон|予約|预|預|예약|حجز|موعد|availab|opentable|calendly",
    re.I,
)
VIDEO_HINT = re.compile(
    r"video|youtu|vimeo|player|\.mp4|\.flv|\.webm|dailymotion|wistia|brightcove|<embed|<object", re.I
)
DATED = ("font", "center", "marquee", "blink")


@cache
def _statistics_hosts() -> tuple[str, ...]:
    """Hosts of visitor statistics by npm third-party-web (MIT), but for those of many services."""
    entities = json.loads((PACKAGES / "third-party-web/dist/entities-nostats.json").read_text(encoding="utf-8"))
    wanted = {"StatCounter", "Chartbeat", "comScore", "Yandex Metrica", "Histats", "Matomo", "Mixpanel", "Woopra", "XiTi", "etracker",
              "Webtrends", "LiveInternet", "Site Meter", "KISSmetrics", "GoSquared", "Quantcast", "WordPress Site Stats"}  # fmt: skip
    return tuple(d.lstrip("*.") for e in entities if e["name"] in wanted for d in e["domains"])


@dataclass
class Source:
    """A page as lxml reads it."""

    page: WildPage
    text: str = field(init=False)

    def __post_init__(self) -> None:
        self.text = decode_html(self.page.body, "")[0]

    @cached_property
    def tree(self) -> html.HtmlElement:
        return html.fromstring(self.text.encode("utf-8", "replace") or b"<p>", parser=html.HTMLParser(encoding="utf-8"))

    def all(self, path: str) -> list[str]:
        return [str(value).strip() for value in self.tree.xpath(path)]

    @cached_property
    def links(self) -> list[tuple[str, str]]:
        """(whole address, all that it says) of each link and button."""
        found = []
        for node in self.tree.xpath(
            "//a | //area | //button | //input[@type='submit' or @type='button' or @type='image']"
        ):
            says = [
                " ".join(node.itertext()),
                *(node.get(name) or "" for name in ("title", "aria-label", "value", "alt")),
                *node.xpath(".//img/@alt"),
            ]
            try:
                address = urljoin(self.page.url, (node.get("href") or "").strip())
            except ValueError:
                address = ""
            found.append((address, " ".join(" ".join(says).split())))
        return found

    @cached_property
    def visible(self) -> str:
        skipped = {"script", "style", "noscript", "template", "svg", "iframe", "object", "title"}
        parts = (
            text.strip()
            for text in self.tree.xpath("//body//text()")
            if not any(up.tag in skipped for up in (text.getparent(), *text.getparent().iterancestors()))
        )
        return "\n".join(part for part in parts if part)

    @cached_property
    def loaded(self) -> list[str]:
        """Hosts of scripts."""
        found = []
        for address in self.all("//script/@src"):
            try:
                found.append(urlsplit(urljoin(self.page.url, address)).hostname or "")
            except ValueError:
                continue
        return found


def _attribute(path: str) -> Callable[[Source], bool | None]:
    return lambda source: any(source.all(path))


def _said(sure: re.Pattern[str], loose: re.Pattern[str]) -> Callable[[Source], bool | None]:
    """There if a link says so in so many words, absent if no link's text or address has anything of it."""

    def read(source: Source) -> bool | None:
        if any(sure.search(said) and len(said) < 60 for _, said in source.links):
            return True
        return None if any(loose.search(f"{said} {address}") for address, said in source.links) else False

    return read


def _title(source: Source) -> bool | None:
    titles = [
        " ".join("".join(node.itertext()).split())
        for node in source.tree.xpath("//title[not(ancestor::*[local-name()='svg'])]")
    ]
    return any(titles)


def _headings(source: Source) -> bool | None:
    return any("".join(node.itertext()).strip() or any(node.xpath(".//img/@alt")) for node in source.tree.xpath("//h1"))


def _alt(source: Source) -> bool | None:
    """Have all pictures that are seen an alternative text?"""
    images = source.tree.xpath(
        "//img[not(ancestor::noscript) and not(@width='0' or @width='1' or @height='0' or @height='1')]"
    )
    bare = [
        i
        for i in images
        if i.get("alt") is None
        and not any(i.get(n) for n in ("title", "aria-label", "aria-labelledby", "role", "aria-hidden"))
    ]
    return None if not images else not bare


def _phone(source: Source) -> bool | None:
    if not LONG_DIGITS.search(source.visible) and not any(a.startswith(("tel:", "callto:")) for a, _ in source.links):
        return False
    matcher = phonenumbers.PhoneNumberMatcher(source.visible[:60_000], None, max_tries=500)
    return True if any(match.raw_string.startswith("+") for match in matcher) else None


def _mail(source: Source) -> bool | None:
    named = [a.partition(":")[2].partition("?")[0] for a, _ in source.links if a.lower().startswith("mailto:")]
    if any(MAIL.fullmatch(address.strip()) and not NO_MAIL.search(address) for address in named):
        return True
    hints = (
        "@" in source.visible,
        "mailto" in source.text,
        "cfemail" in source.text,
        "fromCharCode" in source.text,
        "(at)" in source.text,
    )
    return None if any(hints) or " at " in source.visible else False


def _social(source: Source) -> bool | None:
    if any(PROFILE.match(address) for address, _ in source.links):
        return True
    return (
        None
        if any(NETWORK.search(urlsplit(a).hostname or "") for a, _ in source.links if a.startswith("http"))
        else False
    )


def _form(source: Source) -> bool | None:
    """By the labels: "c" is a form to write by; "X" and "-" were not labelled."""
    labels = source.page.forms
    if labels is None:
        return None
    return True if "c" in labels else None if {"X", "-"} & set(labels) or source.tree.xpath("//iframe") else False


def _analytics(source: Source) -> bool | None:
    if any(host == known or host.endswith("." + known) for host in source.loaded for known in _statistics_hosts()):
        return True
    return False if not source.tree.xpath("//script | //iframe | //img[@width<3]") else None


def _raw(sure: str, loose: str) -> Callable[[Source], bool | None]:
    there, hint = re.compile(sure), re.compile(loose, re.I)
    scripts = re.compile(r"<script.*?</script>|<(?:img|iframe|link|noscript)[^>]*>", re.I | re.S)

    def read(source: Source) -> bool | None:
        bare = re.sub(r"<!--.*?-->", "", source.text, flags=re.S)
        loaded = " ".join(scripts.findall(bare))
        return (
            True
            if there.search(loaded)
            else None
            if hint.search(source.text) or "<script" in source.text.lower()
            else False
        )

    return read


def _video(source: Source) -> bool | None:
    if source.tree.xpath(
        "//video | //iframe[contains(@src,'youtube.com/embed/') or contains(@src,'player.vimeo.com/video')]"
    ):
        return True
    return None if VIDEO_HINT.search(source.text) else False


def _local_data(source: Source) -> bool | None:
    return None if "schema.org" in source.text else False


def _dated(source: Source) -> bool | None:
    """Is the markup free of what HTML5 made obsolete? Attributes of that kind are left to ours."""
    if source.tree.xpath("//*[@bgcolor] | //*[@background]"):
        return None
    return not source.tree.xpath(" | ".join(f"//{tag}" for tag in DATED))


READINGS: dict[str, Callable[[Source], bool | None]] = {
    "title": _title,
    "meta_description": _attribute("//meta[translate(@name,'DESCRIPTON','descripton')='description']/@content"),
    "viewport": _attribute("//meta[translate(@name,'VIEWPORT','viewport')='viewport']/@content"),
    "language": _attribute(
        "//html/@lang | //body/@lang | //html/@*[name()='xml:lang'] | //meta[translate(@http-equiv,'CONTELAGU','contelagu')='content-language']/@content"
    ),
    "headings": _headings,
    "image_alt": _alt,
    "phone_found": _phone,
    "email_found": _mail,
    "social_links": _social,
    "privacy_page": _said(PRIVACY, ANY_PRIVACY),
    "shop": _said(CART, ANY_SHOP),
    "booking": _said(re.compile(r"^book (?:now|online|an appointment|a table)\b", re.I), ANY_BOOKING),
    "contact_form": _form,
    "video": _video,
    "analytics": _analytics,
    "tag_manager": _raw(r"googletagmanager\.com/gtm\.js|GTM-[A-Z0-9]{5,}", r"gtm|tag"),
    "meta_pixel": _raw(r"connect\.facebook\.net/\w+/fbevents\.js|facebook\.com/tr\?id", r"facebook|fbq"),
    "structured_data": _local_data,
    "dated_markup": _dated,
}
"""Check id → what another reader says."""

XMLSyntaxError = etree.XMLSyntaxError
