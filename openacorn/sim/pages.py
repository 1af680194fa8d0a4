"""Pages of the simulated websites, rendered from a site's features. Nothing here knows how they are read."""

import html
import random
import re
from collections.abc import Callable
from datetime import UTC, datetime

from openacorn.sim.names import national, slug
from openacorn.sim.site import PLACEHOLDERS, Site
from openacorn.sim.snippets import schema, tags

PRAISE = """We have looked after people from {town} and the villages around it for a good many years.
Our workshop in {street} is open all week, and somebody always answers the bell.
Nothing leaves our hands before we would be glad to have it ourselves.
Prices are on the board by the door, with no surprises later.
Bring it in, sit down for a cup of tea, and we will tell you honestly what it needs.
The team has grown over the seasons, but the care has stayed the same.
On market days we open early, and in winter we close when the light goes.
Many of our customers come from {town}, some from right across the coast.
Ask for {owner} if you want to know anything that is not written here.
New customers are as welcome as the ones who have come since the beginning.""".splitlines()

JARGON = """Organisational capabilities facilitate comprehensive implementation of individualised methodologies across multidisciplinary environments.
Utilising internationally recognised specifications, our professionals continuously operationalise sustainability considerations throughout the organisation.
Institutional accountability necessitates systematic documentation of operational characteristics, notwithstanding jurisdictional complexities.
Interdisciplinary collaboration accommodates heterogeneous requirements, optimising administrative efficiencies and communicative transparency.
Technological modernisation substantially differentiates contemporary establishments, particularly regarding environmental responsibility.
Constituents appreciate differentiated propositions demonstrating considerable authenticity, reliability and professionalism.""".splitlines()

SERVICES = (
    "First visit",
    "Repairs",
    "Yearly care",
    "Advice",
    "Urgent help",
    "Gift vouchers",
    "Home visits",
    "Weekend times",
)


def _sentences(site: Site, count: int) -> list[str]:
    rng = random.Random(site.seed * 31 + count)
    lines = JARGON if site.jargon else PRAISE
    chosen = rng.sample(lines, min(count, len(lines)))
    told = [line for line in chosen if site.address_shown or "{street}" not in line]
    return [html.escape(line.format(town=site.town, street=site.street, owner=site.owner_name)) for line in told]


def title_text(site: Site) -> str | None:
    """The home page's title, None for a page without one."""
    return {
        "ok": f"{site.name} – {site.trade} in {site.town}",
        "generic": ("Home", "Welcome", "Untitled Document", "Home Page")[site.seed % 4],
        "long": f"{site.name}, {site.trade.lower()}, best {site.trade.lower()} {site.town}, cheap {site.trade.lower()} near me, {site.trade.lower()} Tarrow Coast",
        "none": None,
    }[site.title]


def _description(site: Site) -> str:
    text = {
        "ok": f"{site.name} is a friendly {site.trade.lower()} in {site.street}, {site.town}. Open six days a week, fair prices, walk in or book.",
        "short": f"{site.trade} {site.town}",
        "none": "",
    }[site.description]
    return f'<meta name="description" content="{html.escape(text)}">' if text else ""


def _viewport(site: Site) -> str:
    values = {"ok": "width=device-width, initial-scale=1", "fixed": "width=1024"}
    return f'<meta name="viewport" content="{values[site.viewport]}">' if site.viewport in values else ""


def _address(site: Site) -> str:
    """The e-mail address, in the site's way of writing it."""
    name, domain = site.email.split("@")
    key = 0x5A
    coded = f"{key:02x}" + "".join(f"{byte ^ key:02x}" for byte in site.email.encode())
    return {
        "link": f'<a href="mailto:{site.email}?subject=Enquiry">Write to us</a>',
        "text": f"E-mail: {site.email}",
        "at": f"{name} (at) {domain}",
        "entity": "".join(f"&#{ord(char)};" for char in site.email),
        "script": f"<script>document.write('{name[:2]}' + '{name[2:]}' + '@' + '{domain}')</script>",
        "protected": f'<a href="/cdn-cgi/l/email-protection" class="__cf_email__" data-cfemail="{coded}">[email&#160;protected]</a>',
    }[site.email_how]


def _call(site: Site) -> str:
    shown = national(site.phone, site.phone_style)
    return f'<a href="tel:{site.phone}">{shown}</a>' if site.phone_how == "link" else f"Phone {shown}"


