"""Tags against loaders that others wrote: rendered by a general-purpose integration library, or shipped in npm packages."""

import pytest

from openacorn.core.audit.extract.signatures import SIGNATURES, TagKind
from tests.core.audit.reading import REFERENCES, judged, page

# PyPI django-analytical 3.2.0, analytical/templatetags/<module>.py: module, tag, settings, our vendor, our kind
RENDERED = [
    ("chartbeat", "chartbeat_bottom", {"CHARTBEAT_USER_ID": "12345"}, "Chartbeat", TagKind.ANALYTICS),
    ("clicky", "clicky", {"CLICKY_SITE_ID": "12345678"}, "Clicky", TagKind.ANALYTICS),
    ("crazy_egg", "crazy_egg", {"CRAZY_EGG_ACCOUNT_NUMBER": "12345678"}, "Crazy Egg", TagKind.RECORDING),
    ("facebook_pixel", "facebook_pixel_head", {"FACEBOOK_PIXEL_ID": "1234567890"}, "Meta", TagKind.ADS),
    ("facebook_pixel", "facebook_pixel_body", {"FACEBOOK_PIXEL_ID": "1234567890"}, "Meta", TagKind.ADS),
    ("gauges", "gauges", {"GAUGES_SITE_ID": "1234567890abcdef01234567"}, "Gauges", TagKind.ANALYTICS),
    ("google_analytics", "google_analytics", {"GOOGLE_ANALYTICS_PROPERTY_ID": "UA-123456-7"}, "Universal Analytics", TagKind.RETIRED),
    ("google_analytics_js", "google_analytics_js", {"GOOGLE_ANALYTICS_JS_PROPERTY_ID": "UA-12345678-9"}, "Universal Analytics", TagKind.RETIRED),
    ("google_analytics_gtag", "google_analytics_gtag", {"GOOGLE_ANALYTICS_GTAG_PROPERTY_ID": "G-ABCDEFGH"}, "Google Analytics 4", TagKind.ANALYTICS),
    ("google_analytics_gtag", "google_analytics_gtag", {"GOOGLE_ANALYTICS_GTAG_PROPERTY_ID": "AW-1234567890"}, "Google Ads", TagKind.ADS),
    ("gosquared", "gosquared", {"GOSQUARED_SITE_TOKEN": "ABC-123456-D"}, "GoSquared", TagKind.ANALYTICS),
    ("heap", "heap", {"HEAP_TRACKER_ID": "123456789"}, "Heap", TagKind.ANALYTICS),
    ("hotjar", "hotjar", {"HOTJAR_SITE_ID": "123456789"}, "Hotjar", TagKind.RECORDING),
    ("hubspot", "hubspot", {"HUBSPOT_PORTAL_ID": "1234"}, "HubSpot", TagKind.ANALYTICS),
    ("kiss_metrics", "kiss_metrics", {"KISS_METRICS_API_KEY": "0123456789abcdef0123456789abcdef01234567"}, "KISSmetrics", TagKind.ANALYTICS),
    ("luckyorange", "luckyorange", {"LUCKYORANGE_SITE_ID": "123456"}, "Lucky Orange", TagKind.RECORDING),
    ("matomo", "matomo", {"MATOMO_DOMAIN_PATH": "stats.harbour.example", "MATOMO_SITE_ID": "345"}, "Matomo", TagKind.ANALYTICS),
    ("mixpanel", "mixpanel", {"MIXPANEL_API_TOKEN": "0123456789abcdef0123456789abcdef"}, "Mixpanel", TagKind.ANALYTICS),
    ("rating_mailru", "rating_mailru", {"RATING_MAILRU_COUNTER_ID": "1234567"}, "Rating Mail.ru", TagKind.ANALYTICS),
    ("spring_metrics", "spring_metrics", {"SPRING_METRICS_TRACKING_ID": "12345678"}, "Spring Metrics", TagKind.ANALYTICS),
    ("woopra", "woopra", {"WOOPRA_DOMAIN": "harbour.example"}, "Woopra", TagKind.ANALYTICS),
    ("yandex_metrica", "yandex_metrica", {"YANDEX_METRICA_COUNTER_ID": "12345678"}, "Yandex Metrica", TagKind.ANALYTICS),
]  # fmt: skip
# PyPI django-analytical: chat and feedback widgets, which are neither analytics nor advertising
WIDGETS = [
    ("olark", "olark", {"OLARK_SITE_ID": "1234-567-89-0123"}),
    ("snapengage", "snapengage", {"SNAPENGAGE_WIDGET_ID": "ec329c69-0bf0-4db8-9b77-3f8150fb977e"}),
    ("uservoice", "uservoice", {"USERVOICE_WIDGET_KEY": "abcdefghijklmnopqrst"}),
]


@pytest.fixture(scope="module", autouse=True)
def framework() -> None:
    import django
    from django.conf import settings

    settings.configure(
        INSTALLED_APPS=["analytical"],
        TEMPLATES=[{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}],
    )
    django.setup()


def rendered(module: str, tag: str, values: dict[str, str]) -> str:
    """The tag's markup as the library renders it into a page."""
    from django.conf import settings
    from django.http import HttpRequest
    from django.template import Context, Template

    for name, value in values.items():
        setattr(settings, name, value)
    request = HttpRequest()
    request.META["REMOTE_ADDR"] = "192.0.2.1"
    try:
        return str(Template(f"{{% load {module} %}}{{% {tag} %}}").render(Context({"request": request})))
    finally:
        for name in values:
            delattr(settings, name)


def kinds(html: str) -> dict[str, str]:
    return {hit.vendor: hit.kind for hit in page(f"<head>{html}</head><p>{'word ' * 30}").tags}


