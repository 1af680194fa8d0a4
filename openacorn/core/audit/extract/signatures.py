"""Known scripts and pixels: what their loaders look like in a page's source.

Patterns are from the vendors' own published loader snippets, as rendered by general-purpose integration libraries
(see tests/core/audit/test_tags.py, which runs against them). They are matched against script addresses, inline scripts
and image or frame addresses only: a name in the text, a comment or a `preconnect` is not a tag.
Syntax: RE2 (no look-around). `ids` is Python `re`, run only where the signature hit.
"""

from dataclasses import dataclass
from enum import StrEnum


class TagKind(StrEnum):
    """What a tag is for; `MANAGER`, `CONSENT` and `LOADER` can bring in others that the source does not show."""

    ANALYTICS = "analytics"
    RETIRED = "retired analytics"
    ADS = "advertising"
    RECORDING = "session recording"
    MANAGER = "tag manager"
    CONSENT = "consent tool"
    LOADER = "tag loader"
    PUBLISHER = "publisher advertising"
    CONVERSION = "conversion tracking"
    CHAT = "chat"
    BOOKING = "booking"
    PLATFORM = "platform"


@dataclass(frozen=True, slots=True)
class Signature:
    """One vendor's loader."""

    vendor: str
    kind: TagKind
    pattern: str
    ids: str = ""


_A, _R, _S = TagKind.ANALYTICS, TagKind.ADS, TagKind.RECORDING