def _contacts(site: Site, where: str) -> str:
    parts = []
    if site.email_where == where:
        parts.append(f"<p>{_address(site)}</p>")
    if site.phone_where == where:
        parts.append(f"<p>{_call(site)}</p>")
    if where == "home" and site.phone_where == "image":
        parts.append('<p><img src="/img/number.png" alt="Our number"></p>')
    return "".join(parts)


def _socials(site: Site) -> str:
    handle = slug(site.name)[:24]
    forms = {
        "linkedin": "https://www.linkedin.com/company/{}",
        "youtube": "https://www.youtube.com/@{}",
        "tiktok": "https://www.tiktok.com/@{}",
    }
    hosts = {
        "facebook": "www.facebook.com",
        "instagram": "www.instagram.com",
        "x": "x.com",
        "pinterest": "www.pinterest.com",
    }
    links = [forms.get(net, f"https://{hosts.get(net)}/{{}}").format(handle) for net in site.socials]
    if site.social_maker:
        links[:1] = ["https://www.facebook.com/wix"]
    if site.share_buttons:
        links += [
            f"https://www.facebook.com/sharer/sharer.php?u=https://{site.host}/",
            f"https://twitter.com/intent/tweet?url=https://{site.host}/",
        ]
    return " ".join(f'<a href="{link}" rel="noopener">{link.split("/")[2].removeprefix("www.")}</a>' for link in links)


def _images(site: Site) -> list[str]:
    shown = []
    for number in range(site.images):
        alt = (
            ""
            if number < site.images_bare
            else ' alt=""'
            if number % 3 == 2
            else f' alt="{html.escape(site.trade)} at work, picture {number}"'
        )
        shown.append(f'<img src="/img/{number}.jpg" width="480" height="320"{alt}>')
    return shown


def _head(site: Site, extra: str = "") -> str:
    title = title_text(site)
    extra += '<meta name="robots" content="noindex, follow">' if site.noindex else ""
    charset = "" if site.charset == "missing" else '<meta charset="utf-8">'
    generator = '<meta name="generator" content="Quillpress 3.9.2">' if site.look == "cms" else ""
    return f"""<head>{charset}{f"<title>{html.escape(title)}</title>" if title is not None else ""}{_description(site)}{_viewport(site)}{generator}
<link rel="stylesheet" href="/style.css"><script src="/site.js"></script>{tags(site)}{schema(site)}{extra}</head>"""


def _headings(site: Site) -> str:
    return "".join(f"<h1>{html.escape(site.name)}{'' if n == 0 else f' – part {n + 1}'}</h1>" for n in range(site.h1))


def _microdata(site: Site, inner: str) -> str:
    if site.schema != "microdata":
        return inner
    return f'<div itemscope itemtype="https://schema.org/LocalBusiness"><span itemprop="name">{html.escape(site.name)}</span>{inner}</div>'


def _street(site: Site) -> str:
    return f"{html.escape(site.street)}, " if site.address_shown else ""


def _hours(site: Site, where: str) -> str:
    forms = ("Mon–Fri 9am–5pm, Sat 9am–noon", "Monday to Friday: 8.30 to 17.00", "Open Tue-Sat 10:00 - 18:00")
    return f"<p>{forms[site.seed % 3]}</p>" if site.hours_where == where else ""


def _form(site: Site, where: str) -> str:
    fields = "<input name=name><input name=email type=email><textarea name=message></textarea><button>Send</button>"
    return f"<form method=post action=/send>{fields}</form>" if site.form_where == where else ""


def _people(site: Site, where: str) -> str:
    forms = ("<p>{}, owner</p>", "<p>{} – Director</p>", "<p>Practice manager: {}</p>")
    return forms[site.seed % 3].format(html.escape(site.owner_name)) if site.people_where == where else ""


def _more(site: Site) -> str:
    """What any look may carry at its foot."""
    parts = [_hours(site, "home"), _form(site, "home"), _people(site, "home")]
    if site.video:
        parts.append(
            f'<iframe width="560" height="315" src="https://www.youtube.com/embed/v{site.seed:010d}"></iframe>'
        )
    if site.book_link:
        parts.append('<p><a href="/bookings">Book an appointment</a></p>')
    if site.privacy_link:
        parts.append('<p><a href="/legal#privacy">Privacy policy</a></p>')
    if site.mixed:
        parts.append(f'<img src="http://{site.host}/img/badge.jpg" alt="Member of the guild" width="60" height="60">')
    if site.long_text:
        parts += [
            f"<p>{html.escape(line.format(town=site.town, street='the lane', owner=site.owner_name))}</p>"
            for line in (JARGON * 3 if site.jargon else PRAISE * 2)
        ]
    if site.fixed_width:
        parts.append('<div style="width:980px"><p>Made for the big screen.</p></div>')
    if site.years_old >= 0:
        parts.append(f"<p>© {datetime.now(UTC).year - site.years_old} {html.escape(site.name)}</p>")
    return "".join(parts)