@pytest.mark.parametrize(
    ("module", "tag", "values", "vendor", "kind"), RENDERED, ids=[f"{c[0]}-{c[3]}" for c in RENDERED]
)
def test_a_rendered_loader_is_known_by_its_vendor(
    module: str, tag: str, values: dict[str, str], vendor: str, kind: TagKind
) -> None:
    html = rendered(module, tag, values)
    assert html.strip()
    assert kinds(html).get(vendor) == kind, html


@pytest.mark.parametrize(("module", "tag", "values"), WIDGETS, ids=[c[0] for c in WIDGETS])
def test_widgets_are_no_tracking(module: str, tag: str, values: dict[str, str]) -> None:
    assert not {TagKind.ANALYTICS, TagKind.ADS, TagKind.RETIRED} & set(kinds(rendered(module, tag, values)).values())


@pytest.mark.parametrize(
    ("file", "vendor"),
    [
        ("react-facebook-pixel/dist/fb-pixel.js", "Meta"),  # 1.0.4
        ("react-linkedin-insight/dist/linkedin-insight.js", "LinkedIn"),  # 0.1.3
        ("tiktok-pixel/dist/tiktok-pixel.esm.js", "TikTok"),  # 2.0.3
        ("@microsoft/clarity/src/utils.js", "Microsoft Clarity"),  # 1.0.2
        ("@gtm-support/core/lib/index.js", "Google Tag Manager"),  # 3.0.1
    ],
)
def test_a_loader_out_of_an_npm_package_is_known_inline(file: str, vendor: str) -> None:
    assert vendor in kinds(f"<script>{(REFERENCES / file).read_text(encoding='utf-8')}</script>")


# Not in any package found: Microsoft's and Pinterest's loaders, from memory of their published snippets
FROM_MEMORY = {
    "Microsoft": "(function(w,d,t,r,u){var f,n,i;w[u]=w[u]||[],f=function(){var o={ti:'1'};o.q=w[u],w[u]=new UET(o)};n=d.createElement(t),n.src=r})(window,document,'script','//bat.bing.com/bat.js','uetq');",
    "Pinterest": "!function(e){if(!window.pintrk){window.pintrk=function(){window.pintrk.queue.push(arguments)}}}('https://s.pinimg.com/ct/core.js');pintrk('load','2612345678901');",
}


@pytest.mark.parametrize("vendor", FROM_MEMORY)
def test_loaders_from_memory(vendor: str) -> None:
    assert vendor in kinds(f"<script>{FROM_MEMORY[vendor]}</script>")


NOT_TAGS = [
    '<link rel="preconnect" href="https://www.google-analytics.com">',
    '<link rel="dns-prefetch" href="//connect.facebook.net">',
    "<!-- <script src='https://www.googletagmanager.com/gtag/js?id=G-ABC123'></script> -->",
    "<p>We do not use fbevents.js, UA-12345-6 or GTM-ABCD, says our privacy page about 'G-ABC1234'.</p>",
    '<a href="https://www.facebook.com/tr?id=1">a link is no pixel</a>',
    '<script type="application/ld+json">{"note": "GTM-ABCDE and fbq(\'init\')"}</script>',
    "<script src='https://connect.facebook.net/en_US/sdk.js'></script>",
]


@pytest.mark.parametrize("html", NOT_TAGS)
def test_what_only_looks_like_a_tag_is_none(html: str) -> None:
    assert kinds(html) == {}


FILL = f"<title>Harbour Vets in Port Ellery</title><p>{'plain words about pets ' * 10}</p>"
GTM = "<script>(function(w,d,s,l,i){j.src='https://www.googletagmanager.com/gtm.js?id='+i})(window,document,'script','dataLayer','GTM-ABCDEF');</script>"
DECIDES = [
    ("nothing there", "", "gap", "gap"),
    ("a living tag", "<script src='https://www.googletagmanager.com/gtag/js?id=G-ABCDEF12'></script>", "ok", "gap"),
    ("a retired tag", "<script>ga('create','UA-12345-6','auto')</script>", "gap", "gap"),
    ("behind a manager", GTM, "unknown", "unknown"),
    ("retired and a manager", GTM + "<script>ga('create','UA-12345-6')</script>", "unknown", "unknown"),
    ("a manager and a visible pixel", GTM + "<script>fbq('init', '123456789012')</script>", "unknown", "ok"),
    ("behind a consent tool", "<script src='https://consent.cookiebot.com/uc.js'></script>", "unknown", "unknown"),
    ("switched off until consent", "<script type='text/plain'>fbq('init','123456789012')</script>", "gap", "ok"),
    ("an id that is put in by code", "<script src='https://www.googletagmanager.com/gtag/js?id='></script>", "unknown", "unknown"),
    ("a pixel without scripts", "<noscript><img width=1 height=1 src='https://www.facebook.com/tr?id=123456789&ev=PageView'></noscript>", "gap", "ok"),
]  # fmt: skip


@pytest.mark.parametrize(("html", "analytics", "pixel"), [c[1:] for c in DECIDES], ids=[c[0] for c in DECIDES])
def test_what_a_page_could_hide_is_unknown_never_missing(html: str, analytics: str, pixel: str) -> None:
    findings = judged(f"<head>{html}</head>{FILL}")
    assert (str(findings["analytics"].outcome), str(findings["ad_pixel"].outcome)) == (analytics, pixel)
    for check in ("analytics", "ad_pixel"):
        assert findings[check].reason
        assert findings[check].evidence


def test_vendors_are_named_once_a_kind() -> None:
    keys = [(signature.vendor, signature.kind) for signature in SIGNATURES]
    assert len(keys) == len(set(keys))