SIGNATURES: tuple[Signature, ...] = (
    # Analytics. Google's G- ids are the living generation; UA- ids have collected nothing since 1 July 2023.
    Signature("Google Analytics 4", _A, r"""gtag/js\?id=G-|['"]G-[A-Z0-9]{6,12}['"]""", r"\bG-[A-Z0-9]{6,12}\b"),
    Signature(
        "Universal Analytics",
        TagKind.RETIRED,
        r"""google-analytics\.com/(ga|analytics|urchin|u/ga_debug)\.js|['"]UA-\d{4,10}-\d{1,4}['"]|gtag/js\?id=UA-|stats\.g\.doubleclick\.net/dc\.js""",
        r"\bUA-\d{4,10}-\d{1,4}\b",
    ),
    Signature("Matomo", _A, r"(matomo|piwik)\.(js|php)|_paq\.push", r"setSiteId['\", ]+(\d+)"),
    Signature("Plausible", _A, r"plausible\.io/js/|/js/plausible[.\w-]*\.js"),
    Signature("Fathom", _A, r"cdn\.usefathom\.com/"),
    Signature("Simple Analytics", _A, r"scripts\.simpleanalyticscdn\.com"),
    Signature("Umami", _A, r"umami\.is/script|data-website-id|/umami\.js"),
    Signature("Cloudflare Web Analytics", _A, r"static\.cloudflareinsights\.com/beacon"),
    Signature("Yandex Metrica", _A, r"mc\.yandex\.ru/(metrika|watch)"),
    Signature("Rating Mail.ru", _A, r"top-fwz1\.mail\.ru|_tmr\b"),
    Signature("Mixpanel", _A, r"cdn\.mxpnl\.com|mixpanel\.init\("),
    Signature("Heap", _A, r"heap-?analytics|heap\.load\("),
    Signature("Amplitude", _A, r"cdn\.amplitude\.com|amplitude\.(getInstance|init)\("),
    Signature("Clicky", _A, r"static\.getclicky\.com|clicky\.init|clicky_site_ids?"),
    Signature("Chartbeat", _A, r"static\d*\.chartbeat\.com|chartbeat\.js|_sf_async_config"),
    Signature("Woopra", _A, r"woopra\.(com|js)|woopraTracker|woo_settings"),
    Signature("Gauges", _A, r"secure\.gaug\.es"),
    Signature("KISSmetrics", _A, r"kissmetrics|_kmq\b"),
    Signature("GoSquared", _A, r"d1l6p2sc9645hc\.cloudfront\.net|gosquared\.com|GoSquared\."),
    Signature("StatCounter", _A, r"statcounter\.com/counter"),
    Signature("Snowplow", _A, r"snowplow|/sp\.js"),
    Signature("Spring Metrics", _A, r"springmetrics\.com|_springMetq"),
    Signature("Adobe Analytics", _A, r"\.omtrdc\.net|AppMeasurement\.js|s_code\.js"),
    Signature("HubSpot", _A, r"js\.(hs-scripts|hs-analytics)\.(com|net)|hs-analytics|_hsq\b"),
    # Recording of visits
    Signature("Microsoft Clarity", _S, r"clarity\.ms/tag|clarity\.ms/s/"),
    Signature("Hotjar", _S, r"static\.hotjar\.com|_hjSettings"),
    Signature("Crazy Egg", _S, r"script\.crazyegg\.com|dnn506yrbagrg\.cloudfront\.net"),
    Signature("FullStory", _S, r"fullstory\.com/s/fs\.js|_fs_namespace"),
    Signature("Lucky Orange", _S, r"luckyorange\.(com|net)|d10lpsik1i8c69\.cloudfront\.net|__lo_site_id"),
    Signature("Mouseflow", _S, r"cdn\.mouseflow\.com"),
    # Advertising and remarketing
    Signature(
        "Meta",
        _R,
        r"""fbevents\.js|facebook\.com/tr/?\?|fbq\(\s*['"]init""",
        r"(?:init['\"],\s*['\"]|tr/?\?id=)(\d{8,20})",
    ),
    Signature(
        "Google Ads",
        _R,
        r"""['"=]AW-\d{6,12}|googleadservices\.com/pagead/conversion|google_conversion_id|googleads\.g\.doubleclick\.net/pagead/viewthroughconversion""",
        r"\bAW-\d{6,12}\b",
    ),
    Signature("LinkedIn", _R, r"snap\.licdn\.com/li\.lms|px\.ads\.linkedin\.com|_linkedin_(data_)?partner_id"),
    Signature("TikTok", _R, r"analytics\.tiktok\.com/i18n/pixel|ttq\.load\("),
    Signature("Microsoft", _R, r"bat\.bing\.com/bat|bat\.bing\.com/action|\buetq\b"),
    Signature("Pinterest", _R, r"""pinimg\.com/ct/core\.js|ct\.pinterest\.com|pintrk\(\s*['"]load"""),
    Signature("Snapchat", _R, r"sc-static\.net/scevent"),
    Signature("X", _R, r"static\.ads-twitter\.com/uwt\.js"),
    Signature("Reddit", _R, r"redditstatic\.com/ads/pixel"),
    Signature("AdRoll", _R, r"(s|d)\.adroll\.com|adroll_adv_id"),
    Signature("Criteo", _R, r"static\.criteo\.net|criteo_q"),
    # What can bring in tags that the source does not show
    Signature(
        "Google Tag Manager",
        TagKind.MANAGER,
        r"googletagmanager\.com/(gtm|ns)\.(js|html)|['\"]GTM-[A-Z0-9]{4,9}",
        r"\bGTM-[A-Z0-9]{4,9}\b",
    ),
    Signature("Adobe tags", TagKind.MANAGER, r"assets\.adobedtm\.com"),
    Signature("Tealium", TagKind.MANAGER, r"tags\.tiqcdn\.com|/utag\.js"),
    Signature("Segment", TagKind.MANAGER, r"cdn\.segment\.(com|io)/|d2dq2ahtl5zl1z\.cloudfront\.net|analytics\.load\("),
    Signature("Matomo tag manager", TagKind.MANAGER, r"/container_[A-Za-z0-9]{8}\.js|_mtm\b"),
    Signature("Google tag", TagKind.LOADER, r"googletagmanager\.com/gtag/js", r"\b(?:G|AW|UA|GT|DC)-[A-Z0-9-]{4,14}\b"),
    Signature("Cookiebot", TagKind.CONSENT, r"consent\.cookiebot\.(com|eu)"),
    Signature("OneTrust", TagKind.CONSENT, r"cdn\.cookielaw\.org|otSDKStub"),
    Signature("Usercentrics", TagKind.CONSENT, r"usercentrics\.eu"),
    Signature("CookieYes", TagKind.CONSENT, r"cdn-cookieyes\.com"),
    Signature("iubenda", TagKind.CONSENT, r"iubenda\.com/(cs|cookie)"),
    Signature("tarteaucitron", TagKind.CONSENT, r"tarteaucitron\.(js|init|job|min\.js)"),
    Signature("Klaro", TagKind.CONSENT, r"/klaro(-[\w-]+)?\.js"),
    # Advertising that the page shows, and what counts its visitors' actions
    Signature("AdSense", TagKind.PUBLISHER, r"pagead2\.googlesyndication\.com/pagead/|adsbygoogle"),
    Signature(
        "Google publisher tag",
        TagKind.PUBLISHER,
        r"googletagservices\.com/tag/js/gpt|securepubads\.g\.doubleclick\.net",
    ),
    Signature(
        "Google Ads conversion",
        TagKind.CONVERSION,
        r"""gtag\(\s*['"]event['"]\s*,\s*['"](conversion|purchase|generate_lead)|google_conversion_label""",
    ),
    Signature(
        "Meta event",
        TagKind.CONVERSION,
        r"""fbq\(\s*['"]track['"]\s*,\s*['"](Lead|Purchase|Contact|Schedule|CompleteRegistration|SubmitApplication)""",
    ),
    Signature("LinkedIn conversion", TagKind.CONVERSION, r"""lintrk\(\s*['"]track"""),
    Signature(
        "TikTok event", TagKind.CONVERSION, r"""ttq\.track\(\s*['"](SubmitForm|Contact|CompletePayment|PlaceAnOrder)"""
    ),
    Signature("Microsoft event", TagKind.CONVERSION, r"""uetq\.push\(\s*['"]event"""),
    # Conversations and appointments
    Signature("tawk.to", TagKind.CHAT, r"embed\.tawk\.to"),
    Signature("Intercom", TagKind.CHAT, r"widget\.intercom\.io|intercomSettings"),
    Signature("LiveChat", TagKind.CHAT, r"cdn\.livechatinc\.com"),
    Signature("Crisp", TagKind.CHAT, r"client\.crisp\.chat|CRISP_WEBSITE_ID"),
    Signature("Tidio", TagKind.CHAT, r"code\.tidio\.co"),
    Signature("Zendesk", TagKind.CHAT, r"static\.zdassets\.com/ekr"),
    Signature("Olark", TagKind.CHAT, r"static\.olark\.com"),
    Signature("Smartsupp", TagKind.CHAT, r"smartsuppchat\.com"),
    Signature("Drift", TagKind.CHAT, r"js\.driftt\.com"),
    Signature("Calendly", TagKind.BOOKING, r"calendly\.com/"),
    Signature("Acuity", TagKind.BOOKING, r"acuityscheduling\.com|squarespacescheduling\.com"),
    Signature("Square appointments", TagKind.BOOKING, r"squareup\.com/appointments|book\.squareup\.com"),
    Signature("Fresha", TagKind.BOOKING, r"fresha\.com/"),
    Signature("Timely", TagKind.BOOKING, r"bookings?\.gettimely\.com"),
    Signature("Setmore", TagKind.BOOKING, r"setmore\.com"),
    Signature("SimplyBook", TagKind.BOOKING, r"simplybook\.(me|it)"),
    Signature("Cliniko", TagKind.BOOKING, r"\.cliniko\.com/bookings"),
    Signature("HotDoc", TagKind.BOOKING, r"hotdoc\.com\.au"),
    Signature("Mindbody", TagKind.BOOKING, r"mindbodyonline\.com|healcode\.com"),
    # What the site is made with, by the addresses of its files
    Signature("WordPress", TagKind.PLATFORM, r"/wp-(content|includes)/"),
    Signature("WooCommerce", TagKind.PLATFORM, r"/plugins/woocommerce/"),
    Signature("Wix", TagKind.PLATFORM, r"static\.wixstatic\.com|static\.parastorage\.com"),
    Signature("Squarespace", TagKind.PLATFORM, r"static1\.squarespace\.com|assets\.squarespace\.com"),
    Signature("Shopify", TagKind.PLATFORM, r"cdn\.shopify\.com|/cdn/shop/"),
    Signature("Weebly", TagKind.PLATFORM, r"cdn\d?\.editmysite\.com"),
    Signature("Webflow", TagKind.PLATFORM, r"(assets|uploads-ssl|cdn\.prod)\.website-files\.com"),
    Signature("Duda", TagKind.PLATFORM, r"cdn-website\.com|multiscreensite\.com"),
    Signature("GoDaddy builder", TagKind.PLATFORM, r"img\d\.wsimg\.com"),
    Signature("Joomla", TagKind.PLATFORM, r"/media/(jui|system)/js/|/components/com_"),
    Signature("Drupal", TagKind.PLATFORM, r"/sites/(default|all)/(files|modules|themes)/|/core/misc/drupal"),
    Signature("TYPO3", TagKind.PLATFORM, r"/typo3(temp|conf)/"),
    Signature("PrestaShop", TagKind.PLATFORM, r"/modules/ps_|prestashop"),
    Signature("Magento", TagKind.PLATFORM, r"/static/version\d+/|mage/cookies"),
    Signature("Jimdo", TagKind.PLATFORM, r"assets\.jimstatic\.com|jimcdn\.com"),
)