def modern(site: Site) -> str:
    """Sections, a menu, pictures between texts."""
    texts, pictures = _sentences(site, 6), _images(site)
    sections = "".join(
        f"<section><h2>{SERVICES[(site.seed + i) % len(SERVICES)]}</h2><p>{text}</p>{pictures[i] if i < len(pictures) else ''}</section>"
        for i, text in enumerate(texts)
    )
    rest = "".join(pictures[len(texts) :])
    menu = '<nav><a href="/">Start</a> <a href="/about">About us</a> <a href="/contact">Contact</a> <a href="/privacy">Privacy</a></nav>'
    footer = f"<footer>{_contacts(site, 'home')}<p>{_street(site)}{site.town}</p>{_socials(site)}</footer>"
    return f"<!doctype html><html lang=en>{_head(site)}<body><header>{menu}{_headings(site)}</header><main>{_microdata(site, sections)}{rest}</main>{footer}</body></html>"


def cms(site: Site) -> str:
    """An old theme: sidebar, posts, widgets."""
    posts = "".join(
        f'<div class="post"><h3>{SERVICES[i % 8]}</h3><div class="entry"><p>{text}</p></div></div>'
        for i, text in enumerate(_sentences(site, 5))
    )
    side = f'<div id="sidebar"><ul><li><a href="/contact-us.php">Contact us</a></li><li><a href="/?page_id=2">Who we are</a></li></ul>{_contacts(site, "home")}{_socials(site)}</div>'
    body = f'<div id="wrapper">{_headings(site)}{_microdata(site, posts)}{"".join(_images(site))}{side}</div>'
    return f'<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.0 Transitional//EN"><html xmlns="http://www.w3.org/1999/xhtml">{_head(site)}<body class="home blog">{body}</body></html>'


def relic(site: Site) -> str:
    """Tables for layout, font elements, a visitor counter."""
    cells = "".join(
        f'<tr><td bgcolor="#eeeecc"><font face="Verdana" size="2">{text}</font></td></tr>'
        for text in _sentences(site, 5)
    )
    return (
        f"<HTML>{_head(site)}<BODY BGCOLOR=#ffffff><CENTER><TABLE WIDTH=760 BORDER=0><TR><TD><FONT SIZE=6>{html.escape(site.name)}</FONT></TD></TR>{cells}"
        f"<TR><TD>{''.join(_images(site))}</TD></TR><TR><TD><A HREF=contact.htm>Contact</A> {_contacts(site, 'home')} {_socials(site)}</TD></TR></TABLE></CENTER></BODY></HTML>"
    )


def shop(site: Site) -> str:
    """A small shop: products with prices."""
    goods = "".join(
        f'<article class="product"><h2>{SERVICES[i % 8]}</h2><p>{text}</p><span class="price">$ {20 + i * 15}.00</span><button>Add to cart</button></article>'
        for i, text in enumerate(_sentences(site, 6))
    )
    return (
        f'<!doctype html><html lang="en-AU">{_head(site)}<body>{_headings(site)}<div class="grid">{_microdata(site, goods)}</div>{"".join(_images(site))}'
        f'<footer><a href="/contact">Contact &amp; delivery</a>{_contacts(site, "home")}{_socials(site)}</footer></body></html>'
    )


def booking(site: Site) -> str:
    """A site around a booking button."""
    rows = "".join(f"<li><strong>{SERVICES[i % 8]}</strong> {text}</li>" for i, text in enumerate(_sentences(site, 4)))
    return (
        f"<!doctype html><html lang=en>{_head(site)}<body>{_headings(site)}<a class=button href=/book>Book a time</a><ul>{_microdata(site, rows)}</ul>{''.join(_images(site))}"
        f"<nav><a href='/find-us'>Find us</a> <a href='/our-story'>Our story</a></nav><footer>{_contacts(site, 'home')}{_socials(site)}</footer></body></html>"
    )


def script(site: Site) -> str:
    """An application: the source holds an empty element and a bundle."""
    return f'<!doctype html><html lang=en>{_head(site)}<body><noscript>Please switch on scripts.</noscript><div id="root"></div><script type="module" src="/assets/index.js"></script></body></html>'


