"""The site's own scripts: bundles carry tags that the page's source does not show."""

from collections.abc import Callable
from dataclasses import dataclass

from openacorn.clock import utc_now
from openacorn.core.audit.evidence import PageFacts
from openacorn.core.audit.extract.libraries import may_carry_tags
from openacorn.core.audit.extract.own_scripts import read_script
from openacorn.net.client import Answer, Client
from openacorn.net.errors import FetchError

MOST_SCRIPTS = 12
MOST_BYTES = 1_500_000
"""Of one script; longer ones are read so far, and the rest counts as not read."""


@dataclass(frozen=True, slots=True)
class ScriptsRead:
    """The scripts that carry something, the addresses not (wholly) read, and the answers by address."""

    scripts: tuple[PageFacts, ...]
    unread: tuple[str, ...]
    answers: dict[str, Answer]


async def read_own_scripts(
    client: Client, pages: list[PageFacts], allowed: Callable[[str], bool], *, verify: bool
) -> ScriptsRead:
    """Read the scripts that the pages load from their own site, the home page's first."""
    wanted = list(dict.fromkeys(url for page in pages for url in page.own_scripts if may_carry_tags(url)))
    read, unread, answers = [], wanted[MOST_SCRIPTS:], {}
    for url in wanted[:MOST_SCRIPTS]:
        answer = await _fetched(client, url, verify) if allowed(url) else None
        if answer is None:
            unread.append(url)
            continue
        answers[url] = answer
        facts = read_script(answer.body.decode("utf-8", "replace"), url, utc_now())
        if facts.tags or facts.strangers:
            read.append(facts)
        if answer.truncated:
            unread.append(url)
    return ScriptsRead(tuple(read), tuple(unread), answers)


async def _fetched(client: Client, url: str, verify: bool) -> Answer | None:
    try:
        answer = await client.fetch(url, verify=verify, seconds=client.brief_s, max_body=MOST_BYTES)
    except FetchError:
        return None
    return (
        answer if answer.status == 200 and not answer.headers.get("content-type", "").startswith("text/html") else None
    )
