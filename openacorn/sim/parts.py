"""Parts of the simulated websites' pages: heads, texts, contacts, and what any page may carry at its foot."""

import html
import random
from datetime import UTC, datetime

from openacorn.sim.names import national, slug
from openacorn.sim.site import Site
from openacorn.sim.snippets import schema, tags
from openacorn.sim.spoken import TONGUES

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


def sentences(site: Site, count: int) -> list[str]:
    rng = random.Random(site.seed * 31 + count)
    lines = TONGUES[site.spoken].prose or (JARGON if site.jargon else PRAISE)
    chosen = rng.sample(lines, min(count, len(lines)))
    result = [line for line in chosen if site.address_shown or "{street}" not in line]
    return [html.escape(line.format(town=site.town, street=site.street, owner=site.owner_name)) for line in result]


def title_text(site: Site) -> str | None:
    """The home page's title, None for a page without one."""
    return {
        "ok": f"{site.name} – {site.trade} in {site.town}",
        "generic": ("Home", "Welcome", "Untitled Document", "Home Page")[site.seed % 4],
        "long": f"{site.name}, {site.trade.lower()}, best {site.trade.lower()} {site.town}, cheap {site.trade.lower()} near me, {site.trade.lower()} Tarrow Coast",
        "none": None,
    }[site.title]


def description(site: Site) -> str:
    text = {
        "ok": f"{site.name} is a friendly {site.trade.lower()} in {site.street}, {site.town}. Open six days a week, fair prices, walk in or book.",
        "short": f"{site.trade} {site.town}",
        "none": "",
    }[site.description]
    return f'<meta name="description" content="{html.escape(text)}">' if text else ""


def viewport(site: Site) -> str:
    values = {"ok": "width=device-width, initial-scale=1", "fixed": "width=1024"}
    return f'<meta name="viewport" content="{values[site.viewport]}">' if site.viewport in values else ""


def address(site: Site) -> str:
    """The e-mail address, in the site's way of writing it."""
    name, domain = site.email.split("@")
    key = 0x5A
    coded = f"{key:02x}" + "".join(f"{byte ^ key:02x}" for byte in site.email.encode())
    return {
        "link": f'<a href="mailto:{site.email}?subject=Enquiry">Write to us</a>',
        "text": f"{TONGUES[site.spoken].email}: {site.email}",
        "at": f"{name} (at) {domain}",
        "entity": "".join(f"&#{ord(char)};" for char in site.email),
        "script": f"<script>document.write('{name[:2]}' + '{name[2:]}' + '@' + '{domain}')</script>",
        "protected": f'<a href="/cdn-cgi/l/email-protection" class="__cf_email__" data-cfemail="{coded}">[email&#160;protected]</a>',
    }[site.email_how]


def call(site: Site) -> str:
    shown = national(site.phone, site.phone_style)
    return (
        f'<a href="tel:{site.phone}">{shown}</a>'
        if site.phone_how == "link"
        else f"{TONGUES[site.spoken].phone} {shown}"
    )


def contacts(site: Site, where: str) -> str:
    parts = []
    if site.email_where == where:
        parts.append(f"<p>{address(site)}</p>")
    if site.phone_where == where:
        parts.append(f"<p>{call(site)}</p>")
    if where == "home" and site.phone_where == "image":
        parts.append('<p><img src="/img/number.png" alt="Our number"></p>')
    return "".join(parts)


def socials(site: Site) -> str:
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


def images(site: Site) -> list[str]:
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


def head(site: Site, extra: str = "") -> str:
    title = title_text(site)
    extra += '<meta name="robots" content="noindex, follow">' if site.noindex else ""
    charset = "" if site.charset == "missing" else '<meta charset="utf-8">'
    generator = '<meta name="generator" content="Quillpress 3.9.2">' if site.look == "cms" else ""
    return f"""<head>{charset}{f"<title>{html.escape(title)}</title>" if title is not None else ""}{description(site)}{viewport(site)}{generator}
<link rel="stylesheet" href="/style.css"><script src="/site.js"></script>{tags(site)}{schema(site)}{extra}</head>"""


def headings(site: Site) -> str:
    return "".join(f"<h1>{html.escape(site.name)}{'' if n == 0 else f' – part {n + 1}'}</h1>" for n in range(site.h1))


def microdata(site: Site, inner: str) -> str:
    if site.schema != "microdata":
        return inner
    return f'<div itemscope itemtype="https://schema.org/LocalBusiness"><span itemprop="name">{html.escape(site.name)}</span>{inner}</div>'


def street(site: Site) -> str:
    return f"{html.escape(site.street)}, " if site.address_shown else ""


def hours(site: Site, where: str) -> str:
    forms = ("Mon–Fri 9am–5pm, Sat 9am–noon", "Monday to Friday: 8.30 to 17.00", "Open Tue-Sat 10:00 - 18:00")
    return f"<p>{TONGUES[site.spoken].hours or forms[site.seed % 3]}</p>" if site.hours_where == where else ""


def form(site: Site, where: str) -> str:
    fields = "<input name=name><input name=email type=email><textarea name=message></textarea><button>Send</button>"
    return f"<form method=post action=/send>{fields}</form>" if site.form_where == where else ""


def people(site: Site, where: str) -> str:
    forms = ("<p>{}, owner</p>", "<p>{} – Director</p>", "<p>Practice manager: {}</p>")
    return forms[site.seed % 3].format(html.escape(site.owner_name)) if site.people_where == where else ""


def untidy(site: Site) -> list[str]:
    """What looks like something that it is not: forms nobody writes by, numbers nobody calls."""
    parts = []
    if site.log_in:
        label = TONGUES[site.spoken].log_in
        parts.append(
            f'<form action="/login" method="post"><input name="user" type="email"><input name="pass" type="password"><button>{label}</button></form>'
            '<form action="/search"><input type="search" name="q"></form>'
        )
    if site.numbers:
        parts.append(
            "<p>12.05.2019 – 14.06.2020 · 2016 2017 2018 2019 · ABN 51 824 753 556 · $ 1,250.00 · ISBN 978-3-16-148410-0 · 09:30 21-11-2024</p>"
        )
    return parts


def more(site: Site) -> str:
    """What any look may carry at its foot."""
    words = TONGUES[site.spoken]
    parts = [hours(site, "home"), form(site, "home"), people(site, "home"), *untidy(site)]
    if site.video:
        parts.append(
            f'<iframe width="560" height="315" src="https://www.youtube.com/embed/v{site.seed:010d}"></iframe>'
        )
    if site.book_link:
        parts.append(f'<p><a href="/bookings">{words.book}</a></p>')
    if site.privacy_link:
        policy = "Privacy policy" if site.spoken == "en" else words.privacy
        parts.append(f'<p><a href="/legal#privacy">{policy}</a></p>')
    if site.mixed:
        parts.append(f'<img src="http://{site.host}/img/badge.jpg" alt="Member of the guild" width="60" height="60">')
    if site.long_text:
        parts += [
            f"<p>{html.escape(line.format(town=site.town, street='the lane', owner=site.owner_name))}</p>"
            for line in (words.prose * 3 or (JARGON * 3 if site.jargon else PRAISE * 2))
        ]
    if site.fixed_width:
        parts.append('<div style="width:980px"><p>Made for the big screen.</p></div>')
    if site.years_old >= 0:
        parts.append(f"<p>© {datetime.now(UTC).year - site.years_old} {html.escape(site.name)}</p>")
    return "".join(parts)
