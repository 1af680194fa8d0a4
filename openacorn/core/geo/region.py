"""In which country's format a site's phone numbers are written."""

import phonenumbers

NOT_A_COUNTRY = frozenset("co io me tv ai cc fm gg ly to ws la sh vc nu st".split())
"""Country endings that are sold as words to everybody (common practice)."""

OTHER_NAMES = {"uk": "GB", "eu": None}


OF_LANGUAGE = {
    "de": "DE", "fr": "FR", "es": "ES", "it": "IT", "nl": "NL", "pt": "PT", "pl": "PL", "sv": "SE", "da": "DK", "no": "NO",
    "fi": "FI", "cs": "CZ", "sk": "SK", "tr": "TR", "ru": "RU", "uk": "UA", "bg": "BG", "hu": "HU", "ro": "RO", "el": "GR",
    "ja": "JP", "ko": "KR", "zh": "CN", "lt": "LT", "lv": "LV", "et": "EE", "sl": "SI", "hr": "HR", "vi": "VN", "th": "TH",
    "he": "IL",
}  # fmt: skip
"""Language → the country that most of those who write it live in, where its pages are mostly that country's (own knowledge)."""


def region_of_page(host: str, declared: str | None, written_in: str, default: str | None) -> str | None:
    """Return the country in whose format a page's numbers are written: that of the host's ending, of the declared language's tag
    ("pt-BR", BCP 47), of the language, else `default`."""
    if by_ending := region_of(host, None):
        return by_ending
    subtags = (declared or "").replace("_", "-").split("-")[1:]
    tagged = next(
        (tag.upper() for tag in subtags if len(tag) == 2 and tag.upper() in phonenumbers.SUPPORTED_REGIONS), None
    )
    if tagged and (
        tagged != "US" or default is None
    ):  # "en-US" is what most site builders put there, wherever the site is
        return tagged
    return OF_LANGUAGE.get(written_in) or default


def region_of_number(e164: str) -> str | None:
    """Return the country (ISO 3166) of a number written as E.164, None for none and for numbers of no one country."""
    try:
        region = phonenumbers.region_code_for_number(phonenumbers.parse(e164, None))
    except phonenumbers.NumberParseException:
        return None
    return region if region in phonenumbers.SUPPORTED_REGIONS else None


def region_of(host: str, default: str | None) -> str | None:
    """Return the ISO 3166 code that a host's ending stands for, else `default` (the agency's own country)."""
    ending = host.rpartition(".")[2].lower()
    if ending in OTHER_NAMES:
        return OTHER_NAMES[ending] or default
    if ending not in NOT_A_COUNTRY and ending.upper() in phonenumbers.SUPPORTED_REGIONS:
        return ending.upper()
    return default
