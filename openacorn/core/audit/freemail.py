"""Mailbox providers whose addresses tell nothing of a domain of one's own."""

FREEMAIL = frozenset(
    "gmail.com googlemail.com outlook.com hotmail.com live.com msn.com yahoo.com yahoo.com.au ymail.com icloud.com me.com mac.com "
    "aol.com gmx.com gmx.net gmx.de web.de mail.com proton.me protonmail.com zoho.com fastmail.com yandex.com mail.ru bigpond.com "
    "bigpond.net.au optusnet.com.au iinet.net.au tpg.com.au dodo.com.au xtra.co.nz hotmail.co.uk yahoo.co.uk btinternet.com "
    "virginmedia.com sky.com talktalk.net orange.fr free.fr wanadoo.fr t-online.de comcast.net verizon.net att.net".split()
)
"""Providers of mailboxes to everybody (common practice, from memory)."""


def is_freemail(domain: str) -> bool:
    """Is this a domain at which anybody can have an address?"""
    return domain.lower() in FREEMAIL
