"""Asks the writing helper that the user set up to word a text again."""

from urllib.parse import urlsplit

from openacorn.core.audit.evidence import Failure
from openacorn.core.writing.helper import HelperError, Wish, parts_of, read_answer, request_of
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.settings import Settings

SECONDS = 90.0
"""A model on a small machine takes a minute for a letter."""

ANSWER_BYTES = 500_000


def helper_host(settings: Settings) -> str:
    """Who is asked, "" while there is no helper."""
    return urlsplit(settings.writing.address).netloc


async def reword(settings: Settings, wish: Wish) -> tuple[str, str]:
    """(subject, text) as the helper words them. Raises HelperError.

    Its host may be this machine or in the user's own network: they entered it. A redirect is not followed, since what is sent must
    not end up elsewhere.
    """
    helper = settings.writing
    if not helper.address:
        raise HelperError("there is no writing helper: set one up under Settings")
    call = request_of(helper.address, helper.model, helper.key, wish)
    try:
        async with Client(settings, allow_private=True) as client:
            answer = await client.fetch(
                call.url, form=call.body, headers=call.headers, max_body=ANSWER_BYTES, seconds=SECONDS
            )
    except FetchError as error:
        late = error.failure is Failure.TIMEOUT
        why = f"gave no answer within {SECONDS:.0f} seconds" if late else f"cannot be reached: {error}"
        raise HelperError(f"the writing helper {why}") from error
    if 300 <= answer.status < 400:
        raise HelperError(f"the writing helper answered {answer.status}, a redirect: enter the address it leads to")
    return parts_of(read_answer(answer.status, answer.body), wish.subject)
