"""Links to a business's own pages on social networks, not share buttons or log-in links."""

import re
from collections.abc import Iterable
from functools import lru_cache
from urllib.parse import parse_qs, urlsplit

from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import Found
from openacorn.core.audit.tables import by_ending

NETWORKS: dict[str, tuple[str, ...]] = {
    "facebook": ("facebook.com", "fb.com", "fb.me"),
    "instagram": ("instagram.com",),
    "linkedin": ("linkedin.com",),
    "youtube": ("youtube.com", "youtu.be"),
    "tiktok": ("tiktok.com",),
    "x": ("twitter.com", "x.com"),
    "pinterest": (
        "pinterest.com",
        "pinterest.com.au",
        "pinterest.co.uk",
        "pinterest.de",
        "pinterest.fr",
        "pinterest.es",
        "pinterest.ca",
    ),
    "vk": ("vk.com", "vk.ru", "vkontakte.ru"),
    "odnoklassniki": ("ok.ru", "odnoklassniki.ru"),
    "xing": ("xing.com",),
    "threads": ("threads.net", "threads.com"),
    "bluesky": ("bsky.app",),
    "telegram": ("t.me", "telegram.me"),
    "whatsapp": ("wa.me", "api.whatsapp.com"),
    "line": ("line.me", "lin.ee", "page.line.me"),
    "mastodon": (
        "mastodon.social",
        "mastodon.online",
        "mstdn.social",
        "mstdn.jp",
        "mas.to",
        "fosstodon.org",
        "troet.cafe",
        "mastodon.world",
    ),
    "weibo": ("weibo.com",),
    "kakao": ("pf.kakao.com",),
    "snapchat": ("snapchat.com",),
    "vimeo": ("vimeo.com",),
    "twitch": ("twitch.tv",),
}
_BY_DOMAIN = {domain: network for network, domains in NETWORKS.items() for domain in domains}
NOT_PROFILES = frozenset(
    (
        "sharer sharer.php share share.php shareArticle intent dialog plugins tr login login.php signup home search hashtag "
        "explore help about policies policy privacy legal terms watch embed shorts results pin groups events p reel reels "
        "stories status i feed tos playlist playlists account accounts settings support contact ads business hc careers jobs "
        "developers share_channel send joinchat addstickers iv s c n u video_ext.php video away.php app widget_comments.php "
        "pages_manager messages notifications subscription_center subscription_manager upload premium creators hashtags gaming "
        "shorts music live channels discover redirect l.php flx out externallink dialogs posting compose authorize oauth "
        "openapi groups_explore company-beta"
    )
    .lower()
    .split()
)
"""First path parts that are features of the network or single posts, not somebody's page."""

SUB_PATHS = {
    "linkedin": frozenset({"company", "in", "school", "showcase"}),
    "youtube": frozenset({"channel", "c", "user"}),
    "bluesky": frozenset({"profile"}),
    "xing": frozenset({"profile", "companies", "company", "pages"}),
    "odnoklassniki": frozenset({"group", "profile"}),
    "line": frozenset({"r", "ti"}),
    "snapchat": frozenset({"add"}),
}
HANDLE = re.compile(r"^@?[\w.%+-]{2,100}$")


@lru_cache(maxsize=8192)
def network_of(host: str) -> str | None:
    """Return the social network that `host` (lower case) belongs to, or None."""
    return by_ending(host, _BY_DOMAIN)


def profile_of(url: str) -> tuple[str, str] | None:
    """Return (network, address without query) if `url` is somebody's page on a network, else None."""
    host = host_of(url)
    network = network_of(host)
    if network is None:
        return None
    parts = urlsplit(url)
    path = [part for part in parts.path.split("/") if part]
    if network == "facebook" and path[:1] == ["profile.php"]:
        ids = parse_qs(parts.query).get("id", [])
        return (network, f"https://www.facebook.com/profile.php?id={ids[0]}") if ids else None
    if network == "facebook" and path[:1] == ["pages"]:
        return (network, f"https://{host}/{'/'.join(path)}") if len(path) > 1 else None
    if not path or path[0].lower() in NOT_PROFILES or path[0].lower().endswith(".php") or not HANDLE.match(path[0]):
        return None
    allowed = SUB_PATHS.get(network)
    if allowed and not path[0].startswith("@"):
        if path[0] not in allowed:
            # an old short address on YouTube is a page; LinkedIn has none
            return (network, f"https://{host}/{path[0]}") if network == "youtube" and len(path) == 1 else None
        if len(path) < 2:
            return None
        return network, f"https://{host}/{path[0]}/{path[1]}"
    if len(path) > 1 and path[1] in {"status", "posts", "photos", "videos", "video"}:
        return None  # a single post, mostly somebody else's
    return network, f"https://{host}/{path[0]}"


def find_socials(links: Iterable[str]) -> tuple[Found, ...]:
    """Return the profile links among `links` (absolute addresses), each once; `how` is the network."""
    seen: dict[tuple[str, str], Found] = {}
    for link in dict.fromkeys(links):
        profile = profile_of(link)
        if profile:
            key = (profile[0], profile[1].lower())
            seen.setdefault(key, Found(profile[1], link[:200], profile[0]))
    return tuple(seen.values())