def frameset(site: Site) -> str:
    """Two frames and nothing else."""
    return f'<html>{_head(site)}<frameset cols="180,*"><frame src="/menu.htm"><frame src="/main.htm"></frameset></html>'


def parked(site: Site) -> str:
    """The domain is for sale."""
    forms = (
        f"<title>{site.host}</title><h1>{site.host}</h1><p>This domain is for sale! Make an offer today, or look at related searches.</p>",
        f"<title>{site.host} – parked</title><p>{site.host} is parked free, courtesy of Saltmarket Names.</p><ul><li>Insurance</li><li>Holidays</li></ul>",
        "<title>Expired</title><p>This domain has expired. If you are the owner, renew it now with your registrar.</p>",
    )
    return f"<!doctype html><html><head></head><body>{forms[site.seed % 3]}</body></html>"


def soon(site: Site) -> str:
    """Coming soon, for years."""
    forms = (
        "Our new website is coming soon. Watch this space!",
        "Under construction",
        "We are launching soon – please call us in the meantime.",
    )
    return f"<!doctype html><html><head><title>{html.escape(site.name)}</title>{_viewport(site)}</head><body><h1>{html.escape(site.name)}</h1><p>{forms[site.seed % 3]}</p></body></html>"


def default(site: Site) -> str:
    """What the server shows before anyone puts a site there."""
    forms = (
        "<title>Welcome to nginx!</title><h1>Welcome to nginx!</h1><p>If you see this page, the web server is successfully installed and working. Further configuration is required.</p>",
        "<title>Apache2 Debian Default Page: It works</title><p>This is the default welcome page used to test the correct operation of the server after installation.</p>",
        "<title>Index of /</title><h1>Index of /</h1><pre>cgi-bin/</pre>",
        "<title>Account Suspended</title><h1>Account Suspended</h1><p>This account has been suspended. Contact your hosting provider for more information.</p>",
    )
    return f"<html><head></head><body>{forms[site.seed % 4]}</body></html>"


LOOKS: dict[str, Callable[[Site], str]] = {
    "modern": modern, "cms": cms, "relic": relic, "shop": shop, "booking": booking, "script": script,
    "frameset": frameset, "parked": parked, "soon": soon, "default": default,
}  # fmt: skip
CONTACT_PATHS = {"/contact", "/contact-us.php", "/contact.htm", "/find-us"}
ABOUT_PATHS = {"/about", "/our-story", "/"}


def contact_page(site: Site) -> str:
    """The inner page with whatever is not on the home page."""
    where = f"<h1>Contact</h1><p>{_street(site)}{site.town}</p>{_contacts(site, 'contact')}<p>We are glad to hear from you.</p>{_hours(site, 'contact')}{_form(site, 'contact')}"
    return f"<!doctype html><html lang=en><head><title>Contact {html.escape(site.name)}</title></head><body>{where}</body></html>"


def about_page(site: Site) -> str:
    """The inner page about the people."""
    lines = "".join(f"<p>{text}</p>" for text in _sentences(site, 4)) + _people(site, "about")
    return f"<!doctype html><html lang=en><head><title>About {html.escape(site.name)}</title></head><body><h1>About us</h1>{lines}</body></html>"


def _break(text: str) -> str:
    """What years of hand editing do: unclosed elements, stray ends, duplicate attributes, an early end of body."""
    return (
        text.replace("</p>", "")
        .replace("</section>", "</div>", 1)
        .replace("<p>", "<p class=x class=y>", 2)
        .replace("</main>", "</body>", 1)
    )


def render(site: Site, path: str) -> bytes | None:
    """Return the page at `path` in the site's encoding, None if there is none."""
    if path == "/":
        text = LOOKS[site.look](site)
        if site.look not in {*PLACEHOLDERS, "script", "frameset"}:
            text = re.sub("</body>", lambda end: _more(site) + end.group(0), text, count=1, flags=re.IGNORECASE)
    elif path in CONTACT_PATHS:
        text = contact_page(site)
    elif path in ABOUT_PATHS:
        text = about_page(site)
    elif path in {"/menu.htm", "/main.htm"}:
        text = f"<html><body><p>{html.escape(site.name)}</p>{_contacts(site, 'home')}</body></html>"
    else:
        return None
    if site.broken_markup:
        text = _break(text)
    # a wrong charset is declared UTF-8 (in the page) but written in the old Western encoding
    return text.encode("cp1252", "xmlcharrefreplace") if site.charset != "utf-8" else text.encode()
