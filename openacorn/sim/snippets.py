"""Scripts, pixels and structured data of the simulated websites, written as vendors publish their loaders."""

from openacorn.sim.site import Site

STRANGERS = ("tallybeam.example", "pebblecast.example", "quillmetric.example")
"""Companies that nobody knows: what their scripts do cannot be known."""

META_PIXEL = """!function(f,b,e,v,n,t,s){{if(f.fbq)return;n=f.fbq=function(){{n.queue.push(arguments)}};t=b.createElement(e);t.async=!0;
t.src=v;s=b.getElementsByTagName(e)[0];s.parentNode.insertBefore(t,s)}}(window,document,'script','https://connect.facebook.net/en_US/fbevents.js');
fbq('init', '{id}');fbq('track', 'PageView');"""


def _pixel(network: str, number: int) -> str:
    snippets = {
        "Meta": f"<script>{META_PIXEL.format(id=100000000000000 + number)}</script>",
        "Google Ads": f'<script async src="https://www.googletagmanager.com/gtag/js?id=AW-{100000000 + number}"></script>'
        f"<script>window.dataLayer=window.dataLayer||[];function gtag(){{dataLayer.push(arguments)}}gtag('js',new Date());gtag('config','AW-{100000000 + number}');</script>",
        "LinkedIn": f'<script>_linkedin_partner_id="{number}";(function(l){{var b=document.createElement("script");b.src="https://snap.licdn.com/li.lms-analytics/insight.min.js";document.body.appendChild(b)}})(window.lintrk);</script>',
        "TikTok": "<script>!function(w,d,t){w.TiktokAnalyticsObject=t;var ttq=w[t]=w[t]||[];ttq.load=function(e){var i='https://analytics.tiktok.com/i18n/pixel/events.js';};"
        f"ttq.load('C{number:08d}');ttq.page();}}(window,document,'ttq');</script>",
        "Microsoft": f"<script>(function(w,d,t,r,u){{w[u]=w[u]||[];var n=d.createElement(t);n.src=r;n.async=1;d.head.appendChild(n)}})(window,document,'script','//bat.bing.com/bat.js','uetq');/* {number} */</script>",
        "Pinterest": "<script>!function(e){if(!window.pintrk){window.pintrk=function(){};var t=document.createElement('script');t.async=!0;t.src=e;}}"
        f"('https://s.pinimg.com/ct/core.js');pintrk('load','26{number:010d}');pintrk('page');</script>",
    }
    return snippets[network]


def _analytics(site: Site) -> str:
    number = site.seed
    return {
        "": "",
        "ga4": f'<script async src="https://www.googletagmanager.com/gtag/js?id=G-{number:06d}QX"></script>'
        f"<script>window.dataLayer=window.dataLayer||[];function gtag(){{dataLayer.push(arguments)}}gtag('config','G-{number:06d}QX');</script>",
        "ua": "<script>(function(i,s,o,g,r){i[r]=i[r]||function(){}})(window,document,'script','https://www.google-analytics.com/analytics.js','ga');"
        f"ga('create','UA-{number + 100000}-1','auto');ga('send','pageview');</script>",
        "matomo": f"<script>var _paq=window._paq||[];_paq.push(['trackPageView']);(function(){{var u='//stats.{site.host}/';_paq.push(['setSiteId','{number % 90}']);"
        "var g=document.createElement('script');g.src=u+'matomo.js';document.head.appendChild(g)})();</script>",
        "plausible": f'<script defer data-domain="{site.host}" src="https://plausible.io/js/script.js"></script>',
    }[site.analytics]


def tags(site: Site) -> str:
    """Every script and pixel of a site, as its vendor hands it out."""
    parts = [_analytics(site), *(_pixel(network, site.seed) for network in site.pixels)]
    if site.manager:
        parts.append(
            "<script>(function(w,d,s,l,i){w[l]=w[l]||[];var j=d.createElement(s);j.async=true;j.src='https://www.googletagmanager.com/gtm.js?id='+i;"
            f"d.head.appendChild(j)}})(window,document,'script','dataLayer','GTM-K{site.seed:06d}');</script>"
        )
    if site.consent:
        parts.append(
            f'<script id="Cookiebot" src="https://consent.cookiebot.com/uc.js" data-cbid="{site.seed}" async></script>'
        )
    if site.stranger:
        parts.append(f'<script async src="https://js.{STRANGERS[site.seed % len(STRANGERS)]}/v2/site.js"></script>')
    return "\n".join([*parts, *_services(site)])


def _services(site: Site) -> list[str]:
    """Recording, conversation, other people's ads, and what counts the visitors' actions."""
    parts = []
    if site.recording:
        parts.append(
            f"<script>(function(c,l,a,r,i,t,y){{c[a]=c[a]||function(){{}};t=l.createElement(r);t.src='https://www.clarity.ms/tag/'+i;}})(window,document,'clarity','script','k{site.seed}');</script>"
        )
    if site.chat:
        parts.append(
            f"<script>var s1=document.createElement('script');s1.async=true;s1.src='https://embed.tawk.to/{site.seed:024d}/default';document.head.appendChild(s1)</script>"
        )
    if site.publisher:
        parts.append("<script>(window.adsbygoogle=window.adsbygoogle||[]).push({google_ad_client:'ca-pub-0'})</script>")
    if site.conversion and "Meta" in site.pixels:
        parts.append("<script>document.addEventListener('submit',function(){fbq('track','Lead')})</script>")
    elif site.conversion:
        parts.append(
            f"<script>function sent(){{gtag('event','conversion',{{'send_to':'AW-{100000000 + site.seed}/x'}})}}</script>"
        )
    return parts


def schema(site: Site) -> str:
    """The site's JSON-LD, sound or broken."""
    kinds = {
        "Optician": "Optician",
        "Florist": "Florist",
        "Bicycle shop": "BikeStore",
        "Locksmith": "Locksmith",
        "Dry cleaner": "DryCleaningOrLaundry",
    }
    kind = kinds.get(site.trade, "LocalBusiness")
    body = f'"name": "{site.name}", "telephone": "{site.phone}", "address": {{"@type": "PostalAddress", "addressLocality": "{site.town}"}}'
    if site.schema_full:
        body += f', "url": "https://{site.host}/", "image": "https://{site.host}/img/0.jpg", "openingHours": ["Mo-Fr 09:00-17:00"]'
    if site.schema == "jsonld":
        return f'<script type="application/ld+json">{{"@context": "https://schema.org", "@type": "{kind}", {body}}}</script>'
    if site.schema == "organization":
        return f'<script type="application/ld+json">{{"@context": "https://schema.org", "@graph": [{{"@type": "WebSite"}}, {{"@type": "Organization", {body}}}]}}</script>'
    if site.schema == "broken":
        return (
            f'<script type="application/ld+json">{{"@context": "https://schema.org", "@type": "{kind}" {body}</script>'
        )
    return ""
