"""Films on a page: players of its own and embedded ones; a mere link to a film does not count."""

import re

from selectolax.lexbor import LexborHTMLParser

from openacorn.core.audit.evidence import Found
from openacorn.core.audit.extract.nodes import snippet

VIDEO_HOSTS = re.compile(
    r"youtube(?:-nocookie)?\.com/(?:embed|v|watch|p/)|youtu\.be/|vimeo\.com/(?:video|moogaloop|\d|event)|wistia\.(?:com|net)|dailymotion\.com/"
    r"(?:embed|swf|video)|loom\.com/embed|facebook\.com/(?:plugins/)?video|brightcove|jwplayer|jwplatform|kaltura|vidyard\.com|rutube\.ru/"
    r"(?:play|video|embed)|vk(?:video)?\.(?:com|ru)/video_ext|ok\.ru/videoembed|bilibili\.com/(?:player|blackboard)|player\.youku|v\.qq\.com|"
    r"twitch\.tv|streamable\.com|vzaar|viddler|blip\.tv|metacafe|video\.google|vidzi|sproutvideo|bunny(?:cdn|\.net)|mediadelivery\.net|"
    r"cloudflarestream|players?\.|(?:flv|video|media)[_-]?player|flowplayer|\.(?:mp4|webm|flv|m3u8|ogv|mov|wmv)\b|tv\.naver|kakaotv|nicovideo|"
    r"arte\.tv/player|spotify\.com/embed/video|matterport|tiktok\.com/embed|instagram\.com/reel",
    re.I,
)
PLAYERS = (
    "video, iframe, embed, object, lite-youtube, youtube-video, [data-youtube-id], [data-vimeo-id], [data-video-id], "
    "[data-video-url], [data-youtube], [data-vimeo], [class*=wistia_embed], [class*=video-js], [class*=jwplayer], "
    ".wp-block-embed-youtube, .elementor-widget-video, .w-background-video, a[data-fancybox][href*=youtu], "
    "a[rel*=prettyPhoto][href*=youtu], a[class*=popup-youtube], a[class*=video-popup]"
)
"""Elements that are or hold players; those that could be anything count by the address of what they play."""

SURE_PLAYERS = frozenset({"video", "lite-youtube", "youtube-video"})

MOST_PLAYERS, MOST_FOUND = 60, 5


def find_videos(tree: LexborHTMLParser) -> tuple[Found, ...]:
    """Return the players, each with the address of what it plays where it gives one."""
    found = []
    for node in tree.css(PLAYERS)[:MOST_PLAYERS]:
        attributes = node.attributes
        if node.tag == "video":
            source = node.css_first("source[src]")
            address = attributes.get("src") or (source.attributes.get("src") or "" if source is not None else "")
            found.append(Found(address[:160], snippet(node), "player"))
            continue
        values = [value for name, value in attributes.items() if value and name != "class"]
        values += [value for inner in node.css("param, embed, source") for value in inner.attributes.values() if value]
        address = next((value for value in values if VIDEO_HOSTS.search(value)), "")
        anything = node.tag in {"iframe", "embed", "object"}
        if address or node.tag in SURE_PLAYERS or not anything:
            found.append(Found(address[:160], snippet(node), "embedded"))
    return tuple(found[:MOST_FOUND])
