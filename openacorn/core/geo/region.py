"""In which country's format a site's phone numbers are written."""

import phonenumbers

NOT_A_COUNTRY = frozenset("co io me tv ai cc fm gg ly to ws la sh vc nu st".split())
"""Country endings that are sold as words to everybody (common practice)."""

OTHER_NAMES = {"uk": "GB", "eu": None}


def region_of(host: str, default: str | None) -> str | None:
    """Return the ISO 3166 code that a host's ending stands for, else `default` (the agency's own country)."""
    ending = host.rpartition(".")[2].lower()
    if ending in OTHER_NAMES:
        return OTHER_NAMES[ending] or default
    if ending not in NOT_A_COUNTRY and ending.upper() in phonenumbers.SUPPORTED_REGIONS:
        return ending.upper()
    return default
